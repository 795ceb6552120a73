"""What the flow of a network carries: heat, species, age, all by one operator.

Every component turns what enters it, T, into a T + b (plus a share of what enters its partner, for
exchangers); nodes mix what flows in. That is one sparse linear system for given flows.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix
from scipy.sparse.csgraph import connected_components
from scipy.sparse.linalg import splu

from mop_lantern.network.net import Net

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
STILL = 1e-12  # kg/s, below which nothing is carried


@dataclass
class Chain:
    """The components of a network in flow order.

    Attributes
    ----------
    line : (n_parts,) line of each. up : (n_parts,) what flows into each: a node below n_nodes, else n_nodes
    + a
    component.
    last : (n_lines,) what flows out of each line, counted alike. names : of the components.
    """

    line: Ints
    up: Ints
    last: Ints
    names: list[str]

    @property
    def index(self) -> dict[str, int]:
        """Number of every component by its name."""
        return {name: k for k, name in enumerate(self.names)}


def chained(net: Net, mass: Floats) -> Chain:
    """Order the components of every line along its flow."""
    line = np.concatenate([group.line for group in net.groups]) if net.groups else np.zeros(0, int)
    order = np.concatenate([group.place for group in net.groups]) if net.groups else np.zeros(0, int)
    names = [name for group in net.groups for name in group.names]
    forward = mass >= 0
    sort = np.lexsort((np.where(forward[line], order, -order), line))
    source = np.where(forward, net.start, net.end)
    sink = np.where(forward, net.start, net.end).copy()
    up = np.zeros(len(line), int)
    ahead = np.append(-1, sort[:-1]) if len(sort) else sort
    same = np.append(False, line[sort[1:]] == line[sort[:-1]]) if len(sort) else np.zeros(0, bool)
    up[sort] = np.where(same, net.n_nodes + ahead, source[line[sort]])
    sink[line[sort]] = net.n_nodes + sort  # the last one written wins
    return Chain(line, up, sink, names)


@dataclass
class Demands:
    """What the carried quantity meets on its way.

    Attributes
    ----------
    a, b : (n_parts,) what leaves a component is a T + b. partner : (n_parts,) component whose inlet adds
    ``c`` times its value (-1: none).
    given : (n_nodes,) bool, value held at ``value``. fed : (n_nodes,) kg/s fed in from outside, at ``value``.
    sink : (n_nodes,) kg/s equivalent that pulls towards ``pull``. made : (n_nodes,) what is made there,
    quantity times kg/s.
    """

    a: Floats
    b: Floats
    c: Floats
    partner: Ints
    given: NDArray[np.bool_]
    value: Floats
    fed: Floats
    sink: Floats
    pull: Floats
    made: Floats


def fresh(
    net: Net,
    mass: Floats,
    sources: NDArray[np.bool_],
    tanks: NDArray[np.bool_],
) -> NDArray[np.bool_]:
    """Tell where what is carried is given: at sources; where none feeds a circuit at its tanks, where it has
    none everywhere.
    """
    flows = np.abs(mass) > STILL
    links = csc_matrix(
        (np.ones(int(flows.sum())), (net.start[flows], net.end[flows])), (net.n_nodes, net.n_nodes)
    )
    count, of = connected_components(links, directed=False)
    gives = sources & (np.bincount(np.where(mass >= 0, net.start, net.end)[flows], minlength=net.n_nodes) > 0)
    fed = np.bincount(of, gives | (net.demand < 0), count) > 0
    stored = np.bincount(of, tanks, count) > 0
    return np.asarray(sources | (tanks & ~fed[of]) | ~(fed | stored)[of])


def solve(
    net: Net,
    mass: Floats,
    chain: Chain,
    d: Demands,
) -> tuple[Floats, Floats]:
    """Give the quantity at the nodes (n_nodes,) and behind every component (n_parts,)."""
    n = net.n_nodes
    parts = len(chain.line)
    into = np.where(mass >= 0, net.end, net.start)
    rate = np.abs(mass)
    inflow = np.bincount(into, rate, n) + d.fed + d.sink
    alone = ~d.given & (inflow < STILL)
    fixed = d.given | alone
    rows: list[Any] = [np.arange(n)]
    columns: list[Any] = [np.arange(n)]
    values: list[Any] = [np.where(fixed, 1.0, inflow)]
    mixes = ~fixed[into]
    rows.append(into[mixes])
    columns.append(chain.last[mixes])
    values.append(-rate[mixes])
    right = np.where(fixed, d.value, d.fed * d.value + d.sink * d.pull + d.made)
    own = n + np.arange(parts)
    coupled = d.partner >= 0
    rows += [own, own, own[coupled]]
    columns += [own, chain.up, chain.up[d.partner[coupled]]]
    values += [np.ones(parts), -d.a, -d.c[coupled]]
    matrix = csc_matrix(
        (np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), (n + parts, n + parts)
    )
    try:
        answer = splu(matrix).solve(np.concatenate([right, d.b]))
    except RuntimeError:  # a closed circuit that nothing leaves has no state at rest
        answer = np.full(n + parts, np.nan)
    return answer[:n], answer[n:]
