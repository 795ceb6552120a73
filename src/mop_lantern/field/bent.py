"""Gradients in layers along bent walls.

Beside a wall that turns, the neighbour along a thin cell lies higher or lower than the cell itself by more
than the cell is high. A straight line through both tells of the profile across the layer, not of the change
along it: fitted all the same, the slope along the wall is wrong by much, and flows diverge at corners. Such
neighbours are left out; where none is left along the wall, the slope along it is taken as none.

Source: Mavriplis, "Revisiting the least-squares procedure for gradient reconstruction", AIAA 2003-3986, for
the fault; the cure is our own, from our check cases.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
Ints = NDArray[Any]
TILT = 0.3  # of a cell's height: neighbours along the wall further up or down are left out
ALONG = 0.8  # cosine between a face and the wall: below, it lies across the layer


class Bent:
    """The cells of a mesh whose gradients are mended.

    Parameters
    ----------
    mesh : the grid. given : (n_boundary,) bool; boundary faces whose value is known and counts.

    Attributes
    ----------
    cells : (k,) their numbers.
    """

    def __init__(self, mesh: Mesh, given: NDArray[np.bool_]) -> None:
        self._sums: list[csr_matrix] = []
        self._outer: list[csr_matrix] = []
        self.cells: Ints = np.zeros(0, np.int64)
        if not len(mesh.level) or mesh.level.min() >= 0:
            return
        inner = mesh.n_internal
        cell = np.concatenate([mesh.owner[:inner], mesh.neighbour])
        other = np.concatenate([mesh.neighbour, mesh.owner[:inner]])
        face = np.tile(np.arange(inner), 2)
        aside = _aside(mesh, cell, other, face)
        self.cells = np.unique(cell[aside])
        place = np.full(mesh.n_cells, -1)
        place[self.cells] = np.arange(len(self.cells))
        use = (place[cell] >= 0) & ~aside
        row, other = place[cell[use]], other[use]
        apart = mesh.centre[other] - mesh.centre[cell[use]]
        mine = np.flatnonzero(given & (place[mesh.owner[inner:]] >= 0))
        row_b = place[mesh.owner[inner + mine]]
        reach = mesh.face_centre[inner + mine] - mesh.centre[mesh.owner[inner + mine]]
        rows = np.concatenate([row, row_b])
        ways = np.vstack([apart, reach])
        long = np.linalg.norm(ways, axis=1)
        unit = ways / long[:, None]
        moments = np.zeros((len(self.cells), 3, 3))
        np.add.at(moments, rows, unit[:, :, None] * unit[:, None, :])
        weight = np.einsum("nij,nj->ni", np.linalg.pinv(moments, rcond=1e-4, hermitian=True)[rows], unit)
        weight /= long[:, None]
        for k in range(3):
            shape = (len(self.cells), mesh.n_cells)
            own = csr_matrix((-weight[:, k], (rows, self.cells[rows])), shape)
            self._sums.append(own + csr_matrix((weight[: len(row), k], (row, other)), shape))
            shape = (len(self.cells), mesh.n_boundary)
            self._outer.append(csr_matrix((weight[len(row) :, k], (row_b, mine)), shape))

    def mend(self, gradient: Floats, values: Floats, outer: Floats | None = None) -> None:
        """Put the gradients of the bent cells right.

        Parameters
        ----------
        gradient : (n_cells, 3), or (n_cells, c, 3) of columns. values : (n_cells,) or (n_cells, c). outer :
        the like on the boundary, of faces that count.
        """
        if not len(self.cells):
            return
        for k in range(3):
            found = self._sums[k] @ values
            if outer is not None:
                found = found + self._outer[k] @ outer
            gradient[self.cells, ..., k] = found


def _frame(mesh: Mesh) -> tuple[Floats, Floats]:
    """Give the direction across the layer, (n_cells, 3), and the height, (n_cells,) m, of every cell of a
    plane: square to its longest face.
    """
    corners = mesh.points[mesh.face_points.reshape(-1, 2)]
    length = np.linalg.norm(corners[:, 1] - corners[:, 0], axis=1)
    longest = np.zeros(mesh.n_cells)
    inner = mesh.n_internal
    np.maximum.at(longest, mesh.owner, length)
    np.maximum.at(longest, mesh.neighbour, length[:inner])
    across = np.zeros((mesh.n_cells, 3))
    normal = mesh.area / np.maximum(np.linalg.norm(mesh.area, axis=1), 1e-300)[:, None]
    for cells, faces in ((mesh.owner, slice(None)), (mesh.neighbour, slice(0, inner))):
        own = length[faces] >= (1 - 1e-9) * longest[cells]
        across[cells[own]] = normal[faces][own]
    return across, mesh.plane_area / np.maximum(longest, 1e-300)


def _aside(mesh: Mesh, cell: Ints, other: Ints, face: Ints) -> NDArray[np.bool_]:
    """Mark the pairs of a cell of a layer and a neighbour along the wall that lies higher or lower."""
    across, height = _frame(mesh)
    normal = mesh.area[face] / np.maximum(np.linalg.norm(mesh.area[face], axis=1), 1e-300)[:, None]
    off = np.abs(((mesh.centre[other] - mesh.centre[cell]) * across[cell]).sum(axis=1))
    side = np.abs((normal * across[cell]).sum(axis=1)) < ALONG
    return np.asarray((mesh.level[cell] < 0) & side & (off > TILT * height[cell]))
