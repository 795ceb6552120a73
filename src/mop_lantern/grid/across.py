"""How many cells lie across a passage: counted along it, in lengths of the cells in that direction."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.tree import Leaves
from mop_lantern.shape.passages import Passage

Floats = NDArray[np.float64]
SAMPLES = 128  # along a passage


def leaves_across(leaves: Leaves, passage: Passage) -> float:
    """Count the cells of a plane lattice across a passage, before cutting."""
    places, step = _along(passage)
    west, south, east, north = leaves.bounds()
    extent = np.column_stack([leaves.x[east] - leaves.x[west], leaves.y[north] - leaves.y[south]])
    return _counted(leaves.holding(places.reshape(-1, 2)).reshape(places.shape[:2]), extent, step)


def cells_across(mesh: Mesh, passage: Passage) -> float:
    """Count the cells of a grid in space across a passage."""
    places, step = _along(passage)
    size = np.zeros(mesh.n_cells)
    np.maximum.at(size, mesh.cube_cell, mesh.cube_size)
    found = mesh.locator.cells(places.reshape(-1, 3)).reshape(places.shape[:2])
    return _counted(found, np.repeat(size[:, None], 3, axis=1), step)


def _along(passage: Passage) -> tuple[Floats, Floats]:
    """Give places along every line of a passage, (lines, samples, ways) m, and from one to the next, (lines,
    ways) m.
    """
    part = (np.arange(SAMPLES) + 0.5) / SAMPLES
    whole = passage.end - passage.start
    return passage.start[:, None] + part[:, None] * whole[:, None], whole / SAMPLES


def _counted(cell: NDArray[np.int64], extent: Floats, step: Floats) -> float:
    """Add up along each line how many cells a step is long; places beyond an axis count as those before it.
    The median of the lines.
    """
    share = np.linalg.norm(step[:, None] / np.maximum(extent[np.maximum(cell, 0)], 1e-300), axis=2)
    known = cell >= 0
    counts = np.where(known, share, 0.0).sum(axis=1) / np.maximum(known.mean(axis=1), 1e-9)
    return float(np.median(counts[known.any(axis=1)])) if known.any() else 0.0
