"""A rounded corner."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import Corner, Part, Piece


class Rounding(Part):
    """An arc in place of a corner of the joined passages.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Rounded corner"
    group: ClassVar[str] = "Corners"
    symbol: ClassVar[str] = "M-0.8,0.9 L-0.8,0.1 Q-0.8,-0.8 0.1,-0.8 L0.9,-0.8"
    sentence: ClassVar[str] = "{id}: the corner at {at} is rounded to a radius of {radius}."
    role: ClassVar[str] = "rounding"
    edges: ClassVar[tuple[str, ...]] = ("arc",)

    kind: Literal["rounding"] = "rounding"
    at: Point = point("corner", "Where the corner is.")
    radius: Text = quantity(
        "length",
        "radius",
        "Radius of the arc.",
        default="5 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Ask for the arc; it is made once the passages are joined."""
        return Piece(corners=(Corner(tuple(numbers.at), numbers.radius, "arc"),))
