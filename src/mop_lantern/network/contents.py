"""What nodes and components hold, and the heat nodes are given."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers, discover
from mop_lantern.network.net import Net
from mop_lantern.network.node import NODES, Node

GRAVITY = 9.80665
Floats = NDArray[np.float64]


def gains(nodes: list[Numbers]) -> Floats:
    """Give the heat brought into every node, W."""
    kinds = discover(NODES, Node)
    return np.array([float(kinds[node.kind].gains(node)) for node in nodes])


def losses(nodes: list[Numbers]) -> tuple[Floats, Floats]:
    """Give what every node loses a kelvin, W/K, and the temperature outside it, K."""
    kinds = discover(NODES, Node)
    found = np.array([kinds[node.kind].transmittance(node) for node in nodes], float).reshape(-1, 2)
    return found[:, 0], found[:, 1]


def node_contents(nodes: list[Numbers]) -> Floats:
    """Give the fluid mixed in every node, m3."""
    kinds = discover(NODES, Node)
    return np.array([float(kinds[node.kind].content(node)) for node in nodes])


def levelled(nodes: list[Numbers], net: Net, pressure: Floats) -> list[Numbers]:
    """Give the nodes with the levels that tanks have found for themselves, by the pressures at their floors
    (Pa).
    """
    density = node_densities(net)
    kinds = discover(NODES, Node)
    now = []
    for k, node in enumerate(nodes):
        finds = kinds[node.kind].rises and node.steady == "finds" and np.isfinite(pressure[k])
        now.append(
            Numbers(**{**vars(node), "level": max(0.0, (pressure[k] - node.over) / (density[k] * GRAVITY))})
            if finds
            else node
        )
    return now


def part_contents(net: Net) -> Floats:
    """Give the fluid inside every component, m3."""
    rows = [np.broadcast_to(group.kind.content(group.stack), len(group)) for group in net.groups]
    return np.concatenate(rows) if rows else np.zeros(0)


def node_densities(net: Net) -> Floats:
    """Give the density at every node, that of the lines that meet there, kg/m3."""
    density = np.full(net.n_nodes, float(net.density.mean()) if net.n_lines else 1.0)
    density[net.start], density[net.end] = net.density, net.density
    return density
