"""The narrowest ways from wall to wall, in planes and spaces alike: where cells across a passage are
counted.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.facing import facing_places
from mop_lantern.shape.plane import Plane, facing_walls
from mop_lantern.shape.solid import HAIR
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
TESTS = 2_000_000  # of rays against triangles, while a case is written
FEWEST_RAYS, MOST_RAYS = 48, 400
ALIKE = 1.02  # widths up to this share of the narrowest count as the same passage
TAKEN = 15
UNDER_PATCHES = 3  # hairs of the whole shape: at most the gap beneath what stands on a patch


@dataclass(frozen=True)
class Passage:
    """The narrowest passage: lines straight across it.

    Attributes
    ----------
    start, end : (k, 2 or 3) m, from wall to wall; around an axis the end may lie beyond it. width : m.
    """

    start: Floats
    end: Floats
    width: float

    @property
    def middle(self) -> Floats:
        """The middle of the first line, m."""
        return 0.5 * (self.start[0] + self.end[0])


def narrowest_passage(shape: Plane | Surface, openings: Iterable[str]) -> Passage | None:
    """Find the narrowest passage between walls that face each other; None where there is none, or no
    fluid.
    """
    if shape.dry:
        return None
    if isinstance(shape, Plane):
        start, way, width = facing_walls(shape, frozenset(openings))
    else:
        walls = ~np.isin(shape.labels, [shape.names.index(name) for name in openings if name in shape.names])
        rays = int(np.clip(TESTS // max(len(shape.triangles), 1), FEWEST_RAYS, MOST_RAYS))
        start, way, width = facing_places(shape, walls, rays)
        if any(name.endswith(".rim") for name in shape.names):  # what stands on a patch leaves its hair free
            real = width > UNDER_PATCHES * HAIR * shape.size
            start, way, width = start[real], way[real], width[real]
    if not len(width):
        return None
    order = np.argsort(width, kind="stable")
    taken = order[width[order] <= ALIKE * width[order[0]]]
    taken = taken[:: max(1, len(taken) // TAKEN)]
    return Passage(start[taken], start[taken] + width[taken, None] * way[taken], float(width[order[0]]))
