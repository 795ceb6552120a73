"""A free polygon of fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import points
from mop_lantern.declare.kind import Point
from mop_lantern.shape.piece import Part, PartFault, Piece


class Outline(Part):
    """A passage given by its corner points; side 1 runs from the first point to the second, and so on.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Free polygon"
    group: ClassVar[str] = "Passages"
    symbol: ClassVar[str] = "M-0.8,0.7 L-0.9,-0.3 L0,-0.8 L0.9,-0.2 L0.5,0.8 Z"
    sentence: ClassVar[str] = "{id}: a space with the corners {points}."
    edges: ClassVar[tuple[str, ...]] = ()

    kind: Literal["outline"] = "outline"
    points: tuple[Point, ...] = points("corners", "Corner points in order; the last is joined to the first.")

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the ring anticlockwise while sides keep the numbers of the typed order."""
        ring, sides = polygon_ring(numbers.points)
        return Piece(ring, sides)


def polygon_ring(places: Any) -> tuple[Any, tuple[str, ...]]:
    """Give an anticlockwise ring and its side names from typed corner points."""
    ring = np.asarray(places, float).reshape(-1, 2)
    if len(ring) < 3:
        raise PartFault("points", "a polygon needs at least three corners.", "Add a corner.")
    sides = [f"side{index + 1}" for index in range(len(ring))]
    x, y = ring.T
    if (x * np.roll(y, -1) - np.roll(x, -1) * y).sum() < 0:
        ring = ring[::-1]
        sides = [*sides[-2::-1], sides[-1]]
    return ring, tuple(sides)
