"""Species in a network: released, diluted, carried along and decaying, at rest or in time.

Fractions are small: what is released adds nothing to the flow. A fraction by mass is kg of the species a kg
of fluid; by volume it is volume a volume, which the mass flow carries just so while the fluid that carries it
is one (mole fractions of gases).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.network import carried
from mop_lantern.network.carried import Chain, Demands
from mop_lantern.network.contents import node_contents, node_densities, part_contents
from mop_lantern.network.net import Net
from mop_lantern.network.node import those
from mop_lantern.network.plugs import Plugs

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Plan:
    """One species at one moment: what enters from outside at every node ``value`` (n_nodes,), what is
    released there ``made`` (n_nodes,) kg/s times its fraction, its decay (1/s), and what it gains everywhere
    in time (1/s), as age does.
    """

    value: Floats
    made: Floats
    decay: float
    growth: float = 0.0


@dataclass
class Spread:
    """Fractions of a species: ``at`` (n_nodes,), and what of it does not balance over what passes."""

    at: Floats
    balance: float


def _plans(
    network: Numbers,
    net: Net,
    nodes: list[Numbers],
    t: float,
) -> Iterator[tuple[str, Plan]]:
    density = node_densities(net)
    for name, species in network.species.items():
        value = np.full(net.n_nodes, float(species.inlet))
        made = np.zeros(net.n_nodes)
        for release in network.releases.values():
            if release.species != name or release.node not in net.node_names:
                continue
            now = release.at({"t": t})
            k = net.node_names.index(release.node)
            people = float(nodes[k].occupants) if now.per == "person" else 1.0
            made[k] += people * (now.volume * density[k] if species.counted == "volume" else now.rate)
            if now.inlet is not None:
                value[k] = now.inlet
        yield name, Plan(value, made, float(species.decay))


def species_at_rest(
    network: Numbers,
    net: Net,
    mass: Floats,
    chain: Chain,
    nodes: list[Numbers],
) -> dict[str, Spread]:
    """Give every species of a network whose flows are steady; nan where it has no state at rest.

    Parameters
    ----------
    mass : (n_lines,) kg/s. nodes : numbers of the nodes.
    """
    if not network.species:
        return {}
    zero = np.zeros(net.n_nodes)
    parts = len(chain.line)
    flow = np.maximum(np.abs(mass / net.density)[chain.line], 1e-15)
    given = those(nodes, "endless")
    tanks = those(nodes, "rises")
    made: dict[str, Spread] = {}
    for name, plan in _plans(network, net, nodes, 0.0):
        fixed = given if plan.decay > 0 or plan.made.any() else carried.fresh(net, mass, given, tanks)
        start = np.where(fixed & ~given, float(network.species[name].start), plan.value)
        keep = np.exp(-np.minimum(plan.decay * part_contents(net) / flow, 500.0))
        lost = plan.decay * node_densities(net) * node_contents(nodes)
        fed = np.maximum(-net.demand, 0.0)
        demand = Demands(
            keep,
            np.zeros(parts),
            np.zeros(parts),
            np.full(parts, -1),
            fixed,
            start,
            fed,
            lost,
            zero,
            plan.made,
        )
        at, behind = carried.solve(net, mass, chain, demand)
        both = np.concatenate([at, behind])
        decayed = float(
            (np.abs(mass[chain.line]) * (both[chain.up] - behind)).sum() + (lost * at)[~fixed].sum()
        )
        made[name] = Spread(
            np.where(np.abs(at) < 1e6, at, np.nan),
            _gap(
                net,
                mass,
                chain,
                both,
                fixed,
                fed * start + plan.made,
                decayed,
            ),
        )
    return made


def _gap(
    net: Net,
    mass: Floats,
    chain: Chain,
    both: Floats,
    fixed: NDArray[np.bool_],
    brought: Floats,
    lost: float,
) -> float:
    """Give what does not balance, over the most that passes."""
    at = both[: net.n_nodes]
    source = np.where(mass >= 0, net.start, net.end)
    into = np.where(mass >= 0, net.end, net.start)
    rate = np.abs(mass)
    entered = float((rate * at[source])[fixed[source]].sum() + brought[~fixed].sum())
    left = float(
        (rate * both[chain.last])[fixed[into]].sum() + (np.maximum(net.demand, 0.0) * at)[~fixed].sum()
    )
    gain = np.bincount(net.end, mass, net.n_nodes) - np.bincount(net.start, mass, net.n_nodes) - net.demand
    left += float((gain * at)[~fixed].sum())  # what stays in tanks whose level rises
    return abs(entered - left - lost) / max(abs(entered), abs(left), abs(lost), 1e-300)


@dataclass
class SpeciesInTime:
    """The species of a network followed in time.

    Attributes
    ----------
    network : its numbers. plugs : what pipes hold, by (species, component). store : fractions in tanks and
    rooms, by species.
    books : what entered, left, decayed and is stored since the start, by species.
    """

    network: Numbers
    plugs: dict[tuple[str, str], Plugs] = field(default_factory=dict)
    store: dict[str, Floats] = field(default_factory=dict)
    books: dict[str, Floats] = field(default_factory=dict)
    time: float = 0.0

    def step(
        self,
        net: Net,
        mass: Floats,
        chain: Chain,
        nodes: list[Numbers],
        stores: tuple[Any, Floats],
        dt: float,
    ) -> dict[str, Spread]:
        """Go on by ``dt`` seconds with the flows of this step.

        Parameters
        ----------
        stores : nodes that hold fluid, and what was in them before the step (kg).
        """
        self.time += dt
        return {
            name: self._one(
                name,
                plan,
                net,
                mass,
                chain,
                nodes,
                stores,
                dt,
            )
            for name, plan in _plans(self.network, net, nodes, self.time)
        }

    def age(
        self,
        net: Net,
        mass: Floats,
        chain: Chain,
        nodes: list[Numbers],
        stores: tuple[Any, Floats],
        dt: float,
    ) -> Floats:
        """Give the mean time (n_nodes,) s since the fluid came in, or since the start where it was there;
        call it once a step.
        """
        made = np.zeros(net.n_nodes)
        made[stores[0]] = stores[1]
        return self._one(
            "",
            Plan(np.zeros(net.n_nodes), made, 0.0, 1.0),
            net,
            mass,
            chain,
            nodes,
            stores,
            dt,
        ).at

    def _one(
        self,
        name: str,
        plan: Plan,
        net: Net,
        mass: Floats,
        chain: Chain,
        nodes: list[Numbers],
        stores: tuple[Any, Floats],
        dt: float,
    ) -> Spread:
        at_store, before = stores
        start = float(self.network.species[name].start) if name else 0.0
        held = self.store.setdefault(name, np.full(len(at_store), start))
        volume = np.abs(mass / net.density)[chain.line] * dt
        forward = mass[chain.line] >= 0
        a = np.ones(len(chain.line))
        b = np.zeros(len(chain.line))
        plugged: dict[int, Plugs] = {}
        decayed = 0.0
        for part, content in enumerate(part_contents(net).tolist()):
            if content > 0:
                plugs = plugged[part] = self.plugs.setdefault(
                    (name, chain.names[part]), Plugs(content, start)
                )
                decayed += plugs.cool(plan.decay * dt, 0.0) * float(net.density[chain.line[part]])
                plugs.warm(plan.growth * dt)
                a[part], b[part] = plugs.leaving(float(volume[part]), bool(forward[part]))
        sink = np.zeros(net.n_nodes)
        pull = np.zeros(net.n_nodes)
        sink[at_store] = before * (1 / dt + plan.decay)
        pull[at_store] = held / (1 + plan.decay * dt)
        fed = np.maximum(-net.demand, 0.0)
        parts = len(chain.line)
        given = those(nodes, "endless")
        demand = Demands(
            a,
            b,
            np.zeros(parts),
            np.full(parts, -1),
            given,
            plan.value,
            fed,
            sink,
            pull,
            plan.made,
        )
        at, behind = carried.solve(net, mass, chain, demand)
        both = np.concatenate([at, behind])
        for part, plugs in plugged.items():
            plugs.push(float(both[chain.up[part]]), float(volume[part]), bool(forward[part]))
        grown = sum(plugs.change() * float(net.density[chain.line[part]]) for part, plugs in plugged.items())
        decayed += float((before * plan.decay * at[at_store]).sum() * dt)
        self.store[name] = at[at_store]
        stored = grown + float(
            self._gain(
                net,
                mass,
                nodes,
                at_store,
                before,
                at,
                held,
                dt,
            )
        )
        return Spread(
            at,
            self._book(
                name,
                net,
                mass,
                both,
                chain,
                given,
                (fed * plan.value + plan.made) * dt,
                (decayed, stored),
                dt,
            ),
        )

    @staticmethod
    def _gain(
        net: Net,
        mass: Floats,
        nodes: list[Numbers],
        at_store: Any,
        before: Floats,
        at: Floats,
        held: Floats,
        dt: float,
    ) -> float:
        flow_in = (
            np.bincount(net.end, mass, net.n_nodes) - np.bincount(net.start, mass, net.n_nodes) - net.demand
        )[at_store] * dt
        flow_in[~those(nodes, "rises")[at_store]] = 0.0
        return float(((before + flow_in) * at[at_store] - before * held).sum())

    def _book(  # noqa: PLR0913 - a line of the book has as many columns
        self,
        name: str,
        net: Net,
        mass: Floats,
        both: Floats,
        chain: Chain,
        given: NDArray[np.bool_],
        brought: Floats,
        of: tuple[float, float],
        dt: float,
    ) -> float:
        """Add a step to the book of a species and give what does not balance since the start."""
        source = np.where(mass >= 0, net.start, net.end)
        into = np.where(mass >= 0, net.end, net.start)
        rate = np.abs(mass) * dt
        at = both[: net.n_nodes]
        entered = float((rate * at[source])[given[source]].sum() + brought[~given].sum())
        left = float(
            (rate * both[chain.last])[given[into]].sum()
            + (np.maximum(net.demand, 0.0) * at)[~given].sum() * dt
        )
        book = self.books.setdefault(name, np.zeros(4))
        book += [entered, left, *of]
        return float(abs(book[0] - book[1] - book[2] - book[3]) / max(np.abs(book).max(), 1e-300))
