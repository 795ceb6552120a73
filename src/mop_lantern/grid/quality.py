"""The grid report: how many cells, how good, where the worst."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from mop_lantern.grid.mesh import Mesh


@dataclass(frozen=True)
class Quality:
    """Figures of a grid.

    Attributes
    ----------
    worst_angle : largest angle (degrees) between a face's normal and the line joining its cells.
    volume_ratio : largest ratio of neighbouring cell volumes.
    smallest, largest : cell size (m), square root of the plane area or cube root of the volume.
    closure : largest sum of a cell's face area vectors over its surface (zero but for rounding; not around an axis).
    """

    cells: int
    faces: int
    worst_angle: float
    volume_ratio: float
    smallest: float
    largest: float
    closure: float


def quality(mesh: Mesh) -> Quality:
    """Work out the report of a mesh."""
    inner = mesh.n_internal
    area = mesh.area[:inner]
    between = mesh.centre[mesh.neighbour] - mesh.centre[mesh.owner[:inner]]
    cosine = (area * between).sum(axis=1) / (np.linalg.norm(area, axis=1) * np.linalg.norm(between, axis=1))
    size = mesh.plane_area if len(mesh.plane_area) else mesh.volume
    ratio = size[mesh.neighbour] / size[mesh.owner[:inner]]
    power = 1 / 2 if len(mesh.plane_area) else 1 / 3
    sums, total = np.zeros((mesh.n_cells, 3)), np.zeros(mesh.n_cells)
    for sign, cells, faces in ((1, mesh.owner, mesh.area), (-1, mesh.neighbour, area)):
        np.add.at(sums, cells, sign * faces)
        np.add.at(total, cells, np.linalg.norm(faces, axis=1))
    closure = 0.0 if mesh.axisymmetric else float((np.linalg.norm(sums, axis=1) / total).max())
    return Quality(
        mesh.n_cells, len(mesh.owner),
        float(np.rad2deg(np.arccos(np.clip(cosine.min(), -1, 1)))) if inner else 0.0,
        float(np.maximum(ratio, 1 / ratio).max()) if inner else 1.0,
        float(size.min() ** power), float(size.max() ** power), closure,
    )  # fmt: skip
