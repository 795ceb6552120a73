"""A wye."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node


class Wye(Node):
    """A branch whose side way leaves at an angle below 90 degrees; what is lost depends on how the flow
    divides.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (equal straight ways).
    """

    caption: ClassVar[str] = "Wye"
    group: ClassVar[str] = "Nodes"
    sentence: ClassVar[str] = "{id}: a wye at {z}, its side way the line {side} at {angle}."
    symbol: ClassVar[str] = (
        "M-0.4,-0.2 L0.4,-0.2 L0.4,0.1 L0.15,0.1 L0.45,0.45 L0.15,0.55 L-0.2,0.1 L-0.4,0.1 Z"
    )

    kind: Literal["wye"] = "wye"
    side: str = reference("line", "side way", "The line that leaves sideways.")
    angle: Text = quantity(
        "angle",
        "angle",
        "Between side way and straight way, in the direction of the flow that divides.",
        default="45 deg",
        at_least=0.2617,
        at_most=1.5708,
    )
