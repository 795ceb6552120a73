"""Compiled loops of the wrap: distances from the nodes of a lattice to triangles.

Arguments, the same everywhere (m triangles, a lattice of i x j x k nodes):

corners : (m, 3, 3) m. first, step : (3,) m, m; the first node, and how far nodes lie apart
reach : m, distances that are larger are not wanted
far, near : (i, j, k) float32 m, int32; the least distance so far, and the triangle it is to
"""

from __future__ import annotations

import numpy as np
from numba import njit


@njit(cache=True, error_model="numpy", nogil=True)
def chopped(corners, longest):  # type: ignore[no-untyped-def]
    """Halve triangles along their longest side until it is no longer than ``longest`` (m); give pieces and
    the triangle each is of.
    """
    count = len(corners)
    room = 4 * count + 64
    made = np.empty((room, 3, 3))
    of = np.empty(room, np.int32)
    stack = np.empty((256, 3, 3))
    total = 0
    for t in range(count):
        stack[0] = corners[t]
        held = 1
        while held > 0:
            held -= 1
            piece = stack[held].copy()
            worst = 0.0
            side = 0
            for k in range(3):
                length = 0.0
                for d in range(3):
                    length += (piece[(k + 1) % 3, d] - piece[k, d]) ** 2
                if length > worst:
                    worst = length
                    side = k
            if worst <= longest * longest or held > 250:
                if total == room:
                    room *= 2
                    more = np.empty((room, 3, 3))
                    more[:total] = made[:total]
                    made = more
                    further = np.empty(room, np.int32)
                    further[:total] = of[:total]
                    of = further
                made[total] = piece
                of[total] = t
                total += 1
                continue
            middle = 0.5 * (piece[side] + piece[(side + 1) % 3])
            stack[held] = piece
            stack[held, (side + 1) % 3] = middle
            stack[held + 1] = piece
            stack[held + 1, side] = middle
            held += 2
    return made[:total], of[:total]


@njit(cache=True, error_model="numpy", nogil=True)
def spread(corners, of, first, step, reach, far, near):  # type: ignore[no-untyped-def]
    """Lower the distances of all nodes within reach of triangles."""
    low = np.empty(3, np.int64)
    high = np.empty(3, np.int64)
    place = np.empty(3)
    for t in range(len(corners)):
        a, b, c = corners[t, 0], corners[t, 1], corners[t, 2]
        for d in range(3):
            least = min(a[d], b[d], c[d]) - reach
            most = max(a[d], b[d], c[d]) + reach
            low[d] = max(int(np.ceil((least - first[d]) / step)), 0)
            high[d] = min(int(np.floor((most - first[d]) / step)), far.shape[d] - 1)
        nx = (b[1] - a[1]) * (c[2] - a[2]) - (b[2] - a[2]) * (c[1] - a[1])
        ny = (b[2] - a[2]) * (c[0] - a[0]) - (b[0] - a[0]) * (c[2] - a[2])
        nz = (b[0] - a[0]) * (c[1] - a[1]) - (b[1] - a[1]) * (c[0] - a[0])
        size = np.sqrt(nx * nx + ny * ny + nz * nz)
        for i in range(low[0], high[0] + 1):
            place[0] = first[0] + step * i
            for j in range(low[1], high[1] + 1):
                place[1] = first[1] + step * j
                k0 = low[2]
                k1 = high[2]
                if abs(nz) > 0.3 * size:  # only what lies within reach of the plane
                    level = a[2] - (nx * (place[0] - a[0]) + ny * (place[1] - a[1])) / nz
                    half = reach * size / abs(nz)
                    k0 = max(k0, int(np.ceil((level - half - first[2]) / step)))
                    k1 = min(k1, int(np.floor((level + half - first[2]) / step)))
                for k in range(k0, k1 + 1):
                    place[2] = first[2] + step * k
                    now = far[i, j, k]
                    off = nx * (place[0] - a[0]) + ny * (place[1] - a[1]) + nz * (place[2] - a[2])
                    if off * off > now * now * size * size:
                        continue
                    found = np.sqrt(to_triangle(place, a, b, c))
                    if found < now and found <= reach:
                        far[i, j, k] = found
                        near[i, j, k] = of[t]


