"""Pumps and fans that deliver nothing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind


class AgainstShut(NoteKind):
    """Pumps and fans that deliver nothing.

    Source: a machine against a shut line heats up what it holds (any text on pumps).
    """

    caption: ClassVar[str] = "Pumps and fans that deliver nothing"
    on: ClassVar[str] = "network"
    kind: Literal["against_shut"] = "against_shut"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        notes = []
        largest = max((abs(run["mass_flow"]) for run in facts.working.runs.values()), default=0.0)
        for name, kind in facts.working.kinds.items():
            run, _, own = name.partition(".")
            if kind not in ("pump", "fan"):
                continue
            flow, machine = facts.working.runs[run]["mass_flow"], facts.numbers.network.runs[run].parts[own]
            speed = machine.at({"t": 0.0}).speed
            if speed > 0 and flow <= 1e-6 * max(largest, 1e-9):
                notes.append(Note(f"network.runs.{run}.parts.{own}", "caution", f"This {kind} runs and delivers nothing: something is shut, or others push harder."))
            elif speed > 0:
                most = float(machine.curve[:, 0].max()) * float(speed)
                if facts.working.runs[run]["volume_flow"] > most:
                    notes.append(Note(f"network.runs.{run}.parts.{own}", "caution", f"The duty point lies beyond the end of the curve of this {kind}."))
        return notes
