"""Buoyancy where nothing solved changes the density."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class BuoyancyOfNothing(NoteKind):
    """Warn when density differences are to move the fluid and nothing that is solved changes the density.

    Source: what the program does: the density follows the temperature and the species that are solved.
    """

    caption: ClassVar[str] = "Buoyancy with nothing transported"
    kind: Literal["buoyancy_of_nothing"] = "buoyancy_of_nothing"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the physics line."""
        numbers = facts.numbers
        heavy = any(getattr(item, "expansion", 0.0) != 0 for item in numbers.species.values())
        if numbers.physics.buoyancy != "boussinesq" or numbers.heat.solve or heavy:
            return []
        what = "no species changes the density" if numbers.species else "no species is transported"
        text = f"Buoyancy has no effect: temperature is not solved and {what}."
        return [
            Note("field.physics", "caution", text, "solve for temperature", {"field.heat.solve": True}),
        ]
