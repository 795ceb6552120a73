"""Cells across the narrowest gap."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import FEWEST_ACROSS, GUESS_BELOW, SLACK, Facts, Note, NoteKind
from mop_lantern.units import show, show_place


class GapCells(NoteKind):
    """Tell how many cells lie across the narrowest passage.

    Source: friction on n cells errs by about 1.1 / n2 between plates (own measurement).
    """

    caption: ClassVar[str] = "Cells across the narrowest gap"
    measured: ClassVar[bool] = True
    kind: Literal["gap_cells"] = "gap_cells"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the grid line."""
        if not facts.gap:
            return []
        across = facts.gap_across
        wide = show(facts.gap, "length", "mm", 3)
        text = f"The narrowest gap, {wide} at {show_place(facts.gap_at)}, has {across:.2g} cells across."
        if across >= FEWEST_ACROSS - SLACK:
            return [Note("field.grid", "ready", text)]
        text += (
            " What flows through it is a guess."
            if across < GUESS_BELOW - SLACK
            else " Friction there will be too rough a guess."
        )
        if facts.shape_is_plane:
            return [
                Note(
                    "field.grid",
                    "caution",
                    text,
                    "12 cells across",
                    {"field.grid.across": "12"},
                )
            ]
        return [
            Note(
                "field.grid",
                "caution",
                text,
                "8 cells across",
                {"field.grid.cell": f"{facts.gap / 8 * 1e3:.4g} mm"},
            )
        ]
