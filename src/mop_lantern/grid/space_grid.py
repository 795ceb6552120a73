"""Cut-cell grids in space: a lattice cut exactly by the surface, coarsened away from it, slivers merged.

Cells at the surface all have the finest size; away from it eight join into one, again and again, neighbours never more than one level apart.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.ndimage import minimum_filter
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.errors import RunError
from mop_lantern.grid.mesh import Mesh
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
Ints = NDArray[Any]
MERGE_BELOW = 0.25  # of a full cell, as in a plane
OPEN_BELOW = 1e-9  # of a cell's face: smaller openings between cells are rounding
SHIFT = np.array([1.3e-5, 1.9e-5, 2.3e-5])  # of a cell: keeps lattice planes out of flat walls
MOST_FINE = 30_000_000


@dataclass
class _Lattice:
    origin: Floats
    h: float
    counts: tuple[int, int, int]


@dataclass
class _Pieces:
    """Cells before merging: leaf number of every lattice cell (-1: no fluid), and volume, centre, full volume of every leaf."""

    leaf: Ints
    volume: Floats
    centre: Floats
    full: Floats
    level: Ints


@dataclass
class _Faces:
    own: Ints
    nei: Ints
    area: Floats
    moment: Floats
    axis: Ints


def make_in_space(surface: Surface, cell: float, levels: int = 0) -> Mesh:
    """Make the mesh of a wet space.

    Parameters
    ----------
    cell : size of cells at the surface, m. levels : how often cells may double away from it.

    Raises
    ------
    RunError : too many cells, or none.
    """
    if levels < 0 or not cell > 0:
        raise RunError("cells need a size above zero.", "field.grid", "Correct the cell size.")
    lattice = _lattice(surface, cell, levels)
    from mop_lantern.grid import cutting

    given = (np.ascontiguousarray(surface.points, float), np.ascontiguousarray(surface.triangles, np.int64))
    lengths, inside = [], None
    for axis in range(3):
        length, held = cutting.edge_lengths(*given, axis, lattice.origin, lattice.h, lattice.counts)
        lengths.append(length)
        inside = held if axis == 0 else inside
    assert inside is not None
    pieces = cutting.walls(*given, lattice.origin, lattice.h, np.array(lattice.counts), np.zeros(0, np.int64), np.zeros(0, np.int64), np.zeros((0, 11)), True)
    at, triangle, sums = np.zeros(pieces, np.int64), np.zeros(pieces, np.int64), np.zeros((pieces, 11))
    cutting.walls(*given, lattice.origin, lattice.h, np.array(lattice.counts), at, triangle, sums, False)
    squares = [_squares(given, axis, lattice, lengths, inside) for axis in range(3)]
    made = _leaves(lattice, inside, squares, at, sums, levels)
    faces = _join(lattice, made, squares, inside)
    group = _merged(made, faces)
    group, kept = _connected(made, faces, group)
    return _assemble(surface, lattice, made, faces, group, kept, (at, triangle, sums))


def _lattice(surface: Surface, cell: float, levels: int) -> _Lattice:
    """Lay a lattice over the surface whose outermost planes lie just outside it, so that flat ends keep whole cells."""
    low, high = surface.points.min(axis=0), surface.points.max(axis=0)
    block = 2**levels
    counts = np.maximum(np.round((high - low) / (cell * block)), 1).astype(int) * block
    h = float(((high - low) / counts).max())
    h *= 1 + 6e-5
    counts = np.maximum(np.ceil((high - low) / h - 1e-3 / block).astype(int), 1)
    counts = -(-counts // block) * block
    if np.prod(counts.astype(float)) > MOST_FINE:
        raise RunError(f"these cells would need a lattice of {np.prod(counts.astype(float)):.2g} places.", "field.grid", "Make the cells larger.")
    return _Lattice(low - SHIFT * h, h, (int(counts[0]), int(counts[1]), int(counts[2])))


def _squares(given: tuple[Floats, Ints], axis: int, lattice: _Lattice, lengths: list[Floats], inside: Ints) -> tuple[Ints, Floats]:
    """Give area and first moments (from the square's own corner) of the fluid part of lattice faces across an axis.

    Returns
    -------
    slot : number of every face the surface meets, -1 else, axes turned so that ``axis`` comes first. sums : (k, 3).
    """
    from mop_lantern.grid import cutting

    b, c = (axis + 1) % 3, (axis + 2) % 3
    h = lattice.h
    slot, count = cutting.mark_faces(*given, axis, lattice.origin, h, lattice.counts)
    sums = cutting.sum_faces(*given, axis, lattice.origin, h, slot, count)
    i, j, k = np.nonzero(slot >= 0)
    own = slot[i, j, k]
    right = lengths[c][k, i, j + 1]  # the edge along c at the far side in b: arrays of direction c run (c, axis, b)
    top = lengths[b][j, k + 1, i]  # the edge along b at the far side in c: arrays of direction b run (b, c, axis)
    sums[own, 0] += h * right
    sums[own, 1] += 0.5 * h**2 * right
    sums[own, 2] += 0.5 * h**2 * top
    return slot, sums


def _leaves(lattice: _Lattice, inside: Ints, squares: list[tuple[Ints, Floats]], at: Ints, wall: Floats, levels: int) -> _Pieces:
    """Number the cells: cut ones and those near them of the finest size, others as large as they may be."""
    n, h = lattice.counts, lattice.h
    cut = np.zeros(n, bool)
    cut.reshape(-1)[at] = True
    whole = (inside[:-1, :-1, :-1] > 0) & ~cut
    sizes = np.zeros(n, np.int8)
    mergeable = whole
    for k in range(1, levels + 1):
        step = 2**k
        shape = tuple(count // 2 for count in mergeable.shape)
        block = mergeable.reshape(shape[0], 2, shape[1], 2, shape[2], 2).all(axis=(1, 3, 5))
        mergeable = minimum_filter(block.astype(np.uint8), size=3, mode="constant", cval=0).astype(bool)
        coarse = np.repeat(np.repeat(np.repeat(mergeable, step, 0), step, 1), step, 2)
        sizes[coarse] = k
    ix, iy, iz = np.nonzero(whole | cut)
    level = sizes[ix, iy, iz]
    corner = np.column_stack([ix, iy, iz]) >> level[:, None] << level[:, None]
    key = np.ravel_multi_index(tuple(corner.T), n)
    unique, number = np.unique(key, return_inverse=True)
    leaf = np.full(n, -1, np.int64)
    leaf[ix, iy, iz] = number
    low = np.column_stack(np.unravel_index(unique, n))
    level_of = sizes[tuple(low.T)].astype(int)
    edge = h * 2.0**level_of
    volume, centre = edge**3, lattice.origin + low * h + 0.5 * edge[:, None]
    volume, centre = _cut_volumes(lattice, leaf, inside, squares, at, wall, volume, centre)
    return _Pieces(leaf, volume, centre, edge**3, level_of)


def _cut_volumes(lattice: _Lattice, leaf: Ints, inside: Ints, squares: list[tuple[Ints, Floats]], at: Ints, wall: Floats, volume: Floats, centre: Floats) -> tuple[Floats, Floats]:
    """Work out volume and centre of the cut cells by Gauss's theorem."""
    n, h = lattice.counts, lattice.h
    cells, position = np.unique(at, return_inverse=True)
    sums = np.column_stack([np.bincount(position, wall[:, k], len(cells)) for k in range(11)]) if len(cells) else np.zeros((0, 11))
    place = np.column_stack(np.unravel_index(cells, n))
    far = [_fluid_area(squares[axis], axis, place + np.eye(3, dtype=int)[axis], inside, h) for axis in range(3)]
    own = leaf[tuple(place.T)]
    found = h * far[0] + sums[:, 6]
    first = np.column_stack([0.5 * h**2 * far[axis] + sums[:, 7 + axis] for axis in range(3)])
    thin = found < 1e-12 * h**3
    volume, centre = volume.copy(), centre.copy()
    volume[own] = np.where(thin, 0.0, found)
    middle = np.where(thin[:, None], 0.5 * h, first / np.where(thin, 1.0, found)[:, None])
    centre[own] = lattice.origin + place * h + np.clip(middle, 0.0, h)
    return volume, centre


def _fluid_area(square: tuple[Ints, Floats], axis: int, place: Ints, inside: Ints, h: float) -> Floats:
    """Give the fluid area of the lattice faces across an axis at the near side of places; one the surface misses is whole or nothing."""
    slot, sums = square
    turned = np.roll(place, -axis, axis=1)
    own = slot[tuple(turned.T)]
    whole = np.where(inside[tuple(place.T)] > 0, h**2, 0.0)
    return np.where(own >= 0, sums[np.maximum(own, 0), 0] if len(sums) else 0.0, whole)


def _join(lattice: _Lattice, made: _Pieces, squares: list[tuple[Ints, Floats]], inside: Ints) -> _Faces:
    """Gather the faces between leaves: the lattice faces they share, summed."""
    h, rows = lattice.h, []
    for axis in range(3):
        slot, sums = squares[axis]
        leaf = np.moveaxis(made.leaf, (axis, (axis + 1) % 3, (axis + 2) % 3), (0, 1, 2))
        near, far = leaf[:-1], leaf[1:]
        i, j, k = np.nonzero((near != far) & (near >= 0) & (far >= 0))
        own = slot[i + 1, j, k]
        met = own >= 0
        node = np.moveaxis(inside, (axis, (axis + 1) % 3, (axis + 2) % 3), (0, 1, 2))[i + 1, j, k] > 0
        area = np.where(node, h**2, 0.0)
        local = np.repeat(0.5 * h * area[:, None], 2, axis=1)
        area[met], local[met] = sums[own[met], 0], sums[own[met], 1:]
        corner = np.zeros((len(i), 3))
        corner[:, axis] = i + 1
        corner[:, (axis + 1) % 3], corner[:, (axis + 2) % 3] = j, k
        base = lattice.origin + h * corner
        moment = area[:, None] * base
        moment[:, (axis + 1) % 3] += local[:, 0]
        moment[:, (axis + 2) % 3] += local[:, 1]
        keep = area > OPEN_BELOW * h**2
        rows.append((near[i, j, k][keep], far[i, j, k][keep], area[keep], moment[keep], np.full(int(keep.sum()), axis)))
    own, nei, area, moment, axes = (np.concatenate([row[k] for row in rows]) for k in range(5))
    return _Faces(own, nei, area, moment, axes)


def _merged(made: _Pieces, faces: _Faces) -> Ints:
    """Join cells that are too small with the neighbour behind their largest face; give the group of every leaf."""
    group = np.arange(len(made.volume))
    for _ in range(12):
        volume = np.bincount(group, made.volume, len(group))
        full = np.full(len(group), 0.0)
        np.maximum.at(full, group, made.full)
        small = (volume < MERGE_BELOW * full) & (np.bincount(group, minlength=len(group)) > 0)
        first, second = group[faces.own], group[faces.nei]
        reach = np.concatenate([np.column_stack([first, second]), np.column_stack([second, first])])
        area = np.tile(faces.area, 2)
        use = small[reach[:, 0]] & (reach[:, 0] != reach[:, 1])
        if not use.any():
            break
        reach, area = reach[use], area[use]
        pair, index = np.unique(reach[:, 0] * len(group) + reach[:, 1], return_inverse=True)
        total = np.bincount(index, area)
        source, target = pair // len(group), pair % len(group)
        order = np.lexsort((total, source))
        last = np.append(source[order][1:] != source[order][:-1], True)
        source, target = source[order][last], target[order][last]
        links = coo_matrix((np.ones(len(source)), (source, target)), (len(group), len(group)))
        _, joined = connected_components(links, directed=False)
        group = _named_by_first(joined[group])
    return group


def _named_by_first(group: Ints) -> Ints:
    """Name every group by its first member, so that names stay below the number of leaves."""
    _, first, back = np.unique(group, return_index=True, return_inverse=True)
    return np.asarray(first[back])


def _connected(made: _Pieces, faces: _Faces, group: Ints) -> tuple[Ints, Ints]:
    """Keep the largest space that hangs together; give cell numbers (-1: left out) of all leaves, and their count."""
    links = coo_matrix((np.ones(len(faces.own)), (group[faces.own], group[faces.nei])), (len(group), len(group)))
    _, space = connected_components(links, directed=False)
    size = np.bincount(space[group], made.volume)
    if not len(size) or size.max() <= 0:
        raise RunError("no cell of the grid holds fluid.", "field.grid", "Make the cells smaller.")
    kept = (space[group] == int(size.argmax())) & (np.bincount(group, made.volume, len(group))[group] > 0)
    names = np.unique(group[kept])
    cell = np.where(kept, np.searchsorted(names, group), -1)
    return cell, names


def _assemble(surface: Surface, lattice: _Lattice, made: _Pieces, faces: _Faces, cell: Ints, names: Ints, cut: tuple[Ints, Ints, Floats]) -> Mesh:
    """Make the arrays of the mesh; cells are numbered along a Morton curve."""
    count = len(names)
    mine = cell >= 0
    volume: Floats = np.bincount(cell[mine], made.volume[mine], count).astype(np.float64)
    centre = np.column_stack([np.bincount(cell[mine], (made.volume * made.centre[:, k])[mine], count) for k in range(3)]) / volume[:, None]
    order: Ints = np.argsort(_morton(centre, lattice), kind="stable")
    rank = np.empty(count, np.int64)
    rank[order] = np.arange(count)
    cell = np.where(mine, rank[np.maximum(cell, 0)], -1)
    volume, centre = np.asarray(volume[order], np.float64), centre[order]
    own, nei = cell[faces.own], cell[faces.nei]
    use = (own >= 0) & (nei >= 0) & (own != nei)
    own, nei, axis, area, moment = own[use], nei[use], faces.axis[use], faces.area[use], faces.moment[use]
    turned = own > nei
    first, second = np.where(turned, nei, own), np.where(turned, own, nei)
    key = (first * count + second) * 6 + axis * 2 + turned
    unique, index = np.unique(key, return_inverse=True)
    total = np.bincount(index, area)
    middle = np.column_stack([np.bincount(index, moment[:, k]) for k in range(3)]) / total[:, None]
    pair = unique // 6
    vector = np.zeros((len(unique), 3))
    vector[np.arange(len(unique)), (unique % 6) // 2] = total * np.where(unique % 2, -1.0, 1.0)
    wall_own, wall_area, wall_centre, patch = _walls(surface, made, cell, count, cut)
    level = np.zeros(count, np.int32)
    np.maximum.at(level, cell[mine[: len(cell)]], (made.level.max(initial=0) - made.level[mine]).astype(np.int32))
    return Mesh(
        owner=np.concatenate([pair // count, wall_own]).astype(np.int32), neighbour=(pair % count).astype(np.int32), area=np.concatenate([vector, wall_area]),
        face_centre=np.concatenate([middle, wall_centre]), volume=volume, centre=centre, patch=patch.astype(np.int32), patch_names=surface.names,
        points=np.zeros((0, 3)), face_points=np.zeros(0, np.int32), face_offsets=np.zeros(1, np.int32), level=level,
    )  # fmt: skip


def _walls(surface: Surface, made: _Pieces, cell: Ints, count: int, cut: tuple[Ints, Ints, Floats]) -> tuple[Ints, Floats, Floats, Ints]:
    """Gather the pieces of wall by cell, name and the way they face, so that both sides of a thin plate stay apart."""
    at, triangle, sums = cut
    owner = cell[made.leaf.reshape(-1)[at]]
    vector = surface.area_vectors[triangle]
    facing = np.abs(vector).argmax(axis=1)
    facing = 2 * facing + (vector[np.arange(len(vector)), facing] > 0)
    use = owner >= 0
    owner, facing, label, sums = owner[use], facing[use], surface.labels[triangle[use]], sums[use]
    key = (owner * len(surface.names) + label) * 6 + facing
    unique, index = np.unique(key, return_inverse=True)
    area = np.column_stack([np.bincount(index, sums[:, k]) for k in range(3)])
    size = np.bincount(index, sums[:, 10])
    centre = np.column_stack([np.bincount(index, sums[:, 3 + k]) for k in range(3)]) / np.maximum(size, 1e-300)[:, None]
    return unique // 6 // len(surface.names), np.asarray(area, float), centre, unique // 6 % len(surface.names)


def _morton(centre: Floats, lattice: _Lattice) -> Ints:
    """Give the place of every cell along a curve that keeps neighbours together."""
    where = np.clip(((centre - lattice.origin) / lattice.h).astype(np.int64), 0, (1 << 20) - 1)
    code = np.zeros(len(where), np.int64)
    for bit in range(20):
        for axis in range(3):
            code |= ((where[:, axis] >> bit) & 1) << (3 * bit + axis)
    return code
