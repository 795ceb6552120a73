"""Finer cells in a ball."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.grid.refinement import Halved


class Ball(Halved):
    """Cells in a ball (in a plane: a disc) are halved a number of times.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer in a ball"
    group: ClassVar[str] = "In a place"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L0.9,-0.9 L0.9,0.9 L-0.9,0.9 Z M-0.9,0 L0.9,0 M0,-0.9 L0,0.9 M-0.5,0 A0.5,0.5 0 1 "
        "1 0.5,0 A0.5,0.5 0 1 1 -0.5,0 Z"
    )
    sentence: ClassVar[str] = "{id}: refinement level {levels} within {radius} of {centre}."

    kind: Literal["ball"] = "ball"
    centre: Point = point("centre", "The middle of the ball.")
    radius: Text = quantity(
        "length",
        "radius",
        "How far it reaches.",
        default="10 mm",
        above=0,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want small cells that reach into the ball."""
        small = base / 2**numbers.levels
        return np.where(
            np.linalg.norm(centres - numbers.centre, axis=1)
            < numbers.radius + 0.5 * np.maximum(sizes - small, 0.0),
            small,
            np.inf,
        )
