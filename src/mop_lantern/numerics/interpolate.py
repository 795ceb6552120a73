"""Carry cell values from one grid to another."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]


def carry(
    centres: Floats,
    values: Floats,
    places: Floats,
    neighbours: int = 4,
    gradients: Floats | None = None,
) -> Floats:
    """Interpolate values at scattered centres to new places by inverse distance squared.

    Parameters
    ----------
    centres : (n, 3) m. values : (n,) or (n, k). places : (m, 3) m. gradients : (n, k, 3) 1/m, which make
    linear fields exact.

    Returns
    -------
    (m,) or (m, k) float.

    References
    ----------
    Shepard, "A two-dimensional interpolation function for irregularly-spaced data", ACM National Conference
    1968.
    """
    distance, nearest = nearest_tree(centres).query(places, k=min(neighbours, len(centres)))
    distance = distance.reshape(len(places), -1)
    nearest = nearest.reshape(len(places), -1)
    weight = 1.0 / (distance**2 + 1e-30 + 1e-12 * distance[:, -1:] ** 2)
    weight /= weight.sum(axis=1, keepdims=True)
    if values.ndim == 1:
        return np.asarray((weight * values[nearest]).sum(axis=1))
    near = values[nearest]
    if gradients is not None:
        near = near + np.einsum("mnkj,mnj->mnk", gradients[nearest], places[:, None] - centres[nearest])
    return np.asarray((weight[..., None] * near).sum(axis=1))
