"""A source of heat in a box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.field.source import SourceKind


class Heat(SourceKind):
    """Heat given off evenly in a box, negative when taken.

    Source: definition.
    """

    caption: ClassVar[str] = "Heat in a box"
    group: ClassVar[str] = "Sources"
    symbol: ClassVar[str] = (
        "M-0.8,-0.7 L0.8,-0.7 L0.8,0.7 L-0.8,0.7 Z M0,-0.4 Q-0.5,0.1 -0.2,0.4 Q0.1,0.5 0.25,0.3 Q0.4,0 0,-0.4"
    )
    sentence: ClassVar[str] = "{id}: {power} of heat enter the fluid between {low} and {high}."

    kind: Literal["heat"] = "heat"
    power: Text = quantity(
        "power",
        "power",
        "For the whole depth, or all around the axis.",
        default="100 W",
        varies="t",
    )
    low: Point = point("one corner", "One corner of the box.")
    high: Point = point("other corner", "The opposite corner.")

    @classmethod
    def feeds(cls, numbers: Any) -> str:
        """Heat."""
        return "heat"

    @classmethod
    def rate(cls, numbers: Any) -> float:
        """Give the power, W."""
        return float(numbers.power)
