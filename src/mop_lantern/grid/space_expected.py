"""How many cells a space will have, told before its grid is made."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.cubes import EIGHT, Base, lattice, packed, ring, unpacked
from mop_lantern.shape.surface import Surface, winding

Floats = NDArray[np.float64]
Ints = NDArray[Any]
LOOKED_AT = 3000  # places asked at a level
WITHIN = 3  # places along a cube that meets the surface
LEAST = 0.25  # of a cube: less fluid is merged with a neighbour
CLOSE = 0.45  # of a cube: how far apart the surface is sampled
MOST = 3e6  # samples, beyond which cells are told by volume and area alone


def cells_expected(surface: Surface, size: float, doublings: int) -> int:
    """Estimate the cells of a grid with cells of a size (m) at the surface, which double so often away from
    it; finer places are not counted.

    Cubes are halved by the rule grids are made by, where samples of the surface say they meet it; what share
    of them holds fluid is asked at places in some of them.
    """
    area = float(np.linalg.norm(surface.area_vectors, axis=1).sum())
    if area / (CLOSE * size) ** 2 > MOST:
        walls = min(4 * area * size, surface.volume)
        inside = max(surface.volume - walls, 0.0)
        return int((walls + inside / 8 ** min(doublings, 2)) / size**3)
    try:
        base = lattice(surface, size, doublings)
    except RunError:
        return int(surface.volume / size**3)
    samples = surface.samples(np.ones(len(surface.triangles), bool), CLOSE * base.size / 2**base.deepest)
    corners = surface.points[np.unique(surface.triangles)]
    return max(_count(surface, base, np.vstack([samples, corners])), 1)


def _count(surface: Surface, base: Base, samples: Floats) -> int:
    counts = np.array(base.counts)
    met = []
    for level in range(base.deepest + 1):
        place = np.floor((samples - base.origin) / (base.size / 2**level)).astype(np.int64)
        met.append(np.unique(packed(np.clip(place, 0, (counts << level) - 1))))
    split = [ring(unpacked(met[level]), counts << level) for level in range(base.deepest)]
    for level in range(base.deepest - 1, 0, -1):
        around = packed(unpacked(ring(unpacked(split[level]), counts << level)) >> 1)
        split[level - 1] = np.union1d(split[level - 1], around)
    here = packed(np.column_stack(np.unravel_index(np.arange(counts.prod()), tuple(base.counts))))
    cells = 0.0
    for level in range(base.deepest + 1):
        halved = np.isin(here, split[level]) if level < base.deepest else np.zeros(len(here), bool)
        leaves = here[~halved]
        cut = np.isin(leaves, met[level])
        size = base.size / 2**level
        cells += cut.sum() * _share(surface, base.origin + unpacked(leaves[cut]) * size, size, WITHIN)
        cells += (~cut).sum() * _share(surface, base.origin + unpacked(leaves[~cut]) * size, size, 1)
        here = packed(((unpacked(here[halved]) << 1)[:, None] + EIGHT).reshape(-1, 3))
    return int(cells)


def _share(surface: Surface, low: Floats, size: float, along: int) -> float:
    """Give the share of cubes that hold enough fluid to be cells, by some of them."""
    if not len(low):
        return 0.0
    random = np.random.default_rng(0)
    chosen = random.choice(len(low), min(LOOKED_AT // along**2, len(low)), replace=False)
    at = np.stack(np.meshgrid(*[np.arange(along)] * 3), axis=-1).reshape(-1, 3)
    places = low[chosen][:, None] + size * (at + random.random((len(chosen), along**3, 3))) / along
    inside = (winding(surface, places.reshape(-1, 3)) > 0).reshape(len(chosen), -1)
    share = inside.mean(axis=1)
    return float(max((share >= LEAST).mean(), share.mean()))  # walls thinner than cells hide between places
