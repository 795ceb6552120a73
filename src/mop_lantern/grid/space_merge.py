"""Join slivers of a cut grid with their neighbours, and keep what hangs together."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.errors import RunError

Floats = NDArray[np.float64]
Ints = NDArray[Any]
MERGE_BELOW = 0.25  # of a full cell, as in a plane


def merged(
    volume: Floats,
    full: Floats,
    own: Ints,
    nei: Ints,
    area: Floats,
    least: float = MERGE_BELOW,
) -> Ints:
    """Join bodies that are too small with the neighbour behind their largest face; give the group of each,
    named by its first member.

    Parameters
    ----------
    volume, full : (n,) m3, what a body holds and its whole cube. own, nei, area : the faces between bodies.
    least : share of its cube below which a body is too small.
    """
    group = np.arange(len(volume))
    for _ in range(12):
        held = np.bincount(group, volume, len(group))
        whole = np.zeros(len(group))
        np.maximum.at(whole, group, full)
        small = (held < least * whole) & (np.bincount(group, minlength=len(group)) > 0)
        first = group[own]
        second = group[nei]
        reach = np.concatenate([np.column_stack([first, second]), np.column_stack([second, first])])
        size = np.tile(area, 2)
        use = small[reach[:, 0]] & (reach[:, 0] != reach[:, 1])
        if not use.any():
            break
        reach = reach[use]
        size = size[use]
        pair, index = np.unique(reach[:, 0] * len(group) + reach[:, 1], return_inverse=True)
        total = np.bincount(index, size)
        source = pair // len(group)
        target = pair % len(group)
        order = np.lexsort((total, source))
        last = np.append(source[order][1:] != source[order][:-1], True)
        source = source[order][last]
        target = target[order][last]
        links = coo_matrix((np.ones(len(source)), (source, target)), (len(group), len(group)))
        _, joined = connected_components(links, directed=False)
        _, named, back = np.unique(joined[group], return_index=True, return_inverse=True)
        group = np.asarray(named[back])
    return group


def connected(
    volume: Floats,
    own: Ints,
    nei: Ints,
    group: Ints,
    within: Sequence[Callable[[int], bool]] = (),
) -> tuple[Ints, int]:
    """Keep the largest space that hangs together; give the cell of every body (-1: left out), and how many
    cells there are.

    Parameters
    ----------
    volume, own, nei, group : as of `merged`. within : where there are several wet spaces, tell whether a body
    lies in each: the largest that hangs together is kept of every one.

    Raises
    ------
    RunError : nothing holds fluid.
    """
    links = coo_matrix((np.ones(len(own)), (group[own], group[nei])), (len(group), len(group)))
    _, space = connected_components(links, directed=False)
    size = np.bincount(space[group], volume)
    if not len(size) or size.max() <= 0:
        raise RunError("no cell of the grid holds fluid.", "field.grid", "Make the cells smaller.")
    largest = np.zeros(len(size), np.int64)  # the largest body of every space
    rising = np.argsort(volume, kind="stable")
    largest[space[group][rising]] = rising
    order = np.argsort(-size)[: int((size > 0).sum())].tolist()
    chosen = [next((k for k in order if lies(int(largest[k]))), -1) for lies in within] or order[:1]
    kept = np.isin(space[group], chosen) & (np.bincount(group, volume, len(group))[group] > 0)
    names = np.unique(group[kept])
    return np.where(kept, np.searchsorted(names, group), -1), len(names)
