"""A drawn outline drawn out along a direction."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import points, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, frame, place_of, tidied


class Extruded(Solid):
    """An outline, drawn in the plane across a direction and drawn out along it; its sides are side1, side2 ..., start and end.

    Source: solid geometry; caps by constrained Delaunay triangles.
    """

    caption: ClassVar[str] = "Outline drawn out"
    sentence: ClassVar[str] = "{id}: the outline {outline}, {role}, laid at ({x}, {y}, {z}) across {heading} rising {rise} and drawn out by {length}."

    kind: Literal["extruded"] = "extruded"
    outline: list[Point] = points("outline", "Corners: sideways (to the left) and up, seen along the direction.", default=[("0 mm", "0 mm"), ("50 mm", "0 mm"), ("50 mm", "50 mm")])
    heading: Text = quantity("angle", "heading", "Direction it is drawn out, in the x-y plane from x.", default="0 deg")
    rise: Text = quantity("angle", "rise", "Direction it is drawn out, over the x-y plane; 90 deg for a plan drawn up.", default="90 deg")
    length: Text = quantity("length", "length", "By how much it is drawn out.", default="50 mm", above=0)

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Two caps and the sides between them."""
        flat = np.asarray(numbers.outline, float)[:, :2]
        polygon = shapely.Polygon(flat) if len(flat) > 2 else shapely.Polygon()
        if not polygon.is_valid or polygon.area <= 0:
            raise PartFault("outline", "the outline crosses itself or has no area.", "Reorder or move its corners.")
        if not polygon.exterior.is_ccw:
            flat = flat[::-1]
        along, aside, up = frame(numbers.heading, numbers.rise)
        low = place_of(numbers) + flat[:, :1] * aside + flat[:, 1:] * up
        pieces = shapely.get_parts(shapely.constrained_delaunay_triangles(shapely.Polygon(flat)))
        corners = np.array([shapely.get_coordinates(piece)[:3] for piece in pieces])
        cap = np.array([[int(np.hypot(*(flat - corner).T).argmin()) for corner in piece] for piece in corners])
        ax, ay = (flat[cap[:, 1]] - flat[cap[:, 0]]).T
        bx, by = (flat[cap[:, 2]] - flat[cap[:, 0]]).T
        cap = np.where((ax * by - ay * bx > 0)[:, None], cap, cap[:, ::-1])
        k = len(flat)
        here, ahead = np.arange(k), (np.arange(k) + 1) % k
        walls = np.vstack([np.column_stack([here, ahead, k + ahead]), np.column_stack([here, k + ahead, k + here])])
        triangles = np.vstack([cap[:, ::-1], k + cap, walls])
        sides = ("start", "end", *(f"side{number + 1}" for number in range(k)))
        named = 2 + (here if polygon.exterior.is_ccw else (k - 2 - here) % k)
        side = np.concatenate([np.zeros(len(cap), int), np.ones(len(cap), int), named, named])
        return tidied(np.vstack([low, low + numbers.length * along]), triangles, side, sides)
