"""A branch off a passage."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
import shapely

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import Corner, Part, PartFault, Piece, along, left_of, strip


class Branch(Part):
    """A straight passage leaving another passage, its corners with the host rounded if wished.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Branch"
    group: ClassVar[str] = "Passages"
    symbol: ClassVar[str] = "M-1,0.5 L1,0.5 M-1,-0.1 L-0.3,-0.1 L-0.3,-0.9 M1,-0.1 L0.3,-0.1 L0.3,-0.9"
    sentence: ClassVar[str] = (
        "{id}: a branch off {host}, {at} along it, turned {angle} from it, {width} wide, {length} long "
        "from the host's wall, corners rounded to {corner_radius}."
    )
    edges: ClassVar[tuple[str, ...]] = ("end", "left", "right")

    kind: Literal["branch"] = "branch"
    host: str = reference("part", "host", "The passage this branch leaves.")
    at: Text = quantity(
        "length",
        "place",
        "Distance from the host's start along its centreline.",
        default="50 mm",
        at_least=0,
    )
    angle: Text = quantity("angle", "turn", "Turn from the host's heading, anticlockwise.", default="-90 deg")
    width: Text = quantity(
        "length",
        "width",
        "Clear width.",
        default="10 mm",
        above=0,
    )
    length: Text = quantity(
        "length",
        "length",
        "Length from the host's wall to the end.",
        default="60 mm",
        above=0,
    )
    corner_radius: Text = quantity(
        "length",
        "corner radius",
        "Radius of both corners with the host.",
        default="0 mm",
        at_least=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the rectangle and find its two corners with the host."""
        host = others.get(numbers.host)
        if host is None or host.path is None or host.ring is None:
            raise PartFault(
                "host",
                f"“{numbers.host}” is not a passage a branch can leave.",
                "Name a passage with a centreline.",
            )
        found = along(host.path, numbers.at)
        if found is None:
            total = np.hypot(*np.diff(host.path, axis=0).T).sum()
            raise PartFault(
                "at",
                f"the place lies beyond the host, which is {total * 1e3:.4g} mm long.",
                "Give a shorter distance.",
            )
        place, heading = found
        cos = np.cos(numbers.angle)
        sin = np.sin(numbers.angle)
        way = np.array([heading[0] * cos - heading[1] * sin, heading[0] * sin + heading[1] * cos])
        body = shapely.Polygon(host.ring)
        reach = np.hypot(*np.ptp(host.ring, axis=0)) * 2
        ahead = shapely.get_coordinates(
            body.exterior.intersection(shapely.LineString([place, place + way * reach]))
        )
        if not len(ahead):
            raise PartFault("at", "the branch does not leave its host here.", "Move or turn it.")
        wall = ((ahead - place) @ way).min()
        path = np.array([place, place + way * (wall + numbers.length)])
        side = left_of(way) * numbers.width / 2
        piece = strip(path, path + side, path - side)
        if numbers.corner_radius <= 0:
            return piece
        corners = []
        for name, offset in (("corner_left", side), ("corner_right", -side)):
            crossing = body.exterior.intersection(shapely.LineString(path + offset))
            if not crossing.is_empty:
                points = shapely.get_coordinates(crossing)
                corners.append(
                    Corner(tuple(points[((points - path[0]) @ way).argmax()]), numbers.corner_radius, name)
                )
        return Piece(piece.ring, piece.sides, piece.path, tuple(corners))
