"""A drawn outline drawn out along a direction."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import points, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.prism import prism
from mop_lantern.shape.solid import Body, Others, Solid, frame, place_of, tidied


class Extruded(Solid):
    """An outline, drawn in the plane across a direction and drawn out along it; its sides are side1, side2
    ..., start and end.

    Source: solid geometry; caps by constrained Delaunay triangles.
    """

    caption: ClassVar[str] = "Outline drawn out"
    group: ClassVar[str] = "From an outline"
    symbol: ClassVar[str] = (
        "M-0.9,0.2 L-0.3,-0.3 L0.2,0.1 L0,0.8 L-0.7,0.8 Z M-0.3,-0.3 L0.4,-0.8 L0.9,-0.4 L0.7,0.3 "
        "L0,0.8 M0.2,0.1 L0.9,-0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: the outline {outline}, {role}, laid at ({x}, {y}, {z}) across {heading} rising {rise} "
        "and drawn out by {length}."
    )

    kind: Literal["extruded"] = "extruded"
    outline: list[Point] = points(
        "outline",
        "Corners: sideways (to the left) and up, seen along the direction.",
        default=[
            ("0 mm", "0 mm"),
            ("50 mm", "0 mm"),
            ("50 mm", "50 mm"),
        ],
    )
    heading: Text = quantity(
        "angle", "heading", "Direction it is drawn out, in the x-y plane from x.", default="0 deg"
    )
    rise: Text = quantity(
        "angle",
        "rise",
        "Direction it is drawn out, over the x-y plane; 90 deg for a plan drawn up.",
        default="90 deg",
    )
    length: Text = quantity(
        "length",
        "length",
        "By how much it is drawn out.",
        default="50 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Two caps and the sides between them."""
        flat = np.asarray(numbers.outline, float)[:, :2]
        polygon = shapely.Polygon(flat) if len(flat) > 2 else shapely.Polygon()
        if not polygon.is_valid or polygon.area <= 0:
            raise PartFault(
                "outline", "the outline crosses itself or has no area.", "Reorder or move its corners."
            )
        if not polygon.exterior.is_ccw:
            flat = flat[::-1]
        along, aside, up = frame(numbers.heading, numbers.rise)
        low = place_of(numbers) + flat[:, :1] * aside + flat[:, 1:] * up
        points, triangles, cap = prism(flat, low, numbers.length * along)
        k = len(flat)
        # sides keep the numbers of the outline as typed
        number = cap - 2 if polygon.exterior.is_ccw else (k - cap) % k
        return tidied(
            points,
            triangles,
            np.where(cap < 2, cap, 2 + number),
            ("start", "end", *(f"side{side + 1}" for side in range(k))),
        )
