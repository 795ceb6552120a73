"""Grids of fluid and solids in space on the same cubes: both sides of a wall are cut alike, and every piece
of it is paired with what lies behind it.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from functools import partial
from itertools import combinations
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.cubes import lattice
from mop_lantern.grid.joint_kernels import overlaps
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.octree import Octree, grow
from mop_lantern.grid.regions import together
from mop_lantern.grid.space_grid import Pieces, cut_out
from mop_lantern.grid.space_merge import MERGE_BELOW
from mop_lantern.grid.space_size import Wants
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
Ints = NDArray[Any]
SCRAP = 1e-4  # of a cube: less of a solid is merged with a neighbour
FLUSH = 1e-3  # of a cube: planes this close are one
WHOLE = 1e-5  # of a face: less without a partner is rounding


@dataclass
class _Walls:
    """Pieces of wall of one region: cube, name, way they face (0 to 5), how far out their plane lies (in
    `FLUSH` cubes, positive where they face out of the first region of a pair), face of the mesh, area and
    what of it has no partner yet, m2.
    """

    cube: Ints
    name: Ints
    facing: Ints
    plane: Floats
    face: Ints
    area: Floats
    free: Floats


@dataclass(frozen=True)
class _Joint:
    """Pairs of boundary faces of two regions and the wall they share, m2."""

    one: str
    other: str
    near: Ints
    far: Ints
    area: Floats


def make_regions_in_space(
    surface: Surface,
    cell: float,
    levels: int = 0,
    wants: Wants | None = None,
    deeper: int = 0,
) -> Mesh:
    """Make the mesh of a wet space and of the solids that go with it (`Surface.solids`) on one set of cubes.

    Parameters
    ----------
    As of `make_in_space`; cells at surfaces of solids are as small as those at surfaces of the fluid.

    Raises
    ------
    RunError : too many cells, or none; a surface that cannot be cut cleanly.
    """
    regions = ({} if surface.dry else {"": surface}) | surface.solids
    points, triangles, owner = _stacked(list(regions.values()))
    base = lattice(
        Surface(points, triangles, np.zeros(len(triangles), np.int64), ("all",)), cell, levels, deeper
    )

    def wanted(centres: Floats, sizes: Floats, met: NDArray[np.bool_]) -> Floats:
        usual = np.where(met, base.size / 2**levels, np.inf)
        return usual if wants is None else np.minimum(usual, wants(centres, sizes, base.size / 2**levels))

    tree = grow(points, triangles, base, wanted)
    meshes: dict[str, Mesh] = {}
    walls: dict[str, _Walls] = {}
    names = tuple(dict.fromkeys(name for region in regions.values() for name in region.names))
    for number, (key, region) in enumerate(regions.items()):
        try:
            own = _own(tree, owner == number, int(np.argmax(owner == number)))
            # heat needs no merging, which would make one cell of a thin layer
            meshes[key], pieces = cut_out(region, own, SCRAP if key else MERGE_BELOW)
        except RunError as problem:
            where = f"{problem.where}, in the solid {key}" if key else problem.where
            raise RunError(problem.says, where, problem.remedy) from None
        walls[key] = _walls(region, pieces, names, tree.h * tree.edge, tree.origin)
    joints = _paired(walls)
    sides = {key: _divided(key, meshes[key], walls[key], joints) for key in meshes}
    rows = [
        (joint.one, joint.other, sides[joint.one][1][k], sides[joint.other][1][k])
        for k, joint in enumerate(joints)
    ]
    return together({key: side[0] for key, side in sides.items()}, rows)


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


def _walls(
    region: Surface,
    pieces: Pieces,
    names: tuple[str, ...],
    size: Floats,
    origin: Floats,
) -> _Walls:
    number = {name: k for k, name in enumerate(names)}
    name = np.array([number[each] for each in region.names])[region.labels[pieces.triangle]]
    area = np.linalg.norm(pieces.area, axis=1)
    vector = region.area_vectors[pieces.triangle]
    axis = np.abs(vector).argmax(axis=1)
    facing = 2 * axis + (vector[np.arange(len(vector)), axis] > 0)
    normal = vector / np.linalg.norm(vector, axis=1)[:, None]
    out = (normal * (pieces.centre - origin)).sum(axis=1)
    plane = out / (FLUSH * size[pieces.cube])
    return _Walls(pieces.cube, name, facing, plane, pieces.face, area, area.copy())


def _paired(walls: dict[str, _Walls]) -> list[_Joint]:
    """Pair the walls of all regions: pieces that one cube cuts, that have the same name and face each other;
    then those that lie in one plane, whatever their names; then those of one name that rounding lets face
    otherwise. No more is paired than is there.
    """
    found = []
    many = 1 + max((int(side.name.max(initial=0)) for side in walls.values()), default=0)

    def named(side: _Walls, far: bool) -> Ints:
        return np.asarray((side.cube * many + side.name) * 6 + (side.facing ^ far))

    def flush(side: _Walls, far: bool, shift: float) -> Ints:
        place = np.floor((-side.plane if far else side.plane) + shift).astype(np.int64)
        return np.asarray(((side.cube * 6 + (side.facing ^ far)) << 24) + (place & 0xFFFFFF))

    stages: tuple[Callable[[_Walls, bool], Ints], ...] = (
        named,
        partial(flush, shift=0.0),
        partial(flush, shift=0.5),
        lambda side, far: side.cube * many + side.name,
    )
    for key in stages:
        for one, other in combinations(walls, 2):
            near = walls[one]
            far = walls[other]
            joint = _overlapping(near, far, key(near, False), key(far, True))
            if len(joint[2]):
                found.append(_Joint(one, other, *joint))
    return found


def _overlapping(
    near: _Walls,
    far: _Walls,
    near_key: Ints,
    far_key: Ints,
) -> tuple[Ints, Ints, Floats]:
    """Pair pieces of equal keys as far as they are free; give the faces of both and the area (m2) of each
    pair.
    """
    mine = np.flatnonzero(near.free > WHOLE * near.area)
    its = np.flatnonzero(far.free > WHOLE * far.area)
    mine = mine[np.argsort(near_key[mine], kind="stable")]
    its = its[np.argsort(far_key[its], kind="stable")]
    room = len(mine) + len(its)
    one = np.zeros(room, np.int64)
    other = np.zeros(room, np.int64)
    area = np.zeros(room)
    mine_free = near.free[mine]
    its_free = far.free[its]
    count = overlaps(near_key[mine], mine_free, far_key[its], its_free, one, other, area)
    near.free[mine] = mine_free
    far.free[its] = its_free
    faces = np.column_stack([near.face[mine[one[:count]]], far.face[its[other[:count]]]])
    if not count:
        return faces[:, 0], faces[:, 1], area[:0]
    pairs, index = np.unique(faces, axis=0, return_inverse=True)
    summed = np.bincount(index.reshape(-1), area[:count], len(pairs))
    return pairs[:, 0], pairs[:, 1], np.asarray(summed, float)


def _divided(
    key: str,
    mesh: Mesh,
    walls: _Walls,
    joints: list[_Joint],
) -> tuple[Mesh, list[Ints]]:
    """Divide the boundary faces of a region among what lies behind them: one face a pair, and one for what
    has nothing behind it. Shares add up, so that cells stay closed. Give the mesh, and the new face of every
    pair
    of every joint (empty for joints of other regions).
    """
    inner = mesh.n_internal
    whole = np.bincount(walls.face, walls.area, mesh.n_boundary)
    sides = [joint.near if joint.one == key else joint.far for joint in joints]
    mine = [key in (joint.one, joint.other) for joint in joints]
    face = np.concatenate([np.zeros(0, np.int64), *(s for s, own in zip(sides, mine, strict=True) if own)])
    area = np.concatenate([np.zeros(0), *(j.area for j, own in zip(joints, mine, strict=True) if own)])
    paired = np.bincount(face, area, mesh.n_boundary)
    left = np.maximum(whole - paired, 0.0)
    rest = np.flatnonzero((left > WHOLE * whole) | (paired == 0))
    source = np.concatenate([face, rest])
    part = np.concatenate([area, np.where(paired[rest] == 0, 1.0, left[rest])])
    part /= np.bincount(source, part, mesh.n_boundary)[source]
    order = np.argsort(source, kind="stable")
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    source = source[order]
    divided = replace(
        mesh,
        owner=np.concatenate([mesh.owner[:inner], mesh.owner[inner:][source]]),
        area=np.concatenate([mesh.area[:inner], mesh.area[inner:][source] * part[order][:, None]]),
        face_centre=np.concatenate([mesh.face_centre[:inner], mesh.face_centre[inner:][source]]),
        patch=mesh.patch[source],
    )
    count = np.array([len(s) if own else 0 for s, own in zip(sides, mine, strict=True)], np.int64)
    return divided, np.split(rank[: len(face)], np.cumsum(count)[:-1]) if len(joints) else []
