"""Adaptation: levels of halving wanted by a solved field.

Every cell has an estimate of what its size costs in accuracy; the dearest are halved, the cheapest may grow
again, down to the base of the lattice and never beyond what gaps and the case's own refinements want.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
CHEAP = (
    1 / 32
    # of the dearest left alone: halving a cell divides its cost by eight, so growing back stays under a
    # quarter
)


@dataclass(frozen=True)
class Wanted:
    """Levels of halving wanted at places: (n, 2 or 3) m and (n,) int."""

    places: Floats
    levels: NDArray[np.int32]

    def at(self, centres: Floats) -> NDArray[np.int32]:
        """Give the level wanted at other places, (m,): that of the nearest place."""
        if not len(centres):
            return np.zeros(0, np.int32)
        return np.asarray(self.levels[nearest_tree(self.places).query(centres)[1]])


def cell_sizes(mesh: Mesh) -> Floats:
    """Give the size of the lattice cell every cell was cut from, (n_cells,) m: that of the largest cell of
    its level. Cells of layers were cut from none: the side of a square as large as they.
    """
    if len(mesh.cube_size):
        found = np.zeros(mesh.n_cells)
        np.maximum.at(found, mesh.cube_cell, mesh.cube_size)
        return found
    size = np.sqrt(mesh.plane_area)
    if not len(mesh.level):
        return size
    cut = mesh.level >= 0
    largest = np.zeros(int(mesh.level.max(initial=0)) + 1)
    np.maximum.at(largest, mesh.level[cut], size[cut])
    return np.where(cut, largest[mesh.level], size)


def cost(
    mesh: Mesh,
    gradient: Floats,
    second: Floats,
    velocity: Floats,
    by: str,
    push: Floats | None = None,
) -> Floats:
    """Estimate what the size of every cell costs, (n_cells,).

    Parameters
    ----------
    gradient : (n_cells, 3, 3) of the velocity, 1/s. second : (n_cells, 9, 3) gradient of the gradient, 1/(m
    s).
    by : "gradient" (jump across a cell), "gradients" (with that of the pressure), "curvature" (error of
    straight lines through it), "recirculation" (curvature, three times as dear where the flow runs against
    the mean).
    push : (n_cells, 3) gradient of the pressure over the density, m/s2, for "gradients".

    References
    ----------
    Interpolation error h2/8 |u''|; any text on adaptive grids. The cost is taken per cell, error times its
    size.
    """
    h = cell_sizes(mesh)
    if by == "gradient":
        return np.asarray(h * np.linalg.norm(gradient, axis=(1, 2)) * h)
    if by == "gradients":
        # what a jump of pressure does to the speed, by Bernoulli at the fastest place
        assert push is not None
        fastest = float(np.linalg.norm(velocity, axis=1).max()) or 1.0
        return np.asarray(
            h**2 * (np.linalg.norm(gradient, axis=(1, 2)) + np.linalg.norm(push, axis=1) / fastest)
        )
    base = h**2 / 8 * np.linalg.norm(second, axis=(1, 2)) * h
    if by == "curvature":
        return np.asarray(base)
    mean = np.average(velocity, axis=0, weights=mesh.volume)
    return np.asarray(base * np.where(velocity @ mean < 0, 3.0, 1.0))


def adapt(
    mesh: Mesh,
    costs: Floats,
    share: float,
    former: Wanted | None,
) -> Wanted:
    """Choose the sizes of the next grid.

    Parameters
    ----------
    mesh : with the level of every cell. costs : (n_cells,). share : of all cells that are halved, the
    dearest. former : what the present grid was made from, or None.
    """
    limit = float(np.quantile(costs, 1 - share))
    levels = mesh.level + (costs >= limit)
    if former is not None:
        levels = np.where((costs < CHEAP * limit) & (costs < limit), np.maximum(levels - 1, 0), levels)
    return Wanted(mesh.centre[:, : len(mesh.ways)].copy(), levels.astype(np.int32))
