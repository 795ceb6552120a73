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
    for t in range(len(triangles)):
        for d in range(3):
            a = points[triangles[t, 0], d]
            b = points[triangles[t, 1], d]
            c = points[triangles[t, 2], d]
            low[d] = max(0, int(np.floor((min(a, b, c) - origin[d]) / size - RUB)))
            high[d] = min(counts[d] - 1, int(np.floor((max(a, b, c) - origin[d]) / size + RUB)))
        for i in range(low[0], high[0] + 1):
            for j in range(low[1], high[1] + 1):
                for k in range(low[2], high[2] + 1):
                    if not meets(
                        points,
                        triangles,
                        t,
                        origin[0] + i * size,
                        origin[1] + j * size,
                        origin[2] + k * size,
                        size,
                    ):
                        continue
                    if not marking:
                        cell[found], met[found] = (i * counts[1] + j) * counts[2] + k, t
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
