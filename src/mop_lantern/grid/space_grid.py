"""Cut-cell grids in space: cubes that halve where asked, cut exactly by the surface, slivers merged.

A cube that walls part into several bodies of fluid becomes as many cells: plates and walls thinner than a
cell divide the flow.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.cubes import lattice, morton
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.octree import Octree, grow
from mop_lantern.grid.space_merge import MERGE_BELOW, connected, merged
from mop_lantern.grid.space_size import Wants
from mop_lantern.numerics.spread import bounds_of, rows_of, spread
from mop_lantern.shape.surface import Surface, winding
from mop_lantern.shape.wet import spaces_of

Floats = NDArray[np.float64]
Ints = NDArray[Any]
OPEN_BELOW = 1e-13  # of a face: smaller openings between cells are rounding
CLOSED = 1e-7  # of a cell's surface: what is left open beyond it is a fault of ours, never handed on


@dataclass
class _Bodies:
    """Bodies of fluid, at most a few in a cube: which cube, volume, centre; and which body every piece of
    wall bounds (-1: none).
    """

    cube: Ints
    volume: Floats
    centre: Floats
    of_wall: Ints
    wall: Floats


@dataclass
class _Faces:
    """Faces between bodies, from the lower to the higher along their axis."""

    own: Ints
    nei: Ints
    area: Floats
    moment: Floats
    axis: Ints


@dataclass(frozen=True)
class Pieces:
    """Pieces of wall as they were cut: the cube, the triangle, the boundary face of the mesh each became part
    of, its area vector (k, 3) m2 and its centre (k, 3) m.
    """

    cube: Ints
    triangle: Ints
    face: Ints
    area: Floats
    centre: Floats


def make_in_space(
    surface: Surface,
    cell: float,
    levels: int = 0,
    wants: Wants | None = None,
    deeper: int = 0,
) -> Mesh:
    """Make the mesh of a wet space.

    Parameters
    ----------
    cell : size of cells at the surface, m. levels : how often cells may double away from it. wants : gives
    the size (m) wanted at centres (k, 3) of cubes of sizes (k,) m when cells at the surface have a size (m).
    deeper : how often cells may be halved below ``cell``.

    Raises
    ------
    RunError : too many cells, or none.
    """
    if levels < 0 or not cell > 0:
        raise RunError("cells need a size above zero.", "field.grid", "Correct the cell size.")
    base = lattice(surface, cell, levels, deeper)

    def wanted(centres: Floats, sizes: Floats, met: NDArray[np.bool_]) -> Floats:
        usual = np.where(met, base.size / 2**levels, np.inf)
        return usual if wants is None else np.minimum(usual, wants(centres, sizes, base.size / 2**levels))

    tree = grow(surface.points, np.ascontiguousarray(surface.triangles, np.int64), base, wanted)
    return cut_out(surface, tree)[0]


def cut_out(surface: Surface, tree: Octree, least: float = MERGE_BELOW) -> tuple[Mesh, Pieces]:
    """Make the mesh of what a surface encloses on cubes already laid, and tell which of its boundary faces
    every piece of wall belongs to. Cells under the ``least`` share of a cube are merged with a neighbour.
    """
    made, faces = _cut(surface, tree)
    full = (tree.h * tree.edge[made.cube]) ** 3
    group = merged(
        made.volume,
        full,
        faces.own,
        faces.nei,
        faces.area,
        least,
    )
    spaces = spaces_of(surface)
    within = (
        [lambda body, s=space: bool(winding(s, made.centre[body : body + 1])[0] > 0) for space in spaces]
        if len(spaces) > 1
        else []
    )
    cell_of, count = connected(
        made.volume,
        faces.own,
        faces.nei,
        group,
        within,
    )
    return _assemble(
        surface,
        tree,
        made,
        faces,
        cell_of,
        count,
    )


def _cut(surface: Surface, tree: Octree) -> tuple[_Bodies, _Faces]:
    """Cut every cube, and tell its bodies of fluid apart."""
    from mop_lantern.grid import cut_bodies, cut_squares, cutting

    bodies: Any = cut_bodies.bodies
    squares: Any = cut_squares.squares
    given: Any = (
        np.ascontiguousarray(surface.points, float),
        np.ascontiguousarray(surface.triangles, np.int64),
    )
    where: Any = (
        tree.origin,
        tree.h,
        np.ascontiguousarray(tree.low, np.int64),
        np.ascontiguousarray(tree.edge, np.int64),
        tree.first,
        tree.triangles,
    )
    room, code, place, enters, piece = _crossings(given, where)
    rel = cutting.hold_nodes(room, code, enters)
    own, nei, axes, sides = tree.faces()
    held = _held(tree, own, nei, axes, sides, rel)
    sums = cutting.walls(*given, *where)
    lines: Any = (room, code, enters, piece, rel, held)
    count, of_piece, of_node = bodies(*given, surface.beyond, *where, sums, *lines)
    real = (count[own] > 0) & (count[nei] > 0)
    between: Any = (own[real], nei[real], axes[real], sides[real])
    row = np.concatenate([[0], np.cumsum(count[between[0]] * count[between[1]])])
    lines = (room, code, place, enters, piece, rel, held)

    def some(block: tuple[int, ...]) -> Floats:
        mine = slice(*block)
        faces = (each[mine] for each in between)
        rows = row[block[0] : block[1] + 1] - row[block[0]]
        return squares(*given, *where, *lines, of_piece, of_node, count, *faces, rows)  # type: ignore[no-any-return]

    area = np.concatenate(spread(some, rows_of(bounds_of(len(between[0])))))
    start = np.cumsum(count) - count
    of_wall = np.where(of_piece >= 0, np.repeat(start, tree.first[1:] - tree.first[:-1]) + of_piece, -1)
    faces = _faces(tree, count, start, between, row, area)
    return _bodies(tree, count, start, of_wall, sums, faces), faces


def _crossings(given: Any, where: Any) -> tuple[Any, ...]:
    """Give where the lines of every cube go through its triangles: room, code, place, enters, piece, as in
    `cutting`; counted first, then written.
    """
    from mop_lantern.grid import cutting

    cross_lines: Any = cutting.cross_lines
    none = (np.zeros(0, np.int8), np.zeros(0), np.zeros(0, np.int8), np.zeros(0, np.int32))
    counts = cross_lines(*given, *where, np.zeros(1, np.int64), *none, True)
    room = np.concatenate([[0], np.cumsum(counts)])
    records = tuple(np.zeros(room[-1], kind.dtype) for kind in none)
    cross_lines(*given, *where, room, *records, False)
    return room, *records


def _held(
    tree: Octree,
    own: Ints,
    nei: Ints,
    axes: Ints,
    sides: Ints,
    rel: Ints,
) -> Ints:
    """Give how often the fluid holds the first corner of every cube: carried from the first corner of the
    lattice, which is dry.
    """
    from mop_lantern.grid import cutting

    start, other, here, there = cutting.linked(tree.low, tree.edge, own, nei, axes, sides)
    held, _ = cutting.flood(
        0,
        start,
        other,
        here,
        there,
        rel,
    )
    return np.asarray(held)


def _faces(
    tree: Octree,
    count: Ints,
    start: Ints,
    between: tuple[Ints, Ints, Ints, Ints],
    row: Ints,
    sums: Floats,
) -> _Faces:
    """Turn rows of sums into faces between bodies; ``between`` : own, nei, axes, sides of the faces."""
    own, nei, axes, sides = between
    face = np.repeat(np.arange(len(own)), np.diff(row))
    within = np.arange(len(face)) - row[face]
    width = count[nei[face]]
    mine = start[own[face]] + within // width
    its = start[nei[face]] + within % width
    size = tree.h * tree.edge[own[face]]
    keep = sums[:, 0] > OPEN_BELOW * size**2
    face = face[keep]
    mine = mine[keep]
    its = its[keep]
    sums = sums[keep]
    axis = axes[face]
    side = sides[face]
    corner = tree.low[own[face]].astype(float)
    corner[np.arange(len(face)), axis] += side * tree.edge[own[face]]
    moment = sums[:, :1] * (tree.origin + tree.h * corner)
    rows = np.arange(len(face))
    moment[rows, (axis + 1) % 3] += sums[:, 1]
    moment[rows, (axis + 2) % 3] += sums[:, 2]
    return _Faces(
        np.where(side, mine, its),
        np.where(side, its, mine),
        sums[:, 0],
        moment,
        axis,
    )


def _bodies(
    tree: Octree,
    count: Ints,
    start: Ints,
    of_wall: Ints,
    sums: Floats,
    faces: _Faces,
) -> _Bodies:
    """Work out volume and centre of all bodies by Gauss's theorem."""
    cube = np.repeat(np.arange(len(count)), count)
    size = tree.h * tree.edge[cube]
    low = tree.origin + tree.h * tree.low[cube]
    use = of_wall >= 0
    wall = np.column_stack([np.bincount(of_wall[use], sums[use, k], len(cube)) for k in range(6, 10)])
    far = np.column_stack(
        [np.bincount(faces.own[faces.axis == d], faces.area[faces.axis == d], len(cube)) for d in range(3)]
    )
    volume = size * far[:, 0] + wall[:, 0]
    first = 0.5 * size[:, None] ** 2 * far + wall[:, 1:]
    thin = volume < 1e-12 * size**3
    middle = np.where(thin[:, None], 0.5 * size[:, None], first / np.where(thin, 1.0, volume)[:, None])
    whole = ~tree.cut[cube]
    volume = np.where(whole, size**3, np.where(thin, 0.0, volume))
    centre = low + np.where(whole[:, None], 0.5 * size[:, None], np.clip(middle, 0.0, size[:, None]))
    return _Bodies(
        cube,
        volume,
        centre,
        of_wall,
        sums,
    )


