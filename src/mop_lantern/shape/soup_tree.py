"""A tree of boxes over triangles in no order, for all that asks which of many lie near or across."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
Ints = NDArray[Any]
LEAF = 4  # triangles
BITS = 20  # of a coordinate along the curve


@dataclass(frozen=True)
class SoupTree:
    """A full binary tree over triangles laid along a curve that fills space.

    Attributes
    ----------
    corners : (m, 3, 3) m, along the curve. order : (m,) their numbers as given. low, high : (n, 3) m, the
    boxes of nodes; node 1 is the root, 2 k and 2 k + 1 lie beneath node k, the last half are leaves of `LEAF`
    triangles each in turn; boxes of nodes without triangles are inside out.
    """

    corners: Floats
    order: Ints
    low: Floats
    high: Floats


def soup_tree(corners: Floats) -> SoupTree:
    """Lay triangles (m, 3, 3) m along a curve (Morton, "A computer oriented geodetic data base", IBM 1966)
    and box them.
    """
    middle = corners.mean(axis=1)
    low = middle.min(axis=0)
    size = float(np.ptp(middle, axis=0).max()) or 1.0
    place = ((middle - low) / size * (2**BITS - 1)).astype(np.uint64)
    order = np.argsort(_spread(place[:, 0]) | _spread(place[:, 1]) << 1 | _spread(place[:, 2]) << 2)
    laid = corners[order]
    leaves = 1 << max(int(np.ceil(np.log2(max(len(laid) / LEAF, 1)))), 0)
    missing = leaves * LEAF - len(laid)
    boxes = []
    for of, empty, choose in ((laid.min(axis=1), np.inf, np.min), (laid.max(axis=1), -np.inf, np.max)):
        level = choose(np.vstack([of, np.full((missing, 3), empty)]).reshape(leaves, LEAF, 3), axis=1)
        levels = [level]
        while len(level) > 1:
            level = choose(level.reshape(-1, 2, 3), axis=1)
            levels.append(level)
        boxes.append(np.vstack([np.full((1, 3), empty), *levels[::-1]]))
    return SoupTree(np.ascontiguousarray(laid), order, *boxes)


def _spread(number: Ints) -> Ints:
    """Put two empty bits after every bit of numbers of `BITS` bits."""
    number = (number | number << np.uint64(32)) & np.uint64(0x1F00000000FFFF)
    number = (number | number << np.uint64(16)) & np.uint64(0x1F0000FF0000FF)
    number = (number | number << np.uint64(8)) & np.uint64(0x100F00F00F00F00F)
    number = (number | number << np.uint64(4)) & np.uint64(0x10C30C30C30C30C3)
    return (number | number << np.uint64(2)) & np.uint64(0x1249249249249249)
