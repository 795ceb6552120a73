"""Distance from cells to stretches of the boundary."""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.numerics.nearest import nearest_tree


def near(
    places: Any,
    centres: Any,
    sizes: Any,
    distance: float,
) -> Any:
    """Tell which cells come within a distance (m) of places ((k, 2 or 3) m)."""
    if not len(places):
        return np.zeros(len(centres), bool)
    reach = distance + (0.75 if np.shape(places)[1] == 2 else 0.87) * sizes
    far, _ = nearest_tree(places).query(
        centres, distance_upper_bound=float(np.max(reach, initial=0.0)) * 1.001
    )
    return far <= reach


def along_walls(
    numbers: Any,
    small: float,
    centres: Any,
    sizes: Any,
    plane: Any,
) -> Any:
    """Want ``small`` cells (m) within the given number of layers of all walls, (n,) m; inf elsewhere.

    Parameters
    ----------
    numbers : ``layers`` of them, and ``open_labels`` of the edges that are no walls.
    """
    close = near(
        plane.samples(~np.isin(plane.labels, numbers.open_labels), small),
        centres,
        sizes,
        numbers.layers * small,
    )
    return np.where(close, small, np.inf)
