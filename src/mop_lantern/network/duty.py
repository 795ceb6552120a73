"""Duty points: what a pump or fan gives by its flow, and what the network asks of it.

The system's curve is found by putting a given gain of pressure in the machine's place and solving the network
for its flow, so other machines, valves that regulate and ways that open or shut on the way are all in it.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.network.component import Component, Drop
from mop_lantern.network.net import Group, Net
from mop_lantern.network.steady import Flows, NetworkFault, solve_with_tees
from mop_lantern.network.tees import Tees

Floats = NDArray[np.float64]
POINTS, BEYOND = 13, 1.35
STIFF = 1.0  # Pa/(m3/s), so that the loss rises


class Given(Component):
    """A gain of pressure that hangs on nothing."""

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """The gain, as a loss below zero."""
        return STIFF * q - a.gain, np.full_like(q, STIFF)


@dataclass(frozen=True)
class Duty:
    """Curves of a machine.

    Attributes
    ----------
    flow, gain : (k,) m3/s and Pa of the machine as it runs. system_flow, system_gain : (m,) what the network
    asks. at : its duty point.
    density : kg/m3.
    """

    flow: Floats
    gain: Floats
    system_flow: Floats
    system_gain: Floats
    at: tuple[float, float]
    density: float

    def as_data(self) -> dict[str, Any]:
        """Give plain lists."""
        return {
            "flow": self.flow.tolist(),
            "gain": self.gain.tolist(),
            "system_flow": self.system_flow.tolist(),
            "system_gain": self.system_gain.tolist(),
            "at": list(self.at),
            "density": self.density,
        }


def duty_curves(
    net: Net,
    flows: Flows,
    tees: Tees,
    most: int = 4,
) -> dict[str, Duty]:
    """Give the curves of the machines of a solved network that have one and run, by name.

    Parameters
    ----------
    most : machines to do.
    """
    found: dict[str, Duty] = {}
    for place, group in enumerate(net.groups):
        if "knots" not in vars(group.stack):
            continue
        for k, name in enumerate(group.names):
            line = int(group.line[k])
            rho = net.density[line : line + 1]
            mu = net.viscosity[line : line + 1]
            one = _only(group.stack, k)
            here = float(flows.mass[line] / net.density[line])
            gain = -float(group.kind.drop(one, np.array([here]), rho, mu)[0][0])
            shut_off = -float(group.kind.drop(one, np.zeros(1), rho, mu)[0][0])
            if shut_off <= 0 or len(found) >= most:
                continue
            flow, asked = _system(
                net,
                flows,
                tees,
                place,
                k,
                np.linspace(0.0, BEYOND * max(shut_off, gain), POINTS),
            )
            end = max(1.25 * here, float(flow.max(initial=0.0)), 1e-12)
            q = np.linspace(0.0, end, 60)
            own = np.array([-float(group.kind.drop(one, np.array([value]), rho, mu)[0][0]) for value in q])
            found[name] = Duty(
                q[own >= 0],
                own[own >= 0],
                flow,
                asked,
                (here, gain),
                float(rho[0]),
            )
    return found


def _only(stack: Numbers, k: int) -> Numbers:
    return Numbers(**{name: values[k : k + 1] for name, values in vars(stack).items()})


def _system(
    net: Net,
    flows: Flows,
    tees: Tees,
    place: int,
    k: int,
    gains: Floats,
) -> tuple[Floats, Floats]:
    """Give flows and gains of the network with a given gain in place of a machine; gains that have no answer
    are left out.
    """
    group = net.groups[place]
    rest = np.arange(len(group)) != k
    stack = Numbers(**{name: values[rest] for name, values in vars(group.stack).items()})
    others = (
        [
            Group(
                group.kind,
                stack,
                group.line[rest],
                group.place[rest],
                [name for name, own in zip(group.names, rest, strict=True) if own],
            )
        ]
        if rest.any()
        else []
    )
    line = int(group.line[k])
    start = flows
    flow = []
    asked = []
    for gain in gains:
        given = Group(
            Given,
            Numbers(gain=np.array([gain])),
            group.line[k : k + 1],
            group.place[k : k + 1],
            ["given"],
        )
        changed = replace(net, groups=[*net.groups[:place], *others, *net.groups[place + 1 :], given])
        try:
            start = solve_with_tees(changed, tees, start)
        except NetworkFault:
            start = flows
            continue
        flow.append(float(start.mass[line] / net.density[line]))
        asked.append(float(gain))
    return np.array(flow), np.array(asked)
