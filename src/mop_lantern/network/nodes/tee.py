"""A tee."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.declare import reference
from mop_lantern.network.node import Node


class Tee(Node):
    """A tee or branch: three lines meet, one of them sideways; what is lost depends on how the flow divides.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (equal straight ways, side way at right
    angles).
    """

    caption: ClassVar[str] = "Tee"
    group: ClassVar[str] = "Nodes"
    sentence: ClassVar[str] = "{id}: a tee at {z}, its side way the line {side}."
    symbol: ClassVar[str] = (
        "M-0.4,-0.25 L0.4,-0.25 L0.4,0.05 L0.15,0.05 L0.15,0.45 L-0.15,0.45 L-0.15,0.05 L-0.4,0.05 Z"
    )

    kind: Literal["tee"] = "tee"
    side: str = reference("line", "side way", "The line that leaves sideways.")
