"""Finer cells where walls bend."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count
from mop_lantern.declare.kind import Text
from mop_lantern.grid.refinement import Refinement
from mop_lantern.numerics.nearest import nearest_tree


class Bends(Refinement):
    """Cells at walls that bend are made so small that a full turn takes a number of them, within a number of
    halvings.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer where walls bend"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.8,0.9 L-0.8,0.1 Q-0.8,-0.8 0.1,-0.8 L0.9,-0.8 M-0.4,0.9 L-0.4,0.1 Q-0.4,-0.4 0.1,-0.4 "
        "L0.9,-0.4 M-0.6,-0.5 L-0.3,-0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: a full turn of a bending wall takes {around} cells or more, up to refinement level {levels}."
    )

    kind: Literal["bends"] = "bends"
    around: Text = count(
        "cells around",
        "Cells along a full circle of the wall's radius.",
        default="32",
        at_least=4,
        at_most=1000,
    )
    levels: Text = count(
        "halvings at most",
        "How often cells are halved at most.",
        default="2",
        at_least=0,
        at_most=6,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want cells of the wall's circumference over their number."""
        places, radius = plane.bends()
        wanted = np.full(len(centres), np.inf)
        if not len(places) or not len(centres):
            return wanted
        small = np.maximum(2 * np.pi * radius / numbers.around, base / 2**numbers.levels)
        for size in np.unique(
            np.round(np.log2(small / base), 1)
        ):  # sharper bends first would hide wider ones that lie nearer
            these = np.round(np.log2(small / base), 1) == size
            far, _ = nearest_tree(places[these]).query(centres)
            wanted = np.where(far <= 0.87 * sizes, np.minimum(wanted, base * 2.0**size), wanted)
        return wanted
