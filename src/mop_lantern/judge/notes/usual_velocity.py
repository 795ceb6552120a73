"""Velocities outside the usual range."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind
from mop_lantern.units import show

USUAL = {"pipe": 3.0, "duct": 12.0}  # m/s


class UsualVelocity(NoteKind):
    """Velocities outside the usual range.

    Source: common practice: water pipes 1 to 3 m/s, ducts up to 12 m/s (common practice, no source).
    """

    caption: ClassVar[str] = "Velocities outside the usual range"
    on: ClassVar[str] = "network"
    kind: Literal["usual_velocity"] = "usual_velocity"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        notes = []
        for name, part in facts.working.parts.items():
            kind = facts.working.kinds[name]
            speed = part["velocity"]
            if kind not in USUAL or not speed > USUAL[kind]:
                continue
            line, _, own = name.partition(".")
            fast, usual = (show(value, "velocity", "m/s", 2) for value in (speed, USUAL[kind]))
            words = f"{fast} is fast for a {kind}; the usual limit is {usual}."
            notes.append(Note(f"network.lines.{line}.parts.{own}", "caution", words))
        return notes
