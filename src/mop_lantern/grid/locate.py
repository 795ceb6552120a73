"""Find the very cell a place lies in, on every kind of grid: exact polygons in planes, cubes and the walls
that cut them in space.
"""

from __future__ import annotations

from functools import cached_property
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
BESIDE_PLANE = 0.05  # of a cell's least width: round walls are polygons
BESIDE_SPACE = 0.25  # of a wall cell's height: cells see a round wall as flat pieces
NEAR_FACES = 6
NEAR_CELLS = 12


class Around:
    """The faces of every cell: CSR lists of faces, and of what lies beyond each.

    Attributes
    ----------
    first : (n_cells + 1,) int. face : face numbers. beyond : the cell beyond, or n_cells + number of the
    boundary face.
    nodes : (n_cells + n_boundary, ways) m; middles of cells, then of boundary faces.
    """

    def __init__(self, mesh: Mesh) -> None:
        inner = mesh.n_internal
        count = mesh.n_cells
        faces = np.arange(len(mesh.owner))
        cell = np.concatenate([mesh.owner, mesh.neighbour])
        face = np.concatenate([faces, faces[:inner]])
        outside = count + np.arange(mesh.n_boundary)
        beyond = np.concatenate([mesh.neighbour, outside, mesh.owner[:inner]])
        order = np.argsort(cell, kind="stable")
        self.first = np.concatenate([[0], np.cumsum(np.bincount(cell, minlength=count))]).astype(np.int64)
        self.face = face[order].astype(np.int32)
        self.beyond = beyond[order].astype(np.int32)
        self.nodes = np.vstack([mesh.centre, mesh.face_centre[inner:]])[:, : len(mesh.ways)]

    def of(self, cells: Ints) -> tuple[Ints, Ints]:
        """Give, of (k,) cells, the position in ``cells`` and the slot in ``face`` of each of their faces."""
        return expand(self.first, cells)


def expand(first: Ints, rows: Ints) -> tuple[Ints, Ints]:
    """Lay out the slots of CSR rows: the position in ``rows`` and the slot of every entry."""
    return between(first[rows], first[rows + 1])


def between(first: Ints, last: Ints) -> tuple[Ints, Ints]:
    """Lay out (k,) ranges of slots: the range of every entry, and its slot."""
    count = last - first
    position = np.repeat(np.arange(len(first)), count)
    return position, np.repeat(first - (np.cumsum(count) - count), count) + np.arange(len(position))


