"""Compiled loops for distances from walls.

places : (k, 3) m. near : (k, m) candidate faces of every place. ends : (walls, 2, 3) m, of segments in a
plane. middle, normal, radius : (walls, 3) m, unit, (walls,) m, of faces in space. found, nearest : (k,) m and
number of the face, written.
"""

from __future__ import annotations

import numpy as np
from numba import njit


@njit(cache=True, error_model="numpy", nogil=True)
def nearest_segments(places, near, ends, found, nearest):  # type: ignore[no-untyped-def]
    """Give the distance of every place in a plane to the nearest of its candidate segments."""
    for i in range(len(places)):
        best = np.inf
        for k in range(near.shape[1]):
            a = ends[near[i, k], 0]
            b = ends[near[i, k], 1]
            d0, d1 = b[0] - a[0], b[1] - a[1]
            length = d0 * d0 + d1 * d1
            share = 0.0
            if length > 0.0:
                share = ((places[i, 0] - a[0]) * d0 + (places[i, 1] - a[1]) * d1) / length
                share = min(max(share, 0.0), 1.0)
            e0 = places[i, 0] - a[0] - share * d0
            e1 = places[i, 1] - a[1] - share * d1
            square = e0 * e0 + e1 * e1
            if square < best:
                best = square
                nearest[i] = near[i, k]
        found[i] = np.sqrt(best)


@njit(cache=True, error_model="numpy", nogil=True)
def nearest_discs(places, near, middle, normal, radius, found, nearest):  # type: ignore[no-untyped-def]
    """Give the distance of every place to the nearest of its candidate faces, taken as flat discs."""
    for i in range(len(places)):
        best = np.inf
        for k in range(near.shape[1]):
            f = near[i, k]
            d0 = places[i, 0] - middle[f, 0]
            d1 = places[i, 1] - middle[f, 1]
            d2 = places[i, 2] - middle[f, 2]
            off = d0 * normal[f, 0] + d1 * normal[f, 1] + d2 * normal[f, 2]
            aside = np.sqrt(max(d0 * d0 + d1 * d1 + d2 * d2 - off * off, 0.0))
            beyond = max(aside - radius[f], 0.0)
            square = off * off + beyond * beyond
            if square < best:
                best = square
                nearest[i] = f
        found[i] = np.sqrt(best)