def _assemble(
    surface: Surface,
    tree: Octree,
    made: _Bodies,
    faces: _Faces,
    cell: Ints,
    count: int,
) -> tuple[Mesh, Pieces]:
    """Make the arrays of the mesh; cells are numbered along a Morton curve."""
    mine = cell >= 0
    volume: Floats = np.bincount(cell[mine], made.volume[mine], count).astype(np.float64)
    centre = (
        np.column_stack(
            [np.bincount(cell[mine], (made.volume * made.centre[:, k])[mine], count) for k in range(3)]
        )
        / volume[:, None]
    )
    order: Ints = np.argsort(
        morton(np.maximum(((centre - tree.origin) / tree.h).astype(np.int64), 0)), kind="stable"
    )
    rank = np.empty(count, np.int64)
    rank[order] = np.arange(count)
    cell = np.where(mine, rank[np.maximum(cell, 0)], -1)
    volume = np.asarray(volume[order], np.float64)
    centre = centre[order]
    own = cell[faces.own]
    nei = cell[faces.nei]
    use = (own >= 0) & (nei >= 0) & (own != nei)
    own = own[use]
    nei = nei[use]
    axis = faces.axis[use]
    area = faces.area[use]
    moment = faces.moment[use]
    turned = own > nei
    first = np.where(turned, nei, own)
    second = np.where(turned, own, nei)
    key = (first * count + second) * 6 + axis * 2 + turned
    unique, index = np.unique(key, return_inverse=True)
    total = np.bincount(index, area)
    middle = np.column_stack([np.bincount(index, moment[:, k]) for k in range(3)]) / total[:, None]
    pair = unique // 6
    vector = np.zeros((len(unique), 3))
    vector[np.arange(len(unique)), (unique % 6) // 2] = total * np.where(unique % 2, -1.0, 1.0)
    wall_own, wall_area, wall_centre, patch, pieces = _walls(surface, tree, made, cell)
    level = np.zeros(count, np.int32)
    np.maximum.at(level, cell[mine], tree.level[made.cube[mine]].astype(np.int32))
    mesh = Mesh(
        owner=np.concatenate([pair // count, wall_own]).astype(np.int32),
        neighbour=(pair % count).astype(np.int32),
        area=np.concatenate([vector, wall_area]),
        face_centre=np.concatenate([middle, wall_centre]),
        volume=volume,
        centre=centre,
        patch=patch.astype(np.int32),
        patch_names=surface.names,
        points=np.zeros((0, 3)),
        face_points=np.zeros(0, np.int32),
        face_offsets=np.zeros(1, np.int32),
        level=level,
        cube_low=tree.origin + tree.h * tree.low[made.cube[mine]],
        cube_size=tree.h * tree.edge[made.cube[mine]],
        cube_cell=cell[mine].astype(np.int32),
        cube_middle=made.centre[mine],
    )
    _check(mesh)
    return mesh, pieces


def _check(mesh: Mesh) -> None:
    """Hand on no cell that is not closed."""
    sums = np.zeros((mesh.n_cells, 3))
    total = np.zeros(mesh.n_cells)
    size = np.linalg.norm(mesh.area, axis=1)
    for sign, cells, faces in ((1, mesh.owner, slice(None)), (-1, mesh.neighbour, slice(0, mesh.n_internal))):
        for d in range(3):
            sums[:, d] += sign * np.bincount(cells, mesh.area[faces, d], mesh.n_cells)
        total += np.bincount(cells, size[faces], mesh.n_cells)
    left = np.linalg.norm(sums, axis=1) / total
    worst = int(left.argmax())
    if left[worst] > CLOSED:
        x, y, z = mesh.centre[worst]
        says = f"the surface could not be cut cleanly about x = {x:.5g}, y = {y:.5g}, z = {z:.5g} m."
        raise RunError(says, "field.grid", "Change the cell size a little, or look at the parts there.")


def _walls(
    surface: Surface,
    tree: Octree,
    made: _Bodies,
    cell: Ints,
) -> tuple[Ints, Floats, Floats, Ints, Pieces]:
    """Gather the pieces of wall by cell, name and the way they face, so that sharp edges and both sides of
    what ends in a cell stay apart.
    """
    owner = np.where(made.of_wall >= 0, cell[np.maximum(made.of_wall, 0)], -1)
    vector = surface.area_vectors[tree.triangles]
    facing = np.abs(vector).argmax(axis=1)
    facing = 2 * facing + (vector[np.arange(len(vector)), facing] > 0)
    use = (owner >= 0) & (made.wall[:, 10] > 0)
    owner = owner[use]
    facing = facing[use]
    label = surface.labels[tree.triangles[use]]
    sums = made.wall[use]
    key = (owner * len(surface.names) + label) * 6 + facing
    unique, index = np.unique(key, return_inverse=True)
    area = np.column_stack([np.bincount(index, sums[:, k]) for k in range(3)])
    size = np.bincount(index, sums[:, 10])
    centre = (
        np.column_stack([np.bincount(index, sums[:, 3 + k]) for k in range(3)])
        / np.maximum(size, 1e-300)[:, None]
    )
    pieces = Pieces(
        np.repeat(np.arange(len(tree.level)), np.diff(tree.first))[use],
        tree.triangles[use],
        index.reshape(-1),
        sums[:, :3],
        sums[:, 3:6] / sums[:, 10:11],
    )
    return (
        unique // 6 // len(surface.names),
        np.asarray(area, float),
        centre,
        unique // 6 % len(surface.names),
        pieces,
    )
