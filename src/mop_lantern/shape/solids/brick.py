"""A box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import Body, Others, Solid, frame

CORNERS = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)], float)
FACES = (
    ("west", (0, 1, 3, 2)),
    ("east", (4, 6, 7, 5)),
    ("south", (0, 4, 5, 1)),
    ("north", (2, 3, 7, 6)),
    ("bottom", (0, 2, 6, 4)),
    ("top", (1, 5, 7, 3)),
)


class Brick(Solid):
    """A box from its corner; turned about its corner.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Box"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: a box, {role}, from ({x}, {y}, {z}), {length} long, {width} wide and {height} high, "
        "turned by {turn}."
    )

    kind: Literal["brick"] = "brick"
    length: Text = quantity(
        "length",
        "length",
        "Along x before it is turned.",
        default="100 mm",
        above=0,
    )
    width: Text = quantity(
        "length",
        "width",
        "Along y before it is turned.",
        default="50 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Along z.",
        default="50 mm",
        above=0,
    )
    turn: Text = quantity(
        "angle",
        "turn",
        "About the upright through its corner, anticlockwise seen from above.",
        default="0 deg",
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Eight corners, six faces."""
        local = CORNERS * [numbers.length, numbers.width, numbers.height]
        points = np.array([numbers.x, numbers.y, numbers.z]) + local @ frame(numbers.turn, 0.0)
        triangles = [corners for _, (a, b, c, d) in FACES for corners in ((a, b, c), (a, c, d))]
        return Body(points, np.array(triangles), np.repeat(np.arange(6), 2), tuple(name for name, _ in FACES))
