"""How small cells at lips have to be: at sharp edges that stand into the fluid."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape import Lips

Floats = NDArray[np.float64]
REACH = 0.4  # of the passage: as far as a stream that tears off is narrow


def around_lips(lips: Lips, centres: Floats, sizes: Floats, across: float, least: float) -> Floats:
    """Give the sizes wanted (n,) m of cells at lips: their passage over ``across``, ``least`` (m) or more."""
    wanted = np.full(len(centres), np.inf)
    if not len(lips) or not len(centres):
        return wanted
    place, back = np.unique(np.round(lips.place, 9), axis=0, return_inverse=True)
    width = np.full(len(place), np.inf)
    np.minimum.at(width, back.reshape(-1), lips.width)
    far, nearest = nearest_tree(place).query(centres)
    own = width[nearest]
    at = far <= REACH * own + 0.87 * sizes
    return np.asarray(np.where(at, np.maximum(own / across, least), wanted))
