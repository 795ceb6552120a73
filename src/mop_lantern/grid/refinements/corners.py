"""Finer cells along sharp edges."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.grid.near import near
from mop_lantern.grid.refinement import Halved


class Corners(Halved):
    """Cells near sharp edges (in a plane: corners) of the walls are halved a number of times.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer at sharp edges"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.8,0.9 L-0.8,-0.8 L0.9,-0.8 M-0.8,-0.3 L-0.3,-0.3 L-0.3,-0.8 M-0.8,-0.55 L-0.3,-0.55 "
        "M-0.55,-0.3 L-0.55,-0.8"
    )
    sentence: ClassVar[str] = "{id}: refinement level {levels} within {distance} of sharp edges."

    kind: Literal["corners"] = "corners"
    distance: Text = quantity(
        "length",
        "distance",
        "How far the small cells reach.",
        default="2 mm",
        at_least=0,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want small cells near what turns by more than 30 degrees."""
        small = base / 2**numbers.levels
        return np.where(near(plane.sharp(small), centres, sizes, numbers.distance), small, np.inf)
