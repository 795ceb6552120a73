"""Where walls are as closures see them: distances, heights of cells on walls, and probes in the flow."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.face_geometry import FaceGeometry
from mop_lantern.grid import Mesh
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
Ints = NDArray[Any]
CANDIDATES = 12  # face centres whose faces are looked at
ROUND = 1.25  # of the disc of equal area: about the corners of a face, which is no disc
FAR = 1e6  # m: the distance from a wall where there is none
PROBED = (
    1.5  # heights: on a regular grid the middle of the second cell; on a face it would flip between cells
)
BAND = 2.0  # heights: nearer cells have their second quantity by law
WHOLE = 1e-6  # of its box: a cell that fills it to this is not cut


@dataclass(frozen=True)
class WallGeometry:
    """Walls of a mesh, as closures see them.

    Attributes
    ----------
    faces : (w,) boundary faces that are walls the fluid sticks to. distance : (n_cells,) m, of every cell
    from the nearest of them. nearest : (n_cells,) which of ``faces`` that is. height : (w,) m, of an uncut
    cell there across the wall. probe : (w,) the cell beside the probe. off : (w, 3) m, from its centre to the
    probe. band : (n_cells,) bool, cells beside the wall. depth : (n_boundary,) m, of the cell beside a face
    as conduction has it.
    """

    faces: Ints
    distance: Floats
    nearest: Ints
    height: Floats
    probe: Ints
    off: Floats
    band: NDArray[np.bool_]
    depth: Floats

    @property
    def probed(self) -> Floats:
        """How far the probes are from the wall, (w,) m."""
        return PROBED * self.height


def wall_geometry(mesh: Mesh, geometry: FaceGeometry, walls: NDArray[np.bool_]) -> WallGeometry:
    """Work out what closures want of the walls.

    Parameters
    ----------
    walls : (n_boundary,) bool, faces the fluid sticks to.
    """
    inner = mesh.n_internal
    depth = geometry.size_b / geometry.area_per_distance[inner:]
    faces = np.flatnonzero(walls & (geometry.size_b > 0))
    count = mesh.n_cells
    none = np.zeros(0, np.int64)
    if not len(faces):
        far = np.full(count, FAR)
        empty = np.zeros(0)
        return WallGeometry(
            faces, far, np.zeros(count, np.int64), empty, none, np.zeros((0, 3)), far < 0, depth
        )
    distance, nearest = _distances(mesh, faces + inner)
    height = _heights(mesh, geometry, faces)
    normal = geometry.normal_b[faces]
    place = mesh.face_centre[inner + faces] - PROBED * height[:, None] * normal
    probe = np.asarray(nearest_tree(mesh.centre).query(place)[1], np.int64)
    band = distance < BAND * height[nearest]
    band[mesh.owner[inner + faces]] = True
    return WallGeometry(faces, distance, nearest, height, probe, place - mesh.centre[probe], band, depth)


def _distances(mesh: Mesh, faces: Ints) -> tuple[Floats, Ints]:
    """Give the distance of every cell to the nearest of some faces, m, and which that is."""
    from mop_lantern.field.turbulence.distance_kernels import nearest_discs, nearest_segments

    few = min(CANDIDATES, len(faces))
    near = np.asarray(nearest_tree(mesh.face_centre[faces]).query(mesh.centre, few)[1], np.int64)
    near = near.reshape(mesh.n_cells, -1)
    found = np.empty(mesh.n_cells)
    nearest = np.zeros(mesh.n_cells, np.int64)
    if len(mesh.plane_area):
        start = mesh.face_offsets[faces]
        ends = mesh.points[np.stack([mesh.face_points[start], mesh.face_points[start + 1]], axis=1)]
        nearest_segments(mesh.centre, near, ends, found, nearest)
    else:
        size = np.linalg.norm(mesh.area[faces], axis=1)
        normal = mesh.area[faces] / size[:, None]
        radius = ROUND * np.sqrt(size / np.pi)
        nearest_discs(mesh.centre, near, mesh.face_centre[faces], normal, radius, found, nearest)
    return np.maximum(found, 1e-12), nearest


def _heights(mesh: Mesh, geometry: FaceGeometry, faces: Ints) -> Floats:
    """Give the height across the wall of an uncut cell at every wall face, m: never that of a cut one, which
    varies tenfold from face to face.
    """
    cell = mesh.owner[mesh.n_internal + faces]
    if len(mesh.cube_size):
        size = np.zeros(mesh.n_cells)
        np.maximum.at(size, mesh.cube_cell, mesh.cube_size)
        return np.asarray(size[cell])
    plain = mesh.volume[cell] / geometry.size_b[faces]
    if not len(mesh.plane_area) or not len(mesh.level):
        return np.asarray(plain)
    box = _boxes(mesh, geometry)[cell]
    uncut = 1.0 / np.linalg.norm(geometry.normal_b[faces, :2] / box, axis=1)
    return np.asarray(np.where(mesh.level[cell] < 0, plain, uncut))


def _boxes(mesh: Mesh, geometry: FaceGeometry) -> Floats:
    """Give the width and height of the uncut cell that every cell of a plane grid was cut from, (n_cells, 2)
    m: its own where it is whole, else the largest of those beside it of the same level.
    """
    inner = mesh.n_internal
    own, nei = mesh.owner[:inner], mesh.neighbour
    box = np.zeros((mesh.n_cells, 2))
    span = np.abs(geometry.span[:, :2])
    for cells, faces in ((mesh.owner, span), (nei, span[:inner])):
        np.maximum.at(box, cells, faces)
    whole = np.abs(mesh.plane_area - box.prod(axis=1)) < WHOLE * box.prod(axis=1)
    wide = box.copy()
    for _ in range(2):
        alike = mesh.level[own] == mesh.level[nei]
        step = wide.copy()
        np.maximum.at(step, own[alike], wide[nei[alike]])
        np.maximum.at(step, nei[alike], wide[own[alike]])
        wide = step
    return np.where(whole[:, None], box, np.maximum(wide, 1e-300))
