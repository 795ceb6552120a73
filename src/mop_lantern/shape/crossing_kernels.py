"""Compiled loops that look for triangles that cross.

Arguments, the same everywhere (m triangles):

corners : (m, 3, 3) m, along the curve of the tree. number : (m, 3) numbers of their corners
own_low, own_high : (m, 3) m, their boxes
low, high : (n, 3) m, the boxes of the tree
first, last : the triangles looked at
least : m, shallower crossings do not count
count : pairs found so far
pairs, depth : (most, 2), (most,) m, filled as far as they go
"""

from __future__ import annotations

import numpy as np
from numba import njit

from mop_lantern.shape.soup_tree import LEAF

_LEAF = LEAF


@njit(cache=True, error_model="numpy", nogil=True)
def search(  # type: ignore[no-untyped-def]
    first,
    last,
    corners,
    number,
    own_low,
    own_high,
    low,
    high,
    least,
    count,
    pairs,
    depth,
):
    """Pair the triangles first to last with those after them; give the count of pairs so far."""
    leaves = len(low) // 2
    stack = np.empty(128, np.int64)
    for i in range(first, last):
        stack[0] = 1
        held = 1
        while held > 0:
            held -= 1
            node = stack[held]
            if not _meet(low, high, node, own_low, own_high, i):
                continue
            if node < leaves:
                stack[held] = 2 * node
                stack[held + 1] = 2 * node + 1
                held += 2
                continue
            begin = (node - leaves) * _LEAF
            for j in range(max(begin, i + 1), min(begin + _LEAF, len(corners))):
                if not _meet(own_low, own_high, j, own_low, own_high, i):
                    continue
                found = _depth(corners[i], number[i], corners[j], number[j])
                if found > least:
                    if count < len(pairs):
                        pairs[count, 0] = i
                        pairs[count, 1] = j
                        depth[count] = found
                    count += 1
    return count


@njit(cache=True, error_model="numpy", nogil=True)
def _meet(low, high, one, other_low, other_high, other):  # type: ignore[no-untyped-def]
    for k in range(3):
        if low[one, k] > other_high[other, k] or high[one, k] < other_low[other, k]:
            return False
    return True


@njit(cache=True, error_model="numpy", nogil=True)
def _depth(one, one_number, other, other_number):  # type: ignore[no-untyped-def]
    """Give how deep two triangles cross, m; 0 for not at all, or where they share an edge."""
    shared = 0
    for a in one_number:
        for b in other_number:
            shared += a == b
    if shared > 1:
        return 0.0
    mine = _normal(one)
    its = _normal(other)
    along = _cross(mine, its)
    length = np.sqrt(_dot(along, along))
    if not length > 1e-12:
        return 0.0
    to_its = _off(one, one_number, other, other_number, its)
    to_mine = _off(other, other_number, one, one_number, mine)
    depth = min(min(max(to_its), -min(to_its)), min(max(to_mine), -min(to_mine)))
    if not depth > 0.0:
        return 0.0
    first = _piece(one, to_its, along)
    second = _piece(other, to_mine, along)
    return min(depth, (min(first[1], second[1]) - max(first[0], second[0])) / length)


@njit(cache=True, error_model="numpy", nogil=True)
def _dot(a, b):  # type: ignore[no-untyped-def]
    return a[0] * b[0] + a[1] * b[1] + a[2] * b[2]


@njit(cache=True, error_model="numpy", nogil=True)
def _cross(a, b):  # type: ignore[no-untyped-def]
    return a[1] * b[2] - a[2] * b[1], a[2] * b[0] - a[0] * b[2], a[0] * b[1] - a[1] * b[0]


@njit(cache=True, error_model="numpy", nogil=True)
def _less(a, b):  # type: ignore[no-untyped-def]
    return a[0] - b[0], a[1] - b[1], a[2] - b[2]


@njit(cache=True, error_model="numpy", nogil=True)
def _normal(corners):  # type: ignore[no-untyped-def]
    """Give the direction square to a triangle, of length 1; 0 for one without area."""
    found = _cross(_less(corners[1], corners[0]), _less(corners[2], corners[0]))
    length = np.sqrt(_dot(found, found))
    scale = 1.0 / length if length > 0.0 else 0.0
    return found[0] * scale, found[1] * scale, found[2] * scale


@njit(cache=True, error_model="numpy", nogil=True)
def _off(corners, number, plane, plane_number, normal):  # type: ignore[no-untyped-def]
    """Give how far three corners lie off the plane of a triangle, m; those that are its own by nothing."""
    far = (
        _dot(_less(corners[0], plane[0]), normal),
        _dot(_less(corners[1], plane[0]), normal),
        _dot(_less(corners[2], plane[0]), normal),
    )
    return (
        0.0 if _among(number[0], plane_number) else far[0],
        0.0 if _among(number[1], plane_number) else far[1],
        0.0 if _among(number[2], plane_number) else far[2],
    )


@njit(cache=True, error_model="numpy", nogil=True)
def _among(number, others):  # type: ignore[no-untyped-def]
    return number == others[0] or number == others[1] or number == others[2]


@njit(cache=True, error_model="numpy", nogil=True)
def _piece(corners, off, along):  # type: ignore[no-untyped-def]
    """Give from where to where a triangle cuts the common line, along it."""
    low = np.inf
    high = -np.inf
    for k in range(3):
        n = (k + 1) % 3
        here = _dot(corners[k], along)
        if off[k] * off[n] < 0.0:
            here += off[k] / (off[k] - off[n]) * (_dot(corners[n], along) - here)
        elif off[k] != 0.0:
            continue
        low = min(low, here)
        high = max(high, here)
    return low, high
