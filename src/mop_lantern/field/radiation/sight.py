"""What lies in sight of the surfaces of a space: rays against triangles."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from functools import cached_property

import numpy as np
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from mop_lantern.grid import Mesh
from mop_lantern.shape.tracer import Tracer

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
OFF = 1e-6  # of the size: rays begin so far off their surface, for the tracer counts in single precision
BOUNCES = 40  # between mirrors
SECTORS = 96  # of a turn, into which bodies around an axis are parted
FACING = 0.3  # of the spacing of faces: how much a face that looks another way counts as farther off


@dataclass
class Sight:
    """The surface of a space as triangles that face into it.

    Attributes
    ----------
    corners : (k, 3, 3) m. inward : (k, 3) unit vectors. named : (k,) number of the named edge of each.
    mirror : (k,) bool; rays go on mirrored. flat : the space is endless along z, and rays stay in the plane.
    face_at : gives the boundary face (n,) of places (n, 3) on triangles (n,). starts : (k,) bool; from which
    triangles rays are to start (one sector of a body around an axis, the halves of edges of a plane).
    """

    corners: Floats
    inward: Floats
    named: Ints
    mirror: NDArray[np.bool_]
    flat: bool
    face_at: Callable[[Ints, Floats], Ints]
    starts: NDArray[np.bool_]

    @cached_property
    def middle(self) -> Floats:
        """Middle of all."""
        places = self.corners.reshape(-1, 3)
        return np.asarray((places.min(axis=0) + places.max(axis=0)) / 2)

    @cached_property
    def size(self) -> float:
        """Length of the diagonal, m."""
        places = self.corners.reshape(-1, 3)
        return float(np.linalg.norm(np.ptp(places[:, :2] if self.flat else places, axis=0)))

    @cached_property
    def _tracer(self) -> Tracer:
        return Tracer(self.corners, self.middle, self.size)

    def cast(self, start: Floats, way: Floats) -> tuple[Ints, Floats]:
        """Follow rays from ``start`` (n, 3) m along the unit vectors ``way`` (n, 3), through mirrors too.

        Returns
        -------
        triangles (n,), -1 where a ray meets none or one from behind; places (n, 3) m.
        """
        place = start.copy()
        way = way.copy()
        found = np.full(len(place), -1, np.int64)
        left = np.arange(len(place))
        for _ in range(BOUNCES):
            hit, reach = self._tracer.first(place[left], way[left])
            met = hit >= 0
            left, hit, reach = left[met], hit[met], reach[met]
            place[left] += reach[:, None] * way[left]
            square = (way[left] * self.inward[hit]).sum(axis=1)
            before = square < 0
            found[left] = np.where(before, hit, -1)
            turned = before & self.mirror[hit]
            left, hit, square = left[turned], hit[turned], square[turned]
            found[left] = -1
            if not len(left):
                break
            way[left] -= 2 * square[:, None] * self.inward[hit]
            place[left] += OFF * self.size * self.inward[hit]
        return found, place


def sight_of(mesh: Mesh, mirrors: tuple[str, ...], surface: tuple[Floats, Ints] | None = None) -> Sight:
    """Form the surface of a mesh of fluid.

    Parameters
    ----------
    mirrors : names of edges that mirror. surface : of a space, corners (k, 3, 3) m of the triangles that
    bound it, facing out, and the number of the name of each; planes and bodies around an axis use the faces
    of the mesh.
    """
    mirrored = np.array([name in mirrors for name in mesh.patch_names] or [False])
    if not len(mesh.plane_area):
        assert surface is not None
        corners, named = surface
        return Sight(
            corners,
            -_normals(corners),
            named,
            mirrored[named],
            False,
            _nearest_faces(mesh, named),
            np.ones(len(corners), bool),
        )
    inner = mesh.n_internal
    ends = mesh.points[mesh.face_points[mesh.face_offsets[inner] :]].reshape(-1, 2, 3)
    out = mesh.area[inner:]
    off_axis = ends[:, :, 1].max(axis=1) > 0
    corners, starts = _turned(ends) if mesh.axisymmetric else _drawn_out(ends)
    each = len(corners) // len(ends)
    inward = _normals(corners)
    facing = np.repeat(out, each, axis=0)
    if mesh.axisymmetric:  # out of the fluid in the half plane of every sector
        angle = np.tile(np.repeat((np.arange(SECTORS) + 0.5) * 2 * np.pi / SECTORS, 2), len(ends))
        radial = facing[:, 1].copy()
        facing[:, 1], facing[:, 2] = radial * np.cos(angle), radial * np.sin(angle)
    inward *= np.where((inward * facing).sum(axis=1) > 0, -1.0, 1.0)[:, None]
    named = np.repeat(mesh.patch.astype(np.int64), each)
    use = np.repeat(off_axis | (not mesh.axisymmetric), each) & (_sizes(corners) > 0)
    numbers = np.repeat(np.arange(len(ends)), each)[use]
    return Sight(
        corners[use],
        inward[use],
        named[use],
        mirrored[named[use]],
        not mesh.axisymmetric,
        lambda triangles, places: numbers[triangles],
        starts[use],
    )


def _normals(corners: Floats) -> Floats:
    vector = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(vector / np.maximum(np.linalg.norm(vector, axis=1), 1e-300)[:, None])


def _sizes(corners: Floats) -> Floats:
    vector = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    return np.asarray(np.linalg.norm(vector, axis=1) / 2)


def _drawn_out(ends: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """Give two triangles (2 m, 3, 3) for every edge (m, 2, 3), drawn out along z past both sides."""
    size = float(np.ptp(ends.reshape(-1, 3), axis=0).max())
    low, high = np.array([0, 0, -0.9 * size]), np.array([0, 0, 1.1 * size])
    a, b = ends[:, 0], ends[:, 1]
    one = np.stack([a + low, b + low, b + high], axis=1)
    two = np.stack([a + low, b + high, a + high], axis=1)
    return np.stack([one, two], axis=1).reshape(-1, 3, 3), np.tile([True, False], len(ends))


def _turned(ends: Floats) -> tuple[Floats, NDArray[np.bool_]]:
    """Give two triangles for every edge (m, 2, 3) and sector of a turn about x, (2 m sectors, 3, 3)."""
    angles = np.arange(SECTORS + 1) * 2 * np.pi / SECTORS
    x, r = ends[:, :, 0, None], ends[:, :, 1, None]
    ring = np.stack([x + 0 * angles, r * np.cos(angles), r * np.sin(angles)], axis=-1)
    a, b, c, d = ring[:, 0, :-1], ring[:, 1, :-1], ring[:, 1, 1:], ring[:, 0, 1:]
    both = np.stack([np.stack([a, b, c], axis=2), np.stack([a, c, d], axis=2)], axis=2)
    first = np.zeros((len(ends), SECTORS, 2), bool)
    first[:, 0] = True
    return both.reshape(-1, 3, 3), first.ravel()


def _nearest_faces(mesh: Mesh, named: Ints) -> Callable[[Ints, Floats], Ints]:
    """Give a finder of the boundary face of a place on a triangle of the same name."""
    inner = mesh.n_internal
    centres = mesh.face_centre[inner:]
    by_name = {int(name): np.flatnonzero(mesh.patch == name) for name in np.unique(mesh.patch)}
    trees = {name: cKDTree(centres[faces]) for name, faces in by_name.items()}
    every = cKDTree(centres)

    def find(triangles: Ints, places: Floats) -> Ints:
        found = np.zeros(len(places), np.int64)
        of = named[triangles]
        for name in np.unique(of):
            mine = of == name
            if int(name) in trees:
                found[mine] = by_name[int(name)][trees[int(name)].query(places[mine], workers=-1)[1]]
            else:  # cells lost all of a name: what lies nearest stands for it
                found[mine] = every.query(places[mine], workers=-1)[1]
        return found

    return find
