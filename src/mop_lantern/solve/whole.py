"""Arrays of the fluid among those of fluid and solids."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.boundary import Boundary, joined
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]


class Whole:
    """Lengthens arrays of the fluid to those of fluid and solids, whose cells and faces come behind."""

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self.wet = mesh.fluid

    def boundary_state(self, boundary: Boundary) -> Boundary:
        """Give the boundary of all: nothing crosses that of solids."""
        more = self.mesh.n_boundary - self.wet.n_boundary
        return boundary if not more else joined(boundary, Boundary.still(more))

    def faces(self, flux: Floats) -> Floats:
        """Give fluxes through all faces: none through those of solids."""
        if self.mesh is self.wet:
            return flux
        found = np.zeros(len(self.mesh.owner))
        inner = self.wet.n_internal
        found[:inner] = flux[:inner]
        found[self.mesh.n_internal :][: self.wet.n_boundary] = flux[inner:]
        return found

    def cells(self, values: Floats) -> Floats:
        """Give values of cells (k, ...) with zeros for those of solids."""
        return _longer(values, self.mesh.n_cells)

    def boundary(self, values: Floats) -> Floats:
        """Give values of boundary faces (k, ...) with zeros for those of solids."""
        return _longer(values, self.mesh.n_boundary)


def _longer(values: Floats, count: int) -> Floats:
    """Give values with zeros behind them, ``count`` in all."""
    if len(values) == count:
        return values
    return np.concatenate([values, np.zeros((count - len(values), *values.shape[1:]))])
