"""The grid report: how many cells, how good, where the worst."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Floats = NDArray[np.float64]
OFF_SQUARE, JUMP, SIZE = "cell.angle", "cell.jump", "cell.size"
CELL_FIGURES: dict[str, tuple[str, str]] = {
    OFF_SQUARE: ("cells: faces off square", "angle"),
    JUMP: ("cells: ratio to neighbours", "number"),
    SIZE: ("cells: size", "length"),
}


@dataclass(frozen=True)
class Quality:
    """Figures of a grid.

    Attributes
    ----------
    worst_angle : largest angle (degrees) between a face's normal and the line joining its cells.
    volume_ratio : largest ratio of neighbouring cell volumes.
    smallest, largest : cell size (m), square root of the plane area or cube root of the volume.
    closure : largest sum of a cell's face area vectors over its surface (zero but for rounding; not around an
    axis).
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
    cosine, ratio, size, power = _neighbours(mesh)
    sums = np.zeros((mesh.n_cells, 3))
    total = np.zeros(mesh.n_cells)
    for sign, cells, faces in ((1, mesh.owner, mesh.area), (-1, mesh.neighbour, area)):
        np.add.at(sums, cells, sign * faces)
        np.add.at(total, cells, np.linalg.norm(faces, axis=1))
    closure = 0.0 if mesh.axisymmetric else float((np.linalg.norm(sums, axis=1) / total).max())
    return Quality(
        mesh.n_cells,
        len(mesh.owner),
        float(np.rad2deg(np.arccos(np.clip(cosine.min(), -1, 1)))) if inner else 0.0,
        float(np.maximum(ratio, 1 / ratio).max()) if inner else 1.0,
        float(size.min() ** power),
        float(size.max() ** power),
        closure,
    )


def _neighbours(mesh: Mesh) -> tuple[Floats, Floats, Any, float]:
    """Give, of every inner face, the cosine between its normal and the way between its cells and the ratio of
    their sizes; the sizes and the power that makes them lengths.
    """
    area = mesh.area[: mesh.n_internal]
    between = mesh.centre[mesh.neighbour] - mesh.centre[mesh.owner[: mesh.n_internal]]
    cosine = (area * between).sum(axis=1) / (np.linalg.norm(area, axis=1) * np.linalg.norm(between, axis=1))
    size = mesh.plane_area if len(mesh.plane_area) else mesh.volume
    return (
        cosine,
        size[mesh.neighbour] / size[mesh.owner[: mesh.n_internal]],
        size,
        1 / 2 if len(mesh.plane_area) else 1 / 3,
    )


def figures(mesh: Mesh) -> dict[str, Floats]:
    """Give the figures of every cell, (n_cells,) each: its worst angle (rad), its largest ratio of sizes to a
    neighbour, its size (m).
    """
    cosine, ratio, size, power = _neighbours(mesh)
    worst = np.zeros(mesh.n_cells)
    jump = np.ones(mesh.n_cells)
    for cells in (mesh.owner[: mesh.n_internal], mesh.neighbour):
        np.maximum.at(worst, cells, np.arccos(np.clip(cosine, -1, 1)))
        np.maximum.at(jump, cells, np.maximum(ratio, 1 / ratio))
    return {
        OFF_SQUARE: worst,
        JUMP: jump,
        SIZE: size**power,
    }
