"""A polygon obstacle."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import points
from mop_lantern.declare.kind import Point
from mop_lantern.shape.parts.outline import polygon_ring
from mop_lantern.shape.piece import BodyPart, Piece


class Block(BodyPart):
    """A solid body given by its corner points.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Polygon obstacle"
    group: ClassVar[str] = "Obstacles"
    symbol: ClassVar[str] = (
        "M-0.7,-0.6 L0.7,-0.6 L0.7,0.6 L-0.7,0.6 Z M-0.7,0.2 L0.1,-0.6 M-0.3,0.6 L0.7,-0.4"
    )
    sentence: ClassVar[str] = "{id}: a solid block with the corners {points}; it {beneath}."

    kind: Literal["block"] = "block"
    points: tuple[Point, ...] = points("corners", "Corner points in order; the last is joined to the first.")

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the ring."""
        ring, sides = polygon_ring(numbers.points)
        return Piece(ring, sides)
