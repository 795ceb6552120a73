"""A passage with bends."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import points, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import Part, PartFault, Piece, arc, left_of, strip


class Bent(Part):
    """A passage of one width along a line of points, its bends rounded to a radius on the centreline.

    Source: plane geometry. The radius must be at least half the width, or the inner bank would fold over
    itself.
    """

    caption: ClassVar[str] = "Passage with bends"
    group: ClassVar[str] = "Passages"
    symbol: ClassVar[str] = (
        "M-1,-0.7 L0.2,-0.7 Q0.8,-0.7 0.8,-0.1 L0.8,0.9 M-1,-0.1 L0,-0.1 Q0.2,-0.1 0.2,0.1 L0.2,0.9"
    )
    sentence: ClassVar[str] = (
        "{id}: a passage {width} wide through {points}, its bends of {radius} centreline radius."
    )
    edges: ClassVar[tuple[str, ...]] = ("start", "end", "left", "right")

    kind: Literal["bent"] = "bent"
    points: tuple[Point, ...] = points("points", "Centreline points from start to end.")
    width: Text = quantity(
        "length",
        "width",
        "Clear width.",
        default="10 mm",
        above=0,
    )
    radius: Text = quantity(
        "length",
        "bend radius",
        "Radius of the centreline in every bend.",
        default="15 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make one ring for the whole passage, so that there is no joint inside it."""
        places = np.asarray(numbers.points, float)
        if len(places) < 2:
            raise PartFault("points", "a passage needs at least two points.", "Add a point.")
        legs = np.diff(places, axis=0)
        lengths = np.hypot(*legs.T)
        if (lengths <= 0).any():
            raise PartFault("points", "two neighbouring points are the same.", "Move or delete one.")
        ways = legs / lengths[:, None]
        turns = np.arctan2(
            ways[:-1, 0] * ways[1:, 1] - ways[:-1, 1] * ways[1:, 0], (ways[:-1] * ways[1:]).sum(axis=1)
        )
        cls._check(numbers, lengths, turns)
        half = numbers.width / 2
        left = []
        right = []
        path = []
        for index, way in enumerate(ways):
            normal = left_of(way)
            if index == 0:
                left.append(places[:1] + half * normal)
                right.append(places[:1] - half * normal)
                path.append(places[:1])
            if index < len(turns) and abs(turns[index]) > 1e-9:
                sign = np.sign(turns[index])
                tangent = numbers.radius * np.tan(abs(turns[index]) / 2)
                centre = places[index + 1] - way * tangent + sign * normal * numbers.radius
                begin = float(np.arctan2(*(-sign * normal)[::-1]))
                left.append(arc(centre, numbers.radius - sign * half, begin, turns[index]))
                right.append(arc(centre, numbers.radius + sign * half, begin, turns[index]))
                path.append(arc(centre, numbers.radius, begin, turns[index]))
        normal = left_of(ways[-1])
        banks = [
            np.vstack([*left, places[-1:] + half * normal]),
            np.vstack([*right, places[-1:] - half * normal]),
        ]
        return strip(np.vstack([*path, places[-1:]]), *banks)

    @staticmethod
    def _check(numbers: Any, lengths: Any, turns: Any) -> None:
        if (np.abs(turns) > 1e-9).any() and numbers.radius < numbers.width / 2 * (1 - 1e-12):
            says = (
                f"the bend is tighter than its passage: {numbers.radius * 1e3:.4g} mm on a width of "
                f"{numbers.width * 1e3:.4g} mm."
            )
            raise PartFault("radius", says, f"Give at least half the width, {numbers.width * 500:.4g} mm.")
        if (np.abs(turns) > np.deg2rad(175)).any():
            raise PartFault(
                "points",
                "the passage turns straight back on itself.",
                "Use two bends with a leg between them.",
            )
        tangents = np.concatenate(
            [
                [0.0],
                numbers.radius * np.tan(np.abs(turns) / 2),
                [0.0],
            ]
        )
        short = tangents[:-1] + tangents[1:] > lengths * (1 + 1e-9)
        if short.any():
            leg = int(np.flatnonzero(short)[0])
            need = (tangents[leg] + tangents[leg + 1]) * 1e3
            says = f"leg {leg + 1} is {lengths[leg] * 1e3:.4g} mm long, but its bends take {need:.4g} mm."
            raise PartFault("radius", says, "Make the radius smaller or the leg longer.")
