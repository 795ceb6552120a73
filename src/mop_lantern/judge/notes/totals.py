"""What enters and leaves in all."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.totals import totals_of


class Totals(NoteKind):
    """Tell how much is supplied and extracted in all, and the difference, where several openings have given
    flows or the fluid is air.

    Source: sums of the case.
    """

    caption: ClassVar[str] = "Flows in all"
    kind: Literal["totals"] = "totals"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note at the last opening."""
        totals = totals_of(facts)
        given = len(facts.openings) - len(totals.free)
        if not given or (given == 1 and not totals.changes):
            return []
        words = totals.told("m3/h" if totals.changes else "L/s")
        return [Note(f"field.openings.{facts.openings[-1].key}", "ready", words)] if words else []
