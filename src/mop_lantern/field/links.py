"""What the field core works out once for a mesh: distances, weights, matrix slots, gradient stencils."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
COSINE_FLOOR = 0.2
WALL_FLOOR = 0.05
LONGEST_SHIFT = 1.0  # of the normal distance: longer feet, in cells that wrap a corner, feed explicit terms until they burst


@dataclass(frozen=True)
class Links:
    """Geometry of faces and the slots of the matrix.

    Attributes
    ----------
    normal : (n_faces, 3) unit normals. size : (n_faces,) m2.
    over : (n_faces,) face area over the normal distance between the cells (or cell and face), m.
    share : (n_internal,) weight of the owner in linear interpolation along the normal.
    shift_o, shift_n : (n_internal, 3) m; from each cell centre to the foot on the normal line through the face centre.
    reach_o, reach_n : (n_internal, 3) m; from each cell centre to the face centre.
    span : (n_faces, 3) m; from end to end of a straight face of a plane grid, zero in space.
    shift_b, reach_b : (n_boundary, 3) m; the same for boundary faces.
    indptr, indices : CSR pattern; a diagonal entry first in every row, duplicates kept.
    upper, lower : (n_internal,) slots of (owner, neighbour) and (neighbour, owner).
    """

    normal: Floats
    size: Floats
    over: Floats
    share: Floats
    shift_o: Floats
    shift_n: Floats
    reach_o: Floats
    reach_n: Floats
    span: Floats
    shift_b: Floats
    reach_b: Floats
    indptr: NDArray[np.int32]
    indices: NDArray[np.int32]
    upper: NDArray[np.int32]
    lower: NDArray[np.int32]

    def matrix(self) -> csr_matrix:
        """Give an empty matrix of this pattern; rows keep their duplicates."""
        count = len(self.indptr) - 1
        made = csr_matrix((np.zeros(len(self.indices)), self.indices, self.indptr), (count, count))
        made.has_sorted_indices = True  # order does not matter to products; forbid silent reordering
        return made


def link(mesh: Mesh) -> Links:
    """Work out the links of a mesh."""
    inner = mesh.n_internal
    own, nei = mesh.owner[:inner], mesh.neighbour
    size = np.linalg.norm(mesh.area, axis=1)
    normal = mesh.area / size[:, None]
    n = normal[:inner]
    reach_o = mesh.face_centre[:inner] - mesh.centre[own]
    reach_n = mesh.face_centre[:inner] - mesh.centre[nei]
    to_o, to_n = (n * reach_o).sum(axis=1), -(n * reach_n).sum(axis=1)
    span = np.linalg.norm(reach_o - reach_n, axis=1)
    distance = np.maximum(to_o + to_n, COSINE_FLOOR * span)
    share = np.clip(to_n / distance, 0.02, 0.98)
    reach_b = mesh.face_centre[inner:] - mesh.centre[mesh.owner[inner:]]
    out = (normal[inner:] * reach_b).sum(axis=1)
    depth = np.maximum(out, WALL_FLOOR * mesh.volume[mesh.owner[inner:]] / size[inner:])
    indptr, indices, upper, lower = _pattern(own, nei, mesh.n_cells)
    return Links(
        normal=normal,
        size=size,
        over=size / np.concatenate([distance, depth]),
        share=share,
        shift_o=_held(reach_o - n * to_o[:, None], distance),
        shift_n=_held(reach_n + n * to_n[:, None], distance),
        reach_o=reach_o,
        reach_n=reach_n,
        span=_span(mesh),
        shift_b=_held(reach_b - normal[inner:] * out[:, None], depth),
        reach_b=reach_b,
        indptr=indptr,
        indices=indices,
        upper=upper,
        lower=lower,
    )


def _span(mesh: Mesh) -> Floats:
    if not len(mesh.plane_area):
        return np.zeros((len(mesh.owner), 3))
    ends = mesh.points[mesh.face_points].reshape(-1, 2, 3)
    return np.ascontiguousarray(ends[:, 1] - ends[:, 0])


def _held(shift: Floats, distance: Floats) -> Floats:
    """Shorten shifts that are long beside the normal distance."""
    length = np.linalg.norm(shift, axis=1)
    return shift * np.minimum(1.0, LONGEST_SHIFT * distance / np.maximum(length, 1e-300))[:, None]


def _pattern(own: NDArray[np.int32], nei: NDArray[np.int32], count: int) -> tuple[NDArray[np.int32], ...]:
    faces = len(own)
    rows = np.concatenate([np.arange(count, dtype=np.int32), own, nei])
    columns = np.concatenate([np.arange(count, dtype=np.int32), nei, own])
    first = np.concatenate([np.zeros(count, np.int8), np.ones(2 * faces, np.int8)])
    order = np.lexsort((columns, first, rows))
    slot = np.zeros(len(rows), np.int32)
    slot[order] = np.arange(len(rows), dtype=np.int32)
    indptr = np.concatenate([[0], np.cumsum(np.bincount(rows, minlength=count))]).astype(np.int32)
    return indptr, columns[order].astype(np.int32), slot[count : count + faces], slot[count + faces :]


@dataclass(frozen=True)
class Stencil:
    """Least-squares gradient weights: gradient = sum of weight times value difference.

    Attributes
    ----------
    at_o, at_n : (n_internal, 3) 1/m; for the owner and the neighbour (difference neighbour minus owner in both).
    at_b : (n_boundary, 3) 1/m; zero where the boundary gives no value.
    """

    at_o: Floats
    at_n: Floats
    at_b: Floats


def wall_curvature(mesh: Mesh, links: Links, at: Stencil) -> Floats:
    """Give the factor that takes the normal derivative from the middle of a wall cell to the wall.

    The two-point slope holds half-way to the cell centre, the cell's least-squares slope at a place found by applying
    the stencil to the square of the distance from the wall; a line through both gives the slope at the wall:
    wall = two-point + factor (two-point - cell). Exact for quadratic profiles.

    Returns
    -------
    (n_boundary,) float, between 0 and 1.
    """
    inner = mesh.n_internal
    bound, n = mesh.owner[inner:], links.normal[inner:]
    height = (n * links.reach_b).sum(axis=1)
    slope = (at.at_b * n).sum(axis=1) * -(height**2)  # the face itself: zero less the centre's square
    order = np.argsort(bound, kind="stable")
    for cells, others, weights in ((mesh.owner[:inner], mesh.neighbour, at.at_o), (mesh.neighbour, mesh.owner[:inner], at.at_n)):
        first = np.searchsorted(bound[order], cells, "left")
        count = np.searchsorted(bound[order], cells, "right") - first
        face = np.repeat(np.arange(inner), count)
        b = order[np.repeat(first, count) + np.arange(len(face)) - np.repeat(np.cumsum(count) - count, count)]
        away = ((mesh.centre[others[face]] - mesh.face_centre[inner + b]) * n[b]).sum(axis=1)
        # the stored weights of a neighbour act on the difference neighbour minus owner: the same sign on both sides
        step = away**2 - height[b] ** 2
        step = step if weights is at.at_o else -step
        slope += np.bincount(b, (weights[face] * n[b]).sum(axis=1) * step, len(bound))
    place = -slope / 2  # derivative along the outward normal of the square is minus twice the distance
    return np.clip(0.5 * height / np.maximum(place - 0.5 * height, 1e-300), 0.0, 1.0) * (height > 0)


def stencil(mesh: Mesh, given: NDArray[np.bool_]) -> Stencil:
    """Make the least-squares gradient weights.

    Parameters
    ----------
    given : (n_boundary,) bool; boundary faces whose value is known and counts.

    References
    ----------
    Mavriplis, "Revisiting the least-squares procedure for gradient reconstruction", AIAA 2003-3986 (inverse distance).
    """
    inner = mesh.n_internal
    own, nei = mesh.owner[:inner], mesh.neighbour
    apart = mesh.centre[nei] - mesh.centre[own]
    weight = 1.0 / (apart**2).sum(axis=1)
    bound = mesh.owner[inner:]
    reach = mesh.face_centre[inner:] - mesh.centre[bound]
    weight_b = np.where(given, 1.0 / np.maximum((reach**2).sum(axis=1), 1e-300), 0.0)
    moments = np.zeros((mesh.n_cells, 6))
    pairs = ((0, 0), (0, 1), (0, 2), (1, 1), (1, 2), (2, 2))
    for k, (i, j) in enumerate(pairs):
        term = weight * apart[:, i] * apart[:, j]
        moments[:, k] = np.bincount(own, term, mesh.n_cells) + np.bincount(nei, term, mesh.n_cells)
        moments[:, k] += np.bincount(bound, weight_b * reach[:, i] * reach[:, j], mesh.n_cells)
    full = moments[:, [0, 1, 2, 1, 3, 4, 2, 4, 5]].reshape(-1, 3, 3)
    inverse = np.linalg.pinv(full, rcond=1e-4, hermitian=True)
    at_o = np.einsum("fij,fj->fi", inverse[own], apart) * weight[:, None]
    at_n = np.einsum("fij,fj->fi", inverse[nei], apart) * weight[:, None]
    at_b = np.einsum("fij,fj->fi", inverse[bound], reach) * weight_b[:, None]
    return Stencil(np.ascontiguousarray(at_o), np.ascontiguousarray(at_n), np.ascontiguousarray(at_b))


def gradients_of(mesh: Mesh, values: Floats) -> Floats:
    """Give the least-squares gradients (n_cells, k, 3) of columns (n_cells, k), from inside values only."""
    at, inner = stencil(mesh, np.zeros(mesh.n_boundary, bool)), mesh.n_internal
    own, nei = mesh.owner[:inner], mesh.neighbour
    step = values[nei] - values[own]
    found = np.zeros((mesh.n_cells, values.shape[1], 3))
    for k in range(values.shape[1]):
        for j in range(3):
            found[:, k, j] = np.bincount(own, at.at_o[:, j] * step[:, k], mesh.n_cells) + np.bincount(nei, at.at_n[:, j] * step[:, k], mesh.n_cells)
    return found
