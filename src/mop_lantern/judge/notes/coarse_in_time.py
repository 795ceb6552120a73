"""Time steps too long for what changes in them."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.units import show


class CoarseInTime(NoteKind):
    """Warn when fluid crosses many cells in a step of given length, or when the solution ends before fluid
    has passed once.

    Source: Courant, Friedrichs and Lewy, Math. Ann. 100 (1928) 32-74; about 1 for accuracy in time: common
    practice.
    """

    caption: ClassVar[str] = "Coarse in time"
    measured: ClassVar[bool] = True
    kind: Literal["coarse_in_time"] = "coarse_in_time"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """Notes on the time line."""
        plan = facts.numbers.time
        speeds = [
            abs(opening.flow) / opening.area
            for opening in facts.openings
            if opening.flow and opening.area > 0
        ]
        if plan.mode == "steady" or not speeds:
            return []
        notes = []
        cell = facts.gap_cell or facts.shape.size / 100
        number = max(speeds) * plan.step / cell
        if plan.courant == 0 and number > 5:
            text = (
                f"Fluid crosses about {number:.2g} cells in a step of {show(plan.step, 'time', 's')}: what "
                "changes quickly will be smoothed."
            )
            notes.append(
                Note(
                    "field.time",
                    "caution",
                    text,
                    "at most 1 cell a step",
                    {"field.time.courant": "1"},
                )
            )
        through = facts.shape.size / max(speeds)
        if plan.until < through:
            text = (
                f"Fluid needs about {show(through, 'time', 's', 2)} to pass the space; the solution ends "
                f"after "
                f"{show(plan.until, 'time', 's', 2)}."
            )
            notes.append(Note("field.time", "ready", text))
        return notes
