"""Walls of layers that hold no heat, in time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import discover
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.units import show


class WallsInTime(NoteKind):
    """What enters a wall that holds no heat leaves it at once: in time, real walls answer within minutes to
    hours.

    Source: definition of the heat capacity; 1 to 2 MJ/m3/K of masonry and wood, 0.03 to 0.1 of insulation
    (figures of the materials table).
    """

    caption: ClassVar[str] = "Walls that hold no heat"
    kind: Literal["walls_in_time"] = "walls_in_time"
    needs_fluid: ClassVar[bool] = False

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a wall."""
        plan = facts.numbers.time
        if plan.mode != "transient" or plan.shows == "mean" or not facts.numbers.heat.solve:
            return []
        kinds: Any = discover("mop_lantern.field.heat_walls")
        notes = []
        for key, numbers in facts.numbers.warm.items():
            layers = [each for each in kinds[numbers.kind].layers(numbers) if each.thickness > 0]
            if not layers or any(each.capacity > 0 for each in layers):
                continue
            thick = show(sum(each.thickness for each in layers), "length", "mm", 3)
            text = (
                f"The {thick} of layers hold no heat: what enters leaves at once. State how much a layer "
                "holds (masonry and wood 1 to 2 MJ/m3/K), or take “Wall of a building”."
            )
            notes.append(Note(f"field.warm.{key}", "caution", text))
        return notes
