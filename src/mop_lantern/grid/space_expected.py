"""How many cells a space will have, told before its grid is made."""

from __future__ import annotations

import hashlib
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.cubes import EIGHT, Base, lattice, packed, ring, unpacked
from mop_lantern.shape.surface import Surface, winding

Floats = NDArray[np.float64]
Ints = NDArray[Any]
LOOKED_AT = 2000  # places asked at a level
WITHIN = 3  # places along a cube that meets the surface
LEAST = 0.25  # of a cube: less fluid is merged with a neighbour
DENSE = 6.0  # samples of the surface over the area of a cube's side
KEPT = 64  # numbers remembered
MOST = 600_000  # samples: larger numbers of cells are told from those of a coarser grid


_KNOWN: dict[tuple[bytes, float, int], int] = {}


def cells_expected(surface: Surface, size: float, doublings: int) -> int:
    """Estimate the cells of a grid with cells of a size (m) at the surface, which double so often away from
    it; finer places are not counted.

    Cubes are halved by the rule grids are made by, where samples of the surface say they meet it; what share
    of them holds fluid is asked at places in some of them.
    """
    mark = hashlib.sha256(surface.points.tobytes() + surface.triangles.tobytes()).digest()
    key = mark, size, doublings
    if key not in _KNOWN:
        while len(_KNOWN) >= KEPT:
            _KNOWN.pop(next(iter(_KNOWN)), None)
        _KNOWN[key] = _expected(surface, size, doublings)
    return _KNOWN[key]


def _expected(surface: Surface, size: float, doublings: int) -> int:
    area = float(np.linalg.norm(surface.area_vectors, axis=1).sum())
    coarser = max(1.0, np.sqrt(DENSE * area / size**2 / MOST))
    try:
        base = lattice(surface, coarser * size, doublings)
    except RunError:
        return int(surface.volume / size**3)
    finest = base.size / 2**base.deepest
    samples = _strewn(surface, int(DENSE * area / finest**2) + 1)
    corners = surface.points[np.unique(surface.triangles)]
    large, others = _count(surface, base, np.vstack([samples, corners]))
    if coarser == 1.0:
        return max(int(large + others), 1)
    # finer ones of the same shape: those along walls grow as their area, a band of as many cells is thinner
    band = max(surface.volume - large * base.size**3, 0.0) / finest
    inside = max(surface.volume - band * size, 0.0) / (2**base.deepest * size) ** 3
    return max(int(inside + others * (finest / size) ** 2), 1)


def _strewn(surface: Surface, count: int) -> Floats:
    """Lay places all over a surface, as many over any area, (n, 3) m.

    Roberts, "The unreasonable effectiveness of quasirandom sequences" (2018), for places within a triangle;
    from memory.
    """
    size = np.cumsum(np.linalg.norm(surface.area_vectors, axis=1))
    n = np.arange(count)
    triangle = np.minimum(np.searchsorted(size, (n + 0.5) / count * size[-1]), len(size) - 1)
    u, v = (n * 0.7548776662466927) % 1.0, (n * 0.5698402909980532) % 1.0
    beyond = u + v > 1
    u, v = np.where(beyond, 1 - u, u)[:, None], np.where(beyond, 1 - v, v)[:, None]
    a, b, c = (surface.points[surface.triangles[triangle, k]] for k in range(3))
    return np.asarray(a + u * (b - a) + v * (c - a))


def _count(surface: Surface, base: Base, samples: Floats) -> tuple[float, float]:
    """Give the cells that are not halved and lie off the surface, and all others."""
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
    asked: list[Floats] = []
    groups: list[tuple[int, int, int, bool]] = []  # cubes, those asked, places in each, whether large
    for level in range(base.deepest + 1):
        halved = np.isin(here, split[level]) if level < base.deepest else np.zeros(len(here), bool)
        leaves = here[~halved]
        cut = np.isin(leaves, met[level])
        size = base.size / 2**level
        for chosen, along in ((leaves[cut], WITHIN), (leaves[~cut], 1)):
            places = _places(base.origin + unpacked(chosen) * size, size, along)
            asked.append(places.reshape(-1, 3))
            groups.append((len(chosen), len(places), along**3, level == 0 and along == 1))
        here = packed(((unpacked(here[halved]) << 1)[:, None] + EIGHT).reshape(-1, 3))
    inside = winding(surface, np.vstack(asked)) > 0
    large = others = 0.0
    begin = 0
    for count, looked, each, big in groups:
        share = inside[begin : begin + looked * each].reshape(looked, each).mean(axis=1)
        begin += looked * each
        # walls thinner than cells hide between places: they are told by what they take up
        found = count * max((share >= LEAST).mean(), share.mean()) if looked else 0.0
        large, others = (large + found, others) if big else (large, others + found)
    return large, others


def _places(low: Floats, size: float, along: int) -> Floats:
    """Give places spread in some of the cubes of a size (m) with the first corners ``low``, (k, n, 3) m."""
    random = np.random.default_rng(0)
    chosen = random.choice(len(low), min(LOOKED_AT // along**2, len(low)), replace=False)
    at = np.stack(np.meshgrid(*[np.arange(along)] * 3), axis=-1).reshape(-1, 3)
    return np.asarray(low[chosen][:, None] + size * (at + random.random((len(chosen), along**3, 3))) / along)
