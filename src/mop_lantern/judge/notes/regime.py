"""Laminar or turbulent, as the Reynolds number chose."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import discover
from mop_lantern.judge.facts import CRITICAL_REYNOLDS, Facts, Note, NoteKind
from mop_lantern.judge.regime import FULLY, regime_of


class ChosenRegime(NoteKind):
    """Say what the Reynolds number chose and from where; warn where the flow may be either, and where a
    closure is asked for that finds no turbulence.

    Source: 2300 on the hydraulic diameter, beyond 4000 always turbulent; common practice, no source.
    """

    caption: ClassVar[str] = "Laminar or turbulent"
    kind: Literal["regime"] = "regime"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the line of physics."""
        regime = regime_of(facts)
        path = "field.physics"
        told = f"Reynolds number {regime.reynolds:,.0f} on {regime.where}"
        if regime.closure and not regime.chosen and 0 < regime.reynolds <= regime.critical:
            text = f"{told}: the real flow is laminar. A closure shows too much friction and mixing."
            edits: dict[str, Any] = {"field.physics.flow": "reynolds"}
            return [Note(path, "caution", text, "Let the Reynolds number decide", edits)]
        if not regime.chosen:
            return []
        phrase = "laminar"
        if regime.closure:
            kinds: Any = discover("mop_lantern.field.closures")
            phrase = kinds[regime.closure].phrase
        if not regime.reynolds:
            return [Note(path, "ready", f"Solved as {phrase} flow: {regime.where}.")]
        text = f"{told}: solved as {phrase} flow."
        if regime.closure and regime.roomy:
            text += " This is a room, far wider than its openings: there this closure mostly settles better."
        if regime.between:
            text += f" Between {CRITICAL_REYNOLDS:,.0f} and {FULLY:,.0f} a real flow may be either."
            return [Note(path, "caution", text)]
        return [Note(path, "ready", text)]
