"""Heat, a species or age with nothing to carry it away."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import discover
from mop_lantern.judge.facts import Facts, Note, NoteKind


class NoWayForHeat(NoteKind):
    """Block a steady case in which something carried has no level: a closed space with sources or nothing
    held.

    Source: conservation.
    """

    caption: ClassVar[str] = "No way for what is carried"
    blocks: ClassVar[bool] = True
    needs_fluid: ClassVar[bool] = False
    kind: Literal["no_way_for_heat"] = "no_way_for_heat"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for each thing carried."""
        numbers = facts.numbers
        if numbers.time.mode != "steady" or facts.openings:
            return []
        notes = []
        kinds: Any = discover("mop_lantern.field.heat_walls")
        held = any(kinds[wall.kind].ties(wall) for wall in numbers.warm.values())
        remedy = "follow it in time"
        edits = {"field.time.mode": "transient"}
        if numbers.heat.solve and not held:
            text = (
                "The space is closed and no wall is held at a temperature, so there is no steady "
                "temperature. Hold a wall, or follow it in time."
            )
            notes.append(
                Note(
                    "field.heat",
                    "blocked",
                    text,
                    remedy,
                    edits,
                )
            )
        for key in [key for key, item in numbers.species.items() if not item.decay]:
            notes.append(
                Note(
                    f"field.species.{key}",
                    "blocked",
                    "The space is closed: a species has no steady value in it. Follow it in time.",
                    remedy,
                    edits,
                )
            )
        if numbers.age.solve:
            notes.append(
                Note(
                    "field.age",
                    "blocked",
                    "The space is closed: its fluid only grows older. Follow it in time, or open the space.",
                    remedy,
                    edits,
                )
            )
        return notes
