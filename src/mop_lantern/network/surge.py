"""A network of liquid lines with pressure waves: pipes by the method of characteristics, all else as in the
steady state.

What the waves bring to a node is, to the rest of the network, a given head behind a linear resistance (B of
the characteristics). So every step is one steady solve of the components between pipes, valves and pumps and
check valves among them, whatever they are. Heads are piezometric; tanks keep their level; pipes too short for
the step are taken as rigid.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers, discover
from mop_lantern.media import Fluid
from mop_lantern.network.build import COMPONENTS, build, fluid_names, readied
from mop_lantern.network.carried import chained
from mop_lantern.network.component import Component
from mop_lantern.network.ledger import Ledger, Tanks
from mop_lantern.network.linear import Linear
from mop_lantern.network.net import Group, Net, stacked
from mop_lantern.network.steady import Flows, NetworkFault, solve
from mop_lantern.network.system import Operating, part_losses
from mop_lantern.network.waves import WaveEnd, WavePipe, Waves

Floats = NDArray[np.float64]
GRAVITY = 9.80665
RIGID = 0.5  # parts: shorter pipes carry no waves


@dataclass
class _Link:
    """Components in a row between two wave nodes."""

    start: int
    end: int
    parts: list[tuple[str, Numbers]]


@dataclass
class Surge:
    """A network with waves, stepped as `March` is.

    Attributes
    ----------
    network, fluids, outside : as for the steady state. limit : s, longest step. time : s. made : the network
    now. highest, lowest : of every line, Pa
    over the air. adjusted : largest share a wave speed was adjusted by.
    """

    network: Numbers
    fluids: Mapping[str, Fluid]
    outside: float
    limit: float
    time: float = 0.0
    made: Operating | None = None
    thermal: bool = False
    on: dict[str, bool] = field(default_factory=dict)
    overflowing: set[str] = field(default_factory=set)
    ledger: Ledger = field(default_factory=Ledger)

    def __post_init__(self) -> None:
        empty = np.zeros(0)
        self.tanks = Tanks(np.zeros(0, int), empty, empty, empty)
        self.net = build(self.network, self.fluids, outside=self.outside)
        if (self.net.air > 0).any():
            raise NetworkFault(
                "",
                "pressure waves are followed in liquids only.",
                "Follow the network in time without waves.",
            )
        self.names = fluid_names(self.network, self.fluids)
        if len(set(self.names)) > 1:
            raise NetworkFault(
                "", "pressure waves are followed in one fluid at a time.", "Make a case of each circuit."
            )
        for group in self.net.groups:
            if group.kind.regulates:
                raise NetworkFault(
                    f"lines.{group.names[0].partition('.')[0]}",
                    "pressure-reducing valves are not followed with waves.",
                    "Put a valve in its place.",
                )
        start = solve(self.net)  # as it goes on: tees lose nothing here, or the start would ring
        self.capacity = np.array([self.fluids[name].capacity for name in self.names])
        self.rho = float(self.net.density.mean())
        self.mu = float(self.net.viscosity.mean())
        self._cut(start)
        self.highest, self.lowest = np.full(self.net.n_lines, -np.inf), np.full(self.net.n_lines, np.inf)
        self._tell(start)

    def exchange(self, network: Numbers) -> None:
        """Take other numbers of the same nodes and lines."""
        self.network = network
        rows, _ = readied(network)
        for link, places in zip(self.links, self._places, strict=True):
            link.parts = [
                (name, dict(rows[line])[name])
                for (line, name), (_, _) in zip(places, link.parts, strict=True)
            ]

    # --- making ---

    def _cut(self, start: Flows) -> None:
        """Cut the lines into pipes with waves and what lies between them."""
        net = self.net
        kinds = discover(COMPONENTS, Component)
        rows, faults = readied(self.network)
        if faults:
            raise NetworkFault(*faults[0])
        heads = [float(start.pressure[k] / (self.rho * GRAVITY) + net.z[k]) for k in range(net.n_nodes)]
        pipes: list[WavePipe] = []
        flows: list[float] = []
        self.links: list[_Link] = []
        self._places: list[list[tuple[str, str]]] = []
        self.pipes_of: dict[int, list[int]] = {k: [] for k in range(net.n_lines)}
        for k, key in enumerate(net.line_names):
            here = int(net.start[k])
            waiting = []
            q = float(start.mass[k] / net.density[k])
            for place, (name, numbers) in enumerate(rows[key]):
                waves = (
                    kinds[numbers.kind].carries_waves
                    and float(numbers.length) >= RIGID * float(numbers.wave) * self.limit
                )
                if not waves:
                    waiting.append((name, numbers))
                    continue
                if waiting:
                    here = self._join(
                        here,
                        None,
                        waiting,
                        key,
                        heads,
                        q,
                        kinds,
                    )
                    waiting = []
                last = place == len(rows[key]) - 1
                there = int(net.end[k]) if last else len(heads)
                if not last:
                    heads.append(heads[here] - self._loss(numbers, q, kinds))
                pipes.append(
                    WavePipe(
                        here,
                        there,
                        float(numbers.length),
                        float(numbers.bore),
                        float(numbers.wave),
                        float(numbers.rough),
                    )
                )
                flows.append(q)
                self.pipes_of[k].append(len(pipes) - 1)
                here = there
            if waiting:
                self._join(
                    here,
                    int(net.end[k]),
                    waiting,
                    key,
                    heads,
                    q,
                    kinds,
                )
        if not pipes:
            raise NetworkFault(
                "", "no pipe is long enough for waves at this step.", "Give a shorter step, or longer pipes."
            )
        self.waves = Waves(
            pipes,
            [WaveEnd() for _ in heads],
            self.limit,
            self.rho,
            self.mu,
            np.array(heads),
            np.array(flows),
        )
        self.heads = np.array(heads)
        self._flow = np.array([float(start.mass[k] / net.density[k]) for k in range(net.n_lines)])

    def _loss(
        self,
        numbers: Numbers,
        q: float,
        kinds: Any,
    ) -> float:
        stack = stacked([numbers.at({"t": 0.0})])
        one = np.ones(1)
        return float(kinds[numbers.kind].drop(stack, q * one, self.rho * one, self.mu * one)[0][0]) / (
            self.rho * GRAVITY
        )

    def _join(
        self,
        here: int,
        there: int | None,
        parts: list[tuple[str, Numbers]],
        line: str,
        heads: list[float],
        q: float,
        kinds: Any,
    ) -> int:
        """Put components between two wave nodes; the second is made when it is none of the network's."""
        if there is None:
            there = len(heads)
            heads.append(heads[here] - sum(self._loss(numbers, q, kinds) for _, numbers in parts))
        self.links.append(_Link(here, there, list(parts)))
        self._places.append([(line, name) for name, _ in parts])
        return there

    # --- stepping ---

    def step(self, dt: float) -> Operating:
        """Go on by one step of the waves, whatever ``dt``; give the network as it is then."""
        waves = self.waves
        count = len(self.heads)
        plus, minus = waves.travel()
        brought, ease = waves.brought(plus, minus, count)
        self.time = waves.time
        solved = self._between(brought, ease)
        self.heads = solved.pressure[:count] / (self.rho * GRAVITY)
        lost = ~np.isfinite(self.heads)
        self.heads[lost] = (brought / np.maximum(ease, 1e-300))[lost]
        waves.arrive(self.heads, plus, minus)
        for k, pipes in self.pipes_of.items():
            if pipes:
                self._flow[k] = float(waves.flows[pipes[0]][0])
        for place, link in zip(self._places, range(len(self.links)), strict=True):
            line = self.net.line_names.index(place[0][0])
            if not self.pipes_of[line]:
                self._flow[line] = float(solved.mass[link] / self.rho)
        flows = Flows(
            self.rho * GRAVITY * (self.heads[: self.net.n_nodes] - self.net.z),
            self._flow * self.net.density,
            solved.steps,
            solved.imbalance,
            solved.energy,
        )
        return self._tell(flows)

    def _between(self, brought: Floats, ease: Floats) -> Flows:
        """Solve what lies between the pipes, with what the waves bring."""
        net = self.net
        kinds = discover(COMPONENTS, Component)
        count = len(self.heads)
        driven = np.flatnonzero(ease > 0)
        held = np.zeros(count + len(driven), bool)
        demand = np.zeros(count + len(driven))
        pressure = np.zeros(count + len(driven))
        now = build_held(net)
        held[: net.n_nodes], pressure[: net.n_nodes], demand[: net.n_nodes] = net.held, now, net.demand
        held[count:] = True
        pressure[count:] = self.rho * GRAVITY * brought[driven] / ease[driven]
        start = np.array([link.start for link in self.links] + [count + k for k in range(len(driven))], int)
        end = np.array([link.end for link in self.links] + driven.tolist(), int)
        gathered: dict[str, list[tuple[int, int, Numbers]]] = {}
        for number, link in enumerate(self.links):
            for place, (_, numbers) in enumerate(link.parts):
                gathered.setdefault(numbers.kind, []).append((number, place, numbers.at({"t": self.time})))
        groups = [
            Group(
                kinds[kind],
                stacked([item[2] for item in items]),
                np.array([item[0] for item in items]),
                np.array([item[1] for item in items]),
                [""] * len(items),
            )  # type: ignore[arg-type]
            for kind, items in gathered.items()
        ]
        first = len(self.links)
        resistance = Numbers(slope=self.rho * GRAVITY / ease[driven])
        groups.append(
            Group(
                Linear,
                resistance,
                first + np.arange(len(driven)),
                np.zeros(len(driven), int),
                [""] * len(driven),
            )
        )
        lines = len(start)
        flat = np.zeros(count + len(driven))
        names = [f"{place[0][0]}" for place in self._places] + ["waves"] * len(driven)
        nodes = [*net.node_names, *("inside" for _ in range(count + len(driven) - net.n_nodes))]
        reduced = Net(
            start,
            end,
            flat,
            held,
            pressure,
            demand,
            np.full(lines, self.rho),
            np.full(lines, self.mu),
            np.zeros(lines),
            groups,
            nodes,
            names,
        )
        return solve(reduced)

    def _tell(self, flows: Flows) -> Operating:
        net = self.net
        chain = chained(net, flows.mass)
        loss = part_losses(net, flows.mass)
        nothing = np.full(len(chain.line), np.nan)
        for k, pipes in self.pipes_of.items():
            for pipe in pipes:
                heads = self.waves.heads[pipe]
                z = (
                    np.linspace(net.z[net.start[k]], net.z[net.end[k]], len(heads))
                    if len(pipes) == 1
                    else 0.5 * (net.z[net.start[k]] + net.z[net.end[k]])
                )
                over = self.rho * GRAVITY * (heads - z)
                self.highest[k], self.lowest[k] = (
                    max(self.highest[k], float(over.max())),
                    min(self.lowest[k], float(over.min())),
                )
        self.made = Operating(
            net,
            flows,
            chain,
            self.capacity,
            np.full(net.n_nodes, np.nan),
            nothing,
            nothing,
            loss,
            np.zeros(len(chain.line)),
            np.zeros(net.n_nodes),
            self.names,
        )
        return self.made

    @property
    def adjusted(self) -> float:
        """Largest share a wave speed was adjusted by."""
        return self.waves.adjusted


def build_held(net: Net) -> Floats:
    """Give the piezometric pressures of the nodes that hold theirs, Pa; zero for the others."""
    return np.where(net.held, net.pressure + net.density.mean() * GRAVITY * net.z, 0.0)
