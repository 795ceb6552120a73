"""A plate or guide fin."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import BodyPart, PartFault, Piece, left_of, strip


class Fin(BodyPart):
    """A thin solid plate between two points; where it meets a wall it grows out of it.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Plate or guide fin"
    group: ClassVar[str] = "Obstacles"
    symbol: ClassVar[str] = "M-1,0.9 L1,0.9 M-0.1,0.9 L-0.1,-0.6 L0.1,-0.6 L0.1,0.9"
    sentence: ClassVar[str] = "{id}: a plate from {start} to {end}, {thickness} thick; it {beneath}."
    edges: ClassVar[tuple[str, ...]] = ("start", "end", "left", "right")

    kind: Literal["fin"] = "fin"
    start: Point = point("from", "One end of the plate's middle line.")
    end: Point = point("to", "Other end of the plate's middle line.")
    thickness: Text = quantity(
        "length",
        "thickness",
        "Thickness of the plate.",
        default="1 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make a thin rectangle."""
        path = np.array([numbers.start, numbers.end])
        length = np.hypot(*(path[1] - path[0]))
        if length <= 0:
            raise PartFault("end", "the plate begins where it ends.", "Move one end.")
        side = left_of((path[1] - path[0]) / length) * numbers.thickness / 2
        return strip(path, path + side, path - side)
