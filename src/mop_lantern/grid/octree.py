"""Cubes that halve where they should be finer: which there are, which triangles each meets, who lies beside
whom.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.cubes import BITS, EIGHT, Base, morton, packed, ring, unpacked
from mop_lantern.numerics.memory import room_for_cells

Floats = NDArray[np.float64]
Ints = NDArray[Any]
MOST = 8_000_000  # cubes


@dataclass(frozen=True)
class Octree:
    """Cubes along a Morton curve.

    Attributes
    ----------
    origin : (3,) m. h : size of a cube of the deepest level, m. deepest : its level; the others count down to
    0.
    level : (n,). low : (n, 3), first corners in deepest cubes. key : (n,), ascending.
    first, triangles : CSR lists of the triangles that meet every cube, ascending within each.
    """

    origin: Floats
    h: float
    deepest: int
    level: Ints
    low: Ints
    key: Ints
    first: Ints
    triangles: Ints

    @property
    def edge(self) -> Ints:
        """Sizes in deepest cubes, (n,)."""
        return np.asarray(1 << (self.deepest - self.level))

    @property
    def cut(self) -> Any:
        """Which cubes meet the surface, (n,) bool."""
        return self.first[1:] > self.first[:-1]

    def faces(self) -> tuple[Ints, Ints, Ints, Ints]:
        """Give every face between two cubes once, as a face of the smaller one: cube, neighbour, direction,
        and side (0 near, 1 far).
        """
        from mop_lantern.grid import boxes

        rows = []
        edge = self.edge
        for axis in range(3):
            for side in (0, 1):
                beside = boxes.beside(self.low, edge, self.key, axis, bool(side), 1 << BITS)
                real = beside >= 0
                mine = self.level >= self.level[beside] if side else self.level > self.level[beside]
                cube = np.flatnonzero(real & mine)
                rows.append((cube, beside[cube], np.full(len(cube), axis), np.full(len(cube), side)))
        own, nei, axes, sides = (np.concatenate([row[k] for row in rows]) for k in range(4))
        return own, nei, axes, sides


def grow(
    points: Floats,
    triangles: Ints,
    base: Base,
    wants: Callable[[Floats, Floats, NDArray[np.bool_]], Floats],
) -> Octree:
    """Halve cubes until each is as small as wanted, neighbours never more than one level apart.

    Parameters
    ----------
    wants : gives the size (m) wanted at centres (k, 3) m of cubes of sizes (k,) m that meet the surface or
    not (k,).

    Raises
    ------
    RunError : too many cubes.
    """
    counts = np.array(base.counts)
    split: list[Ints] = []
    for level, place, first, _ in _descend(points, triangles, base, split):
        if level == base.deepest:
            split.append(np.zeros(0, np.int64))
            break
        size = base.size / 2**level
        met = first[1:] > first[:-1]
        wanted = wants(base.origin + (place + 0.5) * size, np.full(len(place), size), met)
        flag = size > 1.0001 * wanted
        split.append(np.union1d(packed(place[flag & ~met]), ring(place[flag & met], counts << level)))
        if not len(split[-1]):
            break
    for level in range(len(split) - 1, 0, -1):
        split[level - 1] = np.union1d(
            split[level - 1], packed(unpacked(ring(unpacked(split[level]), counts << level)) >> 1)
        )
    deepest = len(split) - 1
    parts = []
    for level, place, first, met in _descend(points, triangles, base, split):
        leaf = ~np.isin(packed(place), split[level])
        count = (first[1:] - first[:-1])[leaf]
        parts.append(
            (
                np.full(len(count), level),
                place[leaf] << (deepest - level),
                count,
                met[np.repeat(leaf, first[1:] - first[:-1])],
            )
        )
        if level == deepest:
            break
    level_of, low, count, met = (np.concatenate([part[k] for part in parts]) for k in range(4))
    key = morton(low)
    order = np.argsort(key)
    start = np.cumsum(count) - count
    moved = np.repeat(start[order] - (np.cumsum(count[order]) - count[order]), count[order]) + np.arange(
        len(met)
    )
    first = np.concatenate([[0], np.cumsum(count[order])])
    return Octree(
        base.origin,
        base.size / 2**deepest,
        deepest,
        level_of[order],
        low[order],
        key[order],
        first,
        met[moved],
    )


def _descend(
    points: Floats,
    triangles: Ints,
    base: Base,
    split: list[Ints],
) -> Any:
    """Go down level by level: places of the cubes that exist there, and the triangles each meets (CSR)."""
    from mop_lantern.grid import boxes

    counts = np.array(base.counts)
    total = boxes.lay_out(
        points,
        triangles,
        base.origin,
        base.size,
        counts,
        np.zeros(0, np.int64),
        np.zeros(0, np.int64),
        True,
    )
    cell = np.zeros(total, np.int64)
    met = np.zeros(total, np.int64)
    boxes.lay_out(
        points,
        triangles,
        base.origin,
        base.size,
        counts,
        cell,
        met,
        False,
    )
    order = np.argsort(cell, kind="stable")
    met = met[order]
    place = np.column_stack(np.unravel_index(np.arange(counts.prod()), tuple(base.counts)))
    first = np.concatenate([[0], np.cumsum(np.bincount(cell, minlength=len(place)))])
    level = 0
    while True:
        yield level, place, first, met
        halved = np.isin(packed(place), split[level])
        room_for_cells(8.0 * int(halved.sum()), "Make the cells larger.")
        if 8 * int(halved.sum()) > MOST:
            raise RunError(
                f"these cells would need more than {MOST:.2g} places.", "field.grid", "Make the cells larger."
            )
        parent = np.repeat(np.flatnonzero(halved), 8)
        place = ((place[halved] << 1)[:, None, :] + EIGHT).reshape(-1, 3)
        level += 1
        size = base.size / 2**level
        low = base.origin + place * size
        room = np.concatenate([[0], np.cumsum((first[1:] - first[:-1])[parent])])
        taken, held = boxes.hand_down(
            points,
            triangles,
            low,
            size,
            parent,
            first,
            met,
            room,
        )
        first = np.concatenate([[0], np.cumsum(taken)])
        met = held[np.repeat(room[:-1] - first[:-1], taken) + np.arange(first[-1])]
