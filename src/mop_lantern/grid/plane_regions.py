"""Grids of fluid and solids in a plane: every region is cut from the same lattice, and a wall between two of
them is the same straight face on either side.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray
from scipy.spatial import cKDTree

from mop_lantern.errors import RunError
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.plane_grid import (
    Faces,
    Pieces,
    Rim,
    assemble,
    connected,
    cut,
    gathered,
    join,
    merge,
    morton_order,
)
from mop_lantern.grid.regions import patch_names
from mop_lantern.grid.tree import Leaves, refine
from mop_lantern.shape import Plane

Floats = NDArray[np.float64]
Ints = NDArray[Any]
SAME = 1e-9  # of the size: middles of faces this close are the same
# of a usual face: beside scraps of a cell that were dropped this much of a wall has no partner, and no heat
# passes there; more is a fault of ours, never handed on
ALONE = 0.02


def make_regions(plane: Plane, grid: Any, openings: frozenset[str]) -> Mesh:
    """Make the mesh of a plane with solids.

    Raises
    ------
    RunError : too many cells, cells too large for the shape to survive, or a wall that cannot be joined.
    """
    regions = ({} if plane.dry else {"": plane}) | plane.solids
    names = ["", *plane.solids]
    leaves = refine(plane, grid, openings)
    pieces, region = _cut_all(regions, names, leaves)
    faces, walls = join(leaves, pieces)
    within, between, walls = _sorted_out(faces, walls, region, plane.size)
    # solids stay as they are cut: heat needs no merging, which would make one cell of a thin layer
    cell = _numbered(merge(pieces, within, region > 0), within, pieces, region)
    rim, joints, owner_region = _rim(plane.whole, walls, between, cell, region)
    _check_joined(plane, rim, joints, owner_region, names)
    patch, named = patch_names(owner_region, rim.label, rim.names, names)
    rim = replace(rim, label=patch, names=named)
    made, kept = assemble(plane.whole, leaves, pieces, within, rim, cell)
    number = np.cumsum(kept) - 1
    joints = joints[kept[joints].all(axis=1)]
    region_of_cell = np.zeros(made.n_cells, np.int32)
    region_of_cell[cell[cell >= 0]] = region[cell >= 0]
    return replace(
        made,
        region=region_of_cell,
        region_names=tuple(names),
        joints=number[joints].astype(np.int32).reshape(-1, 2),
    )


def _cut_all(regions: dict[str, Plane], names: list[str], leaves: Leaves) -> tuple[Pieces, Ints]:
    """Cut every region from the lattice; boxes of all come first, then polygons. Give the region of each."""
    west, south, east, north = leaves.bounds()
    middle = (leaves.x[west] + leaves.x[east]) / 2, (leaves.y[south] + leaves.y[north]) / 2
    boxes = []
    clipped = []
    for key, region in regions.items():
        shapely.prepare(region.polygon)
        mine = np.flatnonzero(~leaves.whole | shapely.contains_xy(region.polygon, *middle))
        part = replace(
            leaves,
            level=leaves.level[mine],
            i=leaves.i[mine],
            j=leaves.j[mine],
            whole=leaves.whole[mine],
        )
        made = cut(region, part)
        many = len(made.boxes)
        rows = (mine[made.leaf], made.area, made.centre, made.full)
        number = np.full(len(made.leaf), names.index(key))
        boxes.append((*(row[:many] for row in rows), number[:many], made.boxes))
        clipped.append((*(row[many:] for row in rows), number[many:], made.polygon))
    leaf, area, centre, full, region_of = (
        np.concatenate([part[k] for part in [*boxes, *clipped]]) for k in range(5)
    )
    plain = np.concatenate([part[5] for part in boxes])
    polygons = np.concatenate([part[5] for part in clipped])
    return Pieces(leaf, plain, polygons, area, centre, full), region_of


def _sorted_out(faces: Faces, walls: Faces, region: Ints, size: float) -> tuple[Faces, Faces, Faces]:
    """Tell faces inside a region from those between two, and from walls with nothing behind them."""
    cross = region[faces.left] != region[faces.right]
    twin = _twins(walls, region, size)
    one = np.flatnonzero(twin > np.arange(len(twin)))
    between = Faces(
        np.vstack([faces.a[cross], walls.a[one]]),
        np.vstack([faces.b[cross], walls.b[one]]),
        np.concatenate([faces.left[cross], walls.left[one]]),
        np.concatenate([faces.right[cross], walls.left[twin[one]]]),
    )
    back = region[between.left] > region[between.right]
    turned = Faces(
        np.where(back[:, None], between.b, between.a),
        np.where(back[:, None], between.a, between.b),
        np.where(back, between.right, between.left),
        np.where(back, between.left, between.right),
    )
    return _some(faces, ~cross), turned, _some(walls, twin < 0)


def _some(faces: Faces, which: NDArray[np.bool_]) -> Faces:
    return Faces(faces.a[which], faces.b[which], faces.left[which], faces.right[which])


def _twins(walls: Faces, region: Ints, size: float) -> Ints:
    """Give the wall that runs the other way at the same place in another region, -1 for none."""
    twin = np.full(len(walls.left), -1)
    if not len(twin):
        return twin
    ends = np.column_stack([walls.a, walls.b])
    turned = np.column_stack([walls.b, walls.a])
    far, near = cKDTree(ends).query(turned, distance_upper_bound=10 * SAME * size)
    hit = np.flatnonzero(np.isfinite(far))
    hit = hit[region[walls.left[hit]] != region[walls.left[near[hit]]]]
    mutual = hit[near[np.minimum(near[hit], len(near) - 1)] == hit]
    twin[mutual] = near[mutual]
    return twin


def _numbered(
    cell: Ints,
    faces: Faces,
    pieces: Pieces,
    region: Ints,
) -> Ints:
    """Number the cells region by region, along a Morton curve in each; -1 for dust of the fluid."""
    number = np.full(len(cell), -1)
    count = 0
    for which in np.unique(region):
        mine = np.flatnonzero(region == which)
        if which == 0:
            place = np.full(len(cell), -1)
            place[mine] = np.arange(len(mine))
            own = region[faces.left] == 0
            inside = Faces(faces.a[own], faces.b[own], place[faces.left[own]], place[faces.right[own]])
            part = Pieces(
                pieces.leaf[mine],
                pieces.boxes,
                pieces.polygon,
                pieces.area[mine],
                pieces.centre[mine],
                pieces.full[mine],
            )
            number[mine] = connected(place[cell[mine]], inside, part)
        else:
            roots = np.unique(cell[mine])
            rank = np.full(len(cell), -1)
            rank[roots[morton_order(pieces.centre[roots])]] = count + np.arange(len(roots))
            number[mine] = rank[cell[mine]]
        count = int(number.max()) + 1
    return number


def _rim(
    whole: Plane,
    walls: Faces,
    between: Faces,
    cell: Ints,
    region: Ints,
) -> tuple[Rim, Ints, Ints]:
    """Gather boundary faces, those of the first region first, and the two sides of every joint.

    Returns
    -------
    rim, joints (k, 2) rows of it, and the region of each of its faces.
    """
    left = cell[between.left]
    right = cell[between.right]
    both = (left >= 0) & (right >= 0)
    lost = _lost(between, cell, both)
    single = Faces(
        np.vstack([walls.a, lost.a]),
        np.vstack([walls.b, lost.b]),
        np.concatenate([walls.left, lost.left]),
        np.concatenate([walls.right, lost.right]),
    )
    use = cell[single.left] >= 0
    a = single.a[use]
    b = single.b[use]
    outer = gathered(a, b, cell[single.left[use]], whole.labels_at((a + b) / 2), whole.names)
    a = between.a[both]
    b = between.b[both]
    pairs, of_pair = np.unique(np.column_stack([left[both], right[both]]), axis=0, return_inverse=True)
    joint = gathered(a, b, of_pair.reshape(-1), whole.labels_at((a + b) / 2), whole.names)
    pair = pairs[joint.cell]
    owner = np.concatenate([outer.cell, pair[:, 0], pair[:, 1]])
    rim = Rim(
        np.vstack([outer.a, joint.a, joint.b]),
        np.vstack([outer.b, joint.b, joint.a]),
        owner,
        np.concatenate([outer.label, joint.label, joint.label]),
        whole.names,
    )
    region_of_cell = np.zeros(int(cell.max()) + 1, np.int64)
    region_of_cell[cell[cell >= 0]] = region[cell >= 0]
    where = region_of_cell[owner]
    order = np.argsort(where, kind="stable")
    rank = np.empty(len(order), np.int64)
    rank[order] = np.arange(len(order))
    first = len(outer.cell)
    joints = rank[np.column_stack([first + np.arange(len(pair)), first + len(pair) + np.arange(len(pair))])]
    sorted_rim = Rim(rim.a[order], rim.b[order], rim.cell[order], rim.label[order], rim.names)
    return sorted_rim, joints.reshape(-1, 2), where[order]


def _lost(between: Faces, cell: Ints, both: NDArray[np.bool_]) -> Faces:
    """Give the sides of joints whose other side is dust that was dropped, as walls."""
    left = ~both & (cell[between.left] >= 0)
    right = ~both & (cell[between.right] >= 0)
    none = np.full(int(left.sum() + right.sum()), -1)
    return Faces(
        np.vstack([between.a[left], between.b[right]]),
        np.vstack([between.b[left], between.a[right]]),
        np.concatenate([between.left[left], between.right[right]]),
        none,
    )


def _check_joined(
    plane: Plane,
    rim: Rim,
    joints: Ints,
    region: Ints,
    names: list[str],
) -> None:
    """Refuse a grid that leaves part of a wall between two regions unjoined: no heat would pass there.

    Raises
    ------
    RunError : with the region.
    """
    length = np.hypot(*(rim.b - rim.a).T)
    single = np.ones(len(length), bool)
    single[joints.reshape(-1)] = False
    outside = plane.whole.polygon.boundary
    loose = np.flatnonzero(single)
    middle = shapely.points((rim.a[loose] + rim.b[loose]) / 2)
    inside = loose[shapely.distance(outside, middle) > 0.25 * length[loose] + SAME * plane.size]
    inside = inside[length[inside] > ALONE * float(np.median(length))]
    if len(inside):
        worst = inside[length[inside].argmax()]
        x, y = (rim.a[worst] + rim.b[worst]) / 2
        says = f"a wall of {names[region[worst]] or 'the fluid'} could not be joined to what lies behind it"
        raise RunError(says, f"near x = {x:.4g} m, y = {y:.4g} m", "Change the cell size a little.")
