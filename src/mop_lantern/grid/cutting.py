"""Exact cutting of cubes by a closed surface of triangles.

Nothing is traced: lengths of edges, areas of faces and volumes that lie in the fluid are sums of what every
triangle adds to them (Green's and Gauss's theorems), so that they fit each other to rounding whatever the
surface does within a cube. Where walls part a cube into several bodies of fluid, each keeps its own sums.
Triangles face out of the fluid. Cubes must lie in general position: no face in a triangle.

A cube has 27 places (corners, middles of edges and faces; 9 i + 3 j + k), and lines through them: along
``a``, at steps (b, c) of the two directions that follow in turn. A line has two halves; ``code`` numbers
them.

Arguments, the same everywhere (n cubes, m triangles, r records of lines, s pieces of wall, f faces):

points, triangles : (k, 3) m, (m, 3) numbers of corners
origin, h : (3,) m, m; first corner of the lattice and the size of its smallest cubes
low, edge : (n, 3), (n,) int; first corner and size of every cube, in smallest cubes
first, met : (n + 1,), (s,) CSR of the triangles every cube meets; each makes a piece of wall
room : (n + 1,) where the records of every cube begin
code, place, enters, piece : (r,) half line, where it goes through a triangle, m, whether into the fluid (1)
    or out of it (-1), and through which piece of its cube; sorted by the first two
marking : whether to count only
rel, held : (n, 27), (n,) int8; how often more than the first corner the fluid holds a place, and the first
    corner
own, nei : (f,) the two cubes of a face
axes, sides : (f,) the way across it, and on which side of own it lies, 0 or 1
across : (m, 3) the triangle beyond each edge, -1 for none
sums : (s, 12) what `walls` gives
count, of_piece, of_node : (n,), (s,), (n, 27) bodies of every cube, and which one pieces and places belong to
row : (f + 1,) where the pairs of bodies of a face begin
"""

from __future__ import annotations

import numpy as np
from numba import njit

CODES = 54


@njit(cache=True, error_model="numpy")
def _side(  # type: ignore[no-untyped-def]
    points,
    first,
    second,
    b,
    c,
    pb,
    pc,
):
    """On which side of the projected line first -> second a place lies; the same bits for both triangles that
    share the line.
    """
    low, high, sign = (first, second, 1.0) if first < second else (second, first, -1.0)
    value = (points[high, b] - points[low, b]) * (pc - points[low, c]) - (
        points[high, c] - points[low, c]
    ) * (pb - points[low, b])
    return sign if value >= 0.0 else -sign


@njit(cache=True, error_model="numpy")
def _crossing(  # type: ignore[no-untyped-def]
    points,
    triangle,
    a,
    pb,
    pc,
):
    """Where a line along ``a`` goes through a triangle, and +1 where it enters the fluid, -1 where it leaves,
    0 where it misses.
    """
    b = (a + 1) % 3
    c = (a + 2) % 3
    i, j, k = triangle
    area = (points[j, b] - points[i, b]) * (points[k, c] - points[i, c]) - (points[j, c] - points[i, c]) * (
        points[k, b] - points[i, b]
    )
    if area == 0.0:
        return 0.0, 0
    turn = 1.0 if area > 0 else -1.0
    if (
        _side(
            points,
            i,
            j,
            b,
            c,
            pb,
            pc,
        )
        != turn
        or _side(
            points,
            j,
            k,
            b,
            c,
            pb,
            pc,
        )
        != turn
        or _side(
            points,
            k,
            i,
            b,
            c,
            pb,
            pc,
        )
        != turn
    ):
        return 0.0, 0
    wi = (points[j, b] - pb) * (points[k, c] - pc) - (points[j, c] - pc) * (points[k, b] - pb)
    wj = (points[k, b] - pb) * (points[i, c] - pc) - (points[k, c] - pc) * (points[i, b] - pb)
    return (
        wi * points[i, a] + wj * points[j, a] + (area - wi - wj) * points[k, a]
    ) / area, -1 if area > 0 else 1


@njit(cache=True, error_model="numpy")
def node_of(  # type: ignore[no-untyped-def]
    a,
    along,
    b_step,
    c_step,
):
    """Number the place at a step ``along`` direction ``a`` of the line at ``b_step``, ``c_step`` (0 to 2)."""
    if a == 0:
        return 9 * along + 3 * b_step + c_step
    if a == 1:
        return 9 * c_step + 3 * along + b_step
    return 9 * b_step + 3 * c_step + along


