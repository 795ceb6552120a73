"""Friction at walls: one conductance a face that every user of it shares, also where a wall law gives it."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.face_geometry import FaceGeometry, Stencil, wall_curvature
from mop_lantern.field.flow.state import Floats
from mop_lantern.grid import Mesh


class WallFriction:
    """The pull of boundary faces with a given velocity on the cell beside them.

    It is conductance (Ub - U - foot) - bend (slope of the cell along the normal), m4/s2: a line through the
    two-point slope and the cell's own is exact for parabolas (`wall_curvature`).
    """

    def __init__(
        self,
        mesh: Mesh,
        geometry: FaceGeometry,
        at: Stencil,
        given: NDArray[np.bool_],
    ) -> None:
        self.mesh = mesh
        self.geometry = geometry
        self.curve = wall_curvature(mesh, geometry, at) * given
        self._bown = mesh.owner[mesh.n_internal :]

    def by_law(self, faces: NDArray[np.int64]) -> None:
        """Let the viscosity of these faces say all: their law knows the profile."""
        self.curve[faces] = 0.0

    def conductance(self, nu: Floats) -> Floats:
        """Give the conductance (n_boundary,) m3/s for viscosities ``nu`` (n_boundary,) m2/s."""
        return np.asarray(nu * self.geometry.area_per_distance[self.mesh.n_internal :] * (1 + self.curve))

    def bend(self, nu: Floats) -> Floats:
        """Give the weight (n_boundary,) m4/s of the slope of the cell along the normal."""
        return np.asarray(nu * self.geometry.size_b * self.curve)

    def pull(
        self,
        nu: Floats,
        U: Floats,
        Ub: Floats,
        slopes: Floats,
    ) -> Floats:
        """Give the pull of every boundary face over the density, (n_boundary, 3) m4/s2.

        Parameters
        ----------
        nu : (n_boundary,) m2/s. U, slopes : of cells, (n_cells, 3) m/s and (n_cells, 3, 3) 1/s. Ub :
        (n_boundary, 3) m/s.
        """
        mine = slopes[self._bown]
        foot = np.einsum("fij,fj->fi", mine, self.geometry.shift_b)
        along = np.einsum("fij,fj->fi", mine, self.geometry.normal_b)
        away = Ub - U[self._bown] - foot
        return np.asarray(self.conductance(nu)[:, None] * away - self.bend(nu)[:, None] * along)
