"""A thin wall through which heat hardly passes."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.materials._table import TABLE
from mop_lantern.units import show

FILM = 10.0  # W/m2/K, at least, of air and what radiates with it (common practice, no source)
EVEN = 0.1  # Biot number below which a body is about as warm everywhere
UNEVEN = 1.0


class ThickSheet(NoteKind):
    """A thin wall that conducts along itself counts as equally warm through its thickness: insulation and
    thick walls are not.

    Source: Biot number, film times thickness over conductivity, under 0.1 (Incropera et al., Fundamentals of
    Heat and Mass Transfer, section 5.2; not at hand to check).
    """

    caption: ClassVar[str] = "Thin wall that resists"
    kind: Literal["thick_sheet"] = "thick_sheet"
    needs_fluid: ClassVar[bool] = False

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a wall."""
        notes = []
        for key, wall in facts.numbers.warm.items():
            if wall.kind != "shell":
                continue
            biot = max(wall.film, FILM) * wall.thickness / TABLE[wall.material][1]
            if biot <= EVEN:
                continue
            text = (
                f"{show(wall.thickness, 'length', 'mm', 3)} of {TABLE[wall.material][0]} resist heat that "
                f"passes them (Biot number {biot:.2g}), which a wall that is equally warm through its "
                "thickness does not count. Put what resists into the film outside, take “Layers and outside "
                "film”, or draw the wall as a solid."
            )
            notes.append(Note(f"field.warm.{key}", "caution", text, fails=biot > UNEVEN))
        return notes
