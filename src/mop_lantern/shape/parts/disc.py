"""A round obstacle."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import BodyPart, Piece, arc


class Disc(BodyPart):
    """A solid round body: a rod across the plane, or around an axis a ring.

    Source: plane geometry; the polygon has the circle's area.
    """

    caption: ClassVar[str] = "Round obstacle"
    group: ClassVar[str] = "Obstacles"
    symbol: ClassVar[str] = "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.55,0.5 L0.5,-0.55"
    sentence: ClassVar[str] = "{id}: a solid round body at {centre}, {diameter} in diameter; it {beneath}."
    edges: ClassVar[tuple[str, ...]] = ("surface",)

    kind: Literal["disc"] = "disc"
    centre: Point = point("centre", "Centre of the body.")
    diameter: Text = quantity(
        "length",
        "diameter",
        "Diameter of the body.",
        default="10 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the ring, its radius grown by the little that chords take away from the area."""
        ring = arc(np.zeros(2), 1.0, 0.0, 2 * np.pi)[:-1]
        step = 2 * np.pi / len(ring)
        radius = numbers.diameter / 2 * np.sqrt(step / np.sin(step))
        return Piece(np.asarray(numbers.centre) + radius * ring, ("surface",) * len(ring))
