"""A straight passage."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import Part, Piece, left_of, strip, unit_vector


class Straight(Part):
    """A straight passage of one width. Around an axis a passage on the axis is a pipe whose bore is its
    width.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Straight passage"
    group: ClassVar[str] = "Passages"
    symbol: ClassVar[str] = "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4"
    sentence: ClassVar[str] = (
        "{id}: a straight passage from {start}, heading {direction}, {length} long and {width} wide."
    )
    edges: ClassVar[tuple[str, ...]] = ("start", "end", "left", "right")

    kind: Literal["straight"] = "straight"
    start: Point = point("start", "Middle of the start edge.", default=("0 mm", "0 mm"))
    direction: Text = quantity(
        "angle", "heading", "Direction of the passage, anticlockwise from the x axis.", default="0 deg"
    )
    length: Text = quantity(
        "length",
        "length",
        "Length from start to end.",
        default="100 mm",
        above=0,
    )
    width: Text = quantity(
        "length",
        "width",
        "Clear width; around an axis the bore.",
        default="10 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make a rectangle from start to end."""
        way = unit_vector(numbers.direction)
        path = np.array([numbers.start, numbers.start + way * numbers.length])
        side = left_of(way) * numbers.width / 2
        return strip(path, path + side, path - side)
