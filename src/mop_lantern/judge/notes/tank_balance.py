"""Tanks whose level cannot stay."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind


class TankBalance(NoteKind):
    """Tanks whose level cannot stay.

    Source: conservation of mass.
    """

    caption: ClassVar[str] = "Tanks whose level cannot stay"
    on: ClassVar[str] = "network"
    kind: Literal["tank_balance"] = "tank_balance"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        notes = []
        working = facts.working
        for name, node in facts.numbers.network.nodes.items():
            if node.kind != "tank":
                continue
            if node.steady == "finds":
                level = working.nodes[name]["head"] - float(node.at({"t": 0.0}).z)
                if not 0 <= level <= node.height:
                    words = "runs dry" if level < 0 else "overflows"
                    notes.append(
                        Note(
                            f"network.nodes.{name}",
                            "caution",
                            f"The tank {words}: its level would be {level:.3g} m of {node.height:g} m.",
                        )
                    )
                continue
            gain = sum(
                line["volume_flow"] * ((working.ends[key][1] == name) - (working.ends[key][0] == name))
                for key, line in working.lines.items()
            )
            if abs(gain) > 1e-9:
                hours = node.area * (node.height - node.level if gain > 0 else node.level) / abs(gain) / 3600
                words = (
                    f"The tank {'gains' if gain > 0 else 'loses'} {1e3 * abs(gain):.3g} L/s: "
                    f"{'full' if gain > 0 else 'empty'} in {hours:.2g} h."
                )
                notes.append(Note(f"network.nodes.{name}", "ready", words))
        return notes
