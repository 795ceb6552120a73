"""Pressures of a network below that of vapour, or below nothing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind
from mop_lantern.laws.vapour import water
from mop_lantern.units import show_handy


class AbsolutePressure(NoteKind):
    """Tell where a liquid would boil, and where a pressure is less than nothing.

    Source: vapour pressure of water, Wagner and Pruss 1993; pressures count from that of the air outside.
    """

    caption: ClassVar[str] = "Absolute pressure"
    on: ClassVar[str] = "network"
    kind: Literal["absolute_pressure"] = "absolute_pressure"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """One note for every node concerned."""
        assert isinstance(facts, NetFacts)
        working = facts.working
        notes = []
        air = float(facts.numbers.network.air_pressure)
        watery = all(medium.kind in ("water", "sea_water") for medium in facts.numbers.media.values())
        liquid = {
            node
            for line, ends in working.ends.items()
            if working.extra["air"].get(line, 0.0) == 0
            for node in ends
        }
        for name, node in working.nodes.items():
            absolute = node["pressure"] + air
            boils = (
                float(water(node["temperature"]))
                if watery and name in liquid and 273.16 <= node["temperature"] < 640
                else 0.0
            )
            if absolute < 0:
                text = (
                    f"The absolute pressure here would be {_told(absolute)}, less than nothing: the "
                    "flow asked for cannot be drawn through."
                )
                notes.append(Note(f"network.nodes.{name}", "caution", text, fails=True))
            elif absolute < boils:
                text = (
                    f"The absolute pressure here, {_told(absolute)}, is under that of vapour "
                    f"({_told(boils)}): the water boils, which is not followed."
                )
                notes.append(Note(f"network.nodes.{name}", "caution", text))
        for name, line in working.lines.items():
            # nan where no area is known: then nothing is told
            static = min(line.get("static_start", 0.0), line.get("static_end", 0.0)) + air
            if static < 0 and not any(
                note.path == f"network.nodes.{node}" for note in notes for node in working.ends[name]
            ):
                text = (
                    f"The static pressure at an end of this line would be {_told(static)} absolute, "
                    "less than nothing: its fluid cannot move that fast."
                )
                notes.append(Note(f"network.lines.{name}", "caution", text, fails=True))
        return notes


def _told(pressure: float) -> str:
    return show_handy(pressure, "pressure", "bar")
