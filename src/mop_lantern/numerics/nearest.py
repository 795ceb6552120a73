"""Nearest neighbours; the library behind it is loaded on first use, so that the window opens without waiting
for it.
"""

from __future__ import annotations

from typing import Any

from numpy.typing import NDArray


def nearest_tree(points: NDArray[Any]) -> Any:
    """Make a search tree over (n, k) points; ``query(places, k)`` gives distances and indices."""
    from scipy.spatial import cKDTree

    return cKDTree(points)
