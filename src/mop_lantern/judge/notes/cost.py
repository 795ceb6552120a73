"""Cells, memory and time expected."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class Cost(NoteKind):
    """Tell what a solve will take.

    Source: measured here, 1.4 microseconds a cell and iteration, about 150 iterations, 1.5 kB a cell.
    """

    caption: ClassVar[str] = "Cells, memory and time"
    measured: ClassVar[bool] = True
    needs_fluid: ClassVar[bool] = False
    kind: Literal["cost"] = "cost"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the grid line."""
        seconds = max(1.0, facts.cells * 1.4e-6 * 150)
        time = f"{seconds:.0f} s" if seconds < 90 else f"{seconds / 60:.0f} min"
        text = f"About {facts.cells:,} cells, {max(1, round(facts.cells * 1.5e-3)):,} MB and {time}."
        level = "ready" if facts.cells < 300_000 else "caution"
        remedy = {} if level == "ready" else {"field.grid.level": "sketch"}
        return [
            Note(
                "field.grid",
                level,
                text,
                "use a sketch grid" if remedy else "",
                remedy,
            )
        ]
