"""Which parts of a cube belong together where walls run through it: the bodies of fluid in it.

Arguments as in `cutting`.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from mop_lantern.grid.cutting import node_of

LEAST = 1e-14  # of a cube's face: pieces of wall smaller than this are rounding


@njit(cache=True, error_model="numpy")
def _root(parent, k):  # type: ignore[no-untyped-def]
    while parent[k] != k:
        parent[k] = parent[parent[k]]
        k = parent[k]
    return k


@njit(cache=True, error_model="numpy")
def _through(  # type: ignore[no-untyped-def]
    p,
    q,
    corner,
    size,
):
    """Whether the line p -> q comes through a cube."""
    low, high = 0.0, 1.0
    for d in range(3):
        run = q[d] - p[d]
        near = corner[d] - p[d]
        far = corner[d] + size - p[d]
        if run == 0.0:
            if near > 0 or far < 0:
                return False
            continue
        one = near / run
        two = far / run
        low = max(low, min(one, two))
        high = min(high, max(one, two))
    return low <= high


@njit(cache=True, error_model="numpy")
def _join_along_lines(  # type: ignore[no-untyped-def]
    parent,
    held,
    rel,
    code,
    enters,
    piece,
    begin,
    finish,
):
    """Join places and pieces of one cube that follow each other in the fluid along its lines; their records
    stand from ``begin`` to ``finish``.
    """
    for line in range(27):
        a = line // 9
        lb = line // 3 % 3
        lc = line % 3
        if lb == 1 and lc == 1:
            continue
        for part in range(2):
            start = node_of(a, part, lb, lc)
            end = node_of(a, part + 1, lb, lc)
            state = held + rel[start]
            current = start
            for k in range(begin, finish):
                if code[k] == 2 * line + part:
                    if state > 0:
                        parent[_root(parent, current)] = _root(parent, 27 + piece[k])
                    current = 27 + piece[k]
                    state += enters[k]
            if state > 0:
                parent[_root(parent, current)] = _root(parent, end)


@njit(cache=True, error_model="numpy")
def _join_across_edges(  # type: ignore[no-untyped-def]
    parent,
    points,
    triangles,
    across,
    met,
    corner,
    size,
):
    """Join pieces of one cube whose triangles share an edge that comes through it."""
    for k in range(len(met)):
        t = met[k]
        for e in range(3):
            beyond = across[t, e]
            if beyond <= t:
                continue
            found = np.searchsorted(met, beyond)
            if (
                found < len(met)
                and met[found] == beyond
                and _through(points[triangles[t, e]], points[triangles[t, (e + 1) % 3]], corner, size)
            ):
                parent[_root(parent, 27 + k)] = _root(parent, 27 + found)


@njit(cache=True, error_model="numpy")
def bodies(  # type: ignore[no-untyped-def]  # noqa: C901 - one pass over the cubes
    points,
    triangles,
    across,
    origin,
    h,
    low,
    edge,
    first,
    met,
    sums,
    room,
    code,
    enters,
    piece,
    rel,
    held,
):
    """Tell the bodies of fluid apart that walls part a cube into.

    Parameters
    ----------
    across : (m, 3), the triangle beyond each edge of every triangle, or -1.

    Returns
    -------
    count : bodies of every cube. of_piece : body of every piece of wall, -1 for none. of_node : of every
    place, (n, 27), -1 where dry.
    """
    total = len(low)
    count = np.zeros(total, np.int64)
    of_piece = np.full(len(met), -1, np.int8)
    of_node = np.full((total, 27), -1, np.int8)
    most = 27
    for n in range(total):
        most = max(most, 27 + first[n + 1] - first[n])
    parent = np.zeros(most, np.int64)
    name = np.zeros(most, np.int64)
    for n in range(total):
        pieces = first[n + 1] - first[n]
        if pieces == 0:
            if held[n] > 0:
                count[n] = 1
                of_node[n] = 0
            continue
        for k in range(27 + pieces):
            parent[k] = k
            name[k] = -1
        _join_along_lines(parent, held[n], rel[n], code, enters, piece, room[n], room[n + 1])
        _join_across_edges(
            parent,
            points,
            triangles,
            across,
            met[first[n] : first[n + 1]],
            origin + h * low[n],
            h * edge[n],
        )
        named = 0
        for k in range(27):
            if k != 13 and held[n] + rel[n, k] > 0:
                root = _root(parent, k)
                if name[root] < 0:
                    name[root] = named
                    named += 1
                of_node[n, k] = name[root]
        named = _name_the_rest(
            parent,
            name,
            named,
            sums[first[n] : first[n + 1]],
            of_node[n],
            h * edge[n],
        )
        for k in range(pieces):
            if sums[first[n] + k, 10] > 0.0:
                of_piece[first[n] + k] = name[_root(parent, 27 + k)]
        count[n] = named
    return count, of_piece, of_node


@njit(cache=True, error_model="numpy")
def _name_the_rest(  # type: ignore[no-untyped-def]
    parent,
    name,
    named,
    sums,
    of_node,
    size,
):
    """Name bodies no place of the cube lies in: a tube is its own; walls about an island bound the body with
    the most places.
    """
    pieces = len(sums)
    for k in range(pieces):
        if sums[k, 10] <= LEAST * size * size or name[_root(parent, 27 + k)] >= 0:
            continue
        root = _root(parent, 27 + k)
        middle = np.zeros(3)
        weight = 0.0
        for m in range(pieces):
            if _root(parent, 27 + m) == root:
                middle += sums[m, 3:6]
                weight += sums[m, 10]
        outward = 0.0
        for m in range(pieces):
            if _root(parent, 27 + m) == root:
                outward += (sums[m, :3] * (sums[m, 3:6] / max(sums[m, 10], 1e-300) - middle / weight)).sum()
        if outward < 0.0 and named > 0:
            tally = np.zeros(named, np.int64)
            for m in range(27):
                if of_node[m] >= 0:
                    tally[of_node[m]] += 1
            name[root] = np.argmax(tally)
        else:
            name[root] = named
            named += 1
    for k in range(pieces):
        root = _root(parent, 27 + k)
        if name[root] < 0:
            name[root] = 0
    return named
