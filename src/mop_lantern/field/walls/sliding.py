"""A wall that slides along itself."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import GIVEN, Boundary, Patch, Wall


class Sliding(Wall):
    """The fluid at the wall moves with it; the part of the velocity square to the wall is ignored.

    Source: no-slip condition, any text on viscous flow.
    """

    caption: ClassVar[str] = "Sliding wall"
    group: ClassVar[str] = "Walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-0.7,0.1 L0.7,0.1 M0.4,-0.15 L0.7,0.1 L0.4,0.35"
    )
    sentence: ClassVar[str] = "{id}: the wall {edge} slides at {speed}, heading {heading}."

    in_space: ClassVar[str] = "{id}: the wall {edge} slides at {speed}, heading {heading} and rising {rise}."

    kind: Literal["sliding"] = "sliding"
    edge: str = reference("edge", "edge", "The wall.")
    speed: Text = quantity(
        "velocity",
        "speed",
        "Speed of the wall.",
        default="0.1 m/s",
        varies="t",
    )
    heading: Text = quantity(
        "angle", "heading", "Direction of motion, anticlockwise from the x axis.", default="0 deg"
    )
    rise: Text = quantity(
        "angle", "rise", "Direction of motion over the x-y plane of a space.", default="0 deg"
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Give the faces the wall's velocity."""
        way = np.array(
            [
                np.cos(numbers.rise) * np.cos(numbers.heading),
                np.cos(numbers.rise) * np.sin(numbers.heading),
                np.sin(numbers.rise),
            ]
        )
        normal = patch.area / np.linalg.norm(patch.area, axis=1)[:, None]
        boundary.code[patch.faces] = GIVEN
        boundary.velocity[patch.faces] = numbers.speed * (way - (normal @ way)[:, None] * normal)
