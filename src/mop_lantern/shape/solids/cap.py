"""Caps on the holes and mouths of a solid part."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.shape.mouths import Mouth, hollows_in
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.prism import prism
from mop_lantern.shape.solid import (
    ALSO,
    Body,
    Floats,
    Others,
    Solid,
    face_axes,
    hair,
    original,
    place_of,
    tidied,
    without_also,
)
from mop_lantern.shape.topology import rims_of

NEAR = 0.5  # of a hole's size: from farther off the place to close may be a mouth
OVERLAP = 2e-3  # of the hole's size: how far a cap laps over its rim


class Cap(Solid):
    """Closes a hole in a flat face of a solid part, all of them, or all mouths: the holes through which what
    it encloses is open to the outside, as seen from there. Its wet side is called cap, of several cap1, cap2
    ..., the largest first.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Caps on holes"
    group: ClassVar[str] = "From a file"
    symbol: ClassVar[str] = (
        "M-0.8,-0.3 A0.8,0.3 0 1 1 0.8,-0.3 A0.8,0.3 0 1 1 -0.8,-0.3 Z M-0.8,0.2 L-0.8,0.8 M0.8,0.2 L0.8,0.8"
    )
    sentence: ClassVar[str] = "{id}: {holes} of {of}" + ALSO + ", the one nearest to ({x}, {y}, {z})."

    kind: Literal["cap"] = "cap"
    role: Literal["solid"] = choice("role", "A cap takes space away.", {"solid": "solid"}, default="solid")  # type: ignore[assignment]
    of: str = reference("solid", "part", "The solid part with the holes.")
    also: tuple[str, ...] = reference(
        "solids", "further parts", "Solid parts taken together with it, by their names.", default=()
    )
    holes: Literal["one", "all", "mouths"] = choice(
        "holes",
        "Which holes are closed.",
        {
            "one": "a cap on the hole",
            "all": "caps on all holes in flat faces",
            "mouths": "caps on all mouths to the outside",
        },
        default="all",
    )
    x: Text = quantity("length", "x", "Near the hole.", default="0 mm")
    y: Text = quantity("length", "y", "Near the hole.", default="0 mm")
    z: Text = quantity("length", "z", "Near the hole.", default="0 mm")

    def template(self, space: bool = False) -> str:
        """A place is told where one hole is meant."""
        told = without_also(super().template(space), self.also)
        return told if self.holes == "one" else told.partition(",")[0] + "."

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """A hair-thin plug in every rim."""
        bodies = original(numbers, others)
        place = place_of(numbers)
        holes = [] if numbers.holes == "mouths" else [hole for body in bodies for hole in _holes(body)]
        far = min((_far(hole, place) / np.sqrt(hole[0].area) for hole in holes), default=np.inf)
        if numbers.holes == "mouths" or (numbers.holes == "one" and far > NEAR):
            holes += [_outline(mouth) for mouth in hollows_in(bodies).mouths]
        if not holes:
            what = "mouth to the outside" if numbers.holes == "mouths" else "hole in a flat face"
            raise PartFault("of", f"“{numbers.of}” has no {what}.", "Close it by a disc or a plate instead.")
        if numbers.holes != "mouths":  # those come in order, cavity by cavity
            holes.sort(key=lambda hole: -hole[0].area)
        if numbers.holes == "one":
            holes = [min(holes, key=lambda hole: _far(hole, place))]
        return [
            _plug(*hole, "cap" if len(holes) == 1 else f"cap{number + 1}")
            for number, hole in enumerate(holes)
        ]


Hole = tuple[Any, Floats, Floats, float]  # outline in the plane, direction out, a place in it, m off it


def _far(hole: Hole, place: Floats) -> float:
    """Give how far the middle of a hole is from a place, m."""
    return float(np.linalg.norm(_places(np.array(hole[0].centroid.coords), hole[1], hole[2])[0] - place))


def _outline(mouth: Mouth) -> Hole:
    """Give a mouth as a hole in a plane."""
    aside, up = face_axes(mouth.direction)
    off = mouth.rim - mouth.middle
    outline = shapely.Polygon(off @ np.column_stack([aside, up])).buffer(0)
    return outline, mouth.direction, mouth.middle, float(np.abs(off @ mouth.direction).max())


def _holes(body: Body) -> list[Hole]:
    """Give the holes of all flat faces: outline in the face, direction out of the solid, a place on the
    face.
    """
    found = []
    corners = body.points[body.triangles]
    vectors = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    for side in range(len(body.sides)):
        mine = body.side == side
        total = vectors[mine].sum(axis=0)
        size = np.linalg.norm(vectors[mine], axis=1).sum()
        if not mine.any() or np.linalg.norm(total) < 0.9999 * size:
            continue
        normal = total / np.linalg.norm(total)
        aside, up = face_axes(normal)
        origin = corners[mine][0, 0]
        loops = [
            shapely.Polygon((body.points[rim] - origin) @ np.column_stack([aside, up]))
            for rim in rims_of(body.triangles[mine])
        ]
        loops = [loop for loop in loops if loop.is_valid and loop.area > 1e-9 * size]
        found += [
            (loop, normal, origin, 0.0)
            for loop in loops
            if any(other.contains(loop.representative_point()) and other.area > loop.area for other in loops)
        ]
    return found


def _places(flat: Floats, normal: Floats, origin: Floats) -> Floats:
    aside, up = face_axes(normal)
    return np.asarray(origin + flat[:, :1] * aside + flat[:, 1:2] * up)


def _plug(
    hole: Any,
    normal: Floats,
    origin: Floats,
    off: float,
    name: str,
) -> Body:
    size = float(np.sqrt(hole.area))
    outline = shapely.get_coordinates(
        hole.buffer(OVERLAP * size, join_style="mitre").simplify(1e-6 * size).exterior
    )[:-1]
    flat = outline if shapely.LinearRing(outline).is_ccw else outline[::-1]
    thin = hair(0.0, size) + off  # a rim off its plane lies within
    points, triangles, _ = prism(flat, _places(flat, normal, origin) - thin * normal, 2 * thin * normal)
    return tidied(points, triangles, np.zeros(len(triangles), int), (name,))
