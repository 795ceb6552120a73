"""How large the cells of a space are, and how many there will be."""

from __future__ import annotations

from collections.abc import Iterable
from typing import Any

import numpy as np

from mop_lantern.grid.tree import LEVELS
from mop_lantern.shape.surface import Surface

ACROSS = 16.0  # cells over the bore of the smallest opening at the working level
DOUBLINGS = 1  # how often cells double away from walls


def cell_size(surface: Surface, grid: Any, openings: Iterable[str] = ()) -> float:
    """Give the size of cells at the surface, m: as asked, or a sixteenth of the smallest opening; by the level of the grid.

    Parameters
    ----------
    grid : resolved grid section: ``cell`` (m or None), ``level``, ``scale`` where there is one.
    """
    size = grid.cell
    if size is None:
        areas = [surface.edge_lengths[name] for name in openings if name in surface.edge_lengths]
        bore = float(np.sqrt(4 * min(areas) / np.pi)) if areas else surface.volume ** (1 / 3)
        size = bore / ACROSS
    return float(size * LEVELS[grid.level] * getattr(grid, "scale", 1.0))


def cells_expected(surface: Surface, size: float) -> int:
    """Count the cells there will be, roughly: fine ones along the surface, eight times larger ones inside."""
    walls = float(np.linalg.norm(surface.area_vectors, axis=1).sum()) * 4 * size
    inside = max(surface.volume - walls, 0.0)
    return int((min(walls, surface.volume) + inside / 8**DOUBLINGS) / size**3)
