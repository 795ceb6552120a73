"""Triangles of one body that run through each other: such a body has no inside to speak of."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[Any]
SURE = 1e-7  # of the size cubed of a pair: volumes below are rounding, or a touch
AT_ONCE = 400_000  # pairs


def crossings(points: Floats, triangles: Ints) -> Ints:
    """Give the pairs of triangles, (k, 2), of which an edge of one goes through the other, from clearly
    before it to clearly behind; touching does not count.

    Candidates by a tree of boxes in the plane the body spreads most in, then signs of tetrahedra (edge
    against triangle).

    References
    ----------
    Guigue and Devillers, "Fast and robust triangle-triangle overlap test using orientation predicates", J.
    Graphics Tools 8 (2003) 25-32.
    """
    corners = points[triangles]
    low = corners.min(axis=1)
    high = corners.max(axis=1)
    u, v, w = np.argsort(-np.ptp(points[np.unique(triangles)], axis=0))
    boxes = shapely.box(low[:, u], low[:, v], high[:, u], high[:, v])
    first, second = shapely.STRtree(boxes).query(boxes)
    keep = (first < second) & (low[first, w] <= high[second, w]) & (low[second, w] <= high[first, w])
    first = first[keep]
    second = second[keep]
    apart = (triangles[first][:, :, None] == triangles[second][:, None, :]).sum(
        axis=(1, 2)
    ) < 2  # neighbours along an edge meet there alone
    pairs = np.column_stack([first[apart], second[apart]])
    found = [
        pairs[start : start + AT_ONCE][_cross(corners, pairs[start : start + AT_ONCE])]
        for start in range(0, len(pairs), AT_ONCE)
    ]
    return np.concatenate(found) if found else pairs


def _cross(corners: Floats, pairs: Ints) -> NDArray[np.bool_]:
    met = np.zeros(len(pairs), bool)
    size = np.ptp(np.concatenate([corners[pairs[:, 0]], corners[pairs[:, 1]]], axis=1), axis=1).max(axis=1)
    least = SURE * size**3
    for one, other in ((0, 1), (1, 0)):
        a, b, c = (corners[pairs[:, other], k] for k in range(3))
        for k in range(3):
            p = corners[pairs[:, one], k]
            q = corners[pairs[:, one], (k + 1) % 3]
            sides = _volume(a, b, c, p), _volume(a, b, c, q)
            around = np.array(
                [
                    _volume(p, q, a, b),
                    _volume(p, q, b, c),
                    _volume(p, q, c, a),
                ]
            )
            through = (around > -least).all(axis=0) | (around < least).all(axis=0)  # through its rim, too
            met |= (
                through & (sides[0] * sides[1] < 0) & (np.minimum(np.abs(sides[0]), np.abs(sides[1])) > least)
            )
    return met


def _volume(
    a: Floats,
    b: Floats,
    c: Floats,
    d: Floats,
) -> Floats:
    """Six times the volume of tetrahedra, (k,) m3."""
    return np.asarray((np.cross(b - a, c - a) * (d - a)).sum(axis=1))
