"""Readings nobody has to ask for: what flows, presses and is carried at every opening, the heat of every
heated wall; of networks the flow and the pressures of every line.
"""

from __future__ import annotations

from typing import Any

from mop_lantern.declare import Numbers
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.network_result import NetworkResult
from mop_lantern.judge.reading import Measured, measure

MOST = 500  # openings or lines: of more a list is no help


def standard_readings(numbers: Any, answer: FieldResult | NetworkResult) -> dict[str, Measured]:
    """Take the standard readings of a solved case.

    Parameters
    ----------
    numbers : the case, worked out (`case.resolve`).

    Returns
    -------
    By WHERE.WHAT, such as ``in.flow`` or ``main.start``; ids of readings have no point in them. Empty where
    there are too many places.
    """
    wanted = _of_network(numbers) if isinstance(answer, NetworkResult) else _of_field(numbers, answer)
    return measure(wanted, answer)


def watched_readings(numbers: Any, answer: FieldResult) -> dict[str, Measured]:
    """Take what tells whether a flow is steady where nobody asks for a reading of it: flows and pressures of
    the openings, by WHERE.WHAT, and the mean speed.
    """
    wanted = _flows(_present(numbers.openings, answer), answer)
    known = answer.quantities
    if "speed" in known:
        wanted["fluid.speed"] = Numbers(
            kind="region",
            title="mean speed",
            quantity="speed",
            measure="mean",
            extent="whole",
            of=known["speed"],
        )
    return measure(wanted, answer)


def _of_field(numbers: Any, answer: FieldResult) -> dict[str, Numbers]:
    known = answer.quantities
    carried = {key: known[key] for key in known if key == "T" or key.startswith("c.")}
    openings = _present(numbers.openings, answer)
    warm = _present(getattr(numbers, "warm", {}), answer)
    if len(openings) + len(warm) > MOST:
        return {}
    found: dict[str, Numbers] = {}
    for key, item in openings.items():
        found |= _flows({key: item}, answer)
        for name, (words, _) in carried.items():
            title = f"{key}: mean {words}"
            found[f"{key}.{name}"] = _mean(item.edge, name, known, title, "flow_mean")
    for key, item in warm.items() if "T" in known else ():
        found[f"{key}.heat"] = Numbers(
            kind="passing",
            title=f"{key}: heat into the fluid",
            edge=item.edge,
            quantity="T",
            way="in",
            of=known["T"],
        )
    return found


def _present(items: dict[str, Any], answer: FieldResult) -> dict[str, Any]:
    """Give the items whose edge the grid has."""
    names = set(answer.mesh.patch_names)
    return {key: item for key, item in items.items() if item.edge in names}


def _flows(openings: dict[str, Any], answer: FieldResult) -> dict[str, Numbers]:
    """Ask for flow and pressure of openings; of no list too long to read."""
    found: dict[str, Numbers] = {}
    for key, item in openings.items() if len(openings) <= MOST else ():
        inward = "in" if getattr(item, "way", "in") == "in" else "out"
        found[f"{key}.flow"] = Numbers(
            kind="flow", title=f"{key}: flow {inward}", edge=item.edge, measure="volume_flow", way=inward
        )
        title = f"{key}: mean static pressure"
        found[f"{key}.pressure"] = _mean(item.edge, "pressure", answer.quantities, title)
    return found


def _mean(
    edge: str,
    name: str,
    known: dict[str, tuple[str, str]],
    title: str,
    measured: str = "mean",
) -> Numbers:
    return Numbers(kind="edge_value", title=title, edge=edge, quantity=name, measure=measured, of=known[name])


def _of_network(numbers: Any) -> dict[str, Numbers]:
    found: dict[str, Numbers] = {}
    lines = numbers.network.lines
    if len(lines) > MOST:
        return {}
    for key, line in lines.items():
        found[f"{key}.flow"] = Numbers(
            kind="line_value", title=f"{key}: flow", line=key, figure="volume_flow"
        )
        for name, node in (("start", line.start), ("end", line.end)):
            found[f"{key}.{name}"] = Numbers(
                kind="node_value", title=f"{key}: pressure at {node}", node=node, figure="pressure"
            )
    return found