@njit(cache=True, error_model="numpy")
def cross_lines(  # type: ignore[no-untyped-def]
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
    marking,
):
    """Find where the lines of every cube go through its triangles: how many of each cube, and unless marking
    their records, sorted.
    """
    count = np.zeros(len(low), np.int64)
    for n in range(len(low)):
        if first[n + 1] == first[n]:
            continue
        half = 0.5 * h
        for k in range(first[n], first[n + 1]):
            triangle = triangles[met[k]]
            for a in range(3):
                b = (a + 1) % 3
                c = (a + 2) % 3
                start = origin[a] + half * (2 * low[n, a])
                middle = origin[a] + half * (2 * low[n, a] + edge[n])
                end = origin[a] + half * (2 * low[n, a] + 2 * edge[n])
                b0 = min(points[triangle[0], b], points[triangle[1], b], points[triangle[2], b])
                b1 = max(points[triangle[0], b], points[triangle[1], b], points[triangle[2], b])
                c0 = min(points[triangle[0], c], points[triangle[1], c], points[triangle[2], c])
                c1 = max(points[triangle[0], c], points[triangle[1], c], points[triangle[2], c])
                for lb in range(3):
                    pb = origin[b] + half * (2 * low[n, b] + lb * edge[n])
                    if pb < b0 - h or pb > b1 + h:
                        continue
                    for lc in range(3):
                        pc = origin[c] + half * (2 * low[n, c] + lc * edge[n])
                        if (lb == 1 and lc == 1) or pc < c0 - h or pc > c1 + h:
                            continue
                        at, sign = _crossing(
                            points,
                            triangle,
                            a,
                            pb,
                            pc,
                        )
                        if sign == 0 or at < start or at >= end:
                            continue
                        if not marking:
                            own = ((a * 3 + lb) * 3 + lc) * 2 + (1 if at >= middle else 0)
                            spot = room[n] + count[n]
                            while spot > room[n] and (
                                code[spot - 1] > own or (code[spot - 1] == own and place[spot - 1] > at)
                            ):
                                code[spot], place[spot], enters[spot], piece[spot] = (
                                    code[spot - 1],
                                    place[spot - 1],
                                    enters[spot - 1],
                                    piece[spot - 1],
                                )
                                spot -= 1
                            code[spot], place[spot], enters[spot], piece[spot] = own, at, sign, k - first[n]
                        count[n] += 1
    return count


@njit(cache=True, error_model="numpy")
def _walk(  # type: ignore[no-untyped-def]
    step,
    rel,
    a,
    lb,
    lc,
):
    """Carry how often the fluid holds a place along one line of a cube."""
    line = ((a * 3 + lb) * 3 + lc) * 2
    rel[node_of(a, 1, lb, lc)] = rel[node_of(a, 0, lb, lc)] + step[line]
    rel[node_of(a, 2, lb, lc)] = rel[node_of(a, 1, lb, lc)] + step[line + 1]


@njit(cache=True, error_model="numpy")
def hold_nodes(room, code, enters):  # type: ignore[no-untyped-def]
    """Give how often more than its first corner the fluid holds every place of the cubes, (n, 27)."""
    rel = np.zeros((len(room) - 1, 27), np.int8)
    step = np.zeros(CODES, np.int8)
    for n in range(len(room) - 1):
        if room[n + 1] == room[n]:
            continue
        step[:] = 0
        for k in range(room[n], room[n + 1]):
            step[code[k]] += enters[k]
        _walk(
            step,
            rel[n],
            2,
            0,
            0,
        )
        for z in range(3):
            _walk(
                step,
                rel[n],
                1,
                z,
                0,
            )
        for y in range(3):
            for z in range(3):
                if y != 1 or z != 1:
                    _walk(
                        step,
                        rel[n],
                        0,
                        y,
                        z,
                    )
        _walk(
            step,
            rel[n],
            1,
            1,
            2,
        )
    return rel


@njit(cache=True, error_model="numpy", nogil=True)
def _same_node(low, edge, n, m, axis, side):  # type: ignore[no-untyped-def]
    """Give the places (0 to 26) of cube n and of its neighbour m, as large or larger, that are one: the first
    corner of the face between them.
    """
    its = 0
    for d in range(3):
        corner = low[n, d] + (side * edge[n] if d == axis else 0)
        its = 3 * its + 2 * (corner - low[m, d]) // edge[m]
    mine = 18 // 3**axis * side  # of 9, 3, 1 by axis, the second step
    return mine, its


