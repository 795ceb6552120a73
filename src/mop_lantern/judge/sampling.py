"""Values between the middles of cells: one way for readings, probe, profiles, pictures and files.

The very cell of a place is found, and a quadratic is fitted through that cell, its neighbours, their
neighbours and the walls they touch, in lengths of the cell itself, so that flat cells of a boundary layer
count as near across it. The fit is linear in the values: its weights hang on the grid and the place alone and
are kept. Source: moving least squares, Lancaster and Salkauskas, Math. Comp. 37 (1981) 141-158; the limits
are our own.
"""

from __future__ import annotations

import threading
from collections import OrderedDict
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid import Mesh
from mop_lantern.grid.locate import between

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
NEAREST = {2: 20, 3: 36}  # nodes of a fit
BENT = 1e-6  # of the weights: second-order terms without support vanish
STRAIGHT = 1e-9
OVERSHOOT = 0.125  # of the range around a cell: what a parabola between two cells rises above both
CHUNK = 5_000  # small enough that a thread beside the window lets it breathe
KEPT_PLACES = 200_000  # in all: about 70 MB in planes, 120 MB in spaces


@dataclass(frozen=True)
class Weights:
    """How values of cells and boundary faces make values at places.

    Attributes
    ----------
    cell : (k,) the cell of each place, -1 outside. node, weight : (k, m) cells, or n_cells + boundary face,
    and what each counts.
    ring : (k, m) whether the node touches the cell, for the limits.
    """

    cell: Ints
    node: Ints
    weight: Floats
    ring: NDArray[np.bool_]

    def apply(self, values: Floats) -> Floats:
        """Give values (k,) from those of all nodes (n_cells + n_boundary,), within the range around each cell
        and a little above.
        """
        near = values[self.node]
        low = np.where(self.ring, near, np.inf).min(axis=1)
        high = np.where(self.ring, near, -np.inf).max(axis=1)
        room = OVERSHOOT * (high - low)
        found = np.clip((self.weight * near).sum(axis=1), low - room, high + room)
        return np.where(self.cell >= 0, found, np.nan)


