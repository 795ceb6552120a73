"""Which way fluid goes through openings, as far as that is known before solving."""

from __future__ import annotations

from mop_lantern.case.document import Case
from mop_lantern.judge.facts import Facts

LEAST = 1e-9  # of all that is given


def ways_stated(case: Case, facts: Facts | None = None) -> dict[str, str]:
    """Give "in", "out" or "open" by edge: as its line says, or as its given flow goes.

    What all others are given has to pass the last one whose flow is not.
    """
    ways = {item.edge: getattr(item, "way", "open") for item in case.field.openings.values()}
    if facts is None:
        return ways
    given = {opening.edge: opening.flow for opening in facts.openings}
    for edge, flow in given.items():
        if flow and ways.get(edge) == "open":
            ways[edge] = "in" if flow > 0 else "out"
    free = [edge for edge, flow in given.items() if flow is None]
    total = sum(flow or 0.0 for flow in given.values())
    scale = sum(abs(flow or 0.0) for flow in given.values())
    if len(free) == 1 and ways.get(free[0]) == "open" and abs(total) > LEAST * scale:
        ways[free[0]] = "out" if total > 0 else "in"
    return ways
