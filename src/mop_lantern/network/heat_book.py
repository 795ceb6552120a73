"""Where the heat of a network at rest comes from and where it goes."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.network.contents import gains, losses
from mop_lantern.network.node import those
from mop_lantern.network.system import Operating, friction_heat, numbered

Floats = NDArray[np.float64]


def heat_at_rest(made: Operating, nodes: list[Numbers], outside: float) -> dict[str, float]:
    """Give the heat flows of a network whose temperatures are followed, W, heat counted from the temperature
    outside.

    ``entered`` and ``left`` with fluid, ``made`` by friction and machines, ``brought`` by heaters, exchangers
    and people (negative for coolers), ``lost`` to the surroundings; ``made + entered + brought = left +
    lost``.
    """
    net = made.net
    mass = made.flows.mass
    chain = made.chain
    level = outside
    given = those(nodes, "endless")
    store = np.full(net.n_nodes, float(made.capacity.mean()))
    store[net.start] = made.capacity
    ends = np.concatenate([made.temperature, made.outlet])[chain.last]
    source = np.where(mass >= 0, net.start, net.end)
    into = np.where(mass >= 0, net.end, net.start)
    rate = np.abs(mass) * made.capacity
    supply = np.array([float(getattr(node, "temperature", level)) for node in nodes])
    film, around = losses(nodes)
    own = np.zeros(len(chain.line))
    for where, group in numbered(net):
        own[where] = group.kind.heats or group.kind.exchanges
    stored = (
        np.bincount(net.end, mass, net.n_nodes) - np.bincount(net.start, mass, net.n_nodes) - net.demand
    )[~given] @ (store * (made.temperature - level))[~given]
    return {
        "entered": float(
            (rate * (made.temperature[source] - level))[given[source]].sum()
            + (np.maximum(-net.demand, 0.0) * store * (supply - level)).sum()
        ),
        "made": float(friction_heat(net, made.loss, np.abs(made.flow)[chain.line]).sum()),
        "brought": float(made.heat[own > 0].sum() + gains(nodes).sum()),
        "left": float(
            (rate * (ends - level))[given[into]].sum()
            + (np.maximum(net.demand, 0.0) * store * (made.temperature - level)).sum()
            + stored
        ),
        "lost": float(-made.heat[own == 0].sum() + (film * (made.temperature - around))[~given].sum()),
    }
