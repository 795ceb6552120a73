"""Supply and extract that do not match."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind
from mop_lantern.judge.network_result import NetworkResult
from mop_lantern.units import show

MATCH = 0.05  # share by which they may differ
DOOR = 50.0  # Pa over or under the air, at which doors are hard to open


class SupplyExtract(NoteKind):
    """Supply and extract of ventilation that do not match, and rooms far over or under the pressure of the
    air.

    Source: conservation of mass; limits are common practice, no source.
    """

    caption: ClassVar[str] = "Supply and extract that do not match"
    on: ClassVar[str] = "network"
    kind: Literal["supply_extract"] = "supply_extract"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        working = facts.working
        rooms = [name for name, kind in working.kinds.items() if kind == "room"]
        if not rooms or not any(weight > 0 for weight in working.extra["air"].values()):
            return []
        supply, extract, leaks = _streams(working, facts.numbers.network.nodes)
        notes = []
        if supply > 0 and extract > 0 and abs(supply - extract) > MATCH * max(supply, extract):
            more, less = ("supply", "extract") if supply > extract else ("extract", "supply")
            gap = abs(supply - extract)
            ways = f" through {', '.join(leaks[:3])}" if leaks else ""
            words = (
                f"Total {more} is {_flow(max(supply, extract))}, total {less} is "
                f"{_flow(min(supply, extract))}: the surplus of {_flow(gap)} "
                f"{'exfiltrates' if supply > extract else 'infiltrates'}{ways}."
            )
            notes.append(Note("network", "caution", words))
        elif supply > 0 or extract > 0:
            notes.append(
                Note(
                    "network",
                    "ready",
                    f"Total supply {_flow(supply)}, total extract {_flow(extract)}.",
                )
            )
        for name in rooms:
            pressure = working.nodes[name]["pressure"]
            if abs(pressure) > DOOR:
                side = "above" if pressure > 0 else "below"
                off = show(abs(pressure), "pressure", "Pa", 3)
                words = f"This room is {off} {side} outdoors: its doors are hard to open."
                notes.append(Note(f"network.nodes.{name}", "caution", words))
        return notes


def _flow(value: float) -> str:
    return show(value, "volume_flow", "L/s")


def _streams(working: NetworkResult, nodes: Any) -> tuple[float, float, list[str]]:
    """Give what is brought and taken by fans, supplies and demands, m3/s, and the lines between rooms and
    outside that have none.
    """
    supply = extract = 0.0
    leaks = []
    for node, numbers in nodes.items():
        now = numbers.at({"t": 0.0})
        if numbers.kind == "junction":
            supply += float(now.feed)
            extract += float(now.take)
        if numbers.kind != "reservoir":
            continue
        for line in _beyond(working, node):
            start, end = working.ends[line]
            if node not in (start, end):
                continue
            flow = working.lines[line]["volume_flow"] * (1 if start == node else -1)
            if any(working.kinds[name] == "fan" for name in _parts_of(working, _beyond(working, node))):
                supply = supply + max(flow, 0.0)
                extract = extract + max(-flow, 0.0)
            else:
                leaks.append(line)
    return supply, extract, leaks


def _beyond(working: NetworkResult, node: str) -> set[str]:
    """Give the lines that hang together with a node without passing through a room or another reservoir."""
    found: set[str] = set()
    front = [node]
    seen = {node}
    while front:
        here = front.pop()
        for line, ends in working.ends.items():
            if here in ends and line not in found:
                found.add(line)
                other = ends[1] if ends[0] == here else ends[0]
                if other not in seen and working.kinds.get(other) not in ("room", "reservoir"):
                    seen.add(other)
                    front.append(other)
    return found


def _parts_of(working: NetworkResult, lines: set[str]) -> list[str]:
    return [name for name in working.parts if name.partition(".")[0] in lines]
