"""Exact cutting of cubes by a closed surface of triangles.

Nothing is traced: lengths of edges, areas of faces and volumes that lie in the fluid are sums of what every
triangle adds to them (Green's and Gauss's theorems), so that they fit each other to rounding whatever the
surface does within a cube. Where walls part a cube into several bodies of fluid, each keeps its own sums.
Triangles face out of the fluid. Cubes must lie in general position: no face in a triangle.

A cube has 27 places (corners, middles of edges and faces; 9 i + 3 j + k), and lines through them: along
``a``, at steps (b, c) of the two directions that follow in turn. A line has two halves; ``code`` numbers
them.
"""

from __future__ import annotations

import numpy as np
from numba import njit

CODES = 54
LEAST = 1e-14  # of a cube's face: pieces of wall smaller than this are rounding


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
    """Number the place at a step along direction ``a`` of the line at two other steps."""
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


@njit(cache=True, error_model="numpy")
def flood(  # type: ignore[no-untyped-def]
    begin,
    start,
    other,
    mine,
    its,
    rel,
):
    """Carry over all cubes how often the fluid holds their first corners, from a cube that is held ``0``
    times there.

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
        for line in range(27):
            a = line // 9
            lb = line // 3 % 3
            lc = line % 3
            if lb == 1 and lc == 1:
                continue
            for part in range(2):
                start = node_of(a, part, lb, lc)
                end = node_of(a, part + 1, lb, lc)
                state = held[n] + rel[n, start]
                current = start
                for k in range(room[n], room[n + 1]):
                    if code[k] == 2 * line + part:
                        if state > 0:
                            parent[_root(parent, current)] = _root(parent, 27 + piece[k])
                        current = 27 + piece[k]
                        state += enters[k]
                if state > 0:
                    parent[_root(parent, current)] = _root(parent, end)
        corner = origin + h * low[n]
        for k in range(pieces):
            t = met[first[n] + k]
            for e in range(3):
                beyond = across[t, e]
                if beyond <= t:
                    continue
                found = np.searchsorted(met[first[n] : first[n + 1]], beyond)
                if (
                    found < pieces
                    and met[first[n] + found] == beyond
                    and _through(
                        points[triangles[t, e]], points[triangles[t, (e + 1) % 3]], corner, h * edge[n]
                    )
                ):
                    parent[_root(parent, 27 + k)] = _root(parent, 27 + found)
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


@njit(cache=True, error_model="numpy")
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


@njit(cache=True, error_model="numpy")
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
        b = (a + 1) % 3
        c = (a + 2) % 3
        size = h * edge[n]
        width = count[m]
        pb = origin[b] + h * low[n, b]
        pc = origin[c] + h * low[n, c]
        level = origin[a] + 0.5 * h * (2 * (low[n, a] + side * edge[n]))
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
                        other = _node_in(
                            m,
                            n,
                            current,
                            low,
                            edge,
                        )
                    to = (
                        row[f]
                        + _body(
                            n,
                            node,
                            t,
                            first,
                            met,
                            of_piece,
                            of_node,
                            count,
                        )
                        * width
                        + _body(
                            m,
                            other,
                            t,
                            first,
                            met,
                            of_piece,
                            of_node,
                            count,
                        )
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
        for k in range(first[n], first[n + 1]):
            crossing = _trace(
                points,
                triangles[met[k]],
                a,
                level,
                ends,
            )
            if not crossing:
                continue
            u0 = ends[0, 0] - pb
            v0 = ends[0, 1] - pc
            u1 = ends[1, 0] - pb
            v1 = ends[1, 1] - pc
            begin, finish = _within(
                u0,
                v0,
                u1 - u0,
                v1 - v0,
                size,
            )
            if finish <= begin:
                continue
            pu = u0 + begin * (u1 - u0)
            pv = v0 + begin * (v1 - v0)
            qu = u0 + finish * (u1 - u0)
            qv = v0 + finish * (v1 - v0)
            to = (
                row[f]
                + _body(
                    n,
                    -1,
                    met[k],
                    first,
                    met,
                    of_piece,
                    of_node,
                    count,
                )
                * width
                + _body(
                    m,
                    -1,
                    met[k],
                    first,
                    met,
                    of_piece,
                    of_node,
                    count,
                )
            )
            sums[to, 0] += (qv - pv) * (pu + qu) / 2
            sums[to, 1] += (qv - pv) * (pu * pu + pu * qu + qu * qu) / 6
            sums[to, 2] -= (qu - pu) * (pv * pv + pv * qv + qv * qv) / 6
    return sums


@njit(cache=True, error_model="numpy")
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


@njit(cache=True, error_model="numpy")
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


@njit(cache=True, error_model="numpy")
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
