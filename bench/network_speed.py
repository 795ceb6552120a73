"""Speed of the network solver: a looped network of pipes made by a script."""

from __future__ import annotations

import time
from statistics import median
from typing import Any

import numpy as np

from mop_lantern.declare import Numbers
from mop_lantern.network.components.pipe import Pipe
from mop_lantern.network.net import Group, Net
from mop_lantern.network.steady import solve


def grid_of_pipes(count: int) -> Net:
    """Make about so many pipes on a square lattice with demands everywhere and two held corners."""
    side = int(np.ceil(np.sqrt(count / 2))) + 1
    place = np.arange(side * side).reshape(side, side)
    start = np.concatenate([place[:-1].ravel(), place[:, :-1].ravel()])[:count]
    end = np.concatenate([place[1:].ravel(), place[:, 1:].ravel()])[:count]
    used = np.unique(np.concatenate([start, end]))
    number = np.zeros(side * side, int)
    number[used] = np.arange(len(used))
    rng = np.random.default_rng(3)
    nodes, lines = len(used), len(start)
    stack = Numbers(
        length=rng.uniform(20, 200, lines), bore=rng.uniform(0.08, 0.3, lines), rough=np.full(lines, 1e-4)
    )
    held = np.zeros(nodes, bool)
    held[[0, -1]] = True
    demand = np.where(held, 0.0, rng.uniform(0, 0.2, nodes))
    ids = [f"p{k}" for k in range(lines)]
    return Net(
        number[start],
        number[end],
        rng.uniform(0, 20, nodes),
        held,
        np.where(held, 8e5, 0.0),
        demand,
        np.full(lines, 998.2),
        np.full(lines, 1.0016e-3),
        np.zeros(lines),
        [Group(Pipe, stack, np.arange(lines), np.zeros(lines, int), ids)],
        [f"n{k}" for k in range(nodes)],
        ids,
    )


def large_network() -> list[dict[str, Any]]:
    """Time 10 000 pipes from scratch, in seconds, steps, and solves of the Jacobian by SciPy."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.linalg import spsolve

    net = grid_of_pipes(10_000)
    times, steps = [], 0
    for _ in range(3):
        began = time.perf_counter()
        flows = solve(net)
        times.append(time.perf_counter() - began)
        steps = flows.steps
    _, slope = net.drops(flows.mass)
    free = np.flatnonzero(~net.held)
    number = np.full(net.n_nodes, -1)
    number[free] = np.arange(len(free))
    i, j = number[net.start], number[net.end]
    lines = np.arange(net.n_lines)
    rows = [lines, lines[i >= 0], lines[j >= 0], net.n_lines + i[i >= 0], net.n_lines + j[j >= 0]]
    columns = [lines, net.n_lines + i[i >= 0], net.n_lines + j[j >= 0], lines[i >= 0], lines[j >= 0]]
    values = [
        -slope,
        np.ones((i >= 0).sum()),
        -np.ones((j >= 0).sum()),
        -np.ones((i >= 0).sum()),
        np.ones((j >= 0).sum()),
    ]
    size = net.n_lines + len(free)
    jacobian = coo_matrix(
        (np.concatenate(values), (np.concatenate(rows), np.concatenate(columns))), (size, size)
    ).tocsc()
    began = time.perf_counter()
    spsolve(jacobian, np.ones(size))
    once = time.perf_counter() - began
    return [
        {"what": "network of 10,000 pipes from scratch", "value": median(times), "unit": "s", "limit": 1.5},
        {
            "what": "network of 10,000 pipes from scratch",
            "value": float(steps),
            "unit": "Newton steps",
            "limit": 12.0,
        },
        {
            "what": "network of 10,000 pipes against one solve of its Jacobian",
            "value": median(times) / once,
            "unit": "times",
            "limit": None,
        },
    ]
