"""Cells across the narrowest gap."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.units import show


class GapCells(NoteKind):
    """Tell how many cells lie across the narrowest passage.

    Source: two-point friction on n cells errs by about 1.5 / n2 between plates (own derivation); 8 cells: common practice.
    """

    caption: ClassVar[str] = "Cells across the narrowest gap"
    kind: Literal["gap_cells"] = "gap_cells"
    FEWEST: ClassVar[float] = 8.0

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the grid line."""
        if not facts.gap:
            return []
        across = facts.gap / facts.gap_cell
        x, y = facts.gap_at
        text = f"The narrowest gap, {show(facts.gap, 'length', 'mm', 3)} at ({x * 1e3:.4g}, {y * 1e3:.4g}) mm, has {across:.0f} cells across."
        if across >= cls.FEWEST * 0.98:
            return [Note("field.grid", "ready", text)]
        return [
            Note("field.grid", "caution", text + " Friction there will be too rough a guess.", "12 cells across", {"field.grid.across": "12"})
        ]
