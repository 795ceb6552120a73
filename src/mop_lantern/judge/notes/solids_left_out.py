"""Solids with a material in a case without heat."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class SolidsLeftOut(NoteKind):
    """Tell that solids with a material conduct nothing while temperature is not solved for.

    Source: what the program does.
    """

    caption: ClassVar[str] = "Solids not solved"
    kind: Literal["solids_left_out"] = "solids_left_out"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the first of them."""
        numbers = facts.numbers
        if numbers.heat.solve or not numbers.solids:
            return []
        text = "Temperature is not solved for: this solid is a wall and nothing more."
        key = next(iter(numbers.solids))
        return [
            Note(f"field.solids.{key}", "ready", text, "solve for temperature", {"field.heat.solve": True})
        ]