@njit(cache=True, error_model="numpy", nogil=True)
def to_triangle(p, a, b, c):  # type: ignore[no-untyped-def]
    """Give the square of the distance from a place p to a triangle a b c, (3,) m each, m2.

    Ericson, "Real-Time Collision Detection", Morgan Kaufmann 2005, section 5.1.5: the nearest place by the
    region of the triangle's plane it lies in.
    """
    abx, aby, abz = b[0] - a[0], b[1] - a[1], b[2] - a[2]
    acx, acy, acz = c[0] - a[0], c[1] - a[1], c[2] - a[2]
    apx, apy, apz = p[0] - a[0], p[1] - a[1], p[2] - a[2]
    d1 = abx * apx + aby * apy + abz * apz
    d2 = acx * apx + acy * apy + acz * apz
    if d1 <= 0.0 and d2 <= 0.0:
        return apx * apx + apy * apy + apz * apz
    bpx, bpy, bpz = p[0] - b[0], p[1] - b[1], p[2] - b[2]
    d3 = abx * bpx + aby * bpy + abz * bpz
    d4 = acx * bpx + acy * bpy + acz * bpz
    if d3 >= 0.0 and d4 <= d3:
        return bpx * bpx + bpy * bpy + bpz * bpz
    vc = d1 * d4 - d3 * d2
    if vc <= 0.0 and d1 >= 0.0 and d3 <= 0.0:
        v = d1 / (d1 - d3)
        return (apx - v * abx) ** 2 + (apy - v * aby) ** 2 + (apz - v * abz) ** 2
    cpx, cpy, cpz = p[0] - c[0], p[1] - c[1], p[2] - c[2]
    d5 = abx * cpx + aby * cpy + abz * cpz
    d6 = acx * cpx + acy * cpy + acz * cpz
    if d6 >= 0.0 and d5 <= d6:
        return cpx * cpx + cpy * cpy + cpz * cpz
    vb = d5 * d2 - d1 * d6
    if vb <= 0.0 and d2 >= 0.0 and d6 <= 0.0:
        w = d2 / (d2 - d6)
        return (apx - w * acx) ** 2 + (apy - w * acy) ** 2 + (apz - w * acz) ** 2
    va = d3 * d6 - d5 * d4
    if va <= 0.0 and d4 - d3 >= 0.0 and d5 - d6 >= 0.0:
        w = (d4 - d3) / ((d4 - d3) + (d5 - d6))
        return (
            (bpx - w * (c[0] - b[0])) ** 2 + (bpy - w * (c[1] - b[1])) ** 2 + (bpz - w * (c[2] - b[2])) ** 2
        )
    scale = 1.0 / (va + vb + vc)
    v = vb * scale
    w = vc * scale
    return (apx - v * abx - w * acx) ** 2 + (apy - v * aby - w * acy) ** 2 + (apz - v * abz - w * acz) ** 2


@njit(cache=True, error_model="numpy", nogil=True)
def nearest_ones(places, corners, first, step, near):  # type: ignore[no-untyped-def]
    """Give for places (n, 3) m the nearest of the triangles that the eight nodes around them are nearest to,
    (n,), and how far it is, m; -1 for none.
    """
    found = np.full(len(places), -1, np.int64)
    off = np.full(len(places), np.inf)
    for n in range(len(places)):
        p = places[n]
        i = int(np.floor((p[0] - first[0]) / step))
        j = int(np.floor((p[1] - first[1]) / step))
        k = int(np.floor((p[2] - first[2]) / step))
        for di in range(2):
            for dj in range(2):
                for dk in range(2):
                    x = min(max(i + di, 0), near.shape[0] - 1)
                    y = min(max(j + dj, 0), near.shape[1] - 1)
                    z = min(max(k + dk, 0), near.shape[2] - 1)
                    t = near[x, y, z]
                    if t < 0:
                        continue
                    far = np.sqrt(to_triangle(p, corners[t, 0], corners[t, 1], corners[t, 2]))
                    if far < off[n]:
                        off[n] = far
                        found[n] = t
    return found, off
