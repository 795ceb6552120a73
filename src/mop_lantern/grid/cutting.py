"""Exact cutting of a cubic lattice by a closed surface of triangles.

Nothing is traced or clipped twice: lengths of lattice edges, areas of lattice faces, and volumes of cells that lie in the fluid are sums of
what every triangle adds to them (Green's and Gauss's theorems), so that they fit each other to rounding whatever the surface does within a
cell. Triangles face out of the fluid. The lattice must lie in general position: no lattice plane in a triangle.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numba import njit
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[Any]


@njit(cache=True, error_model="numpy")
def _side(points, first, second, b, c, pb, pc):  # type: ignore[no-untyped-def]
    """On which side of the projected line first -> second a place lies; the same bits for both triangles that share the line."""
    low, high, sign = (first, second, 1.0) if first < second else (second, first, -1.0)
    value = (points[high, b] - points[low, b]) * (pc - points[low, c]) - (points[high, c] - points[low, c]) * (pb - points[low, b])
    return sign if value >= 0.0 else -sign


@njit(cache=True, error_model="numpy")
def edge_lengths(points, triangles, a, origin, h, counts):  # type: ignore[no-untyped-def]
    """Give the fluid length of every lattice edge along direction ``a``, and how often the fluid holds every node.

    Returns
    -------
    length : m, (n_a, n_b + 1, n_c + 1) with the other directions in turn. inside : (n_a + 1, n_b + 1, n_c + 1) int8, 1 in the fluid.
    """
    b, c = (a + 1) % 3, (a + 2) % 3
    na, nb, nc = counts[a], counts[b] + 1, counts[c] + 1
    length = np.zeros((na, nb, nc))
    step = np.zeros((na + 1, nb, nc), np.int8)
    for t in range(len(triangles)):
        i, j, k = triangles[t]
        area = (points[j, b] - points[i, b]) * (points[k, c] - points[i, c]) - (points[j, c] - points[i, c]) * (points[k, b] - points[i, b])
        if area == 0.0:
            continue
        turn = 1.0 if area > 0 else -1.0
        b0, b1 = min(points[i, b], points[j, b], points[k, b]), max(points[i, b], points[j, b], points[k, b])
        c0, c1 = min(points[i, c], points[j, c], points[k, c]), max(points[i, c], points[j, c], points[k, c])
        for jb in range(max(0, int(np.ceil((b0 - origin[b]) / h)) - 1), min(nb, int(np.floor((b1 - origin[b]) / h)) + 2)):
            pb = origin[b] + jb * h
            for jc in range(max(0, int(np.ceil((c0 - origin[c]) / h)) - 1), min(nc, int(np.floor((c1 - origin[c]) / h)) + 2)):
                pc = origin[c] + jc * h
                if _side(points, i, j, b, c, pb, pc) != turn or _side(points, j, k, b, c, pb, pc) != turn or _side(points, k, i, b, c, pb, pc) != turn:
                    continue
                wi = (points[j, b] - pb) * (points[k, c] - pc) - (points[j, c] - pc) * (points[k, b] - pb)
                wj = (points[k, b] - pb) * (points[i, c] - pc) - (points[k, c] - pc) * (points[i, b] - pb)
                wk = area - wi - wj
                place = (wi * points[i, a] + wj * points[j, a] + wk * points[k, a]) / area - origin[a]
                cell = int(np.floor(place / h))
                enters = np.int8(-1) if area > 0 else np.int8(1)  # a triangle that faces along a is left through
                length[cell, jb, jc] += enters * ((cell + 1) * h - place)
                step[cell + 1, jb, jc] += enters
    for jb in range(nb):
        for jc in range(nc):
            held = np.int8(0)
            for cell in range(na):
                held += step[cell, jb, jc]
                step[cell, jb, jc] = held
                length[cell, jb, jc] += held * h
            step[na, jb, jc] += held
    return length, step


@njit(cache=True, error_model="numpy")
def mark_faces(points, triangles, a, origin, h, counts):  # type: ignore[no-untyped-def]
    """Number the lattice faces across ``a`` that the surface meets: (n_a + 1, n_b, n_c) int32, -1 for none; and how many there are."""
    b, c = (a + 1) % 3, (a + 2) % 3
    slot = np.full((counts[a] + 1, counts[b], counts[c]), -1, np.int32)
    sums = np.zeros((0, 3))
    return slot, _faces(points, triangles, a, origin, h, slot, sums, True)


@njit(cache=True, error_model="numpy")
def sum_faces(points, triangles, a, origin, h, slot, count):  # type: ignore[no-untyped-def]
    """Give what the surface adds to area and first moments of the faces numbered, (count, 3), from each face's own corner."""
    sums = np.zeros((count, 3))
    _faces(points, triangles, a, origin, h, slot, sums, False)
    return sums