@njit(cache=True, error_model="numpy", nogil=True)
def linked(low, edge, own, nei, axes, sides):  # type: ignore[no-untyped-def]
    """Give the cubes beside each cube as CSR lists: where they begin, (n + 1,), the cube beside, and the
    places (0 to 26) of this and of that cube that are one, (2 f,).
    """
    count = len(edge)
    start = np.zeros(count + 1, np.int64)
    for f in range(len(own)):
        start[own[f] + 1] += 1
        start[nei[f] + 1] += 1
    for n in range(count):
        start[n + 1] += start[n]
    at = start[:-1].copy()
    other = np.empty(2 * len(own), np.int64)
    here = np.empty(2 * len(own), np.int8)
    there = np.empty(2 * len(own), np.int8)
    for f in range(len(own)):
        mine, its = _same_node(low, edge, own[f], nei[f], axes[f], sides[f])
        k = at[own[f]]
        at[own[f]] += 1
        other[k], here[k], there[k] = nei[f], mine, its
    for f in range(len(own)):
        mine, its = _same_node(low, edge, own[f], nei[f], axes[f], sides[f])
        k = at[nei[f]]
        at[nei[f]] += 1
        other[k], here[k], there[k] = own[f], its, mine
    return start, other, here, there


@njit(cache=True, error_model="numpy")
def flood(  # type: ignore[no-untyped-def]
    begin,
    start,
    other,
    mine,
    its,
    rel,
):
    """Carry over all cubes how often the fluid holds their first corners, from a cube ``begin`` that is held
    0 times there.

    Parameters
    ----------
    start, other : CSR of neighbours. mine, its : number of a place they share, in each of the two.
    """
    count = len(start) - 1
    held = np.zeros(count, np.int8)
    seen = np.zeros(count, np.bool_)
    queue = np.empty(count, np.int64)
    queue[0], seen[begin] = begin, True
    done, filled = 0, 1
    while done < filled:
        n = queue[done]
        done += 1
        for k in range(start[n], start[n + 1]):
            m = other[k]
            if not seen[m]:
                seen[m] = True
                held[m] = held[n] + rel[n, mine[k]] - rel[m, its[k]]
                queue[filled] = m
                filled += 1
    return held, seen


@njit(cache=True, error_model="numpy")
def _clip(  # type: ignore[no-untyped-def]
    polygon,
    count,
    axis,
    level,
    keep_above,
    out,
):
    """Keep what of a polygon lies on one side of a plane; give its number of corners."""
    kept = 0
    for k in range(count):
        here = polygon[k]
        ahead = polygon[(k + 1) % count]
        inside = here[axis] >= level if keep_above else here[axis] < level
        goes_on = ahead[axis] >= level if keep_above else ahead[axis] < level
        if inside:
            out[kept] = here
            kept += 1
        if inside != goes_on:
            share = (level - here[axis]) / (ahead[axis] - here[axis])
            out[kept] = here + share * (ahead - here)
            out[kept, axis] = level
            kept += 1
    return kept


@njit(cache=True, error_model="numpy")
def walls(  # type: ignore[no-untyped-def]
    points,
    triangles,
    origin,
    h,
    low,
    edge,
    first,
    met,
):
    """Cut every triangle by the cubes it meets; give of each piece: area vector (3), area times centre (3),
    integrals of x dA_x, x^2/2 dA_x, y^2/2 dA_y, z^2/2 dA_z from the cube's own corner, area."""
    sums = np.zeros((len(met), 11))
    one = np.zeros((16, 3))
    two = np.zeros((16, 3))
    for n in range(len(low)):
        for k in range(first[n], first[n + 1]):
            count = 3
            for d in range(3):
                one[d] = points[triangles[met[k], d]]
            normal = np.cross(one[1] - one[0], one[2] - one[0])
            size = np.sqrt((normal * normal).sum())
            if size == 0.0:
                continue
            normal = normal / size
            for d in range(3):
                count = _clip(
                    one,
                    count,
                    d,
                    origin[d] + 0.5 * h * (2 * low[n, d]),
                    True,
                    two,
                )
                count = _clip(
                    two,
                    count,
                    d,
                    origin[d] + 0.5 * h * (2 * low[n, d] + 2 * edge[n]),
                    False,
                    one,
                )
            if count > 2:
                _piece(
                    one,
                    count,
                    normal,
                    origin,
                    h,
                    low[n],
                    sums[k],
                )
    return sums


@njit(cache=True, error_model="numpy")
def _piece(  # type: ignore[no-untyped-def]
    box,
    count,
    normal,
    origin,
    h,
    low,
    out,
):
    """Sum up one piece of a wall as a fan of triangles."""
    corner = origin + h * low
    first = box[0] - corner
    for k in range(1, count - 1):
        second = box[k] - corner
        third = box[k + 1] - corner
        across = np.cross(second - first, third - first)
        area = 0.5 * (across * normal).sum()
        centre = (first + second + third) / 3
        for d in range(3):
            along = area * normal[d]
            out[d] += along
            out[3 + d] += area * (centre[d] + corner[d])
            squares = (
                first[d] ** 2
                + second[d] ** 2
                + third[d] ** 2
                + first[d] * second[d]
                + second[d] * third[d]
                + third[d] * first[d]
            )
            out[7 + d] += along * squares / 12
        out[6] += area * normal[0] * centre[0]
        out[10] += area
