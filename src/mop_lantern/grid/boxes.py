"""Which triangles meet which cubes: kernels.

points, triangles : (k, 3) m, (m, 3) numbers of corners
origin : (3,) m, first corner of the lattice
counts : (3,) int, cubes along each direction
cell, met : (pairs,) int, cube and triangle of every pair
low : (n, 3) m, first corners of cubes; size : m
parent : (n,) int, the larger cube each came from
first : (parents + 1,) CSR of the triangles of the larger cubes
room : (n + 1,) where the pairs of every cube begin
marking : whether to count only
"""

from __future__ import annotations

import numpy as np
from numba import njit

RUB = 1e-9  # of a cube: what touches counts as met, so that both cubes beside a face know of it
FLAT = 1e-10  # of the square of its width: the area of a triangle that has no plane to speak of


@njit(cache=True, error_model="numpy")
def _parted(  # type: ignore[no-untyped-def]  # noqa: PLR0913 - nine coordinates
    px,
    py,
    pz,
    qx,
    qy,
    qz,
    rx,
    ry,
    rz,
    half,
):
    """Tell whether a direction square to the edge p q of a triangle p q r and to an axis parts it from a cube
    about the origin.
    """
    ex = qx - px
    ey = qy - py
    ez = qz - pz
    one = ey * pz - ez * py
    other = ey * rz - ez * ry
    reach = half * (abs(ey) + abs(ez))
    if min(one, other) > reach or max(one, other) < -reach:
        return True
    one = ez * px - ex * pz
    other = ez * rx - ex * rz
    reach = half * (abs(ez) + abs(ex))
    if min(one, other) > reach or max(one, other) < -reach:
        return True
    one = ex * py - ey * px
    other = ex * ry - ey * rx
    reach = half * (abs(ex) + abs(ey))
    return min(one, other) > reach or max(one, other) < -reach


@njit(cache=True, error_model="numpy")
def meets(  # type: ignore[no-untyped-def]
    points,
    triangles,
    t,
    x,
    y,
    z,
    size,
):
    """Tell whether triangle ``t`` meets a cube of a ``size`` (m) with its first corner at x, y, z (m):
    separating axes of box, triangle and their edges.
    """
    half = 0.5 * size * (1.0 + RUB)
    cx = x + 0.5 * size
    cy = y + 0.5 * size
    cz = z + 0.5 * size
    i, j, k = triangles[t]
    ax = points[i, 0] - cx
    ay = points[i, 1] - cy
    az = points[i, 2] - cz
    bx = points[j, 0] - cx
    by = points[j, 1] - cy
    bz = points[j, 2] - cz
    dx = points[k, 0] - cx
    dy = points[k, 1] - cy
    dz = points[k, 2] - cz
    if (
        min(ax, bx, dx) > half
        or max(ax, bx, dx) < -half
        or min(ay, by, dy) > half
        or max(ay, by, dy) < -half
        or min(az, bz, dz) > half
        or max(az, bz, dz) < -half
    ):
        return False
    if (
        max(ax, bx, dx) < half
        and min(ax, bx, dx) > -half
        and max(ay, by, dy) < half
        and min(ay, by, dy) > -half
        and max(az, bz, dz) < half
        and min(az, bz, dz) > -half
    ):
        return True
    nx = (by - ay) * (dz - az) - (bz - az) * (dy - ay)
    ny = (bz - az) * (dx - ax) - (bx - ax) * (dz - az)
    nz = (bx - ax) * (dy - ay) - (by - ay) * (dx - ax)
    if abs(nx * ax + ny * ay + nz * az) > half * (abs(nx) + abs(ny) + abs(nz)) * (1.0 + RUB):
        return False
    return not (
        _parted(ax, ay, az, bx, by, bz, dx, dy, dz, half)
        or _parted(bx, by, bz, dx, dy, dz, ax, ay, az, half)
        or _parted(dx, dy, dz, ax, ay, az, bx, by, bz, half)
    )


@njit(cache=True, error_model="numpy")
def _plane(points, triangles, t):  # type: ignore[no-untyped-def]
    """Give the direction the plane of triangle ``t`` stands most square to, how much it falls along the other
    two (by direction), and a place in it, m; the place is not a number where the triangle has no plane.
    """
    i, j, k = triangles[t]
    middle = np.empty(3)
    normal = np.empty(3)
    for d in range(3):
        e = (d + 1) % 3
        f = (d + 2) % 3
        normal[d] = (points[j, e] - points[i, e]) * (points[k, f] - points[i, f]) - (
            points[j, f] - points[i, f]
        ) * (points[k, e] - points[i, e])
        middle[d] = (points[i, d] + points[j, d] + points[k, d]) / 3
    steep = int(np.argmax(np.abs(normal)))
    wide = 0.0
    for d in range(3):
        e = abs(points[j, d] - points[i, d]) + abs(points[k, d] - points[i, d])
        wide = max(wide, e)
    if not abs(normal[steep]) > FLAT * wide**2:  # rounding: it may stand any way
        middle[:] = np.nan
        return steep, np.zeros(3), middle
    return steep, normal / normal[steep], middle


