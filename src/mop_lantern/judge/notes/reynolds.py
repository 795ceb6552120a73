"""Reynolds number and regime at every opening with a given flow."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
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
                    f"{'creeping' if reynolds < 1 else 'laminar'} flow."
                )
                if reynolds <= 2300:
                    notes.append(Note(f"field.openings.{opening.key}", "ready", text))
        return notes
