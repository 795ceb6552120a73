"""Openings through which a given flow leaves as it comes, against one pressure that is an answer.

The fluxes of an iteration are predicted as at a given pressure; that pressure is then the one at which they
carry the flow exactly; where none is to leave, the opening is shut. The correction of the mass balance leaves
them as they are: their sum never errs. Gradients do not see that pressure (they go on from inside): with it
in them the last cells and the pressure chase each other, and a slow flow blows up.

Source: own derivation.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.boundary import Boundary

Floats = NDArray[np.float64]
EASY, WIDE = 0.5, 3.0  # of the way to what is predicted, an iteration; over the cells across


def weighted(boundary: Boundary, values: Floats, weight: Floats) -> Floats:
    """Give the mean of ``values`` (n_boundary,) over the faces of every group, (k,) of all such faces."""
    mine = boundary.leaving >= 0
    own = boundary.leaving[mine]
    total = np.bincount(own, weight[mine])
    return np.asarray((np.bincount(own, (weight * values)[mine]) / np.maximum(total, 1e-300))[own])


def balanced(boundary: Boundary, guess: Floats, ease: Floats, size: Floats) -> tuple[Floats, Floats]:
    """Give the fluxes of such faces, (k,) m3/s, that carry the given flow, and by how much the pressure there
    has to rise for it, (k,) m2/s2.

    Parameters
    ----------
    guess : (n_boundary,) m3/s at the present pressure. ease : (n_boundary,) by how much the flux falls as the
    pressure rises. size : (n_boundary,) areas, m2.
    """
    mine = boundary.leaving >= 0
    own = boundary.leaving[mine]
    missing = np.bincount(own, (boundary.outward * size - guess)[mine])
    lift = (missing / np.maximum(np.bincount(own, ease[mine]), 1e-300))[own]
    return np.where(boundary.outward[mine] > 0, guess[mine] + ease[mine] * lift, 0.0), -lift


def eased(boundary: Boundary, planar: bool) -> Floats:
    """Give the share of the way that fluxes of such faces go in an iteration, (k,).

    What more leaves on one side lowers the pressure there, and that the next flux, by a sixth of it for every
    cell across (own measurement, in time): with the whole way it would swing ever more.
    """
    own = boundary.leaving[boundary.leaving >= 0]
    count = np.bincount(own)[own]
    return np.asarray(np.minimum(EASY, WIDE / (count if planar else np.sqrt(count))))


def shaped(boundary: Boundary, former: Floats, size: Floats) -> Floats:
    """Give the fluxes of such faces, (k,) m3/s, that carry the given flow as a former one left, ``former``
    (n_boundary,) m3/s; what is more or less now is spread evenly, as a sudden change would be.
    """
    mine = boundary.leaving >= 0
    own, area = boundary.leaving[mine], size[mine]
    wanted = boundary.outward[mine] * area
    more = np.bincount(own, wanted - former[mine]) / np.maximum(np.bincount(own, area), 1e-300)
    return np.where(boundary.outward[mine] > 0, former[mine] + more[own] * area, 0.0)
