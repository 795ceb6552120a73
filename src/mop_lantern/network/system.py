"""A network in its steady state: flows, temperatures, age, and what every component does."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.declare import Numbers
from mop_lantern.laws import exchange
from mop_lantern.media import Fluid
from mop_lantern.network import carried
from mop_lantern.network.adapting import AT_REST, CALM, Adapting, entering_by_name
from mop_lantern.network.build import build, fluid_names, tees_of
from mop_lantern.network.carried import Chain, Demands, chained
from mop_lantern.network.contents import gains, levelled, losses, node_contents, node_densities, part_contents
from mop_lantern.network.net import Group, Net
from mop_lantern.network.node import those
from mop_lantern.network.species import Spread, species_at_rest
from mop_lantern.network.steady import Flows, NetworkFault, solve_with_tees

Floats = NDArray[np.float64]
ROUNDS, SETTLED = 60, 1e-6  # of flows and temperatures together; K
ENDLESS = 1e5  # K, beyond which there is no answer


@dataclass
class Operating:
    """A network at work.

    Attributes
    ----------
    net, flows, chain : as they are. capacity : (n_lines,) J/kg/K. temperature : (n_nodes,) K. inlet, outlet :
    (n_parts,) K in flow order's
    sense. loss : (n_parts,) Pa total pressure lost along the flow (negative where gained). heat : (n_parts,)
    W brought into the fluid
    from outside. age : (n_nodes,) s. species : by name.
    rounds : of flows and temperatures. balance : heat left over, share of what passes.
    """

    net: Net
    flows: Flows
    chain: Chain
    capacity: Floats
    temperature: Floats
    inlet: Floats
    outlet: Floats
    loss: Floats
    heat: Floats
    age: Floats
    fluids: list[str] = field(default_factory=list)
    species: dict[str, Spread] = field(default_factory=dict)
    rounds: int = 1
    balance: float = 0.0

    @property
    def flow(self) -> Floats:
        """Volume flow of every line, m3/s."""
        return self.flows.mass / self.net.density


def operate(
    network: Numbers,
    fluids: Mapping[str, Fluid],
    outside: float,
    thermal: bool,
    start: Flows | None = None,
) -> Operating:
    """Find the steady state of a network.

    Parameters
    ----------
    thermal : follow temperatures; properties then follow them too where the fluid's do, and gas columns weigh
    as they are warm.

    Raises
    ------
    NetworkFault : no answer.
    """
    net = build(network, fluids, outside=outside)
    names = fluid_names(network, fluids)
    mean = np.array([fluids[name].temperature for name in names])
    capacity = np.array([fluids[name].capacity for name in names])
    tees = tees_of(network)
    flows = solve_with_tees(net, tees, start)
    nodes = [node.at({"t": 0.0}) for node in network.nodes.values()]
    made: Operating | None = None
    guess: Floats | None = None
    adapting = Adapting()
    for rounds in range(1, ROUNDS + 1):
        chain = chained(net, flows.mass)
        made = _state(
            net,
            flows,
            chain,
            capacity,
            nodes,
            thermal,
            guess,
            float(np.median(mean)),
        )
        made.rounds = rounds
        made.fluids = names
        calm = not thermal or (
            guess is not None and float(np.abs(made.inlet - guess).max(initial=0.0)) < SETTLED
        )
        guess = made.inlet
        again = _adapt(adapting, made, mean)
        calm = calm and not again
        following = [name for name in set(names) if fluids[name].follows] if thermal else []
        if following:
            fresh = _means(made)
            calm = calm and float(np.abs(fresh - mean).max(initial=0.0)) < 1e-3
            mean = mean + 0.8 * (fresh - mean)
            follow(net, fluids, names, mean)
            capacity = followed_capacity(net, fluids, names, mean)
        if following or again:
            flows = solve_with_tees(net, tees, flows)
        if calm:
            break
    else:
        raise NetworkFault("", "flows and temperatures do not settle.", "Follow the network in time instead.")
    assert made is not None
    nodes = levelled(nodes, net, made.flows.pressure)
    made.age = _age(net, made.flows, made.chain, nodes)
    made.species = species_at_rest(
        network,
        net,
        made.flows.mass,
        made.chain,
        nodes,
    )
    return made


def _adapt(adapting: Adapting, made: Operating, mean: Floats) -> bool:
    """Let thermostatic and relief valves follow; tell whether any moved."""
    net = made.net
    if not adapting.groups(net):
        return False
    entering = entering_by_name(made.chain.names, made.inlet, mean[made.chain.line])
    usual = np.full(net.n_nodes, float(np.median(mean)))
    usual[net.start], usual[net.end] = mean, mean
    at_node = entering_by_name(net.node_names, made.temperature, usual)
    return (
        adapting.settle(
            net,
            entering,
            at_node,
            made.flow,
            AT_REST,
        )
        > CALM
    )


def _means(made: Operating) -> Floats:
    """Mean temperature of every line."""
    count = np.bincount(made.chain.line, minlength=made.net.n_lines)
    total = np.bincount(made.chain.line, 0.5 * (made.inlet + made.outlet), made.net.n_lines)
    ends = 0.5 * (made.temperature[made.net.start] + made.temperature[made.net.end])
    return np.where(count > 0, total / np.maximum(count, 1), ends)


def circuits_of(net: Net) -> Any:
    """Give the circuit of every line, (n_lines,) int: lines that hang together."""
    links = csc_matrix((np.ones(net.n_lines), (net.start, net.end)), (net.n_nodes, net.n_nodes))
    return connected_components(links, directed=False)[1][net.start]


def followed_capacity(
    net: Net,
    fluids: Mapping[str, Fluid],
    names: list[str],
    mean: Floats,
) -> Floats:
    """Give the specific heat of every line, (n_lines,) J/kg/K: where the fluid's follows the temperature that
    at the mean of the circuit, one figure a circuit, so that what one line gives away another takes.
    """
    of = np.array(names)
    circuit = circuits_of(net)
    content = np.full(net.n_lines, 1e-9)
    for group in net.groups:
        np.add.at(content, group.line, np.broadcast_to(group.kind.content(group.stack), len(group)))
    level = np.bincount(circuit, content * mean) / np.maximum(np.bincount(circuit, content), 1e-300)
    capacity = np.array([fluids[name].capacity for name in names])
    for name in set(names):
        if fluids[name].follows:
            capacity[of == name] = fluids[name].at("capacity", level[circuit[of == name]])
    return capacity


def follow(
    net: Net,
    fluids: Mapping[str, Fluid],
    names: list[str],
    mean: Floats,
) -> None:
    """Let density and viscosity of every line follow its mean temperature (n_lines,) K, where its fluid's
    do.
    """
    of = np.array(names)
    for name in set(names):
        if fluids[name].follows:
            mine = of == name
            net.density[mine] = fluids[name].at("density", mean[mine])
            net.viscosity[mine] = fluids[name].at("viscosity", mean[mine])


def numbered(net: Net) -> Iterator[tuple[slice, Group]]:
    """Line over the groups with the numbers of their components."""
    first = 0
    for group in net.groups:
        yield slice(first, first + len(group)), group
        first += len(group)


def friction_heat(net: Net, loss: Floats, volume: Floats) -> Floats:
    """Give the heat that friction and machines make in every component, W; what motors give away as work is
    not heat.
    """
    made = np.maximum(loss, 0.0) * volume
    for where, group in numbered(net):
        if group.kind.works:
            made[where] *= 1 - group.stack.efficiency
        elif group.kind.driven:
            made[where] = np.where(
                loss[where] < 0, -loss[where] * volume[where] * (1 / group.stack.efficiency - 1), made[where]
            )
    return made


def part_losses(net: Net, mass: Floats) -> Floats:
    """Total pressure lost along the flow in every component, (n_parts,) Pa."""
    rows = [
        net.part_drops(group, mass)[0] * np.where(mass[group.line] >= 0, 1.0, -1.0) for group in net.groups
    ]
    return np.concatenate(rows) if rows else np.zeros(0)


def _state(
    net: Net,
    flows: Flows,
    chain: Chain,
    capacity: Floats,
    nodes: list[Numbers],
    thermal: bool,
    guess: Floats | None,
    usual: float,
) -> Operating:
    parts = len(chain.line)
    loss = part_losses(net, flows.mass)
    given = those(nodes, "endless")
    value = np.array([float(getattr(node, "temperature", usual)) for node in nodes])
    if not thermal:
        flat = np.full(parts, np.nan)
        return Operating(
            net,
            flows,
            chain,
            capacity,
            np.full(net.n_nodes, np.nan),
            flat,
            flat,
            loss,
            np.zeros(parts),
            np.zeros(net.n_nodes),
        )
    stream = np.maximum(np.abs(flows.mass[chain.line]) * capacity[chain.line], 1e-9)
    before = np.full(parts, usual) if guess is None else guess
    a, b, c, partner, brought = _thermal(
        net,
        flows,
        chain,
        stream,
        loss,
        before,
    )
    demand = _node_demands(
        net,
        nodes,
        capacity,
        given,
        value,
    )
    demand.a = a
    demand.b = b
    demand.c = c
    demand.partner = partner
    at_node, behind = carried.solve(net, flows.mass, chain, demand)
    lost = ~(np.abs(at_node) < ENDLESS)
    if lost.any():
        raise NetworkFault(
            f"nodes.{net.node_names[int(lost.argmax())]}",
            "heat goes round here and none of it leaves: there is no temperature at rest.",
            "Add a cooler, a heat loss or an exchange of fluid, or follow the network in time.",
        )
    both = np.concatenate([at_node, behind])
    inlet = both[chain.up]
    heat = stream * (behind - inlet) - brought
    made = Operating(
        net,
        flows,
        chain,
        capacity,
        at_node,
        inlet,
        behind,
        loss,
        heat,
        np.zeros(net.n_nodes),
    )
    made.balance = _left_over(made, demand, stream)
    return made


def _node_demands(
    net: Net,
    nodes: list[Numbers],
    capacity: Floats,
    given: NDArray[np.bool_],
    value: Floats,
) -> Demands:
    cp = np.full(net.n_nodes, float(capacity.mean()) if len(capacity) else 1.0)
    cp[net.start] = capacity
    fed = np.array([max(-float(net.demand[k]), 0.0) for k in range(net.n_nodes)])
    film, pull = losses(nodes)
    empty = np.zeros(0)
    return Demands(
        empty,
        empty,
        empty,
        np.zeros(0, int),
        given,
        value,
        fed,
        film / cp,
        pull,
        gains(nodes) / cp,
    )


def _thermal(
    net: Net,
    flows: Flows,
    chain: Chain,
    stream: Floats,
    loss: Floats,
    before: Floats,
) -> tuple[Floats, Floats, Floats, Any, Floats]:
    """Give a, b, c, partner of every component, and the heat that friction and machines make in it (W)."""
    parts = len(chain.line)
    a = np.ones(parts)
    b = np.zeros(parts)
    c = np.zeros(parts)
    partner = np.full(parts, -1)
    volume = np.abs(flows.mass / net.density)[chain.line]
    made = friction_heat(net, loss, volume)
    for where, group in numbered(net):
        kind = group.kind
        stack = group.stack
        if kind.leaks:
            ua, outside = kind.transmittance(stack)
            a[where] = np.exp(-np.minimum(ua / stream[where], 500.0))
            b[where] = (1 - a[where]) * outside
        if kind.heats:
            power, on, off = kind.switches(stack)
            wanted = stream[where] * (0.5 * (on + off) - before[where])
            if hasattr(stack, "air"):
                power = power * np.clip((before[where] - stack.air) / stack.difference, 0.0, 1.0)
            b[where] += (
                np.where(
                    power >= 0,
                    np.clip(wanted, 0.0, np.maximum(power, 0.0)),
                    np.clip(wanted, np.minimum(power, 0.0), 0.0),
                )
                / stream[where]
            )
        exchanged(
            group,
            where,
            chain,
            stream,
            a,
            c,
            partner,
        )
    return a, b + made / stream, c, partner, made


def exchanged(
    group: Group,
    where: slice,
    chain: Chain,
    stream: Floats,
    a: Floats,
    c: Floats,
    partner: Any,
) -> None:
    """Let the sides of heat exchangers take what their partners give."""
    if not group.kind.exchanges:
        return
    index = chain.index
    for k, own in enumerate(range(where.start, where.stop)):
        other = index[str(group.stack.partner[k])]
        small, large = sorted((stream[own], stream[other]))
        share = (
            float(
                exchange.effectiveness(
                    str(group.stack.arrangement[k]), group.stack.ua[k] / small, small / large
                )
            )
            * small
            / stream[own]
        )
        a[own], c[own], partner[own] = 1 - share, share, other


def _left_over(made: Operating, demand: Demands, stream: Floats) -> float:
    """Heat that does not balance, over what passes: brought in by components and nodes against what flows
    carry away.
    """
    net = made.net
    mass = made.flows.mass
    level = float(np.nanmean(made.temperature)) if len(made.temperature) else 0.0
    both = np.concatenate([made.temperature, made.outlet])
    ends = both[made.chain.last]
    into = np.where(mass >= 0, net.end, net.start)
    cp = made.capacity
    carried_in = np.bincount(into, np.abs(mass) * cp * (ends - level), net.n_nodes)
    free = ~demand.given
    store = np.full(net.n_nodes, float(cp.mean()))
    store[net.start] = cp
    fed = (
        demand.fed * store * (demand.value - level)
        + demand.sink * store * (demand.pull - made.temperature)
        + demand.made * store
    )
    # all that enters leaves again, or stays where a tank keeps its level, as warm as the node
    out = (np.bincount(into, np.abs(mass) * cp, net.n_nodes) + demand.fed * store) * (
        made.temperature - level
    )
    inflow = np.bincount(into, np.abs(mass), net.n_nodes) + demand.fed + demand.sink
    held = free & (inflow > carried.STILL)
    imbalance = np.abs(carried_in + fed - out)[held]
    matter = max(
        float(np.abs(stream * (made.outlet - made.inlet)).sum()),
        float(np.abs(carried_in).max(initial=0.0)),
        1e-12,
    )
    return float(imbalance.sum() / matter) if held.any() else 0.0


def _age(
    net: Net,
    flows: Flows,
    chain: Chain,
    nodes: list[Numbers],
) -> Floats:
    """Mean time since the fluid came in, s; where nothing comes in, since it left a tank, or nan."""
    parts = len(chain.line)
    flow = np.maximum(np.abs(flows.mass / net.density)[chain.line], 1e-15)
    zero = np.zeros(net.n_nodes)
    fed = np.maximum(-net.demand, 0.0)
    fresh = carried.fresh(
        net,
        flows.mass,
        those(nodes, "endless"),
        those(nodes, "rises"),
    )
    demand = Demands(
        np.ones(parts),
        part_contents(net) / flow,
        np.zeros(parts),
        np.full(parts, -1),
        fresh,
        zero,
        fed,
        zero,
        zero,
        node_densities(net) * node_contents(nodes),
    )
    at, _ = carried.solve(net, flows.mass, chain, demand)
    return at
