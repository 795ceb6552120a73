"""Pumps and fans that deliver nothing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind
from mop_lantern.judge.network_result import NetworkResult


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
        for name, kind in facts.working.kinds.items():
            line, _, own = name.partition(".")
            if kind not in ("pump", "fan"):
                continue
            flow = facts.working.lines[line]["volume_flow"]
            machine = facts.numbers.network.lines[line].parts[own]
            speed = machine.at({"t": 0.0}).speed
            if speed > 0 and flow <= 1e-6 * float(machine.curve[:, 0].max()):
                words = (
                    f"This {kind} lines and delivers nothing: "
                    f"{_blocker(facts.working, name, facts.numbers.network.lines)}."
                )
                notes.append(Note(f"network.lines.{line}.parts.{own}", "caution", words))
            elif speed > 0:
                most = float(machine.curve[:, 0].max()) * float(speed)
                if facts.working.lines[line]["volume_flow"] > most:
                    notes.append(
                        Note(
                            f"network.lines.{line}.parts.{own}",
                            "caution",
                            f"The duty point lies beyond the end of the curve of this {kind}.",
                        )
                    )
        return notes


def _blocker(working: NetworkResult, machine: str, lines: Any) -> str:
    """Say what holds back the pressure of a machine."""
    gain = working.parts[machine]["gain"]
    holding = {
        name: abs(part["loss"])
        for name, part in working.parts.items()
        if name != machine and working.kinds[name] not in ("pump", "fan", "gear_pump")
    }
    name = max(holding, key=lambda key: holding[key], default="")
    if not name or holding[name] < 0.5 * gain:
        shut = [
            f"{line}.{part}"
            for line, of in lines.items()
            for part, numbers in of.parts.items()
            if getattr(numbers.at({"t": 0.0}), "opening", 1.0) <= 0
        ]
        own = machine.partition(".")[0]
        near = (
            [part for part in shut if part.startswith(f"{own}.")]
            or [part for part in shut if set(working.ends[part.partition(".")[0]]) & set(working.ends[own])]
            or shut
        )
        return (
            f"{', '.join(near[:3])} {'is' if len(near) == 1 else 'are'} shut"
            if near
            else "others push harder"
        )
    kind = working.kinds[name]
    return (
        f"the {'check valve' if kind == 'check' else kind.replace('_', ' ')} {name} "
        f"{'lies against it' if kind == 'check' else 'is shut'}"
    )
