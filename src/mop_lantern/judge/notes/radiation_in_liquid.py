"""Radiation asked for in a liquid."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import LIQUID, Facts, Note, NoteKind


class RadiationInLiquid(NoteKind):
    """Liquids take up heat radiation within millimetres: surfaces under water do not radiate to each other.

    Source: Incropera et al., Fundamentals of Heat and Mass Transfer, section 12.8 (not at hand to check).
    """

    caption: ClassVar[str] = "Radiation in a liquid"
    kind: Literal["radiation_in_liquid"] = "radiation_in_liquid"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """Give the notes."""
        if not facts.numbers.radiation.solve or facts.density < LIQUID:
            return []
        text = "Liquids let no heat radiation through: surfaces in them do not radiate to each other."
        remedy = {"field.radiation.solve": False}
        return [Note("field.radiation", "caution", text, "do without it", remedy, fails=True)]
