"""U-values of walls of layers."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import discover
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.laws.envelope import INSIDE
from mop_lantern.units import show


class UValue(NoteKind):
    """Tell the U-value of every wall of layers, with the film that ISO 6946 counts inside.

    Source: ISO 6946:2017, table 7 (0.13 m2 K/W inside, where heat goes level).
    """

    caption: ClassVar[str] = "U-value of a wall"
    kind: Literal["u_value"] = "u_value"
    needs_fluid: ClassVar[bool] = False

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a wall."""
        kinds: Any = discover("mop_lantern.field.heat_walls")
        notes = []
        for key, numbers in facts.numbers.warm.items():
            try:
                through = kinds[numbers.kind].passes(numbers)
            except TypeError:  # a value that follows the time has no one figure
                continue
            if not through:
                continue
            text = (
                f"U-value {show(1 / (through + INSIDE['level']), 'film', 'W/m2/K', 3)} with the usual film "
                f"inside; what the solve finds inside takes its place. The wall itself and its film outside: "
                f"{through:.3g} m²K/W."
            )
            notes.append(Note(f"field.warm.{key}", "ready", text))
        return notes
