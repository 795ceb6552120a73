"""Slopes of cell values in spaces, for drawing."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Floats = NDArray[np.float64]
PAIRS = (
    (0, 0),
    (0, 1),
    (0, 2),
    (1, 1),
    (1, 2),
    (2, 2),
)
UNPACKED = np.array(
    [
        [0, 1, 2],
        [1, 3, 4],
        [2, 4, 5],
    ]
)


def space_slopes(mesh: Mesh, values: Floats) -> Floats:
    """Give the slopes (n_cells, 3) of a quantity in every cell of a grid in space from its values in cells
    and on boundary faces, (n_cells + n_boundary,); exact for linear fields where a cell has neighbours in
    three directions.

    Source: least squares weighted by inverse distance; Mavriplis, "Revisiting the least-squares procedure",
    AIAA 2003-3986.
    """
    count = mesh.n_cells
    inner = mesh.n_internal
    owner = mesh.owner[:inner]
    neighbour = mesh.neighbour
    walled = mesh.owner[inner:]
    across, outward, inverse = slope_moments(mesh)
    # the same for both cells: way and step change sign together
    between = across * (values[neighbour] - values[owner])[:, None]
    beyond = outward * (values[count:] - values[walled])[:, None]
    total = [
        np.bincount(owner, between[:, i], count)
        + np.bincount(neighbour, between[:, i], count)
        + np.bincount(walled, beyond[:, i], count)
        for i in range(3)
    ]
    return np.asarray(np.einsum("cij,jc->ci", inverse, np.stack(total)))


def slope_moments(mesh: Mesh) -> tuple[Floats, Floats, Floats]:
    """Give weighted ways between cells (n_internal, 3) and to boundary faces (n_boundary, 3), 1/m, and the
    inverse moments (n_cells, 3, 3) of the fit; they live as long as the mesh.
    """
    kept = mesh.locator.kept
    if "slopes" not in kept:
        count = mesh.n_cells
        inner = mesh.n_internal
        owner = mesh.owner[:inner]
        neighbour = mesh.neighbour
        walled = mesh.owner[inner:]
        ways = [mesh.centre[neighbour] - mesh.centre[owner], mesh.face_centre[inner:] - mesh.centre[walled]]
        weighted = [away / np.maximum((away**2).sum(axis=1), 1e-300)[:, None] for away in ways]
        moments = np.empty((count, 6))
        for k, (i, j) in enumerate(PAIRS):
            inside, outside = (way[:, i] * part[:, j] for way, part in zip(ways, weighted, strict=True))
            moments[:, k] = (
                np.bincount(owner, inside, count)
                + np.bincount(neighbour, inside, count)
                + np.bincount(walled, outside, count)
            )
        full = moments[:, UNPACKED]
        full[:, range(3), range(3)] += (1e-6 * np.trace(full, axis1=1, axis2=2))[
            :, None
        ]  # few neighbours leave a direction open
        kept["slopes"] = (*weighted, np.linalg.inv(full))
    return kept["slopes"]  # type: ignore[return-value]
