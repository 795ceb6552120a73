"""What lies beyond the edges of triangles, also where more than two meet."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[Any]
FLAT = 1e-4  # rad: a wedge narrower than this is the seam between two bodies, not part of either


def beyond_edges(points: Floats, triangles: Ints) -> Ints:
    """Give the triangle beyond each edge (first to second corner, second to third, third to first) of every
    triangle, (m, 3); -1 for none.

    Two triangles belong together that run along their edge opposite ways. Where more of them meet, those are
    paired that bound the same wedge of what they enclose, so that bodies that touch along an edge stay two.
    """
    ends = triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2).astype(np.int64)
    key = ends.min(axis=1) * len(points) + ends.max(axis=1)
    ahead = ends[:, 0] < ends[:, 1]
    found = np.full(len(key), -1, np.int64)
    one, two = (
        where[np.argsort(key[where], kind="stable")] for where in map(np.flatnonzero, (ahead, ~ahead))
    )
    if not len(one) or not len(two):
        return found.reshape(-1, 3)
    if not (len(one) == len(two) and (key[one] == key[two]).all()):  # as they are on every closed surface
        start = np.searchsorted(key[one], key[one])
        there = np.searchsorted(key[two], key[one]) + np.arange(len(one)) - start
        met = np.flatnonzero(there < len(two))
        met = met[key[two[there[met]]] == key[one[met]]]
        one = one[met]
        two = two[there[met]]
    crowded = np.flatnonzero(np.diff(key[one], prepend=-1) == 0)
    for first in np.unique(np.searchsorted(key[one], key[one[crowded]])):
        last = np.searchsorted(key[one], key[one[first]], "right")
        two[first:last] = _in_turn(points, triangles, ends, one[first:last], two[first:last])
    found[one], found[two] = two // 3, one // 3
    return found.reshape(-1, 3)


def _in_turn(points: Floats, triangles: Ints, ends: Ints, one: Ints, two: Ints) -> Ints:
    """Order the sides ``two`` of an edge so that each follows the side of ``one`` it is paired with, turning
    into what the triangles enclose.
    """
    low, high = ends[one[0]]
    along = points[high] - points[low]
    along = along / (np.linalg.norm(along) or 1.0)
    away = np.eye(3)[int(np.abs(along).argmin())]
    aside = np.cross(along, away)
    up = np.cross(along, aside)

    def turns(sides: Ints) -> Floats:
        third = triangles[sides // 3, (sides % 3 + 2) % 3]
        off = points[third] - points[low]
        return np.arctan2(off @ up, off @ aside)

    free = list(range(len(two)))
    chosen = []
    angle = turns(two)
    for turn in turns(one):
        back = (turn - angle[free]) % (2 * np.pi)
        back[back < FLAT] += 2 * np.pi  # faces of two bodies that touch: what lies between them is nothing
        best = int(back.argmin())
        chosen.append(two[free.pop(best)])
    return np.array(chosen)
