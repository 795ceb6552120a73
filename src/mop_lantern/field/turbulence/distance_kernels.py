"""Compiled loops for distances from walls.

places : (k, 3) m. near : (k, m) candidate faces of every place, numbers into the next. faces : (walls,) face
numbers of the mesh. points, face_points, face_offsets : as in `Mesh`. found, nearest : (k,) m and number of
the face, written.
"""

from __future__ import annotations

import numpy as np
from numba import njit


@njit(cache=True, error_model="numpy", nogil=True, inline="always")
def _to_segment(p0, p1, p2, a0, a1, a2, b0, b1, b2):  # type: ignore[no-untyped-def]  # noqa: PLR0913
    """Square of the distance from a place to a segment."""
    d0, d1, d2 = b0 - a0, b1 - a1, b2 - a2
    length = d0 * d0 + d1 * d1 + d2 * d2
    share = 0.0
    if length > 0.0:
        share = min(max(((p0 - a0) * d0 + (p1 - a1) * d1 + (p2 - a2) * d2) / length, 0.0), 1.0)
    e0, e1, e2 = p0 - a0 - share * d0, p1 - a1 - share * d1, p2 - a2 - share * d2
    return e0 * e0 + e1 * e1 + e2 * e2


@njit(cache=True, error_model="numpy", nogil=True)
def nearest_faces(  # type: ignore[no-untyped-def]
    places,
    near,
    faces,
    points,
    face_points,
    face_offsets,
    found,
    nearest,
):
    """Give the distance of every place to the nearest of its candidate faces: segments in a plane, polygons
    in space as fans of triangles.
    """
    for i in range(len(places)):
        best = np.inf
        p0, p1, p2 = places[i, 0], places[i, 1], places[i, 2]
        for k in range(near.shape[1]):
            if near[i, k] >= len(faces):
                break
            start = face_offsets[faces[near[i, k]]]
            end = face_offsets[faces[near[i, k]] + 1]
            square = np.inf
            if end - start == 2:
                a = points[face_points[start]]
                b = points[face_points[start + 1]]
                square = _to_segment(p0, p1, p2, a[0], a[1], a[2], b[0], b[1], b[2])
            else:
                a = points[face_points[start]]
                for m in range(start, end):
                    b = points[face_points[m]]
                    c = points[face_points[m + 1 if m + 1 < end else start]]
                    edge = _to_segment(p0, p1, p2, b[0], b[1], b[2], c[0], c[1], c[2])
                    square = min(square, edge)
                    if m == start or m + 1 == end:
                        continue
                    u0, u1, u2 = b[0] - a[0], b[1] - a[1], b[2] - a[2]
                    v0, v1, v2 = c[0] - a[0], c[1] - a[1], c[2] - a[2]
                    n0, n1, n2 = u1 * v2 - u2 * v1, u2 * v0 - u0 * v2, u0 * v1 - u1 * v0
                    size = n0 * n0 + n1 * n1 + n2 * n2
                    if size <= 0.0:
                        continue
                    w0, w1, w2 = p0 - a[0], p1 - a[1], p2 - a[2]
                    away = (w0 * n0 + w1 * n1 + w2 * n2) / size
                    s = (
                        (w1 * v2 - w2 * v1) * n0 + (w2 * v0 - w0 * v2) * n1 + (w0 * v1 - w1 * v0) * n2
                    ) / size
                    t = (
                        (u1 * w2 - u2 * w1) * n0 + (u2 * w0 - u0 * w2) * n1 + (u0 * w1 - u1 * w0) * n2
                    ) / size
                    if s >= 0.0 and t >= 0.0 and s + t <= 1.0:
                        square = min(square, away * away * size)
            if square < best:
                best = square
                nearest[i] = near[i, k]
        found[i] = np.sqrt(best)
