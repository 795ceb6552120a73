"""A grid in motion: the same cells and faces at other places, and what its faces sweep on the way."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class Moved:
    """Where a grid is at the end of a time step.

    Attributes
    ----------
    mesh : the same cells and faces, at their new places. swept : (n_faces,) m3 that every face swept in the
    step, out of its owner (around an axis: m3 per radian).
    """

    mesh: Mesh
    swept: Floats

    @classmethod
    def of(cls, before: Mesh, after: Mesh) -> Moved:
        """Let every point go straight from where it was to where it is.

        Exact in planes; in spaces for faces that stay flat.
        """
        if len(before.plane_area):
            return cls(after, _swept_by_lines(before, after))
        return cls(after, _swept_by_polygons(before, after))

    @property
    def change(self) -> Floats:
        """What the cells gain in volume by what their faces sweep, (n_cells,) m3."""
        mesh = self.mesh
        inner = mesh.n_internal
        gained = np.bincount(mesh.owner, self.swept, mesh.n_cells)
        return np.asarray(gained - np.bincount(mesh.neighbour, self.swept[:inner], mesh.n_cells))


def _swept_by_lines(before: Mesh, after: Mesh) -> Floats:
    """Sweep the straight faces of a plane: the mean of the face areas, times how far the middle went; around
    an axis Simpson's rule, as the distance from the axis and the face area change together.
    """
    ends = [mesh.points[mesh.face_points].reshape(-1, 2, 3) for mesh in (before, after)]
    gone = ends[1] - ends[0]
    total = np.zeros(len(before.owner))
    depth = _depth(before)
    for part, weight in ((0.0, 1 / 6), (0.5, 4 / 6), (1.0, 1 / 6)):
        now = ends[0] + part * gone
        along = now[:, 1] - now[:, 0]
        normal = np.stack([along[:, 1], -along[:, 0]], axis=1)
        if before.axisymmetric:
            radius = now[:, :, 1]
            # of (radius times motion) along the face, both linear: means, and a twelfth of the changes
            even = radius.mean(axis=1)[:, None] * gone[:, :, :2].mean(axis=1)
            bent = (radius[:, 1] - radius[:, 0])[:, None] * (gone[:, 1] - gone[:, 0])[:, :2] / 12
            motion = even + bent
        else:
            motion = depth * gone[:, :, :2].mean(axis=1)
        total += weight * (normal * motion).sum(axis=1)
    flip = np.sign((_normals(ends[0]) * before.area[:, :2]).sum(axis=1))
    return np.asarray(flip * total)


def _normals(ends: Floats) -> Floats:
    along = ends[:, 1] - ends[:, 0]
    return np.stack([along[:, 1], -along[:, 0]], axis=1)


def _depth(mesh: Mesh) -> float:
    return 1.0 if mesh.axisymmetric else float(mesh.volume.sum() / mesh.plane_area.sum())


def _swept_by_polygons(before: Mesh, after: Mesh) -> Floats:
    """Sweep polygons, as fans of triangles about the mean of their points, each by Simpson's rule in time
    (exact: areas go with the square of the time).
    """
    first = before.face_offsets[:-1]
    count = np.diff(before.face_offsets)
    face = np.repeat(np.arange(len(count)), count)
    here = np.arange(len(face))
    after_it = np.where(here + 1 < before.face_offsets[1:][face], here + 1, first[face])

    def corners(points: Floats) -> Floats:
        own = points[before.face_points]
        middle = np.stack([np.bincount(face, own[:, k], len(count)) for k in range(3)], axis=1)
        return np.stack([own, own[after_it], (middle / count[:, None])[face]], axis=1)

    start = corners(before.points)
    gone = corners(after.points) - start
    areas = np.zeros((len(face), 3))
    for part, weight in ((0.0, 1 / 6), (0.5, 4 / 6), (1.0, 1 / 6)):
        now = start + part * gone
        areas += weight * 0.5 * np.cross(now[:, 1] - now[:, 0], now[:, 2] - now[:, 0])
    each = (areas * gone.mean(axis=1)).sum(axis=1)
    flat = 0.5 * np.cross(start[:, 1] - start[:, 0], start[:, 2] - start[:, 0])
    normal = np.stack([np.bincount(face, flat[:, k], len(count)) for k in range(3)], axis=1)
    flip = np.sign((normal * before.area).sum(axis=1))
    return np.asarray(flip * np.bincount(face, each, len(count)))
