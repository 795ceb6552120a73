"""A network followed in time: flows quasi-steady, tanks and heat implicit, fluid in pipes moving as plugs.

Within a step the flows are steady; a tank is a node joined to its former pressure by a storage whose pressure
rises with what flows in, so that levels are implicit (backward Euler) and the steady solver serves. Plugs
keep what entered a pipe until it has passed through. Heaters and coolers switch between their two
temperatures. Everything that enters, leaves, is made, lost or stored is counted.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.media import Fluid
from mop_lantern.network import carried
from mop_lantern.network.adapting import AT_REST, Adapting
from mop_lantern.network.build import build, fluid_names, tees_of
from mop_lantern.network.carried import Chain, Demands, chained
from mop_lantern.network.contents import gains, losses, node_contents
from mop_lantern.network.ledger import Ledger, Tanks
from mop_lantern.network.linear import Linear
from mop_lantern.network.net import Group, Net
from mop_lantern.network.node import those
from mop_lantern.network.plugs import Plugs
from mop_lantern.network.species import SpeciesInTime
from mop_lantern.network.steady import Flows, solve_with_tees
from mop_lantern.network.system import (
    Operating,
    exchanged,
    follow,
    followed_capacity,
    friction_heat,
    numbered,
    part_losses,
)

Floats = NDArray[np.float64]
GRAVITY = 9.80665


@dataclass
class March:
    """A network being followed. ``step`` goes on by one step; numbers may be exchanged between steps.

    Attributes
    ----------
    network : numbers of the case. fluids, outside, thermal : as for the steady state. time : s. on :
    components switched on, by name.
    """

    network: Numbers
    fluids: Mapping[str, Fluid]
    outside: float
    thermal: bool
    time: float = 0.0
    on: dict[str, bool] = field(default_factory=dict)
    ledger: Ledger = field(default_factory=Ledger)
    made: Operating | None = None
    overflowing: set[str] = field(default_factory=set)

    def __post_init__(self) -> None:
        nodes = list(self.network.nodes.values())
        which = np.flatnonzero(those(nodes, "rises")).tolist()
        take = [nodes[k] for k in which]
        self.tanks = Tanks(
            np.array(which, int),
            np.array([node.area for node in take], float),
            np.array([node.height for node in take], float),
            np.array([node.level for node in take], float),
        )
        rooms = np.flatnonzero(those(nodes, "encloses")).tolist()
        self.stores = np.array([*which, *rooms], int)  # nodes that keep heat: tanks, then rooms
        self.warmth = np.array([nodes[k].temperature for k in self.stores], float)
        self._rooms = node_contents(nodes)[rooms]
        names = fluid_names(self.network, self.fluids)
        self.names = names
        self.mean = np.array([self.fluids[name].temperature for name in names])
        self.capacity = np.array([self.fluids[name].capacity for name in names])
        self.plugs: dict[str, Plugs] = {}
        self._flows: Flows | None = None
        self._now: list[Numbers] = []  # nodes at the present time
        self._inlet: dict[str, float] = {}
        self._adapting = Adapting()
        self.species = SpeciesInTime(self.network)
        self._tees = tees_of(self.network)

    def exchange(self, network: Numbers) -> None:
        """Take other numbers, of the same nodes and lines: valves turned, speeds changed."""
        self.network = network

    def step(self, dt: float) -> Operating:
        """Go on by ``dt`` seconds and give the network at work at the new time.

        Raises
        ------
        NetworkFault : no answer.
        """
        self.time += dt
        self._now = [node.at({"t": self.time}) for node in self.network.nodes.values()]
        net = self._net(dt)
        self._adapt(net, dt)
        flows = solve_with_tees(
            net,
            self._tees,
            self._flows if self._flows is not None and len(self._flows.mass) == net.n_lines else None,
        )
        self._flows = flows
        lines = net.n_lines - len(self.tanks.node)
        plain = _plain(net, lines, self.tanks)
        own = Flows(
            flows.pressure[: plain.n_nodes],
            flows.mass[:lines],
            flows.steps,
            flows.imbalance,
            flows.energy,
        )
        before = self._masses(plain)
        self._fill(plain, flows.mass[lines:], dt)
        chain = chained(plain, own.mass)
        loss = part_losses(plain, own.mass)
        cold = self._tank_density(plain)
        made = (
            self._heat(
                plain,
                own,
                chain,
                loss,
                before,
                dt,
            )
            if self.thermal
            else _cold(
                plain,
                own,
                chain,
                loss,
                self.capacity,
            )
        )
        self.tanks.level = self.tanks.level * cold / self._tank_density(plain)  # what warms takes more room
        made.fluids = self.names
        self.made = made
        nodes = self._now
        made.species = self.species.step(
            plain,
            own.mass,
            chain,
            nodes,
            (self.stores, before),
            dt,
        )
        made.age = self.species.age(
            plain,
            own.mass,
            chain,
            nodes,
            (self.stores, before),
            dt,
        )
        return made

    def _adapt(self, net: Net, dt: float) -> None:
        """Let thermostatic and relief valves follow what went before."""
        if not self._adapting.groups(net):
            return
        lines = len(self.names)
        self._adapting.put(net)
        of = np.full(net.n_nodes, float(np.median(self.mean)))
        of[net.start[:lines]], of[net.end[:lines]] = self.mean, self.mean
        of[self.stores] = self.warmth
        at_node = dict(zip(net.node_names, of.tolist(), strict=True))
        flow = np.zeros(net.n_lines)
        entering: dict[str, float] = {}
        if self.made is not None:
            flow[:lines] = self.made.flow
            at_node |= {
                name: value
                for name, value in zip(self.made.net.node_names, self.made.temperature.tolist(), strict=True)
                if np.isfinite(value)
            }
        for group in self._adapting.groups(net):
            entering |= {
                name: self._inlet.get(name, float(self.mean[line]))
                for name, line in zip(group.names, group.line.tolist(), strict=True)
            }
        self._adapting.settle(
            net,
            entering,
            at_node,
            flow,
            dt if self.made is not None else AT_REST,
        )

    # --- flow ---

    def _net(self, dt: float) -> Net:
        """Make the network of this step: every tank a free node with a storage behind it."""
        net = build(self.network, self.fluids, self.time, self.outside)
        if self.thermal:
            follow(net, self.fluids, self.names, self.mean)
            self.capacity = followed_capacity(net, self.fluids, self.names, self.mean)
        tanks = self.tanks
        count = len(tanks.node)
        n = net.n_nodes
        lines = net.n_lines
        if not count:
            return net
        rho = self._tank_density(net)
        over = np.array([float(self._now[k].over) for k in tanks.node])
        held = np.append(net.held, np.ones(count, bool))
        held[tanks.node] = False
        pressure = np.append(net.pressure, over + rho * GRAVITY * tanks.level)
        store = Group(
            Linear,
            Numbers(slope=rho * GRAVITY * dt / tanks.area),
            lines + np.arange(count),
            np.zeros(count, int),
            [f"{net.node_names[k]}~.store" for k in tanks.node],
        )
        return replace(
            net,
            start=np.append(net.start, tanks.node),
            end=np.append(net.end, n + np.arange(count)),
            z=np.append(net.z, net.z[tanks.node]),
            held=held,
            pressure=pressure,
            demand=np.append(net.demand, np.zeros(count)),
            density=np.append(net.density, rho),
            viscosity=np.append(net.viscosity, np.full(count, 1e-3)),
            air=np.append(net.air, np.zeros(count)),
            groups=[*net.groups, store],
            node_names=[*net.node_names, *(f"{net.node_names[k]}~" for k in tanks.node)],
            line_names=[*net.line_names, *(f"{net.node_names[k]}~" for k in tanks.node)],
        )

    def _tank_density(self, net: Net) -> Floats:
        """Density in every tank: that at its own temperature where the fluid's follows it."""
        of = np.full(net.n_nodes, float(net.density[0]) if net.n_lines else 1000.0)
        of[net.start], of[net.end] = net.density[: len(net.start)], net.density[: len(net.end)]
        found = of[self.tanks.node]
        for k, node in enumerate(self.tanks.node) if self.thermal else ():
            beside = np.flatnonzero(
                (net.start[: len(self.names)] == node) | (net.end[: len(self.names)] == node)
            )
            fluid = self.fluids[self.names[int(beside[0])]] if len(beside) else None
            if fluid is not None and fluid.follows:
                found[k] = float(fluid.at("density", self.warmth[k]))
        return found

    def _masses(self, net: Net) -> Floats:
        """Mass in every store before the step, kg; that of rooms stays."""
        of = np.full(net.n_nodes, 1.0)
        usual = np.array([self.fluids[name].density for name in self.names])
        of[net.start], of[net.end] = usual, usual
        count = len(self.tanks.node)
        return np.concatenate(
            [
                self._tank_density(net) * self.tanks.area * self.tanks.level,
                of[self.stores[count:]] * self._rooms,
            ]
        )

    def _fill(
        self,
        net: Net,
        into: Floats,
        dt: float,
    ) -> None:
        tanks = self.tanks
        tanks.level = tanks.level + into / self._tank_density(net) * dt / tanks.area
        for k, node in enumerate(tanks.node):
            if not -1e-9 <= tanks.level[k] <= tanks.height[k] + 1e-9:
                self.overflowing.add(net.node_names[int(node)])

    # --- heat ---

    def _heat(
        self,
        net: Net,
        flows: Flows,
        chain: Chain,
        loss: Floats,
        before: Floats,
        dt: float,
    ) -> Operating:
        parts = len(chain.line)
        cp = self.capacity[chain.line]
        stream = np.maximum(np.abs(flows.mass[chain.line]) * cp, 1e-9)
        volume = np.abs(flows.mass / net.density)[chain.line]
        heat = friction_heat(net, loss, volume)
        a = np.ones(parts)
        b = heat / stream
        c = np.zeros(parts)
        partner = np.full(parts, -1)
        lost = np.zeros(parts)
        plugged: dict[int, Plugs] = {}
        for where, group in numbered(net):
            self._pass(
                net,
                group,
                where,
                chain,
                (a, b, c, partner),
                (stream, heat, lost, cp),
                flows,
                dt,
                plugged,
            )
        nodes = self._now
        demand = self._demands(net, nodes, before, dt)
        demand.a = a
        demand.b = b
        demand.c = c
        demand.partner = partner
        at_node, behind = carried.solve(net, flows.mass, chain, demand)
        inlet = np.concatenate([at_node, behind])[chain.up]
        for part, plugs in plugged.items():
            plugs.push(
                float(inlet[part]),
                np.abs(flows.mass[chain.line[part]]) / net.density[chain.line[part]] * dt,
                flows.mass[chain.line[part]] >= 0,
            )
        self._count(
            net,
            flows,
            nodes,
            at_node,
            inlet,
            behind,
            stream,
            heat,
            lost,
            plugged,
            before,
            dt,
        )
        self.warmth = at_node[self.stores]
        self._inlet = dict(zip(chain.names, inlet.tolist(), strict=True))
        carried_in = np.where(
            [part in plugged for part in range(parts)], 0.0, stream * (behind - inlet) - heat
        )
        made = Operating(
            net,
            flows,
            chain,
            self.capacity,
            at_node,
            inlet,
            behind,
            loss,
            carried_in - lost / dt,
            np.full(net.n_nodes, np.nan),
        )
        made.balance = self.ledger.balance
        self._means(made)
        return made

    def _pass(  # noqa: PLR0913 - what enters and leaves a group at once
        self,
        net: Net,
        group: Group,
        where: slice,
        chain: Chain,
        out: tuple[Any, ...],
        of: tuple[Any, ...],
        flows: Flows,
        dt: float,
        plugged: dict[int, Plugs],
    ) -> None:
        """Say what the components of a group make of what enters them."""
        a, b, c, partner = out
        stream, heat, lost, cp = of
        content = np.broadcast_to(group.kind.content(group.stack), len(group))
        none = np.zeros(len(group))
        ua, outside = group.kind.transmittance(group.stack) if group.kind.leaks else (none, none)
        for k, part in enumerate(range(where.start, where.stop)):
            line = int(group.line[k])
            if content[k] > 0:
                plugs = self.plugs.setdefault(
                    group.names[k], Plugs(float(content[k]), float(self.mean[line]))
                )
                inside = net.density[line] * cp[part] * content[k]
                lost[part] = (
                    plugs.cool(float(ua[k] * dt / inside), float(outside[k])) * net.density[line] * cp[part]
                )
                plugs.warm(heat[part] * dt / inside)
                out_volume = abs(float(flows.mass[line])) / net.density[line] * dt
                a[part], b[part] = plugs.leaving(out_volume, bool(flows.mass[line] >= 0))
                plugged[part] = plugs
            elif ua[k] > 0:
                a[part] = np.exp(-min(ua[k] / stream[part], 500.0))
                b[part] += (1 - a[part]) * outside[k]
        if group.kind.heats:
            self._switch(
                group,
                where,
                a,
                b,
                stream,
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

    def _switch(
        self,
        group: Group,
        where: slice,
        a: Floats,
        b: Floats,
        stream: Floats,
    ) -> None:
        """Let thermostats act on what entered in the former step."""
        power, on, off = group.kind.switches(group.stack)  # type: ignore[attr-defined]
        for k, part in enumerate(range(where.start, where.stop)):
            name = group.names[k]
            cools = power[k] < 0
            entering = self._inlet.get(name, float(self.mean[group.line[k]]))
            begins, rests = (
                (entering > on[k], entering < off[k]) if cools else (entering < on[k], entering > off[k])
            )
            self.on[name] = bool((self.on.get(name, False) or begins) and not rests)
            if not self.on[name]:
                continue
            if cools:
                share = 1 - np.exp(power[k] / group.stack.difference[k] / stream[part])
                if (
                    stream[part] * share * (entering - group.stack.air[k]) > -power[k]
                ):  # its power is the most it takes
                    b[part] += power[k] / stream[part]
                    continue
                a[part] -= share
                b[part] += share * float(group.stack.air[k])
            else:
                b[part] += power[k] / stream[part]

    def _demands(
        self,
        net: Net,
        nodes: list[Numbers],
        before: Floats,
        dt: float,
    ) -> Demands:
        n = net.n_nodes
        cp = np.full(n, float(self.capacity.mean()))
        cp[net.start] = self.capacity
        given = those(nodes, "endless")
        value = np.array([float(getattr(node, "temperature", self.outside)) for node in nodes])
        fed = np.maximum(-net.demand, 0.0)
        sink = np.zeros(n)
        pull = np.zeros(n)
        stores = self.stores
        film, outside = losses(nodes)
        ua = film[stores] / cp[stores]
        around = outside[stores]
        sink[stores] = before / dt + ua
        pull[stores] = (before / dt * self.warmth + ua * around) / np.maximum(sink[stores], 1e-300)
        empty = np.zeros(0)
        return Demands(
            empty,
            empty,
            empty,
            np.zeros(0, int),
            given,
            value,
            fed,
            sink,
            pull,
            gains(nodes) / cp,
        )

    def _count(  # noqa: PLR0913 - a line of the ledger has as many columns
        self,
        net: Net,
        flows: Flows,
        nodes: list[Numbers],
        at: Floats,
        inlet: Floats,
        behind: Floats,
        stream: Floats,
        heat: Floats,
        lost: Floats,
        plugged: dict[int, Plugs],
        before: Floats,
        dt: float,
    ) -> None:
        """Add this step to the ledger; heat counts from the temperature outside."""
        book = self.ledger
        level = self.outside
        stores = self.stores
        cp = np.full(net.n_nodes, float(self.capacity.mean()))
        cp[net.start] = self.capacity
        chain = chained(net, flows.mass)
        source = np.where(flows.mass >= 0, net.start, net.end)
        into = np.where(flows.mass >= 0, net.end, net.start)
        rate = np.abs(flows.mass) * self.capacity * dt
        given = those(nodes, "endless")
        ends = np.concatenate([at, behind])[chain.last]
        fed = np.maximum(-net.demand, 0.0)
        supply = np.array([float(getattr(node, "temperature", level)) for node in nodes])
        book.entered += float(
            (rate * (at[source] - level))[given[source]].sum() + (fed * cp * dt * (supply - level)).sum()
        )
        book.left += float(
            (rate * (ends - level))[given[into]].sum()
            + (np.maximum(net.demand, 0.0) * cp * dt * (at - level)).sum()
        )
        book.made += float(heat.sum() * dt)
        plain = np.array([part not in plugged for part in range(len(stream))], bool)
        gained = (stream * (behind - inlet) - heat) * dt
        switched = np.zeros(len(stream), bool)
        for where, group in numbered(net):
            switched[where] = group.kind.heats or group.kind.exchanges
        book.brought += float(gained[plain & switched].sum())
        book.brought += float(gains(nodes).sum() * dt)
        film, around = (values[stores] for values in losses(nodes))
        book.lost += float(
            lost.sum() - gained[plain & ~switched].sum() + (film * (at[stores] - around)).sum() * dt
        )
        gain = (
            np.bincount(net.end, flows.mass, net.n_nodes)
            - np.bincount(net.start, flows.mass, net.n_nodes)
            - net.demand
        )[stores] * dt
        gain[len(self.tanks.node) :] = 0.0  # rooms keep their mass
        now = float(((before + gain) * cp[stores] * (at[stores] - level)).sum())
        was = float((before * cp[stores] * (self.warmth - level)).sum())
        in_pipes = sum(
            plugs.change() * net.density[chain.line[part]] * self.capacity[chain.line[part]]
            for part, plugs in plugged.items()
        )
        book.stored += now - was + float(in_pipes)

    def _means(self, made: Operating) -> None:
        count = np.bincount(made.chain.line, minlength=made.net.n_lines)
        total = np.bincount(made.chain.line, 0.5 * (made.inlet + made.outlet), made.net.n_lines)
        self.mean = np.where(count > 0, total / np.maximum(count, 1), self.mean)


def _plain(net: Net, lines: int, tanks: Tanks) -> Net:
    """Give the network without the storages."""
    count = len(tanks.node)
    if not count:
        return net
    n = net.n_nodes - count
    return replace(
        net,
        start=net.start[:lines],
        end=net.end[:lines],
        z=net.z[:n],
        held=net.held[:n],
        pressure=net.pressure[:n],
        demand=net.demand[:n],
        offset=None if net.offset is None else net.offset[:lines],
        density=net.density[:lines],
        viscosity=net.viscosity[:lines],
        air=net.air[:lines],
        groups=net.groups[:-1],
        node_names=net.node_names[:n],
        line_names=net.line_names[:lines],
    )


def _cold(
    net: Net,
    flows: Flows,
    chain: Chain,
    loss: Floats,
    capacity: Floats,
) -> Operating:
    flat = np.full(len(chain.line), np.nan)
    return Operating(
        net,
        flows,
        chain,
        capacity,
        np.full(net.n_nodes, np.nan),
        flat,
        flat,
        loss,
        np.zeros(len(chain.line)),
        np.full(net.n_nodes, np.nan),
    )
