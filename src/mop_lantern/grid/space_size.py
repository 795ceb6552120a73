"""How large the cells of a space are, and how many there will be."""

from __future__ import annotations

from collections.abc import Callable, Iterable
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import discover
from mop_lantern.grid.refinement import Refinement
from mop_lantern.grid.tree import LEVELS
from mop_lantern.shape.passages import Passage
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
Wants = Callable[[Floats, Floats, float], Floats]
DEEPEST = 6  # halvings below the usual size at walls
ACROSS = 16.0  # cells over the bore of the smallest opening at the working level


def cell_size(surface: Surface, grid: Any, openings: Iterable[str] = ()) -> float:
    """Give the size of cells at the surface, m: as asked, or a sixteenth of the smallest opening; by the
    level of the grid.

    Parameters
    ----------
    grid : resolved grid section: ``cell`` (m or None), ``level``, ``scale`` where there is one.
    """
    size = grid.cell
    if size is None:
        areas = [surface.edge_lengths[name] for name in openings if name in surface.edge_lengths]
        first = getattr(grid, "first", None)
        bore = float(np.sqrt(4 * min(areas) / np.pi)) if areas else surface.volume ** (1 / 3)
        size = first.width / first.across if first is not None and first.width > 0 else bore / ACROSS
    return float(size * LEVELS[grid.level] * getattr(grid, "scale", 1.0))


def wants(surface: Surface, grid: Any, openings: Iterable[str]) -> Wants | None:
    """Give what the grid's own list of finer places and a former solution want; None when they want nothing.

    Parameters
    ----------
    grid : resolved grid section: ``refine``, ``doublings``; ``adapted`` and ``wall_unit`` (m, the distance
    of one y+) where there are such. openings : names
    of faces that are no walls.
    """
    adapted = getattr(grid, "adapted", None)
    if not grid.refine and adapted is None:
        return None
    kinds = discover("mop_lantern.grid.refinements", Refinement)
    labels = [surface.names.index(name) for name in openings if name in surface.names]
    for numbers in grid.refine.values():
        numbers.open_labels = labels
        numbers.wall_unit = getattr(grid, "wall_unit", 0.0)
        numbers.fluid = surface
        numbers.scale = LEVELS[getattr(grid, "level", "working")] * getattr(grid, "scale", 1.0)

    def wanted(centres: Floats, sizes: Floats, usual: float) -> Floats:
        found = np.full(len(centres), np.inf)
        for numbers in grid.refine.values():
            found = np.minimum(
                found,
                kinds[numbers.kind].wanted(
                    numbers,
                    centres,
                    sizes,
                    surface,
                    usual,
                ),
            )
        if adapted is not None:
            found = np.minimum(found, usual * 2.0 ** (int(grid.doublings) - adapted.at(centres)))
        return found

    return wanted


def expected_across(
    surface: Surface,
    grid: Any,
    openings: Iterable[str],
    passage: Passage,
) -> float:
    """Count the cells across a passage there will be, roughly: two at each wall, larger ones between where
    they double.
    """
    size = cell_size(surface, grid, openings)
    finer = wants(surface, grid, openings)
    if finer is not None:
        size = min(size, float(finer(passage.middle[None], np.array([size]), size)[0]))
    count = passage.width / size
    return count if count <= 4 or int(grid.doublings) == 0 else 4 + (count - 4) / 2
