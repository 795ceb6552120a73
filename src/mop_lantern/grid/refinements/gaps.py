"""Finer cells in gaps."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count
from mop_lantern.declare.kind import Text
from mop_lantern.grid.refinement import Refinement
from mop_lantern.numerics.nearest import nearest_tree


class Gaps(Refinement):
    """Cells between walls that face each other are made so small that a number of them lie across, within a
    number of halvings.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer in gaps"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-1,-0.6 L-0.2,-0.6 L0,-0.3 L0.2,-0.6 L1,-0.6 M-1,0.6 L-0.2,0.6 L0,0.3 L0.2,0.6 L1,0.6 "
        "M0,-0.3 L0,0.3 M-0.1,-0.1 L0.1,-0.1 M-0.1,0.1 L0.1,0.1"
    )
    sentence: ClassVar[str] = (
        "{id}: {across} cells or more lie across every gap between walls, up to refinement level {levels}."
    )

    kind: Literal["gaps"] = "gaps"
    across: Text = count(
        "cells across",
        "Cells wanted from wall to wall.",
        default="6",
        at_least=1,
        at_most=100,
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
        """Want cells of the gap's width over their number, from wall to wall."""
        gaps = plane.gaps(~np.isin(plane.labels, numbers.open_labels))
        wanted = np.full(len(centres), np.inf)
        if not len(gaps) or not len(centres):
            return wanted
        width = gaps[:, -1]
        narrow = width < numbers.across * base
        if narrow.any():
            far, nearest = nearest_tree(gaps[narrow, :-1]).query(centres)
            own = width[narrow][nearest]
            wanted = np.where(
                far <= 0.5 * own + 0.87 * sizes,
                np.maximum(own / numbers.across, base / 2**numbers.levels),
                wanted,
            )
        return wanted
