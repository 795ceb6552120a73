"""The faces between cut cubes, body by body: which share of a square lies in the fluid, and whose it is.

Arguments as in `cutting`.
"""

from __future__ import annotations

import numpy as np
from numba import njit

from mop_lantern.grid.cutting import node_of


@njit(cache=True, error_model="numpy", nogil=True)
def _body(  # type: ignore[no-untyped-def]
    n,
    node,
    t,
    first,
    met,
    of_piece,
    of_node,
    count,
):
    """Give the body of a cube a place or a triangle belongs to; the first where rounding has lost it."""
    found = -1
    if count[n] == 1:
        return 0
    if node >= 0:
        found = of_node[n, node]
    else:
        spot = first[n] + np.searchsorted(met[first[n] : first[n + 1]], t)
        if spot < first[n + 1] and met[spot] == t:
            found = of_piece[spot]
    return max(found, 0)


@njit(cache=True, error_model="numpy", nogil=True)
def _add_far_edges(  # type: ignore[no-untyped-def]
    sums,
    f,
    n,
    m,
    a,
    side,
    origin,
    h,
    low,
    edge,
    first,
    met,
    room,
    code,
    place,
    enters,
    piece,
    rel,
    held,
    of_piece,
    of_node,
    count,
    row,
):
    """Add what the edges of face ``f`` between cubes n and m that are far from its corner add to its sums."""
    b = (a + 1) % 3
    c = (a + 2) % 3
    size = h * edge[n]
    for along in (b, c):  # the far edges: along c at the far side in b, along b at the far side in c
        lb, lc = (2 * side, 2) if along == c else (2, 2 * side)
        line = (along * 3 + lb) * 3 + lc
        base = origin[along] + h * low[n, along]
        current = node_of(along, 0, lb, lc)
        t = -1
        since = base
        state = held[n] + rel[n, current]
        for k in range(room[n], room[n + 1] + 1):
            last = k == room[n + 1]
            if not last and code[k] // 2 != line:
                continue
            until = base + size if last else place[k]
            if state > 0:
                length = until - since
                node = current
                other = -1
                if t < 0:
                    other = _node_in(m, n, current, low, edge)
                to = row[f] + (
                    _body(n, node, t, first, met, of_piece, of_node, count) * count[m]
                    + _body(m, other, t, first, met, of_piece, of_node, count)
                )
                if along == c:
                    sums[to, 0] += size * length
                    sums[to, 1] += 0.5 * size * size * length
                else:
                    sums[to, 2] += 0.5 * size * size * length
            if not last:
                state += enters[k]
                current = -1
                t = met[first[n] + piece[k]]
                since = place[k]


@njit(cache=True, error_model="numpy", nogil=True)
def _add_crossing(sums, ends, pb, pc, size):  # type: ignore[no-untyped-def]
    """Add what a piece of wall that crosses a face from one end to the other adds to its sums (3,)."""
    u0 = ends[0, 0] - pb
    v0 = ends[0, 1] - pc
    u1 = ends[1, 0] - pb
    v1 = ends[1, 1] - pc
    begin, finish = _within(u0, v0, u1 - u0, v1 - v0, size)
    if finish <= begin:
        return
    pu = u0 + begin * (u1 - u0)
    pv = v0 + begin * (v1 - v0)
    qu = u0 + finish * (u1 - u0)
    qv = v0 + finish * (v1 - v0)
    sums[0] += (qv - pv) * (pu + qu) / 2
    sums[1] += (qv - pv) * (pu * pu + pu * qu + qu * qu) / 6
    sums[2] -= (qu - pu) * (pv * pv + pv * qv + qv * qv) / 6


