"""Walls between regions: one flux a piece of wall, out of one side and into the other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix

from mop_lantern.field.face_geometry import FaceGeometry
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass
class Joints:
    """The pieces of wall that two regions share.

    What passes is C (phi1 - phi2), with 1/C = 1/C1 + R/S + 1/C2: the way from the cell centre to the wall on
    either side and what the joint itself resists, in series. Source: thermal resistances in series; Patankar,
    *Numerical Heat Transfer and Fluid Flow* (1980), section 4.2-3 (conductivity at an interface).

    Attributes
    ----------
    faces : (2 k,) boundary faces, first one side of all, then the other. cells : (2 k,) the cell of each.
    resisted : (k,) R/S of the joints, (quantity) per (kinematic flux).
    near : (2 k,) conductance from the cell to the wall; through : (k,) from cell to cell, m3/s.
    """

    faces: Ints
    cells: Ints
    resisted: Floats
    near: Floats
    through: Floats

    @classmethod
    def of(cls, mesh: Mesh, geometry: FaceGeometry, resistance: Floats) -> Joints:
        """Gather the joints of a mesh; ``resistance`` (n_boundary,) counts on the first side of each."""
        one, other = mesh.joints.astype(np.int64).T
        faces = np.concatenate([one, other])
        size = np.minimum(geometry.size_b[one], geometry.size_b[other])
        cells = mesh.owner[mesh.n_internal :][faces].astype(np.int64)
        none = np.zeros(len(one))
        return cls(faces, cells, resistance[one] / size, np.zeros(len(faces)), none)

    def conduct(self, over: Floats) -> None:
        """Take the conductances between cells and boundary faces, (n_boundary,) m3/s."""
        self.near = np.maximum(over[self.faces], 1e-300)
        one, other = np.split(self.near, 2)
        self.through = 1.0 / (1.0 / one + self.resisted + 1.0 / other)

    def leaving(self, feet: Floats) -> Floats:
        """Give what leaves through either side, (2 k,); ``feet`` (n_boundary,) holds the quantity before
        every boundary face, on the normal through its middle.
        """
        one, other = np.split(feet[self.faces], 2)
        flux = self.through * (one - other)
        return np.concatenate([flux, -flux])

    def surface(self, feet: Floats) -> Floats:
        """Give the quantity on either side of the walls, (2 k,)."""
        return np.asarray(feet[self.faces] - self.leaving(feet) / self.near)

    def matrix(self, count: int) -> coo_matrix:
        """Give what the joints add to the matrix of all ``count`` cells."""
        one, other = np.split(self.cells, 2)
        c = self.through
        rows = np.concatenate([one, other, one, other])
        columns = np.concatenate([one, other, other, one])
        return coo_matrix((np.concatenate([c, c, -c, -c]), (rows, columns)), (count, count))
