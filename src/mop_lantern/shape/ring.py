"""Parts that are a ring of places with a name for every side, as drawings give them."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from mop_lantern.declare import quantity, stored, text
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import Part, PartFault, Piece

_RING = (
    (0.0, 0.0),
    (0.1, 0.0),
    (0.1, 0.04),
    (0.0, 0.04),
)


class RingPart(Part):
    """A closed ring, kept in metres as the drawing had it."""

    scale: Text = quantity(
        "number",
        "scale",
        "All lengths of the drawing are multiplied with it.",
        default="1",
        above=0,
    )

    source: str = text("drawing", "Where the outline comes from.", default="a drawing")
    ring: tuple[tuple[float, float], ...] = stored(
        "ring", "Places in metres, the last joined to the first.", default=_RING
    )
    sides: tuple[str, ...] = stored(
        "sides", "A name for every side, from place i to place i + 1; empty: all are “wall”.", default=()
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the piece, anticlockwise.

        Raises
        ------
        PartFault : too few places, or as many names as there are no sides.
        """
        ring = np.array(numbers.ring, float).reshape(-1, 2) * numbers.scale
        sides = tuple(numbers.sides) or ("wall",) * len(ring)
        if len(ring) < 3 or not np.isfinite(ring).all():
            raise PartFault("ring", "an outline needs at least three places.", "Import the drawing again.")
        if len(sides) != len(ring):
            raise PartFault(
                "sides", f"there are {len(sides)} names for {len(ring)} sides.", "Import the drawing again."
            )
        if not shapely.LinearRing(ring).is_ccw:
            ring = ring[::-1]
            sides = tuple(sides[-2::-1]) + sides[-1:]
        return Piece(ring, sides)
