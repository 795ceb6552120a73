"""Grids of fluid and solids on the same cubes: both sides of a wall are cut alike, and every piece of it has
a face on each.

What passes from one to the other, such as heat, needs no interpolation: it goes through the pieces they
share.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.octree import Octree, grow
from mop_lantern.grid.space_grid import Pieces, cut_out, lattice
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
Ints = NDArray[Any]


@dataclass(frozen=True)
class Shared:
    """Wall that fluid and a solid share.

    Attributes
    ----------
    fluid, solid : (k,) boundary faces (counted from the first of each mesh). area : (k, 3) m2, out of the
    fluid.
    """

    fluid: Ints
    solid: Ints
    area: Floats


@dataclass(frozen=True)
class TwoSided:
    """The mesh of the fluid, those of the solids by id, and what each shares with the fluid."""

    fluid: Mesh
    solids: dict[str, Mesh]
    shared: dict[str, Shared]


def make_two_sided(surface: Surface, cell: float, levels: int = 0) -> TwoSided:
    """Make the meshes of a wet space and of the solids kept with it (`Surface.solids`) on one set of cubes.

    Parameters
    ----------
    cell : size of cells at surfaces of either, m. levels : how often cells may double away from them.

    Raises
    ------
    RunError : too many cells, or none; a surface that cannot be cut cleanly.
    """
    regions = {"": surface, **surface.solids}
    points, triangles, owner = _stacked(list(regions.values()))
    base = lattice(Surface(points, triangles, np.zeros(len(triangles), np.int64), ("all",)), cell, levels)

    def wanted(centres: Floats, sizes: Floats, met: NDArray[np.bool_]) -> Floats:
        return np.where(met, base.size / 2**levels, np.inf)

    tree = grow(points, triangles, base, wanted)
    cut = {
        key: cut_out(region, _own(tree, owner == number, int(np.argmax(owner == number))))
        for number, (key, region) in enumerate(regions.items())
    }
    fluid, pieces = cut.pop("")
    shared = {key: _shared(surface, pieces, surface.solids[key], others) for key, (_, others) in cut.items()}
    return TwoSided(fluid, {key: mesh for key, (mesh, _) in cut.items()}, shared)


def _stacked(regions: list[Surface]) -> tuple[Floats, Ints, Ints]:
    """Lay the triangles of all regions behind each other; give points, triangles and the region of each."""
    first = np.cumsum([0, *(len(region.points) for region in regions)])
    triangles = np.vstack([region.triangles + start for region, start in zip(regions, first, strict=False)])
    return (
        np.vstack([region.points for region in regions]),
        np.ascontiguousarray(triangles, np.int64),
        np.repeat(np.arange(len(regions)), [len(region.triangles) for region in regions]),
    )


def _own(tree: Octree, mine: NDArray[np.bool_], first: int) -> Octree:
    """Give the cubes with the triangles of one region only, numbered from its first."""
    keep = mine[tree.triangles]
    cube = np.repeat(np.arange(len(tree.level)), np.diff(tree.first))[keep]
    return replace(
        tree,
        first=np.concatenate([[0], np.cumsum(np.bincount(cube, minlength=len(tree.level)))]),
        triangles=tree.triangles[keep] - first,
    )


def _shared(
    fluid: Surface,
    mine: Pieces,
    solid: Surface,
    its: Pieces,
) -> Shared:
    """Pair the faces of both sides: pieces of one wall that one cube cuts and that face the same way are the
    same piece.

    Where rounding lets the sides disagree about the way, cube and wall alone tell.
    """
    number = {name: k for k, name in enumerate(solid.names)}
    name = np.array([number.get(name, -1) for name in fluid.names])[fluid.labels[mine.triangle]]
    use = name >= 0
    near_place = mine.cube[use] * len(number) + name[use]
    far_place = its.cube * len(number) + solid.labels[its.triangle]
    near_key = 6 * near_place + _facing(fluid.area_vectors[mine.triangle[use]])
    far_key = 6 * far_place + _facing(-solid.area_vectors[its.triangle])
    alone = ~np.isin(near_key, far_key)
    face = mine.face[use]
    area = mine.area[use]
    found = [
        _paired(
            _gathered(near_key[~alone], face[~alone], area[~alone]), _gathered(far_key, its.face, its.area)
        )
    ]
    if alone.any():
        found.append(
            _paired(
                _gathered(near_place[alone], face[alone], area[alone]),
                _gathered(far_place, its.face, its.area),
            )
        )
    return Shared(*(np.concatenate(parts) for parts in zip(*found, strict=True)))


def _facing(vectors: Floats) -> Ints:
    """Tell which way vectors (k, 3) point mostly, 0 to 5."""
    axis = np.abs(vectors).argmax(axis=1)
    return np.asarray(2 * axis + (vectors[np.arange(len(vectors)), axis] > 0))


def _paired(near: tuple[Ints, Ints, Floats], far: tuple[Ints, Ints, Floats]) -> tuple[Ints, Ints, Floats]:
    """Pair gathered pieces of equal keys; give both faces and the area vector. Several of the far side share
    by their size.
    """
    start = np.searchsorted(far[0], near[0], "left")
    end = np.searchsorted(far[0], near[0], "right")
    one = np.repeat(np.arange(len(near[0])), end - start)
    other = (
        np.repeat(start, end - start)
        + np.arange(len(one))
        - np.repeat(np.cumsum(end - start) - (end - start), end - start)
    )
    size = np.linalg.norm(far[2][other], axis=1)
    part = size / np.bincount(one, size, len(near[0]))[one]
    return near[1][one], far[1][other], part[:, None] * near[2][one]


def _gathered(key: Ints, face: Ints, area: Floats) -> tuple[Ints, Ints, Floats]:
    """Sum pieces of one key and face; give keys in order, faces and area vectors."""
    both, index = np.unique(np.column_stack([key, face]), axis=0, return_inverse=True)
    index = index.reshape(-1)
    return (
        both[:, 0],
        both[:, 1],
        np.column_stack([np.bincount(index, area[:, k], len(both)) for k in range(3)]),
    )
