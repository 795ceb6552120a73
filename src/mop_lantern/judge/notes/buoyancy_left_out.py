"""Temperature differences strong enough to move the fluid."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge.facts import Facts, Note, NoteKind, named_temperatures
from mop_lantern.units import show_change


class BuoyancyLeftOut(NoteKind):
    """Warn when buoyancy is not solved although the Richardson number says that it matters.

    Ri = g beta dT L / U2 above 0.1 (common practice, no source), L the width of the widest opening.

    Source: definition of the Richardson number; any text on heat transfer.
    """

    caption: ClassVar[str] = "Buoyancy not solved"
    kind: Literal["buoyancy_left_out"] = "buoyancy_left_out"
    MATTERS: ClassVar[float] = 0.1

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the physics line."""
        numbers = facts.numbers
        if numbers.physics.buoyancy == "gas" and not numbers.heat.solve:
            return [
                Note(
                    "field.physics",
                    "caution",
                    "The gas law needs the temperature, which is not solved: the density stays as it is.",
                    "solve for temperature",
                    {"field.heat.solve": True},
                )
            ]
        if numbers.physics.buoyancy != "none" or not numbers.heat.solve or facts.expansion <= 0:
            return []
        warm = named_temperatures(numbers)
        speeds = [
            abs(opening.flow) / opening.area
            for opening in facts.openings
            if opening.flow and opening.area > 0
        ]
        if len(warm) < 2 or not speeds or not min(speeds):
            return []
        width = max(opening.width for opening in facts.openings)
        number = 9.80665 * facts.expansion * float(np.ptp(warm)) * width / min(speeds) ** 2
        if number < cls.MATTERS:
            return []
        apart = show_change(float(np.ptp(warm)), "temperature", "°C", 3)
        text = (
            f"Richardson number {number:.2g}: temperature differences of {apart} move this "
            "fluid about as much as the openings do, and buoyancy is not solved."
        )
        return [
            Note(
                "field.physics",
                "caution",
                text,
                "let it rise (Boussinesq)",
                {"field.physics.buoyancy": "boussinesq"},
            )
        ]
