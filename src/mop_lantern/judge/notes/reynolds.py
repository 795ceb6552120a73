"""Reynolds number and regime at every opening with a given flow."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import CRITICAL_REYNOLDS, Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of
from mop_lantern.shape import Surface


class Reynolds(NoteKind):
    """Tell the Reynolds number on the hydraulic diameter.

    Source: definition; plates have twice their gap as hydraulic diameter.
    """

    caption: ClassVar[str] = "Reynolds number"
    kind: Literal["reynolds"] = "reynolds"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note an opening."""
        notes = []
        inside = regime_of(facts)
        stirred = inside.critical != CRITICAL_REYNOLDS and inside.reynolds > inside.critical
        end = "flow there; what rises by its warmth stirs the space" if stirred else "flow"
        for opening in facts.openings:
            reynolds = facts.reynolds(opening)
            if reynolds:
                basis = (
                    "the bore"
                    if facts.shape.axisymmetric
                    else "the bore of equal area"
                    if isinstance(facts.shape, Surface)
                    else "twice the gap"
                )
                text = (
                    f"Reynolds number {reynolds:.0f} on {basis}: "
                    f"{'creeping' if reynolds < 1 else 'laminar'} {end}."
                )
                if reynolds <= CRITICAL_REYNOLDS:
                    notes.append(Note(f"field.openings.{opening.key}", "ready", text))
        return notes
