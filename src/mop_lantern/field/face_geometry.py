"""What the field core works out once for a mesh: distances, weights, matrix slots, gradient stencils."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.grid import Mesh
from mop_lantern.numerics.spread import bounds_of, rim_of, rows_of, spread

Floats = NDArray[np.float64]
COSINE_FLOOR = 0.2
WALL_FLOOR = 0.05
STRAIGHT = 1e-9  # of the distance: shorter shifts are rounding
# of the normal distance: longer feet, in cells that wrap a corner, feed explicit terms until they burst
LONGEST_SHIFT = 1.0
# of a face: so far off its middle lies that of a cell twice its length; shorter feet there made friction on
# refined cells eight times longer than high 16 % too large
HANGING = 0.51


@dataclass(frozen=True)
class FaceGeometry:
    """Geometry of faces and the slots of the matrix.

    Attributes
    ----------
    normal_b, size_b : (n_boundary, 3) unit normals and (n_boundary,) m2 of boundary faces.
    area_per_distance : (n_faces,) face area over the normal distance between the cells (or cell and face), m.
    weight : (n_internal,) weight of the owner in linear interpolation along the normal.
    skew : (n_internal,) row of faces in the next two, -1 where the line between the cells runs through the
    middle of the face: most do.
    shift_o, shift_n : (k, 3) m; from each cell centre to the foot on the normal line through the face centre.
    span : (n_faces, 3) m; from end to end of a straight face of a plane grid, zero in space.
    shift_b, reach_b : (n_boundary, 3) m; from the cell centre to the foot and to the face centre, for
    boundary faces.
    indptr, indices : CSR pattern; a diagonal entry first in every row, duplicates kept.
    upper, lower : (n_internal,) slots of (owner, neighbour) and (neighbour, owner).
    first_b, face_b : CSR lists of the boundary faces of every cell.
    blocks : (first cell, end, first internal face, end) of what one thread does; faces go with their owner.
    rim : cells seen from other blocks.

    The face centre lies beyond a foot by the distance along the normal: it is shift_o + area (1 - weight) /
    area_per_distance from the owner, and shift_n - area weight / area_per_distance from the neighbour.
    """

    normal_b: Floats
    size_b: Floats
    area_per_distance: Floats
    weight: Floats
    skew: NDArray[np.int32]
    shift_o: Floats
    shift_n: Floats
    span: Floats
    shift_b: Floats
    reach_b: Floats
    indptr: NDArray[np.int32]
    indices: NDArray[np.int32]
    upper: NDArray[np.int32]
    lower: NDArray[np.int32]
    first_b: NDArray[np.int32]
    face_b: NDArray[np.int32]
    blocks: list[tuple[int, int, int, int]]
    rim: NDArray[np.int32]

    def each(self, kernel: Callable[..., Any], *given: Any) -> list[Any]:
        """Run a kernel on every block of cells and faces at the same time."""
        return spread(kernel, self.blocks, *given)

    def scatter(self, kernel: Callable[..., Any], *given: Any) -> None:
        """Run a kernel that adds from faces to cells: on all blocks at the same time, then on the faces
        between blocks.
        """
        spread(kernel, self.blocks, False, *given)
        for block in self.blocks[:-1]:
            kernel(block, True, *given)

    def matrix(self) -> csr_matrix:
        """Give an empty matrix of this pattern; rows keep their duplicates."""
        count = len(self.indptr) - 1
        made = csr_matrix((np.zeros(len(self.indices)), self.indices, self.indptr), (count, count))
        made.has_sorted_indices = True  # order does not matter to products; forbid silent reordering
        return made


def link(mesh: Mesh) -> FaceGeometry:
    """Work out the geometry of the faces of a mesh, and the slots of its matrix."""
    inner = mesh.n_internal
    own = mesh.owner[: mesh.n_internal]
    nei = mesh.neighbour
    size = np.linalg.norm(mesh.area, axis=1)
    n = mesh.area[:inner] / size[:inner, None]
    normal_b = mesh.area[inner:] / size[inner:, None]
    size_b = size[inner:]
    bown = mesh.owner[inner:]
    to_o = (n * mesh.face_centre[:inner]).sum(axis=1) - (n * mesh.centre[own]).sum(axis=1)
    to_n = (n * mesh.centre[nei]).sum(axis=1) - (n * mesh.face_centre[:inner]).sum(axis=1)
    apart = np.linalg.norm(mesh.centre[nei] - mesh.centre[own], axis=1)
    distance = np.maximum(to_o + to_n, COSINE_FLOOR * apart)
    span = _span(mesh)
    reach = np.maximum(distance, HANGING * np.linalg.norm(span[:inner], axis=1))
    shift_o = _held(mesh.face_centre[:inner] - mesh.centre[own] - n * to_o[:, None], reach)
    shift_n = _held(mesh.face_centre[:inner] - mesh.centre[nei] + n * to_n[:, None], reach)
    off = np.flatnonzero(
        np.maximum(np.abs(shift_o), np.abs(shift_n)).max(axis=1, initial=0.0) > STRAIGHT * distance
    )
    skew = np.full(inner, -1, np.int32)
    skew[off] = np.arange(len(off))
    reach_b = mesh.face_centre[inner:] - mesh.centre[bown]
    out = (normal_b * reach_b).sum(axis=1)
    depth = np.maximum(out, WALL_FLOOR * mesh.volume[bown] / size_b)
    indptr, indices, upper, lower = _pattern(own, nei, mesh.n_cells)
    bounds = bounds_of(mesh.n_cells)
    faces = np.searchsorted(own, bounds)
    return FaceGeometry(
        normal_b=normal_b,
        size_b=size_b,
        area_per_distance=size / np.concatenate([distance, depth]),
        weight=np.clip(to_n / distance, 0.02, 0.98),
        skew=skew,
        shift_o=shift_o[off],
        shift_n=shift_n[off],
        span=span,
        shift_b=_held(reach_b - normal_b * out[:, None], depth),
        reach_b=reach_b,
        indptr=indptr,
        indices=indices,
        upper=upper,
        lower=lower,
        first_b=np.concatenate([[0], np.cumsum(np.bincount(bown, minlength=mesh.n_cells))]).astype(np.int32),
        face_b=np.argsort(bown, kind="stable").astype(np.int32),
        blocks=[
            (*cells, int(first), int(end))
            for cells, first, end in zip(rows_of(bounds), faces[:-1], faces[1:], strict=True)
        ],
        rim=rim_of(indptr, indices, bounds),
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
    """Lay out the matrix: in every row the diagonal, then the neighbours it owns faces to or that own faces
    to it, in the order of faces.
    """
    faces = len(own)
    below = np.bincount(nei, minlength=count)
    above = np.bincount(own, minlength=count)
    indptr = np.concatenate([[0], np.cumsum(1 + below + above)]).astype(np.int32)
    indices = np.empty(count + 2 * faces, np.int32)
    indices[indptr[:-1]] = np.arange(count)
    # faces are sorted by owner, then neighbour: those a cell owns lie together; those it is neighbour of
    # follow a stable sort
    first = np.cumsum(above) - above
    upper = (indptr[own] + 1 + below[own] + np.arange(faces) - first[own]).astype(np.int32)
    order = np.argsort(nei, kind="stable").astype(np.int32)
    start = np.cumsum(below) - below
    lower = np.empty(faces, np.int32)
    lower[order] = indptr[nei[order]] + 1 + np.arange(faces) - start[nei[order]]
    indices[upper], indices[lower] = nei, own
    return indptr, indices, upper, lower


@dataclass(frozen=True)
class Stencil:
    """Least-squares gradients: of a cell, ``moments`` times the sum of its neighbours' distances times what
    they differ by, over the square of the distance (inverse-distance weights).

    Attributes
    ----------
    moments : (n_cells, 6) xx xy xz yy yz zz of the inverse of the summed squares, dimensionless. counts :
    (n_boundary,) bool; faces whose value is known and counts.

    References
    ----------
    Mavriplis, "Revisiting the least-squares procedure for gradient reconstruction", AIAA 2003-3986.
    """

    moments: Floats
    counts: NDArray[np.bool_]


def wall_curvature(mesh: Mesh, geometry: FaceGeometry, at: Stencil) -> Floats:
    """Give the factor that takes the normal derivative from the middle of a wall cell to the wall.

    The two-point slope holds half-way to the cell centre, the cell's least-squares slope at a place found by
    applying the stencil to the square of the distance from the wall; a line through both gives the slope at
    the wall: wall = two-point + factor (two-point - cell). Exact for quadratic profiles.

    Returns
    -------
    (n_boundary,) float, between 0 and 1.
    """
    inner = mesh.n_internal
    bound = mesh.owner[inner:]
    n = geometry.normal_b
    height = (n * geometry.reach_b).sum(axis=1)
    along = np.einsum(
        "fij,fj->fi", full(at.moments[bound]), n
    )  # what a distance times a difference adds to the slope
    mine = np.where(at.counts, 1.0 / np.maximum((geometry.reach_b**2).sum(axis=1), 1e-300), 0.0)
    # the face itself: zero less the centre's square
    slope = -(along * geometry.reach_b).sum(axis=1) * mine * height**2
    first = geometry.indptr[bound]
    last = geometry.indptr[bound + 1]
    count = last - first - 1
    b = np.repeat(np.arange(len(bound)), count)
    other = geometry.indices[
        np.repeat(first + 1, count) + np.arange(len(b)) - np.repeat(np.cumsum(count) - count, count)
    ]
    apart = mesh.centre[other] - mesh.centre[bound[b]]
    away = ((mesh.centre[other] - mesh.face_centre[inner + b]) * n[b]).sum(axis=1)
    weight = (along[b] * apart).sum(axis=1) / (apart**2).sum(axis=1)
    slope += np.bincount(b, weight * (away**2 - height[b] ** 2), len(bound))
    place = -slope / 2  # derivative along the outward normal of the square is minus twice the distance
    return np.clip(0.5 * height / np.maximum(place - 0.5 * height, 1e-300), 0.0, 1.0) * (height > 0)


def full(moments: Floats) -> Floats:
    """Give packed symmetric matrices (k, 6) as (k, 3, 3)."""
    return moments[:, [0, 1, 2, 1, 3, 4, 2, 4, 5]].reshape(-1, 3, 3)


def stencil(mesh: Mesh, given: NDArray[np.bool_]) -> Stencil:
    """Prepare the least-squares gradients.

    Parameters
    ----------
    given : (n_boundary,) bool; boundary faces whose value is known and counts.
    """
    inner = mesh.n_internal
    count = mesh.n_cells
    own = mesh.owner[:inner]
    nei = mesh.neighbour
    bound = mesh.owner[inner:]
    apart = mesh.centre[nei] - mesh.centre[own]
    apart /= np.linalg.norm(apart, axis=1)[:, None]
    reach = mesh.face_centre[inner:] - mesh.centre[bound]
    reach *= np.where(given, 1.0 / np.maximum(np.linalg.norm(reach, axis=1), 1e-300), 0.0)[:, None]
    moments = np.zeros((count, 6))
    for k, (i, j) in enumerate(
        (
            (0, 0),
            (0, 1),
            (0, 2),
            (1, 1),
            (1, 2),
            (2, 2),
        )
    ):
        term = apart[:, i] * apart[:, j]
        moments[:, k] = (
            np.bincount(own, term, count)
            + np.bincount(nei, term, count)
            + np.bincount(bound, reach[:, i] * reach[:, j], count)
        )
    for start in range(0, count, 50_000):  # in parts, for the memory of the inverses
        part = slice(start, start + 50_000)
        moments[part] = np.linalg.pinv(full(moments[part]), rcond=1e-4, hermitian=True)[
            :, [0, 0, 0, 1, 1, 2], [0, 1, 2, 1, 2, 2]
        ]
    return Stencil(moments, given)


def gradients_of(mesh: Mesh, values: Floats) -> Floats:
    """Give the least-squares gradients (n_cells, k, 3) of columns (n_cells, k), from inside values only."""
    at = stencil(mesh, np.zeros(mesh.n_boundary, bool))
    inner = mesh.n_internal
    count = mesh.n_cells
    own = mesh.owner[:inner]
    nei = mesh.neighbour
    apart = mesh.centre[nei] - mesh.centre[own]
    apart /= (apart**2).sum(axis=1)[:, None]
    found = np.zeros((count, values.shape[1], 3))
    for k in range(values.shape[1]):
        step = values[nei, k] - values[own, k]
        total = np.column_stack(
            [
                np.bincount(own, apart[:, j] * step, count) + np.bincount(nei, apart[:, j] * step, count)
                for j in range(3)
            ]
        )
        found[:, k] = np.einsum("cij,cj->ci", full(at.moments), total)
    return found