class Sampler:
    """Samples fields of a mesh at places; weights of recent places are kept. Threads may share it."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self._kept: OrderedDict[bytes, Weights] = OrderedDict()
        self._lock = threading.Lock()

    def weights(self, places: Floats) -> Weights:
        """Give the weights of places (k, 2 or 3) m."""
        places = self._flat(places)
        found = self._known(places.tobytes())
        if found is None:
            found = self._made(places)
            self._keep(places.tobytes(), found)
        return found

    def knows(self, places: Floats) -> bool:
        """Whether the weights of places (k, 2 or 3) m are at hand."""
        return self._known(self._flat(places).tobytes()) is not None

    def _flat(self, places: Floats) -> Floats:
        ways = len(self.mesh.ways)
        return np.ascontiguousarray(np.atleast_2d(np.asarray(places, float))[:, :ways])

    def _known(self, name: bytes) -> Weights | None:
        with self._lock:
            if name in self._kept:
                self._kept.move_to_end(name)
            return self._kept.get(name)

    def _keep(self, name: bytes, found: Weights) -> None:
        with self._lock:
            self._kept[name] = found
            while len(self._kept) > 1 and sum(len(one.cell) for one in self._kept.values()) > KEPT_PLACES:
                self._kept.popitem(last=False)

    def inside(self, places: Floats) -> NDArray[np.bool_]:
        """Tell which places lie in the wet space."""
        return self.weights(places).cell >= 0

    def _made(self, places: Floats) -> Weights:
        cell = self.mesh.locator.cells(places)
        count = min(NEAREST[len(self.mesh.ways)], len(self.mesh.locator.around.nodes))
        node = np.zeros((len(cell), count), np.int64)
        weight = np.zeros((len(cell), count))
        ring = np.zeros((len(cell), count), bool)
        good = np.flatnonzero(cell >= 0)
        for start in range(0, len(good), CHUNK):
            part = good[start : start + CHUNK]
            node[part], weight[part], ring[part] = _fit(self.mesh, places[part], cell[part], count)
        return Weights(cell, node, weight, ring)


def sampler_of(mesh: Mesh) -> Sampler:
    """Give the sampler of a mesh; it lives as long as the mesh."""
    kept = mesh.locator.kept
    if "sampler" not in kept:
        kept["sampler"] = Sampler(mesh)
    return kept["sampler"]


def _fit(
    mesh: Mesh,
    places: Floats,
    cell: Ints,
    most: int,
) -> tuple[Ints, Floats, NDArray[np.bool_]]:
    """Fit a weighted quadratic about every place; give nodes, weights and which nodes touch the cell, (k,
    most) each.
    """
    around = mesh.locator.around
    dims = places.shape[1]
    extent = _extent(mesh, cell)
    at, node, touching = _stencil(mesh, cell)
    away = (around.nodes[node] - places[at]) / extent[at]
    square = (away**2).sum(axis=1)
    order = np.lexsort((square, at))
    at = at[order]
    node = node[order]
    touching = touching[order]
    away = away[order]
    square = square[order]
    first = np.searchsorted(at, np.arange(len(cell)))
    rank = np.arange(len(at)) - first[at]
    use = rank < most
    slot = at[use], rank[use]
    nodes = np.repeat(cell[:, None], most, axis=1)
    offset = np.zeros((len(cell), most, dims))
    counts = np.zeros((len(cell), most))
    ring = np.zeros((len(cell), most), bool)
    nodes[slot], offset[slot], ring[slot] = node[use], away[use], touching[use]
    counts[slot] = np.exp(-square[use] / 4) / (square[use] + 1e-9)
    terms = [np.ones_like(counts), *(offset[..., i] for i in range(dims))]
    terms += [offset[..., i] * offset[..., j] for i in range(dims) for j in range(i, dims)]
    basis = np.stack(terms, axis=2)
    ridge = np.array([0.0] + [STRAIGHT] * dims + [BENT] * (basis.shape[2] - 1 - dims))
    normal = np.einsum(
        "pk,pki,pkj->pij",
        counts,
        basis,
        basis,
        optimize=True,
    )
    far = np.where(
        square < 4, np.exp(-square / 4), 0.0
    )  # without the node that lies on the place, whose count is beyond all others
    normal += np.maximum(np.bincount(at, far, len(cell)), 1e-12)[:, None, None] * np.diag(ridge)
    unit = np.zeros((len(cell), basis.shape[2], 1))
    unit[:, 0] = 1.0
    first_row = np.linalg.solve(normal, unit)[..., 0]
    return nodes, counts * np.einsum("pki,pi->pk", basis, first_row), ring


def _extent(mesh: Mesh, cell: Ints) -> Floats:
    """Give half the width of the ring of neighbours of each cell along every direction, (k, ways) m."""
    around = mesh.locator.around
    unique, back = np.unique(cell, return_inverse=True)
    at, slot = around.of(unique)
    reach = np.abs(around.nodes[around.beyond[slot]] - around.nodes[unique[at]])
    reach[around.beyond[slot] >= mesh.n_cells] *= 2  # a wall lies half as far as a cell would
    extent = np.zeros((len(unique), reach.shape[1]))
    np.maximum.at(extent, at, reach)
    extent = np.maximum(extent, 1e-6 * extent.max(axis=1, keepdims=True))
    return np.asarray(extent[back])


def _stencil(mesh: Mesh, cell: Ints) -> tuple[Ints, Ints, NDArray[np.bool_]]:
    """Give pairs of a place and a node of its fit, each once, and whether the node touches the cell."""
    around = mesh.locator.around
    total = len(mesh.locator.around.nodes)
    unique, back = np.unique(cell, return_inverse=True)
    at, slot = around.of(unique)
    one = around.beyond[slot].astype(np.int64)
    inner = np.flatnonzero(one < mesh.n_cells)
    again, slot = around.of(one[inner])
    two = around.beyond[slot].astype(np.int64)
    own = np.arange(len(unique))
    ring = np.unique(np.concatenate([own * total + unique, at * total + one]))
    both = np.unique(np.concatenate([ring, at[inner[again]] * total + two]))
    touching = np.isin(both, ring, assume_unique=True)
    row = both // total
    node = both % total
    first = np.searchsorted(row, np.arange(len(unique) + 1))
    position, entry = between(first[back], first[back + 1])
    return position, node[entry], touching[entry]