@njit(cache=True, error_model="numpy", nogil=True)
def squares(  # type: ignore[no-untyped-def]  # noqa: C901 - one pass over the faces
    points,
    triangles,
    origin,
    h,
    low,
    edge,
    first,
    met,
    room,
    code,
    place,
    enters,
    piece,
    rel,
    held,
    of_piece,
    of_node,
    count,
    own,
    nei,
    axes,
    sides,
    row,
):
    """Give fluid area and first moments (from its own corner) of every face between cubes, a row for every
    pair of bodies, (rows, 3).
    """
    sums = np.zeros((row[-1], 3))
    ends = np.zeros((3, 2))
    for f in range(len(own)):
        if row[f + 1] == row[f]:
            continue
        n = own[f]
        m = nei[f]
        a = axes[f]
        side = sides[f]
        _add_far_edges(
            sums,
            f,
            n,
            m,
            a,
            side,
            origin,
            h,
            low,
            edge,
            first,
            met,
            room,
            code,
            place,
            enters,
            piece,
            rel,
            held,
            of_piece,
            of_node,
            count,
            row,
        )
        level = origin[a] + 0.5 * h * (2 * (low[n, a] + side * edge[n]))
        pb = origin[(a + 1) % 3] + h * low[n, (a + 1) % 3]
        pc = origin[(a + 2) % 3] + h * low[n, (a + 2) % 3]
        for k in range(first[n], first[n + 1]):
            if _trace(points, triangles[met[k]], a, level, ends):
                to = row[f] + (
                    _body(n, -1, met[k], first, met, of_piece, of_node, count) * count[m]
                    + _body(m, -1, met[k], first, met, of_piece, of_node, count)
                )
                _add_crossing(sums[to], ends, pb, pc, h * edge[n])
    return sums


@njit(cache=True, error_model="numpy", nogil=True)
def _node_in(  # type: ignore[no-untyped-def]
    m,
    n,
    node,
    low,
    edge,
):
    """Give the number in cube m of a corner of cube n that lies on m."""
    found = 0
    for d in range(3):
        step = node // (9 if d == 0 else 3 if d == 1 else 1) % 3
        found = 3 * found + (2 * low[n, d] + step * edge[n] - 2 * low[m, d]) // edge[m]
    return found


@njit(cache=True, error_model="numpy", nogil=True)
def _trace(  # type: ignore[no-untyped-def]
    points,
    corner,
    a,
    level,
    ends,
):
    """Where a triangle meets the plane at a level across ``a``: two ends, run so that the fluid lies to the
    left; False where it misses.
    """
    b = (a + 1) % 3
    c = (a + 2) % 3
    count = 0
    for edge in range(3):
        p = corner[edge]
        q = corner[(edge + 1) % 3]
        if (points[p, a] < level) == (points[q, a] < level):
            continue
        if p > q:
            p, q = q, p
        share = (level - points[p, a]) / (points[q, a] - points[p, a])
        ends[count, 0] = points[p, b] + share * (points[q, b] - points[p, b])
        ends[count, 1] = points[p, c] + share * (points[q, c] - points[p, c])
        count += 1
    if count < 2:
        return False
    i, j, k = corner
    nb = (points[j, c] - points[i, c]) * (points[k, a] - points[i, a]) - (points[j, a] - points[i, a]) * (
        points[k, c] - points[i, c]
    )
    nc = (points[j, a] - points[i, a]) * (points[k, b] - points[i, b]) - (points[j, b] - points[i, b]) * (
        points[k, a] - points[i, a]
    )
    if -nc * (ends[1, 0] - ends[0, 0]) + nb * (ends[1, 1] - ends[0, 1]) < 0.0:
        for d in range(2):
            ends[0, d], ends[1, d] = ends[1, d], ends[0, d]
    return True


@njit(cache=True, error_model="numpy", nogil=True)
def _within(  # type: ignore[no-untyped-def]
    u,
    v,
    du,
    dv,
    size,
):
    """Give between which shares of its way a line lies in the square from 0 to size."""
    begin, finish = 0.0, 1.0
    for start, run in ((u, du), (v, dv)):
        if run == 0.0:
            if start < 0.0 or start > size:
                return 1.0, 0.0
            continue
        one = -start / run
        two = (size - start) / run
        begin = max(begin, min(one, two))
        finish = min(finish, max(one, two))
    return begin, finish
