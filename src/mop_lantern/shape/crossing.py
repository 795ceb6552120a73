"""Triangles that run through each other, and how deep: such a body has no inside to speak of.

Two triangles cross where each has corners on both sides of the other's plane and the pieces they cut from the
line common to both planes overlap. The depth is how far one would have to be moved for that to end: the least
of the distances of corners from the other's plane, to either side, and of the length of the overlap. It is a
length, so that slivers are measured as all others are.
"""

from __future__ import annotations

import threading
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import FileError
from mop_lantern.shape.crossing_kernels import search
from mop_lantern.shape.soup_tree import soup_tree

Floats = NDArray[np.float64]
Ints = NDArray[Any]
SURE = 1e-7  # of the size, or of how far off the origin it lies: shallower ones are rounding, or a touch
AT_ONCE = 20_000  # triangles looked at before somebody may stop it
MOST = 100_000  # pairs kept


@dataclass(frozen=True)
class Crossings:
    """What crosses.

    Attributes
    ----------
    pairs : (k, 2) numbers of triangles, the first `MOST` of them. depth : (k,) m. count : of all pairs.
    """

    pairs: Ints
    depth: Floats
    count: int


def crossings(points: Floats, triangles: Ints, stop: threading.Event | None = None) -> Crossings:
    """Give the pairs of triangles that run through each other deeper than rounding; touching does not count.

    Parameters
    ----------
    points : (n, 3) m. triangles : (m, 3). stop : set by another thread, the search ends.

    Raises
    ------
    FileError : it was stopped.

    References
    ----------
    Möller, "A fast triangle-triangle intersection test", J. Graphics Tools 2 (1997) 25-30; the depth is ours.
    """
    if not len(triangles):
        return Crossings(np.zeros((0, 2), np.int64), np.zeros(0), 0)
    tree = soup_tree(points[triangles])
    used = points[np.unique(triangles)]
    least = SURE * max(float(np.linalg.norm(np.ptp(used, axis=0))), float(np.abs(used).max()))
    number = np.ascontiguousarray(triangles[tree.order], np.int64)
    pairs = np.zeros((MOST, 2), np.int64)
    depth = np.zeros(MOST)
    own = tree.corners.min(axis=1), tree.corners.max(axis=1)
    count = 0
    for first in range(0, len(triangles), AT_ONCE):
        if stop is not None and stop.is_set():
            raise FileError("looking for triangles that cross was stopped.")
        last = min(first + AT_ONCE, len(triangles))
        count = search(
            first, last, tree.corners, number, *own, tree.low, tree.high, least, count, pairs, depth
        )
    kept = min(count, MOST)
    return Crossings(tree.order[pairs[:kept]], depth[:kept], count)