@njit(cache=True, error_model="numpy")
def _faces(points, triangles, a, origin, h, slot, sums, marking):  # type: ignore[no-untyped-def]
    b, c = (a + 1) % 3, (a + 2) % 3
    na, nb, nc = slot.shape
    found = 0
    cuts = np.zeros(nb + nc + 8)
    ends = np.zeros((3, 2))
    for t in range(len(triangles)):
        corner = triangles[t]
        low = min(points[corner[0], a], points[corner[1], a], points[corner[2], a])
        high = max(points[corner[0], a], points[corner[1], a], points[corner[2], a])
        for plane in range(max(0, int(np.ceil((low - origin[a]) / h))), min(na, int(np.floor((high - origin[a]) / h)) + 1)):
            level = origin[a] + plane * h
            count = 0
            for edge in range(3):  # where the triangle's edges cross the plane, from the lower point to the higher
                p, q = corner[edge], corner[(edge + 1) % 3]
                below, above = points[p, a] < level, points[q, a] < level
                if below == above:
                    continue
                if p > q:
                    p, q = q, p
                share = (level - points[p, a]) / (points[q, a] - points[p, a])
                ends[count, 0] = points[p, b] + share * (points[q, b] - points[p, b])
                ends[count, 1] = points[p, c] + share * (points[q, c] - points[p, c])
                count += 1
            if count < 2:
                continue
            i, j, k = corner
            nb_ = (points[j, c] - points[i, c]) * (points[k, a] - points[i, a]) - (points[j, a] - points[i, a]) * (points[k, c] - points[i, c])
            nc_ = (points[j, a] - points[i, a]) * (points[k, b] - points[i, b]) - (points[j, b] - points[i, b]) * (points[k, a] - points[i, a])
            forward = -nc_ * (ends[1, 0] - ends[0, 0]) + nb_ * (ends[1, 1] - ends[0, 1]) >= 0.0
            first, last = (0, 1) if forward else (1, 0)
            u0, v0 = (ends[first, 0] - origin[b]) / h, (ends[first, 1] - origin[c]) / h
            u1, v1 = (ends[last, 0] - origin[b]) / h, (ends[last, 1] - origin[c]) / h
            cuts[0] = 0.0
            number = 1
            for line in range(int(np.floor(min(u0, u1))) + 1, int(np.floor(max(u0, u1))) + 1):
                cuts[number] = (line - u0) / (u1 - u0)
                number += 1
            for line in range(int(np.floor(min(v0, v1))) + 1, int(np.floor(max(v0, v1))) + 1):
                cuts[number] = (line - v0) / (v1 - v0)
                number += 1
            cuts[number] = 1.0
            part = np.sort(cuts[: number + 1])
            for piece in range(number):
                s, e = part[piece], part[piece + 1]
                if e <= s:
                    continue
                middle = 0.5 * (s + e)
                jb, jc = int(np.floor(u0 + middle * (u1 - u0))), int(np.floor(v0 + middle * (v1 - v0)))
                if jb < 0 or jc < 0 or jb >= nb or jc >= nc:
                    continue
                if marking:
                    if slot[plane, jb, jc] < 0:
                        slot[plane, jb, jc] = found
                        found += 1
                    continue
                own = slot[plane, jb, jc]
                pu, pv = (u0 + s * (u1 - u0) - jb) * h, (v0 + s * (v1 - v0) - jc) * h
                qu, qv = (u0 + e * (u1 - u0) - jb) * h, (v0 + e * (v1 - v0) - jc) * h
                sums[own, 0] += (qv - pv) * (pu + qu) / 2
                sums[own, 1] += (qv - pv) * (pu * pu + pu * qu + qu * qu) / 6
                sums[own, 2] -= (qu - pu) * (pv * pv + pv * qv + qv * qv) / 6
    return found


