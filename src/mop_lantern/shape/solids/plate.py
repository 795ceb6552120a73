"""A flat rectangular plate, fin or baffle, as thin as wished."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import Body, Others, Solid, frame, hair, place_of

SIDES = ("front", "back", "rim")
CORNERS = np.array([[i, j, k] for i in (0.5, -0.5) for j in (-0.5, 0.5) for k in (-0.5, 0.5)])
FACES = (
    (0, (0, 2, 3, 1)),
    (1, (4, 5, 7, 6)),
    (2, (0, 1, 5, 4)),
    (2, (2, 6, 7, 3)),
    (2, (0, 4, 6, 2)),
    (2, (1, 3, 7, 5)),
)


class Plate(Solid):
    """A plate about its middle; without thickness it parts the fluid as a sheet does.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Plate, fin or baffle"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = "M-0.6,-0.5 L0.4,-0.9 L0.6,0.5 L-0.4,0.9 Z"
    sentence: ClassVar[str] = (
        "{id}: a plate, {role}, about ({x}, {y}, {z}), its front facing {heading} and rising {rise}, "
        "{width} wide, {height} high and {thickness} thick."
    )

    kind: Literal["plate"] = "plate"
    heading: Text = quantity(
        "angle", "heading", "Where its front faces, in the x-y plane from x.", default="0 deg"
    )
    rise: Text = quantity("angle", "rise", "Where its front faces, over the x-y plane.", default="0 deg")
    width: Text = quantity(
        "length",
        "width",
        "Across, level.",
        default="50 mm",
        above=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Square to its width.",
        default="50 mm",
        above=0,
    )
    thickness: Text = quantity(
        "length",
        "thickness",
        "0 for a sheet.",
        default="0 mm",
        at_least=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Eight corners, six faces."""
        size = [hair(numbers.thickness, max(numbers.width, numbers.height)), numbers.width, numbers.height]
        points = place_of(numbers) + CORNERS * size @ frame(numbers.heading, numbers.rise)
        triangles = [corners for _, (a, b, c, d) in FACES for corners in ((a, b, c), (a, c, d))]
        return Body(points, np.array(triangles), np.repeat([side for side, _ in FACES], 2), SIDES)
