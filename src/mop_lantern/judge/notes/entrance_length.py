"""Entrance length against the length of the run."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of
from mop_lantern.units import show


class EntranceLength(NoteKind):
    """Tell whether a uniform inflow has room to develop.

    Source: Durst, Ray, Unsal and Bayoumi, "The development lengths of laminar pipe and channel flows",
    J. Fluids Eng. 127 (2005) 1154-1160; formulas not at hand to check, confirmed within 5 % by our
    reference solution. Turbulent: 4.4 Re^(1/6) diameters, White, *Fluid Mechanics*, section 6.2.
    """

    caption: ClassVar[str] = "Entrance length"
    kind: Literal["entrance_length"] = "entrance_length"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for every uniform inflow whose run is shorter than its entrance length."""
        notes = []
        for opening in facts.openings:
            reynolds = facts.reynolds(opening)
            if (
                not reynolds
                or opening.profile not in ("usual", "uniform")
                or not opening.flow
                or opening.flow < 0
                or not opening.run_length
            ):
                continue
            a, b, number = (
                (0.619, 0.0567, reynolds) if facts.shape.axisymmetric else (0.631, 0.0442, reynolds / 2)
            )
            length = opening.width * (a**1.6 + (b * number) ** 1.6) ** (1 / 1.6)
            if regime_of(facts).closure:
                bore = opening.width if facts.shape.axisymmetric else 2 * opening.width
                length = 4.4 * reynolds ** (1 / 6) * bore
            if length > opening.run_length:
                path = f"field.openings.{opening.key}"
                text = (
                    f"The flow needs about {show(length, 'length', 'mm', 3)} to develop; its passage is "
                    f"{show(opening.run_length, 'length', 'mm', 3)} long. With a long feed pipe in front, "
                    "a developed profile is nearer the truth."
                )
                notes.append(
                    Note(
                        path,
                        "caution",
                        text,
                        "use a developed profile",
                        {f"{path}.profile": "developed"},
                    )
                )
        return notes