@njit(cache=True, error_model="numpy")
def _clip(polygon, count, axis, level, keep_above, out):  # type: ignore[no-untyped-def]
    """Keep what of a polygon lies on one side of a plane; give its number of corners."""
    kept = 0
    for k in range(count):
        here, ahead = polygon[k], polygon[(k + 1) % count]
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
def walls(points, triangles, origin, h, counts, cell, triangle, sums, marking):  # type: ignore[no-untyped-def]
    """Cut every triangle by the lattice; give the number of pieces, and unless marking write of each its cell, its triangle and ``sums``:
    area vector (3), area times centre (3), integrals of x dA_x, x^2/2 dA_x, y^2/2 dA_y, z^2/2 dA_z from the cell's own corner, area."""
    found = 0
    ny, nz = counts[1], counts[2]
    start, slab, bar, box, spare = np.zeros((16, 3)), np.zeros((16, 3)), np.zeros((16, 3)), np.zeros((16, 3)), np.zeros((16, 3))
    for t in range(len(triangles)):
        for k in range(3):
            start[k] = points[triangles[t, k]]
        normal = np.cross(start[1] - start[0], start[2] - start[0])
        size = np.sqrt((normal * normal).sum())
        if size == 0.0:
            continue
        normal = normal / size
        low, high = np.zeros(3, np.int64), np.zeros(3, np.int64)
        for d in range(3):
            low[d] = max(0, int(np.floor((min(start[0, d], start[1, d], start[2, d]) - origin[d]) / h)))
            high[d] = min(counts[d] - 1, int(np.floor((max(start[0, d], start[1, d], start[2, d]) - origin[d]) / h)))
        for ix in range(low[0], high[0] + 1):
            n = _clip(start, 3, 0, origin[0] + ix * h, True, spare) if ix > low[0] else 3
            if ix == low[0]:
                spare[:3] = start[:3]
            n = _clip(spare, n, 0, origin[0] + (ix + 1) * h, False, slab) if n > 2 else 0
            if n < 3:
                continue
            for iy in range(low[1], high[1] + 1):
                m = _clip(slab, n, 1, origin[1] + iy * h, True, spare)
                m = _clip(spare, m, 1, origin[1] + (iy + 1) * h, False, bar) if m > 2 else 0
                if m < 3:
                    continue
                for iz in range(low[2], high[2] + 1):
                    p = _clip(bar, m, 2, origin[2] + iz * h, True, spare)
                    p = _clip(spare, p, 2, origin[2] + (iz + 1) * h, False, box) if p > 2 else 0
                    if p < 3:
                        continue
                    if not marking:
                        _piece(box, p, normal, origin, h, ix, iy, iz, sums[found])
                        cell[found], triangle[found] = (ix * ny + iy) * nz + iz, t
                    found += 1
    return found


@njit(cache=True, error_model="numpy")
def _piece(box, count, normal, origin, h, ix, iy, iz, out):  # type: ignore[no-untyped-def]
    """Sum up one piece of a wall as a fan of triangles."""
    corner = np.array([origin[0] + ix * h, origin[1] + iy * h, origin[2] + iz * h])
    out[:] = 0.0
    first = box[0] - corner
    for k in range(1, count - 1):
        second, third = box[k] - corner, box[k + 1] - corner
        across = np.cross(second - first, third - first)
        area = 0.5 * (across * normal).sum()
        centre = (first + second + third) / 3
        for d in range(3):
            along = area * normal[d]
            out[d] += along
            out[3 + d] += area * (centre[d] + corner[d])
            squares = first[d] ** 2 + second[d] ** 2 + third[d] ** 2 + first[d] * second[d] + second[d] * third[d] + third[d] * first[d]
            out[7 + d] += along * squares / 12
        out[6] += area * normal[0] * centre[0]
        out[10] += area
