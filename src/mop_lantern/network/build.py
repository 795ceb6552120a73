"""A network from worked-out numbers: bores filled in, components gathered by kind, everything named
checked.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from mop_lantern.declare import Numbers, discover
from mop_lantern.media import Fluid
from mop_lantern.network.component import Bored, Component, ComponentFault, Passage
from mop_lantern.network.net import Group, Net, stacked
from mop_lantern.network.node import NODES, Node
from mop_lantern.network.steady import NetworkFault

COMPONENTS = "mop_lantern.network.components"
GAS_BELOW = 100.0  # kg/m3: lighter fluids feel the weight of the air outside
BRANCHES = ("tee", "wye")
BARE = 0.05  # m, bore of a line that has no pipe


def fluid_names(network: Numbers, fluids: Mapping[str, Fluid]) -> list[str]:
    """Give the fluid of every line: its own, or the first of the case.

    Raises
    ------
    NetworkFault : two fluids meet at a node.
    """
    first = next(iter(fluids))
    kinds = discover(NODES, Node)
    names = [line.fluid.strip() or first for line in network.lines.values()]
    at: dict[str, str] = {}
    for (key, line), name in zip(network.lines.items(), names, strict=True):
        for node in (line.start, line.end):
            mixes = not kinds[network.nodes[node].kind].sets_pressure()
            if at.setdefault(node, name) != name and mixes:
                raise NetworkFault(
                    f"lines.{key}",
                    f"two fluids meet at “{node}”: {at[node]} and {name}.",
                    "Keep circuits apart, or join them by a heat exchanger.",
                )
    return names


def readied(network: Numbers) -> tuple[dict[str, list[tuple[str, Numbers]]], list[tuple[str, str, str]]]:
    """Ready the components of every line in order; give them, and what is wrong as (path, says, remedy)."""
    kinds = discover(COMPONENTS, Component)
    made: dict[str, list[tuple[str, Numbers]]] = {}
    faults = []
    for key, line in network.lines.items():
        row = []
        for name, numbers in line.parts.items():
            try:
                row.append((name, kinds[numbers.kind].ready(numbers)))
            except ComponentFault as fault:
                faults.append((f"lines.{key}.parts.{name}.{fault.field}", fault.says, fault.remedy))
        made[key] = row
    faults += _fill_bores(network, made, kinds)
    return made, faults


def _fill_bores(
    network: Numbers, made: dict[str, list[tuple[str, Numbers]]], kinds: Any
) -> list[tuple[str, str, str]]:
    """Fill in bores left open: that of the nearest component of the line, of a duct that of equal area, else
    the one all lines beside it have at their nodes. Give faults where what a component loses hangs on a bore
    that nobody knows.
    """
    faults = []
    sides = {
        key: [(_bore_seen(kinds, numbers, 0), _bore_seen(kinds, numbers, 1)) for _, numbers in row]
        for key, row in made.items()
    }
    for key, row in made.items():
        known = sides[key]
        for k, (name, numbers) in enumerate(row):
            kind = kinds[numbers.kind]
            if not issubclass(kind, Bored) or numbers.bore is not None:
                continue
            near = [(k - other, known[other][1]) for other in range(k) if known[other][1]] + [
                (other - k, known[other][0]) for other in range(k + 1, len(row)) if known[other][0]
            ]
            found = min(near)[1] if near else _beside(network, sides, key)
            if found is None and kind.needs_bore:
                faults.append(
                    (
                        f"lines.{key}.parts.{name}.bore",
                        "nothing beside it has a bore to take, and its loss depends on it.",
                        "Give its bore.",
                    )
                )
            row[k] = (name, Numbers(**{**vars(numbers), "bore": found or BARE}))
            try:
                row[k] = (name, kind.ready(row[k][1]))  # some are possible at no bore or at a known one only
            except ComponentFault as fault:
                faults.append((f"lines.{key}.parts.{name}.{fault.field}", fault.says, fault.remedy))
    return faults


def _bore_seen(kinds: Any, numbers: Numbers, side: int) -> float | None:
    """Give the bore a component shows at its start (0) or end (1), that of equal area where it is not round;
    None if it has none.
    """
    own = kinds[numbers.kind].bore_at(numbers, side)
    if own is not None:
        return float(own)
    if not issubclass(kinds[numbers.kind], Passage):
        return None
    area = float(np.ravel(kinds[numbers.kind].area(numbers))[0])
    return float(np.sqrt(4 * area / np.pi)) if np.isfinite(area) and area > 0 else None


def _beside(
    network: Numbers, sides: dict[str, list[tuple[float | None, float | None]]], key: str
) -> float | None:
    """Give the one bore that all lines show at the nodes of a line; None where there is none, or several."""
    own = network.lines[key]
    found = set()
    for other, line in network.lines.items():
        for node, row, side in ((line.start, sides[other], 0), (line.end, sides[other][::-1], 1)):
            if other != key and node in (own.start, own.end):
                found |= set([bore for pair in row if (bore := pair[side]) is not None][:1])
    return found.pop() if len(found) == 1 else None


def build(
    network: Numbers,
    fluids: Mapping[str, Fluid],
    t: float = 0.0,
    outside: float = 288.15,
) -> Net:
    """Make the arrays of a network at a time.

    Parameters
    ----------
    network : ``nodes`` and ``lines`` with SI numbers. fluids : by name. outside : temperature of the air, K.

    Raises
    ------
    NetworkFault : a component that cannot be, two fluids joined.
    """
    kinds = discover(COMPONENTS, Component)
    shapes = discover(NODES, Node)
    rows, faults = readied(network)
    if faults:
        raise NetworkFault(*faults[0])
    names = fluid_names(network, fluids)
    index = {key: k for k, key in enumerate(network.nodes)}
    lines = list(network.lines.values())
    start = np.array([index[line.start] for line in lines], int)
    end = np.array([index[line.end] for line in lines], int)
    rho = np.array([fluids[name].density for name in names])
    of_node = np.full(len(index), next(iter(fluids.values())).density)
    of_node[start], of_node[end] = rho, rho
    now = [node.at({"t": t}) for node in network.nodes.values()]
    held = [shapes[node.kind].pressure(node, of_node[k]) for k, node in enumerate(now)]
    gathered: dict[str, list[tuple[int, int, str, Numbers]]] = {}
    for number, key in enumerate(network.lines):
        for place, (name, numbers) in enumerate(rows[key]):
            gathered.setdefault(numbers.kind, []).append(
                (number, place, f"{key}.{name}", numbers.at({"t": t}))
            )
    groups = []
    for kind, items in gathered.items():
        component: type[Component] = kinds[kind]
        where, order = (np.array([item[k] for item in items], int) for k in (0, 1))
        groups.append(
            Group(
                component,
                stacked([item[3] for item in items]),
                where,
                order,
                [item[2] for item in items],
            )
        )
    air = np.where(
        rho < GAS_BELOW, air_density(outside, float(getattr(network, "air_pressure", 101325.0))), 0.0
    )
    return Net(
        start,
        end,
        np.array([float(node.z) for node in now]),
        np.array([value is not None for value in held]),
        np.array([value or 0.0 for value in held]),
        np.array([shapes[node.kind].demand(node, of_node[k]) for k, node in enumerate(now)]),
        rho,
        np.array([fluids[name].viscosity for name in names]),
        air,
        groups,
        list(index),
        list(network.lines),
    )


def tees_of(network: Numbers) -> dict[int, tuple[int, float]]:
    """Give the tees and wyes of a network: node to its side line, both by number, and the angle (rad)."""
    lines = {key: k for k, key in enumerate(network.lines)}
    return {
        k: (lines[node.side], float(getattr(node, "angle", np.pi / 2)))
        for k, node in enumerate(network.nodes.values())
        if node.kind in BRANCHES and node.side in lines
    }


def air_density(temperature: float, pressure: float = 101325.0) -> float:
    """Give the density of dry air, kg/m3.

    Source: ideal gas, specific gas constant 287.05 J/(kg K).
    """
    return pressure / (287.05 * temperature)