class Locator:
    """Finds cells of a mesh; trees are made on first use and kept. ``kept`` holds what others work out once
    for the mesh.
    """

    def __init__(self, mesh: Mesh) -> None:
        self.mesh = mesh
        self.kept: dict[str, Any] = {}

    @cached_property
    def around(self) -> Around:
        """The faces of every cell."""
        return Around(self.mesh)

    def cells(self, places: Floats) -> Ints:
        """Give the cell every place (k, 2 or 3) m lies in, -1 where it lies outside the wet space."""
        if len(self.mesh.plane_area):
            return self._in_plane(places[:, :2])
        return self._in_space(places)

    @cached_property
    def _polygons(self) -> Any:
        mesh = self.mesh
        corners = mesh.points[mesh.piece_points][:, :2]
        starts = mesh.piece_offsets[:-1]
        ends = mesh.piece_offsets[1:]
        count = (ends - starts).astype(np.int64)
        _, slot = between(starts.astype(np.int64), ends.astype(np.int64))
        closed = np.insert(slot, np.cumsum(count), starts)
        offsets = np.concatenate([[0], np.cumsum(count + 1)])
        kind = shapely.GeometryType.POLYGON
        return shapely.STRtree(
            shapely.from_ragged_array(kind, corners[closed], (offsets, np.arange(len(count) + 1)))
        )

    def _in_plane(self, places: Floats) -> Ints:
        found = np.full(len(places), -1, np.int64)
        points = shapely.points(np.where(np.isfinite(places), places, 1e300))
        at, piece = self._polygons.query(points, predicate="intersects")
        found[at[::-1]] = self.mesh.piece_cell[piece[::-1]]
        lost = np.flatnonzero(found < 0)
        if len(lost):
            reach = BESIDE_PLANE * float(np.sqrt(self.mesh.plane_area.max()))
            (at, piece), far = self._polygons.query_nearest(
                points[lost],
                max_distance=reach,
                return_distance=True,
                all_matches=False,
            )
            width = self.mesh.plane_area[self.mesh.piece_cell] / self._longest
            near = far <= BESIDE_PLANE * width[piece]
            found[lost[at[near]]] = self.mesh.piece_cell[piece[near]]
        return found

    @cached_property
    def _longest(self) -> Floats:
        """The longer side of the box around every piece, m."""
        west, south, east, north = shapely.bounds(self._polygons.geometries).T
        return np.asarray(np.maximum(east - west, north - south))

    # --- in space ---

    @cached_property
    def _cubes(self) -> list[tuple[float, Floats, Ints, Ints]]:
        """Of every size of cube: the size, the lattice's origin, sorted keys, and the cubes in that order."""
        mesh = self.mesh
        found = []
        low = mesh.cube_low.min(axis=0) if len(mesh.cube_low) else np.zeros(3)
        halvings = np.round(np.log2(mesh.cube_size.max(initial=1.0) / mesh.cube_size)).astype(int)
        for level in np.unique(halvings):
            mine = np.flatnonzero(halvings == level)
            size = float(mesh.cube_size[mine].mean())
            key = _key(np.round((mesh.cube_low[mine] - low) / size))
            order = np.argsort(key, kind="stable")
            found.append((size, low, key[order], mine[order]))
        return found

    @cached_property
    def _walled(self) -> NDArray[np.bool_]:
        mesh = self.mesh
        walled = np.zeros(mesh.n_cells, bool)
        walled[mesh.owner[mesh.n_internal :]] = True
        return walled

    @cached_property
    def _outside(self) -> tuple[Ints, Ints]:
        """The boundary faces of every cell, as CSR lists."""
        owner = self.mesh.owner[self.mesh.n_internal :]
        return np.concatenate([[0], np.cumsum(np.bincount(owner, minlength=self.mesh.n_cells))]), np.argsort(
            owner, kind="stable"
        )

    @cached_property
    def _middles(self) -> Any:
        return nearest_tree(self.mesh.centre)

    @cached_property
    def _faces(self) -> Any:
        return nearest_tree(self.mesh.face_centre[self.mesh.n_internal :])

    def _in_space(self, places: Floats) -> Ints:
        found = np.full(len(places), -1, np.int64)
        good: Any = np.isfinite(places).all(axis=1)
        places = np.where(good[:, None], places, 1e30)
        at, cell = self._candidates(places)
        sure = np.logical_not(self._walled[cell])
        if not len(self.mesh.cube_low):
            sure[:] = False
        doubtful = np.flatnonzero(~sure)
        sure[doubtful] = self._holds(places[at[doubtful]], cell[doubtful])
        found[at[sure]] = cell[sure]
        lost = np.flatnonzero((found < 0) & good)
        if len(lost):
            found[lost] = self._beside(places[lost])
        return found

    def _candidates(self, places: Floats) -> tuple[Ints, Ints]:
        """Give pairs of a place and a cell that may hold it."""
        if not len(self.mesh.cube_low):
            count = min(NEAR_CELLS, self.mesh.n_cells)
            _, near = self._middles.query(places, k=count)
            return np.repeat(np.arange(len(places)), count), near.reshape(-1).astype(np.int64)
        ats = []
        cells = []
        for size, low, keys, cubes in self._cubes:
            for nudge in (1e-9, -1e-9):
                key = _key(np.floor((places - low) / size + nudge))
                first = np.searchsorted(keys, key)
                last = np.searchsorted(keys, key, "right")
                at, slot = between(first, last)
                ats.append(at)
                cells.append(self.mesh.cube_cell[cubes[slot]].astype(np.int64))
        pairs = np.unique(np.column_stack([np.concatenate(ats), np.concatenate(cells)]), axis=0)
        return pairs[:, 0], pairs[:, 1]

    def _holds(self, places: Floats, cells: Ints) -> NDArray[np.bool_]:
        """Tell whether each place lies in the cell beside it: on the inner side of the wall nearest to it or,
        on a grid without a lattice, of all faces. A wall face counts as a disc of its area about its centre.
        """
        mesh = self.mesh
        lattice = len(mesh.cube_low) > 0
        if lattice:
            pair, slot = expand(self._outside[0], cells)
            face = mesh.n_internal + self._outside[1][slot]
        else:
            pair, slot = self.around.of(cells)
            face = self.around.face[slot].astype(np.int64)
        sign = np.where(mesh.owner[face] == cells[pair], 1.0, -1.0)
        size = np.linalg.norm(mesh.area[face], axis=1)
        normal = mesh.area[face] * (sign / size)[:, None]
        reach = places[pair] - mesh.face_centre[face]
        out = (reach * normal).sum(axis=1)
        slack = 1e-9 * np.sqrt(size)
        if not lattice:
            return np.bincount(pair, out > slack, len(cells)) == 0
        aside = np.linalg.norm(reach - out[:, None] * normal, axis=1)
        away = np.hypot(out, np.maximum(aside - np.sqrt(size / np.pi), 0.0))
        order = np.lexsort((away, pair))
        first = order[np.append(True, np.diff(pair[order]) > 0)] if len(order) else order
        held = np.ones(len(cells), bool)
        held[pair[first]] = out[first] <= slack[first]
        return held

    def _beside(self, places: Floats) -> Ints:
        """Give the wall cell of places a little beyond a wall, else -1."""
        mesh = self.mesh
        count = min(NEAR_FACES, mesh.n_boundary)
        _, near = self._faces.query(places, k=count)
        near = near.reshape(len(places), count)
        face = mesh.n_internal + near
        size = np.linalg.norm(mesh.area[face], axis=2)
        normal = mesh.area[face] / size[..., None]
        reach = places[:, None] - mesh.face_centre[face]
        out = (reach * normal).sum(axis=2)
        aside = np.linalg.norm(reach - out[..., None] * normal, axis=2)
        cell = mesh.owner[face]
        height = mesh.volume[cell] / size
        good = (np.abs(out) <= BESIDE_SPACE * np.minimum(height, np.cbrt(mesh.volume[cell]))) & (
            aside <= np.sqrt(size)
        )
        first = good.argmax(axis=1)
        rows = np.arange(len(places))
        return np.where(good[rows, first], cell[rows, first], -1)


def _key(corner: Floats) -> Ints:
    """Pack three lattice numbers into one; places far off get the key of nothing."""
    far: Any = (np.abs(corner) > 1e6).any(axis=1)
    number = np.where(far[:, None], -1e6, corner).astype(np.int64) + (1 << 20)
    return (number[:, 0] << 42) | (number[:, 1] << 21) | number[:, 2]
