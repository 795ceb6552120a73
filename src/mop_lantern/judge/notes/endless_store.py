"""Bodies of fluid that never warm."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind


class EndlessStore(NoteKind):
    """Bodies of fluid that never warm.

    Source: a reservoir holds its temperature whatever flows in.
    """

    caption: ClassVar[str] = "Bodies of fluid that never warm"
    on: ClassVar[str] = "network"
    kind: Literal["endless_store"] = "endless_store"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        if not facts.working.thermal:
            return []
        notes = []
        working = facts.working
        gas = {
            node
            for line, ends in facts.working.ends.items()
            if facts.working.extra["air"].get(line, 0.0) > 0
            for node in ends
        }
        for name, node in facts.numbers.network.nodes.items():
            if name in gas:  # the air outside is endless
                continue
            if node.kind != "reservoir":
                continue
            rates = [
                line["mass_flow"] * ((working.ends[key][1] == name) - (working.ends[key][0] == name))
                for key, line in working.lines.items()
            ]
            if min(rates, default=0.0) < 0 < max(rates, default=0.0):
                words = (
                    "Fluid returns to this reservoir and leaves it again at its own temperature: a store "
                    "without end never warms. Use a tank."
                )
                notes.append(Note(f"network.nodes.{name}", "caution", words))
        return notes
