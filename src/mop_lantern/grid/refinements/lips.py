"""Finer cells at sharp edges that stand into the fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import count
from mop_lantern.declare.kind import Text
from mop_lantern.grid.lip_cells import around_lips
from mop_lantern.grid.refinement import Refinement
from mop_lantern.shape import lips_of


class AtLips(Refinement):
    """Cells around sharp edges that stand into the fluid are made so small that a number of them would lie
    across the passage there, within a number of halvings.

    Source: own measurements: the mouth of a pipe and orifices around an axis, turbulent, 12 to 100 cells
    across.
    """

    caption: ClassVar[str] = "Finer at lips"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.9,-0.5 L-0.1,-0.5 L-0.1,-0.95 M-0.9,0.5 L-0.1,0.5 L-0.1,0.95 M-0.1,-0.5 Q0.3,-0.2 0.9,-0.2 "
        "M-0.1,0.5 Q0.3,0.2 0.9,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: at sharp edges that stand into the fluid, cells of which {across} would lie across the "
        "passage, up to refinement level {levels}."
    )

    kind: Literal["lips"] = "lips"
    across: Text = count(
        "cells across",
        "Cells of this size that would lie across the passage at the edge. A turbulent stream that tears off "
        "there wants 50.",
        default="50",
        at_least=1,
        at_most=1000,
    )
    levels: Text = count(
        "halvings at most",
        "How often cells are halved at most.",
        default="4",
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
        """Want cells of the passage's width over their number, as far as a stream narrows behind a lip."""
        openings = [plane.names[label] for label in numbers.open_labels]
        lips = lips_of(getattr(numbers, "fluid", plane), openings)
        across = numbers.across / getattr(numbers, "scale", 1.0)
        return around_lips(lips, centres, sizes, across, base / 2**numbers.levels)
