"""Steady flow of a network: all node pressures and line flows together.

Method: Newton's method on pressures and flows, flows eliminated line by line, which leaves a Laplacian in the
pressures (the global gradient of Todini and Pilati, in: Computer Applications in Water Supply (1988)). Every
component's loss rises with its flow, so the answer is the minimum of a convex function among flows that
balance at the nodes (Collins et al., Manage. Sci. 24 (1978) 747-760): each step is shortened where that
function would rise. Pressure-reducing valves are held, open or shut in turn until all agree.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import cached_property
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix
from scipy.sparse.csgraph import connected_components
from scipy.sparse.linalg import splu

from mop_lantern.network.net import Net
from mop_lantern.network.tees import Tees, tee_offsets

Floats = NDArray[np.float64]
Ints = NDArray[Any]
MOST = 60
NEAR = 1e-5  # steps below this share of the largest flow are taken whole: rounding would mislead
SLOWEST = 1e-6  # m/s: slower flows count as none
ROUNDED = 4 * np.finfo(float).eps  # of the pressures: flows this makes at rest are none
GUESS = 0.5  # m/s, where the iteration begins
_ROUNDS = 20
TEE_ROUNDS = 80


class NetworkFault(ValueError):
    """A network that has no answer: which node or line, what is wrong, how to fix it."""

    def __init__(
        self,
        name: str,
        says: str,
        remedy: str,
    ) -> None:
        super().__init__(says)
        self.name = name
        self.says = says
        self.remedy = remedy


@dataclass
class Flows:
    """A solved network.

    Attributes
    ----------
    pressure : (n_nodes,) Pa total, over the air at the node's height; nan where nothing sets it. mass :
    (n_lines,) kg/s along the
    line. steps : of Newton. imbalance : largest of the nodes, over what flows. energy : largest unmet
    pressure
    of an open line, Pa.
    """

    pressure: Floats
    mass: Floats
    steps: int
    imbalance: float
    energy: float


def solve(net: Net, start: Flows | None = None, tolerance: float = 1e-9) -> Flows:
    """Solve a network.

    Parameters
    ----------
    start : flows to begin from. tolerance : on the last step, relative to the largest flow.

    Raises
    ------
    NetworkFault : a demand that nothing feeds, or no convergence.
    """
    regulators = _Regulators(net)
    mass = _guess(net) if start is None else start.mass.copy()
    steps = 0
    for _ in range(_ROUNDS):
        flows = _newton(net, regulators, mass, tolerance)
        steps += flows.steps
        flows.steps = steps
        mass = flows.mass
        if not regulators.changed(flows):
            return flows
    raise NetworkFault(
        regulators.name(),
        "the pressure-reducing valves do not agree with each other.",
        "Check their set pressures.",
    )


def solve_with_tees(net: Net, tees: Tees, start: Flows | None = None) -> Flows:
    """Solve a network whose tees lose by how the flow divides; ``net.offset`` keeps what they lose.

    Raises
    ------
    NetworkFault : as `solve`, or the shares do not settle.
    """
    flows = solve(net, start)
    if not tees:
        return flows
    share = 0.7
    before = np.inf
    for _ in range(TEE_ROUNDS):
        old = np.zeros(net.n_lines) if net.offset is None else net.offset
        change = tee_offsets(net, flows.mass, tees) - old
        size = float(np.abs(change).max(initial=0.0))
        if size <= 1e-7 * max(float(np.nanmax(np.abs(flows.pressure))), 1.0):
            return flows
        share = 0.5 * share if size > before else share
        net.offset = old + share * change
        before = size
        flows = solve(net, flows)
    node = net.node_names[next(iter(tees))]
    raise NetworkFault(
        f"nodes.{node}",
        "the shares of the flow at the tees do not settle.",
        "Use junctions with losses instead.",
    )


def _guess(net: Net) -> Floats:
    return np.asarray(net.density * GUESS * net.areas())


class _Regulators:
    """Lines that hold the pressure at their end, each ``active``, ``open`` or ``shut``."""

    def __init__(self, net: Net) -> None:
        self.net = net
        groups = [group for group in net.groups if group.kind.regulates]
        self.line = np.concatenate([group.line for group in groups]) if groups else np.zeros(0, int)
        self.set = np.concatenate([group.stack.set for group in groups]) if groups else np.zeros(0)
        self.state = np.full(len(self.line), "active", object)
        self._seen: set[tuple[str, ...]] = set()

    def name(self) -> str:
        return f"lines.{self.net.line_names[int(self.line[0])]}" if len(self.line) else ""

    def active(self) -> tuple[NDArray[np.int64], Floats]:
        on = self.state == "active"
        return self.line[on], self.set[on]

    def shut(self) -> NDArray[np.int64]:
        return np.asarray(self.line[self.state == "shut"])

    def changed(self, flows: Flows) -> bool:
        """Look whether every state suits its flow and pressures; change those that do not."""
        net = self.net
        before = tuple(self.state)
        if not len(self.line):
            return False
        drop, _ = net.drops(flows.mass)
        offered = flows.pressure[net.start] + net.lift() - drop
        for k, line in enumerate(self.line):
            behind = flows.pressure[net.end[line]]
            slack = 1e-6 * max(abs(self.set[k]), 1.0)
            if self.state[k] == "active" and flows.mass[line] < 0:
                self.state[k] = "shut"
            elif self.state[k] == "active" and offered[line] < self.set[k] - slack:
                self.state[k] = "open"
            elif (
                self.state[k] == "open"
                and behind > self.set[k] + slack
                or self.state[k] == "shut"
                and behind < self.set[k] - slack
                and offered[line] > behind
            ):
                self.state[k] = "active"
        now = tuple(self.state)
        if now == before:
            return False
        if now in self._seen:
            raise NetworkFault(
                self.name(),
                "the pressure-reducing valves do not agree with each other.",
                "Check their set pressures.",
            )
        self._seen.add(now)
        return True


@dataclass(frozen=True)
class _Live:
    """The part of a network that is solved for.

    Attributes
    ----------
    net, lift : all of it; (n_lines,) Pa, what heights make. lines, i, j : numbers of its lines, their
    starts and
    ends. held, fixed : (n_nodes,) whose pressure is known, and what it is, Pa. known : (n_nodes,) whether
    anything sets it. free, number : (n_nodes,) the nodes solved for, and their rows. driven : lines whose
    flow
    regulators pass on.
    """

    net: Net
    lift: Floats
    live: NDArray[np.bool_]
    lines: NDArray[np.int64]
    held: NDArray[np.bool_]
    fixed: Floats
    known: NDArray[np.bool_]
    free: NDArray[np.bool_]
    number: Ints
    driven: NDArray[np.int64]

    @classmethod
    def of(cls, net: Net, regulators: _Regulators) -> _Live:
        """Take what is open, and what regulators hold as they stand."""
        live = ~net.shut()
        live[regulators.shut()] = False
        driven, levels = regulators.active()
        live[driven] = False
        held = net.held.copy()
        fixed = np.where(net.held, net.pressure, 0.0)
        held[net.end[driven]] = True
        fixed[net.end[driven]] = levels
        known = _reached(net, live, held)
        free = known & ~held
        lines = np.flatnonzero(live & known[net.start])
        return cls(net, net.lift(), live, lines, held, fixed, known, free, np.cumsum(free) - 1, driven)

    @cached_property
    def i(self) -> Ints:
        """Where its lines begin."""
        return self.net.start[self.lines]

    @cached_property
    def j(self) -> Ints:
        """Where they end."""
        return self.net.end[self.lines]

    def unmet(self, pressure: Floats, drop: Floats) -> Floats:
        """Give what the pressures leave over along each of its lines, Pa."""
        with np.errstate(invalid="ignore"):
            return np.asarray(pressure[self.i] - pressure[self.j] + self.lift[self.lines] - drop[self.lines])

    def gained(self, values: Floats) -> Floats:
        """Sum what its lines bring to every node, (n_nodes,)."""
        count = self.net.n_nodes
        return np.asarray(np.bincount(self.j, values, count) - np.bincount(self.i, values, count))

    def moves(self, w: Floats, unmet: Floats, right: Floats) -> tuple[Floats, Floats]:
        """Give how far Newton's step goes: pressures of nodes (Pa) and flows of lines (kg/s); ``w`` : inverse
        slopes of its lines. ``right`` : kg/s that nodes are to get rid of.

        Raises
        ------
        NetworkFault : losses are so far apart that rounding hides the smaller ones.
        """
        change = np.zeros(self.net.n_nodes)
        if self.free.any():
            try:
                inverse = _laplacian(w, self.i, self.j, self.free, self.number)
            except RuntimeError:
                worst = f"lines.{self.net.line_names[self.lines[int(w.argmax())]]}"
                says = "its loss is next to nothing beside that of other lines: no pressures can be found."
                raise NetworkFault(worst, says, "Check its sizes, and their units.") from None
            change[self.free] = inverse.solve(right[self.free])
        move = np.zeros(self.net.n_lines)
        move[self.lines] = w * (unmet + change[self.i] - change[self.j])
        return change, move


def _newton(
    net: Net,
    regulators: _Regulators,
    mass: Floats,
    tolerance: float,
) -> Flows:
    part = _Live.of(net, regulators)
    pressure = np.where(part.held, part.fixed, np.nan)
    pressure[part.free] = part.fixed[part.held].mean() if part.held.any() else 0.0
    flow = np.where(part.live, mass, 0.0)
    taken = net.demand.copy()
    _charge(net, taken, part.driven, flow)
    least = SLOWEST / GUESS * float(_guess(net).max(initial=1e-9))
    for steps in range(1, MOST + 1):
        drop, slope = net.drops(flow)
        unmet = part.unmet(pressure, drop)
        w = 1.0 / slope[part.lines]
        right = part.gained(flow[part.lines]) - taken + part.gained(w * unmet)
        change, move = part.moves(w, unmet, right)
        size = max(float(np.abs(flow).max(initial=0.0)), float(np.abs(taken).max(initial=0.0)), least)
        last = float(np.abs(move).max(initial=0.0)) / size
        share = _shortened(part, flow, move) if steps > 1 and last > NEAR else 1.0
        flow = flow + share * move
        pressure[part.free] += share * change[part.free]
        if part.driven.size:
            taken = net.demand.copy()
            _charge(net, taken, part.driven, flow, part.lines)
        if share == 1.0 and last < tolerance:
            break
    else:
        worst = f"lines.{net.line_names[int(np.abs(move).argmax())]}"
        raise NetworkFault(
            worst,
            f"the flows do not settle (last step {last:.0e} of the largest flow).",
            "Check the curves and openings near this line.",
        )
    for line in part.driven:
        flow[line] = _through(net, line, flow, part.lines, taken)
    return _closed(part, pressure, flow, steps, size, float(np.abs(w).max(initial=0.0)))


def _closed(
    part: _Live,
    pressure: Floats,
    flow: Floats,
    steps: int,
    size: float,
    steepest: float,
) -> Flows:
    """Give the answer with what is left open in it; ``size`` : of the flows, kg/s. ``steepest`` : inverse
    slope, kg/s a pascal, by which rounding of pressures shows in flows.
    """
    net = part.net
    gained = np.bincount(net.end, flow, net.n_nodes) - np.bincount(net.start, flow, net.n_nodes) - net.demand
    unmet = np.abs(part.unmet(pressure, net.drops(flow)[0]))
    rounding = ROUNDED * steepest * float(np.abs(pressure[part.known]).max(initial=0.0))
    lost = max(float(np.abs(gained[part.free]).max(initial=0.0)) - rounding, 0.0)
    return Flows(pressure, flow, steps, lost / size, float(unmet.max(initial=0.0)))


def _reached(net: Net, live: NDArray[np.bool_], held: NDArray[np.bool_]) -> NDArray[np.bool_]:
    """Tell which nodes something of known pressure reaches; refuse demands that nothing does."""
    i = net.start[live]
    j = net.end[live]
    graph = csc_matrix((np.ones(len(i)), (i, j)), (net.n_nodes, net.n_nodes))
    count, part = connected_components(graph, directed=False)
    fed = np.zeros(count, bool)
    fed[part[held]] = True
    known = fed[part]
    starved = ~known & (np.abs(net.demand) > 0)
    if starved.any():
        name = f"nodes.{net.node_names[int(np.flatnonzero(starved)[0])]}"
        raise NetworkFault(
            name,
            "a demand that nothing feeds: every way to it is shut or missing.",
            "Open a way to it, or remove the demand.",
        )
    return known


def _charge(
    net: Net,
    taken: Floats,
    driven: NDArray[np.int64],
    flow: Floats,
    inner: Ints | None = None,
) -> None:
    """Let what regulators pass on be taken from the nodes before them."""
    for line in driven:
        passed = (
            _through(
                net,
                int(line),
                flow,
                inner,
                taken,
            )
            if inner is not None
            else float(flow[line])
        )
        flow[line] = passed
        taken[net.start[line]] += passed


def _through(
    net: Net,
    line: int,
    flow: Floats,
    lines: NDArray[np.int64],
    taken: Floats,
) -> float:
    """Give what a regulator passes: what leaves the node behind it."""
    node = net.end[line]
    others = lines[lines != line]
    out = flow[others][net.start[others] == node].sum() - flow[others][net.end[others] == node].sum()
    return float(out + taken[node])


def _laplacian(
    w: Floats,
    i: Ints,
    j: Ints,
    free: NDArray[np.bool_],
    number: Ints,
) -> Any:
    both = free[i] & free[j]
    a = number[i]
    b = number[j]
    one = free[i]
    two = free[j]
    rows = np.concatenate([a[one], b[two], a[both], b[both]])
    columns = np.concatenate([a[one], b[two], b[both], a[both]])
    values = np.concatenate([w[one], w[two], -w[both], -w[both]])
    count = int(free.sum())
    return splu(
        csc_matrix((values, (rows, columns)), (count, count)),
        permc_spec="MMD_AT_PLUS_A",
        diag_pivot_thresh=0.0,
        options={"SymmetricMode": True},
    )


def _shortened(part: _Live, flow: Floats, move: Floats) -> float:
    """Give the share of a step at which the content function stops falling: 1 when it falls all the way."""
    net = part.net
    lines = part.lines
    level = np.where(part.held, part.fixed, 0.0)
    given = part.lift[lines] + level[part.i] - level[part.j]

    def rising(share: float) -> float:
        drop, _ = net.drops(flow + share * move)
        return float((move[lines] * (drop[lines] - given)).sum())

    begin = rising(0.0)
    end = rising(1.0)
    if end <= 0.5 * abs(begin) or begin >= 0:
        return 1.0
    low = 0.0
    high = 1.0
    at_low = begin
    at_high = end
    share = 1.0
    for _ in range(40):  # a bracketed secant: the slope along the step rises
        share = low - at_low * (high - low) / (at_high - at_low)
        share = min(max(share, low + 0.1 * (high - low)), high - 0.1 * (high - low))
        value = rising(share)
        if abs(value) <= 0.3 * abs(begin):
            break
        if value > 0:
            high = share
            at_high = value
        else:
            low = share
            at_low = value
    return share
