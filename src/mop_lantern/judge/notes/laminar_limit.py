"""Laminar flow asked for above the critical Reynolds number."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import CRITICAL_REYNOLDS, Facts, Note, NoteKind


class LaminarLimit(NoteKind):
    """Warn when the flow would be turbulent.

    Source: 2300 on the hydraulic diameter, beyond 4000 always turbulent; common practice, no source.
    """

    caption: ClassVar[str] = "Laminar above the critical number"
    kind: Literal["laminar_limit"] = "laminar_limit"
    TURBULENT: ClassVar[float] = 4000.0

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every opening above the limit."""
        notes = []
        asked = facts.numbers.physics.flow == "laminar"
        for opening in facts.openings if facts.rubs and asked else ():
            reynolds = facts.reynolds(opening)
            if reynolds and reynolds > CRITICAL_REYNOLDS:
                far = reynolds > cls.TURBULENT
                text = (
                    f"Reynolds number {reynolds:.0f} is {'far ' if far else ''}above "
                    f"{CRITICAL_REYNOLDS:.0f}: the real flow is {'' if far else 'probably '}turbulent. A "
                    "laminar answer shows too little friction and too little mixing."
                )
                notes.append(
                    Note(
                        f"field.openings.{opening.key}",
                        "caution",
                        text,
                        "Let the Reynolds number decide",
                        {"field.physics.flow": "reynolds"},
                        fails=far,
                    )
                )
        return notes