@njit(cache=True, error_model="numpy")
def lay_out(  # type: ignore[no-untyped-def]
    points,
    triangles,
    origin,
    size,
    counts,
    cell,
    met,
    marking,
):
    """Find all cubes of the base lattice that triangles meet; give how many pairs there are, and unless
    marking write them, triangles ascending.
    """
    found = 0
    low = np.zeros(3, np.int64)
    high = np.zeros(3, np.int64)
    spot = np.zeros(3, np.int64)
    for t in range(len(triangles)):
        for d in range(3):
            a = points[triangles[t, 0], d]
            b = points[triangles[t, 1], d]
            c = points[triangles[t, 2], d]
            low[d] = max(0, int(np.floor((min(a, b, c) - origin[d]) / size - RUB)))
            high[d] = min(counts[d] - 1, int(np.floor((max(a, b, c) - origin[d]) / size + RUB)))
        steep, slope, middle = _plane(points, triangles, t)
        across = (steep + 1) % 3
        along = (steep + 2) % 3
        slack = 0.5 * (abs(slope[across]) + abs(slope[along])) + 1.0  # of a cube, to either side
        for i in range(low[across], high[across] + 1):
            for j in range(low[along], high[along] + 1):
                # only cubes near the plane of the triangle: a long one askew to the lattice has few of those
                first, last = low[steep], high[steep]
                if middle[steep] == middle[steep]:
                    at = (
                        middle[steep]
                        - slope[across] * (origin[across] + (i + 0.5) * size - middle[across])
                        - slope[along] * (origin[along] + (j + 0.5) * size - middle[along])
                        - origin[steep]
                    ) / size
                    first = max(first, int(np.floor(at - slack)))
                    last = min(last, int(np.floor(at + slack)))
                for k in range(first, last + 1):
                    spot[across], spot[along], spot[steep] = i, j, k
                    if not meets(
                        points,
                        triangles,
                        t,
                        origin[0] + spot[0] * size,
                        origin[1] + spot[1] * size,
                        origin[2] + spot[2] * size,
                        size,
                    ):
                        continue
                    if not marking:
                        cell[found], met[found] = (spot[0] * counts[1] + spot[1]) * counts[2] + spot[2], t
                    found += 1
    return found


@njit(cache=True, error_model="numpy")
def hand_down(  # type: ignore[no-untyped-def]
    points,
    triangles,
    low,
    size,
    parent,
    first,
    met,
    room,
):
    """Give how many of its parent's triangles every smaller cube meets, and which, from ``room`` of each
    on.
    """
    taken = np.zeros(len(low), np.int64)
    held = np.empty(room[-1], np.int64)
    for n in range(len(low)):
        for k in range(first[parent[n]], first[parent[n] + 1]):
            if meets(
                points,
                triangles,
                met[k],
                low[n, 0],
                low[n, 1],
                low[n, 2],
                size,
            ):
                held[room[n] + taken[n]] = met[k]
                taken[n] += 1
    return taken, held


@njit(cache=True, error_model="numpy", nogil=True)
def _spread(part):  # type: ignore[no-untyped-def]
    """Put two empty bits after every bit of a number of 21 bits."""
    part = (part | (part << 32)) & 0x1F00000000FFFF
    part = (part | (part << 16)) & 0x1F0000FF0000FF
    part = (part | (part << 8)) & 0x100F00F00F00F00F
    part = (part | (part << 4)) & 0x10C30C30C30C30C3
    return (part | (part << 2)) & 0x1249249249249249


@njit(cache=True, error_model="numpy", nogil=True)
def _last_before(key, code, near):  # type: ignore[no-untyped-def]
    """Give the last of ascending keys that is no larger than a code, looking from one that is near; -1 for
    none.
    """
    step = 1
    if key[near] <= code:
        first = near
        last = near + 1
        while last < len(key) and key[last] <= code:
            first = last
            step *= 2
            last += step
        last = min(last, len(key))
    else:
        last = near
        first = near - 1
        while first >= 0 and key[first] > code:
            last = first
            step *= 2
            first -= step
        first = max(first, -1)
    while last - first > 1:
        middle = (first + last) // 2
        if key[middle] <= code:
            first = middle
        else:
            last = middle
    return first


@njit(cache=True, error_model="numpy", nogil=True)
def beside(low, edge, key, axis, far, most):  # type: ignore[no-untyped-def]
    """Give the cube beside every cube across its near or far side, (n,); -1 outside the lattice.

    low, edge, key : (n, 3), (n,), (n,) cubes along a Morton curve, in deepest cubes. axis, far : which side.
    most : what places are less than. A neighbour is near along the curve as a rule, so the search widens from
    the cube itself.
    """
    found = np.full(len(key), -1, np.int64)
    place = np.empty(3, np.int64)
    for n in range(len(key)):
        for d in range(3):
            place[d] = low[n, d]
        place[axis] += edge[n] if far else -1
        if place[axis] < 0 or place[axis] >= most:
            continue
        code = _spread(place[0]) | (_spread(place[1]) << 1) | (_spread(place[2]) << 2)
        m = _last_before(key, code, n)
        if m < 0:
            continue
        held = True
        for d in range(3):
            held = held and low[m, d] <= place[d] < low[m, d] + edge[m]
        if held:
            found[n] = m
    return found
