"""A wall that turns."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point, quantity, reference
from mop_lantern.declare.kind import Point, Text
from mop_lantern.field.boundary import GIVEN, Boundary, Patch, Wall


class Turning(Wall):
    """The wall turns about a centre in the plane or, in a domain around the x axis, about that axis.

    The part of its velocity square to the wall is ignored: a wall that sweeps through the fluid needs a
    moving grid.

    Source: no-slip condition on a turning body, velocity = rate x distance; any text on viscous flow.
    """

    caption: ClassVar[str] = "Turning wall"
    group: ClassVar[str] = "Walls"
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M0.5,-0.9 L0.6,-0.5 L0.2,-0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: the wall {edge} turns at {rate} about {centre}, or about the axis where there is one."
    )

    in_space: ClassVar[str] = (
        "{id}: the wall {edge} turns at {rate} about an axis along {axis} through {centre}."
    )

    kind: Literal["turning"] = "turning"
    edge: str = reference("edge", "edge", "The wall.")
    rate: Text = quantity(
        "angular_velocity",
        "rate",
        "Anticlockwise in the plane.",
        default="10 rad/s",
        varies="t",
    )
    centre: Point = point("centre", "Centre of turning in the plane.", default=("0 mm", "0 mm"))
    axis: Literal["x", "y", "z"] = choice(
        "axis",
        "Direction of the axis in a space; anticlockwise seen against it counts positive.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="z",
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Give the faces the wall's velocity."""
        boundary.code[patch.faces] = GIVEN
        if len(patch.radii):
            boundary.velocity[patch.faces] = (
                numbers.rate * patch.radii.mean(axis=1)[:, None] * np.array([0.0, 0.0, 1.0])
            )
            return
        arm = np.zeros_like(patch.centre)
        ways = len(numbers.centre)
        arm[:, :ways] = patch.centre[:, :ways] - numbers.centre
        spin = numbers.rate * np.eye(3)["xyz".index(numbers.axis) if ways == 3 else 2]
        along = np.cross(spin, arm)
        normal = patch.area / np.linalg.norm(patch.area, axis=1)[:, None]
        boundary.spin[patch.faces] = spin
        boundary.velocity[patch.faces] = along - (along * normal).sum(axis=1)[:, None] * normal
