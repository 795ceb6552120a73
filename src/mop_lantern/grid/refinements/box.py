"""Finer cells in a box."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point
from mop_lantern.declare.kind import Point
from mop_lantern.grid.refinement import Halved
from mop_lantern.grid.zones import in_box


class Box(Halved):
    """Cells in a rectangle are halved a number of times.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer in a box"
    group: ClassVar[str] = "In a place"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L0.9,-0.9 L0.9,0.9 L-0.9,0.9 Z M-0.9,0 L0.9,0 M0,-0.9 L0,0.9 M0,-0.45 L0.9,-0.45 "
        "M0.45,-0.9 L0.45,0"
    )
    sentence: ClassVar[str] = "{id}: refinement level {levels} between {low} and {high}."

    kind: Literal["box"] = "box"
    low: Point = point("one corner", "One corner of the box.")
    high: Point = point("other corner", "The opposite corner.")

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want small cells whose centre lies in the box; in a space also larger ones that reach into it."""
        margin = 0.5 * sizes[:, None] - 0.51 * base / 2**numbers.levels if centres.shape[1] == 3 else 0.0
        inside = in_box(centres, numbers.low, numbers.high, margin)
        return np.where(inside, base / 2**numbers.levels, np.inf)
