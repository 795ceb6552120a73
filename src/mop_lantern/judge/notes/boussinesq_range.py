"""Density differences too large for the Boussinesq approximation."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge.facts import Facts, Note, NoteKind, named_temperatures


class BoussinesqRange(NoteKind):
    """Warn when expansion times temperature difference is not small.

    Source: Gray and Giorgini, Int. J. Heat Mass Transfer 19 (1976) 545-551: within 10 % for differences of
    density up to about 0.1.
    """

    caption: ClassVar[str] = "Boussinesq beyond its range"
    kind: Literal["boussinesq_range"] = "boussinesq_range"
    LIMIT: ClassVar[float] = 0.1
    SENSELESS: ClassVar[float] = 0.5

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the physics line."""
        numbers = facts.numbers
        warm = (
            [*named_temperatures(numbers), numbers.heat.start]
            if isinstance(numbers.heat.start, float)
            else named_temperatures(numbers)
        )
        if numbers.physics.buoyancy != "boussinesq" or not numbers.heat.solve or not warm:
            return []
        share = facts.expansion * float(np.ptp(warm))
        if share <= cls.LIMIT:
            return []
        text = (
            f"Expansion times temperature difference is {share:.2g}: the Boussinesq approximation holds "
            f"for up to {cls.LIMIT:g}."
        )
        text += (
            " The density would become nothing."
            if share > cls.SENSELESS
            else " Velocities may be off by 10 % and more."
        )
        return [
            Note(
                "field.physics",
                "caution",
                text,
                "use the gas law",
                {"field.physics.buoyancy": "gas"},
                fails=share > cls.SENSELESS,
            )
        ]
