"""Cells in a zone: a box, a cylinder, a region."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Floats = NDArray[np.float64]


def in_box(places: Floats, one: Any, other: Any, margin: Floats | float = 0.0) -> NDArray[np.bool_]:
    """Tell which places (k, 2 or 3) m lie in the box between two opposite corners, or within a margin (m) of
    it.
    """
    low = np.minimum(one, other) - margin
    high = np.maximum(one, other) + margin
    return np.asarray(((places >= low) & (places <= high)).all(axis=1))


def in_cylinder(places: Floats, start: Any, end: Any, radius: float) -> NDArray[np.bool_]:
    """Tell which places (k, 2 or 3) m lie within a radius (m) of the line between two places, and between its
    ends; in a plane, in the strip about it.
    """
    line = np.asarray(end, float) - np.asarray(start, float)
    length = float(np.linalg.norm(line))
    if not length > 0:
        return np.zeros(len(places), bool)
    away = places - np.asarray(start, float)
    along = away @ line / length
    beside = np.linalg.norm(away - along[:, None] * line / length, axis=1)
    return np.asarray((along >= 0) & (along <= length) & (beside <= radius))


def cells_in_box(mesh: Mesh, one: Any, other: Any) -> NDArray[np.bool_]:
    """Mark the cells whose centre lies in a box."""
    return in_box(mesh.centre[:, : len(mesh.ways)], one, other)


def cells_about_box(mesh: Mesh, one: Any, other: Any) -> NDArray[np.bool_]:
    """Mark the cells whose centre lies in a box; of a box too small to hold any, the cell its middle lies in,
    if that is in the space.
    """
    inside = cells_in_box(mesh, one, other)
    if not inside.any():
        middle = np.zeros((1, 3))
        middle[0, : len(mesh.ways)] = (np.asarray(one, float) + np.asarray(other, float))[
            : len(mesh.ways)
        ] / 2
        found = int(mesh.locator.cells(middle)[0])
        inside[[found] if found >= 0 else []] = True
    return inside
