"""A junction of lines."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node


class Junction(Node):
    """Where lines meet; fluid may be taken out or fed in.

    Source: conservation of mass.
    """

    caption: ClassVar[str] = "Junction"
    group: ClassVar[str] = "Nodes"
    sentence: ClassVar[str] = "{id}: a junction at {z}; demand {take}, supply {feed} at {temperature}."
    symbol: ClassVar[str] = "M-0.25,0 A0.25,0.25 0 1 1 0.25,0 A0.25,0.25 0 1 1 -0.25,0 Z"

    kind: Literal["junction"] = "junction"
    take: Text = quantity(
        "volume_flow",
        "demand",
        "Taken out here.",
        default="0 L/s",
        at_least=0,
        varies="t",
    )
    feed: Text = quantity(
        "volume_flow",
        "supply",
        "Fed in here.",
        default="0 L/s",
        at_least=0,
        varies="t",
    )
    temperature: Text = quantity(
        "temperature",
        "supply temperature",
        "Of what is fed in.",
        default="20 °C",
        varies="t",
    )

    @classmethod
    def demand(cls, numbers: Any, rho: float) -> float:
        """Demand less supply."""
        return float((numbers.take - numbers.feed) * rho)
