"""Laminar flow asked for above the critical Reynolds number."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import CRITICAL_REYNOLDS, Facts, Note, NoteKind
from mop_lantern.judge.regime import Regime, regime_of


class LaminarLimit(NoteKind):
    """Warn when the flow would be turbulent.

    Source: 2300 on the hydraulic diameter, beyond 4000 always turbulent; common practice, no source.
    """

    caption: ClassVar[str] = "Laminar above the critical number"
    kind: Literal["laminar_limit"] = "laminar_limit"
    TURBULENT: ClassVar[float] = 4000.0
    FAR: ClassVar[float] = 3.0  # times what is critical inside a space; common practice, no source

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every opening above the limit, or one for the space."""
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
        if asked and not notes:
            notes += cls._inside(regime_of(facts))
        return notes

    @classmethod
    def _inside(cls, regime: Regime) -> list[Note]:
        """One note on what fluid does that rises by its warmth or is stirred by walls."""
        share = regime.reynolds / regime.critical
        if share <= 1 or regime.critical == CRITICAL_REYNOLDS:
            return []
        far = share > cls.FAR
        text = (
            f"Reynolds number {regime.reynolds:,.0f} on {regime.where}: from about {regime.critical:,.0f} on "
            f"such a flow is turbulent. A laminar answer {'shows' if far else 'may show'} too little mixing, "
            "and may never come to rest."
        )
        edits = {"field.physics.flow": "reynolds"}
        note = Note("field.physics", "caution", text, "Let the Reynolds number decide", edits, fails=far)
        return [note]
