"""A ball."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.shape.solid import AROUND, Body, Others, Solid, loft, round_ring


class Ball(Solid):
    """A ball about its middle.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Ball"
    group: ClassVar[str] = "Boxes and round parts"
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.8,0 A0.8,0.25 0 0 0 0.8,0"
    )
    sentence: ClassVar[str] = "{id}: a ball, {role}, about ({x}, {y}, {z}), {diameter} across."

    kind: Literal["ball"] = "ball"
    diameter: Text = quantity(
        "length",
        "diameter",
        "Across.",
        default="50 mm",
        above=0,
    )

    @classmethod
    def build(cls, numbers: Any, others: Others) -> Body:
        """Rings from pole to pole; both poles are fans that count as wall."""
        half = numbers.diameter / 2
        middle = np.array([numbers.x, numbers.y, numbers.z])
        along, aside, up = np.eye(3)
        angles = np.pi * np.arange(1, AROUND // 2) / (AROUND // 2)
        rings = [
            round_ring(middle - half * np.cos(angle) * along, aside, up, half * np.sin(angle))
            for angle in angles
        ]
        made = loft(rings, ["wall"] * (len(rings) - 1), ("wall", "wall"))
        points = made.points.copy()
        points[-2:] = middle - half * along, middle + half * along
        return Body(points, made.triangles, np.zeros(len(made.triangles), int), ("wall",))
