"""Slopes of cell values as sparse matrices, for drawing: linear in the values, so that they are made once for a grid."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Floats = NDArray[np.float64]


def plane_slopes(mesh: Mesh) -> tuple[Any, Any]:
    """Give two sparse matrices (n_cells, n_cells + n_boundary) that make the x and y slopes of a quantity in every cell of a plane grid
    from its values in cells and on boundary faces; exact for linear fields.

    Source: least squares weighted by inverse distance; Mavriplis, "Revisiting the least-squares procedure", AIAA 2003-3986.
    """
    from scipy.sparse import csr_matrix

    around, count = mesh.locator.around, mesh.n_cells
    cell = np.repeat(np.arange(count), np.diff(around.first))
    away = around.nodes[around.beyond] - around.nodes[cell]
    weight = 1.0 / np.maximum((away**2).sum(axis=1), 1e-300)
    xx, xy, yy = (np.bincount(cell, weight * away[:, i] * away[:, j], count) for i, j in ((0, 0), (0, 1), (1, 1)))
    whole = np.maximum(xx * yy - xy**2, 1e-12 * (xx + yy) ** 2)
    shape = (count, len(around.nodes))
    made = []
    for first, second in ((yy, -xy), (-xy, xx)):
        part = weight * (first[cell] * away[:, 0] + second[cell] * away[:, 1]) / whole[cell]
        own = np.bincount(cell, part, count)
        rows, columns = np.concatenate([cell, np.arange(count)]), np.concatenate([around.beyond, np.arange(count)])
        made.append(csr_matrix((np.concatenate([part, -own]), (rows, columns)), shape))
    return made[0], made[1]
