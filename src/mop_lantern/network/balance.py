"""Balancing: openings of valves and dampers, or holes of orifice plates, that give wanted flows."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import replace
from typing import Any

import numpy as np

from mop_lantern.declare import Numbers
from mop_lantern.media import Fluid
from mop_lantern.network.build import build, tees_of
from mop_lantern.network.net import Group, Net
from mop_lantern.network.steady import Flows, NetworkFault, solve
from mop_lantern.network.tees import Tees, tee_offsets

RANGE = {"opening": (1e-3, 1.0), "hole": (0.1, 0.75)}  # of the bore for holes


def balance(
    network: Numbers,
    fluids: Mapping[str, Fluid],
    outside: float,
    wanted: Mapping[str, float],
) -> dict[str, float]:
    """Find the setting of the one adjustable component in every line that gives it its wanted flow.

    The wanted flows are imposed and the rest of the network is solved; what pressure is then left over a
    line,
    beyond its other components, is what its valve must take. So no iteration over the valves is needed.

    Parameters
    ----------
    wanted : line to volume flow, m3/s along the line.

    Returns
    -------
    LINE.PART to its opening (0 to 1) or hole (m).

    Raises
    ------
    NetworkFault : a line without an adjustable component, or one whose flow cannot be reached.
    """
    net = build(network, fluids, outside=outside)
    index = {name: k for k, name in enumerate(net.line_names)}
    for name in wanted:
        if name not in index:
            raise NetworkFault(
                f"lines.{name}", f"there is no line “{name}”.", f"Lines: {', '.join(net.line_names[:20])}."
            )
    lines = np.array([index[name] for name in wanted], int)
    mass = np.array(list(wanted.values())) * net.density[lines]
    flows = _imposed(net, lines, mass, tees_of(network))
    found = {}
    for line, flow in zip(lines, mass, strict=True):
        found.update(_setting(net, int(line), float(flow), flows.pressure))
    return found


def _imposed(
    net: Net,
    lines: Any,
    mass: Any,
    tees: Tees,
) -> Flows:
    """Solve with the flows of some lines imposed; what tees lose is worked out from all flows."""
    keep = np.setdiff1d(np.arange(net.n_lines), lines)
    flows = solve(_without(net, lines, mass))
    for _ in range(40 if tees else 0):
        whole = np.zeros(net.n_lines)
        whole[keep], whole[lines] = flows.mass, mass
        offset = tee_offsets(net, whole, tees)
        still = net.offset is not None and float(np.abs(offset - net.offset).max(initial=0.0)) < 1e-6
        net.offset = offset
        if still:
            break
        flows = solve(_without(net, lines, mass))
    return flows


def _without(net: Net, lines: Any, mass: Any) -> Net:
    """Give the network with lines taken out and their flows imposed."""
    keep = np.setdiff1d(np.arange(net.n_lines), lines)
    number = np.full(net.n_lines, -1)
    number[keep] = np.arange(len(keep))
    demand = net.demand.copy()
    np.add.at(demand, net.start[lines], mass)
    np.add.at(demand, net.end[lines], -mass)
    groups = []
    for group in net.groups:
        mine = number[group.line] >= 0
        if mine.any():
            stack = Numbers(**{name: values[mine] for name, values in vars(group.stack).items()})
            names = [name for name, own in zip(group.names, mine, strict=True) if own]
            groups.append(
                Group(
                    group.kind,
                    stack,
                    number[group.line[mine]],
                    group.place[mine],
                    names,
                )
            )
    of_lines = {name: getattr(net, name)[keep] for name in ("start", "end", "density", "viscosity", "air")}
    offset = None if net.offset is None else net.offset[keep]
    return replace(
        net,
        **of_lines,
        offset=offset,
        demand=demand,
        groups=groups,
        line_names=[net.line_names[k] for k in keep],
    )


def _setting(
    net: Net,
    line: int,
    mass: float,
    pressure: Any,
) -> dict[str, float]:
    name = net.line_names[line]
    own = [(group, int(k)) for group in net.groups for k in np.flatnonzero(group.line == line)]
    able = [
        (group, k, knob)
        for group, k in own
        for knob in RANGE
        if hasattr(group.stack, knob) and (knob != "opening" or group.kind.opens == knob)
    ]
    if not able:
        raise NetworkFault(
            f"lines.{name}",
            "this line has nothing to adjust.",
            "Put a valve, a damper or an orifice plate into it.",
        )
    group, k, knob = able[-1]
    rho = net.density[line : line + 1]
    mu = net.viscosity[line : line + 1]
    q = np.array([mass]) / rho

    def loss(part: Group, place: int, value: float | None = None) -> float:
        stack = Numbers(**{key: values[place : place + 1] for key, values in vars(part.stack).items()})
        if value is not None:
            setattr(stack, knob, np.array([value]))
        return float(part.kind.drop(stack, q, rho, mu)[0][0])

    others = sum(loss(part, place) for part, place in own if not (part is group and place == k))
    there = float(pressure[net.start[line]] - pressure[net.end[line]] + net.lift()[line]) - others
    scale = float(group.stack.bore[k]) if knob == "hole" else 1.0
    low, high = (limit * scale for limit in RANGE[knob])
    if (loss(group, k, high) - there) * (1.0 if mass >= 0 else -1.0) > 0:
        short = loss(group, k, high) - there
        raise NetworkFault(
            f"lines.{name}",
            (
                f"the wanted flow cannot be reached: {abs(short):.3g} Pa are missing with {group.names[k]} "
                "wide open."
            ),
            "Want less, or give the pump or fan more.",
        )
    for _ in range(80):
        middle = np.sqrt(low * high)
        if (loss(group, k, middle) > there) == (mass >= 0):
            low = middle
        else:
            high = middle
    return {group.names[k]: float(np.sqrt(low * high))}
