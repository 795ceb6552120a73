"""Cut-cell grids in a plane: lattice cells clipped exactly by the shape, joined by faces, slivers merged."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid.layers import Layers, heights, layers_of, sizes_of
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.tree import Leaves, refine
from mop_lantern.shape import Plane

Floats = NDArray[np.float64]
Ints = NDArray[Any]
# of a full cell; without merging the solver diverges (measured), any value from 0.01 to 0.4 works
MERGE_BELOW = 0.25
_NEAR = 1e-6  # of a cell: a side this close to a lattice line lies on it
# of a full cell: thinner slivers would have both their sides on one line, and the wall would be lost
_DUST = 2 * _NEAR
OPEN_BELOW = 1e-5  # of a cell's surface
_TILE = 16
WALL_TURN = np.deg2rad(45)


@dataclass
class Pieces:
    """Cells: first those left whole, as boxes (west, south, east, north), then polygons of the clipped
    ones.
    """

    leaf: Ints
    boxes: Floats
    polygon: NDArray[Any]
    area: Floats
    centre: Floats
    full: Floats


@dataclass
class Faces:
    """Straight faces in the plane: from a to b with piece ``left`` on the left, ``right`` (or -1) on the
    right.
    """

    a: Floats
    b: Floats
    left: Ints
    right: Ints


@dataclass
class Rim:
    """Faces at the boundary: from a to b (k, 2) m with the cell on the left, and the name of each."""

    a: Floats
    b: Floats
    cell: Ints
    label: Ints
    names: tuple[str, ...]


def make(plane: Plane, grid: Any, openings: frozenset[str]) -> Mesh:
    """Make the mesh of a plane or axisymmetric shape.

    Parameters
    ----------
    plane : the shape. grid : resolved grid section. openings : names of the edges fluid crosses.

    Raises
    ------
    RunError : the cells are too many, or too large for the shape to survive.
    """
    if plane.solids:
        from mop_lantern.grid.plane_regions import make_regions

        return make_regions(plane, grid, openings)
    leaves = refine(plane, grid, openings)
    layers = _layers(plane, leaves, grid, openings)
    if layers is not None:
        from mop_lantern.grid.layered_grid import make_layered

        return make_layered(plane, layers, grid, openings)
    pieces = cut(plane, leaves)
    faces, walls = join(leaves, pieces)
    cell = merge(pieces, faces)
    cell = connected(cell, faces, pieces)
    rim = boundary(plane, walls, cell)
    return assemble(plane, leaves, pieces, faces, rim, cell)[0]


def _layers(plane: Plane, leaves: Leaves, grid: Any, openings: frozenset[str]) -> Layers | None:
    """Lay the layers along walls that the grid asks for."""
    asked = [item for item in grid.refine.values() if item.kind == "layers"]
    if not asked:
        return None
    west, south, east, north = leaves.bounds()
    low = np.column_stack([leaves.x[west], leaves.y[south]])
    high = np.column_stack([leaves.x[east], leaves.y[north]])
    size_at = sizes_of((low + high) / 2, np.sqrt((high - low).prod(axis=1)))
    walls = plane.segments[[plane.names[k] not in openings | {"axis"} for k in plane.labels]]
    if not len(walls):
        return None
    beyond = float(np.median(size_at(walls.mean(axis=1))))
    off = heights(asked[0], getattr(grid, "wall_unit", 0.0), beyond, getattr(grid, "scale", 1.0))
    return layers_of(plane, openings, off, size_at)


def cut(plane: Plane, leaves: Leaves) -> Pieces:
    """Clip the cells of a lattice by the shape.

    Raises
    ------
    RunError : nothing is left.
    """
    west, south, east, north = leaves.bounds()
    x = leaves.x
    y = leaves.y
    full = (x[east] - x[west]) * (y[north] - y[south])
    whole = leaves.whole.copy()
    near = np.flatnonzero(~whole)
    boxes = np.empty(len(west), object)
    boxes[near] = shapely.box(x[west[near]], y[south[near]], x[east[near]], y[north[near]])
    whole[near] = shapely.contains_properly(plane.polygon, boxes[near])
    cut = np.flatnonzero(~whole)
    tile = _TILE << leaves.deepest
    keys = (west[cut] // tile) * 100_003 + south[cut] // tile
    clipped = np.empty(len(cut), object)
    for key in np.unique(keys):
        here = np.flatnonzero(keys == key)
        ids = cut[here]
        lows = x[west[ids]].min(), y[south[ids]].min()
        highs = x[east[ids]].max(), y[north[ids]].max()
        pad = 0.5 * max(highs[0] - lows[0], highs[1] - lows[1])
        local = shapely.intersection(
            plane.polygon, shapely.box(lows[0] - pad, lows[1] - pad, highs[0] + pad, highs[1] + pad)
        )
        shapely.prepare(local)
        clipped[here] = shapely.intersection(boxes[ids], local)
    parts, index = shapely.get_parts(clipped, return_index=True)
    solid = shapely.get_type_id(parts) == 3
    parts = parts[solid]
    index = index[solid]
    keep = shapely.area(parts) > _DUST * full[cut[index]]
    parts = shapely.orient_polygons(parts[keep])
    index = index[keep]
    inside = np.flatnonzero(whole)
    leaf = np.concatenate([inside, cut[index]])
    if not len(leaf):
        raise RunError("no cell is left after cutting.", "", "Make the cells smaller.")
    corners = np.stack([x[west[inside]], y[south[inside]], x[east[inside]], y[north[inside]]], axis=1)
    middle = (corners[:, :2] + corners[:, 2:]) / 2
    centres = np.vstack([middle, shapely.get_coordinates(shapely.centroid(parts)).reshape(-1, 2)])
    area = np.concatenate([full[inside], shapely.area(parts)])
    return Pieces(
        leaf,
        corners,
        parts,
        area,
        centres,
        full[leaf],
    )


def _box_rings(corners: Floats) -> Floats:
    """Give the four corners of boxes (west, south, east, north), anticlockwise, (n, 4, 2)."""
    w, s, e, n = corners.T
    return np.stack(
        [
            np.stack([w, s], 1),
            np.stack([e, s], 1),
            np.stack([e, n], 1),
            np.stack([w, n], 1),
        ],
        axis=1,
    )


def _ring_segments(pieces: Pieces) -> tuple[Floats, Floats, Ints]:
    """Give all segments a, b of the rings of pieces (fluid on the left) and the piece of each."""
    rings, of = shapely.get_rings(pieces.polygon, return_index=True)
    coords, ring = shapely.get_coordinates(rings, return_index=True)
    inner = np.flatnonzero(ring[:-1] == ring[1:])
    plain = _box_rings(pieces.boxes)
    count = len(plain)
    a = np.concatenate([plain.reshape(-1, 2), coords[inner].reshape(-1, 2)])
    b = np.concatenate([np.roll(plain, -1, axis=1).reshape(-1, 2), coords[inner + 1].reshape(-1, 2)])
    return a, b, np.concatenate([np.repeat(np.arange(count), 4), of[ring[inner]] + count])


def join(leaves: Leaves, pieces: Pieces) -> tuple[Faces, Faces]:
    """Find faces between pieces, and the faces where a piece ends at the shape's boundary.

    Every side that lies on a lattice line is entered with the piece on its low or high side; a line is then
    split at all entry ends, and each elementary stretch has the piece before it, the piece after it, or only
    one of them (a wall).
    """
    a, b, of = _ring_segments(pieces)
    west, south, east, north = (side[pieces.leaf][of] for side in leaves.bounds())
    x = leaves.x
    y = leaves.y
    size = max(x[-1] - x[0], y[-1] - y[0])
    near = _NEAR * np.sqrt(pieces.full[of])
    quantum = 1e-12 * size

    def on(values: Floats, coordinate: int) -> NDArray[np.bool_]:
        return (np.abs(a[:, coordinate] - values) < near) & (np.abs(b[:, coordinate] - values) < near)

    # line, low, high, piece, after, and 1, or -1 for a side that runs back: a hairline has both and counts
    # for nothing
    entries = []
    placed = np.zeros(len(a), bool)
    for line, coordinate, after, values, way in (
        (west, 0, True, x, -1),
        (east, 0, False, x, 1),
        (south, 1, True, y, 1),
        (north, 1, False, y, -1),
    ):
        hit = on(values[line], coordinate) & ~placed
        placed |= hit
        other = 1 - coordinate
        ends = np.sort(np.column_stack([a[hit, other], b[hit, other]]), axis=1)
        ticks = np.round((ends - (x[0], y[0])[other]) / quantum).astype(np.int64)
        number = line[hit] + (0 if coordinate == 0 else len(x))
        sign = np.where(way * (b[hit, other] - a[hit, other]) > 0, 1, -1)
        entries.append((number, ticks[:, 0], ticks[:, 1], of[hit], np.full(int(hit.sum()), after), sign))
    stretch = _stretches(*(np.concatenate([entry[k] for entry in entries]) for k in range(6)))
    line, t0, t1, before, behind = stretch
    vertical = line < len(x)
    fixed = np.where(vertical, x[np.minimum(line, len(x) - 1)], y[np.maximum(line - len(x), 0) % len(y)])
    start = np.where(vertical, y[0], x[0]) + t0 * quantum
    stop = np.where(vertical, y[0], x[0]) + t1 * quantum
    # heading so that the piece before the line (west or south of it) lies on the left
    a_ = np.where(vertical[:, None], np.column_stack([fixed, start]), np.column_stack([stop, fixed]))
    b_ = np.where(vertical[:, None], np.column_stack([fixed, stop]), np.column_stack([start, fixed]))
    both = (before >= 0) & (behind >= 0)
    only_behind = ~both & (behind >= 0)
    a_[only_behind], b_[only_behind] = b_[only_behind].copy(), a_[only_behind].copy()
    single = ~both
    internal = Faces(a_[both], b_[both], before[both], behind[both])
    owner = np.where(before >= 0, before, behind)[single]
    walls = Faces(
        np.vstack([a[~placed], a_[single]]),
        np.vstack([b[~placed], b_[single]]),
        np.concatenate([of[~placed], owner]),
        np.full(int((~placed).sum() + single.sum()), -1),
    )
    return internal, walls


def _stretches(
    number: Ints,
    low: Ints,
    high: Ints,
    piece: Ints,
    after: NDArray[np.bool_],
    sign: Ints,
) -> tuple[Ints, ...]:
    """Split lines at all entry ends; give line, ends, and the pieces before and behind each stretch (-1:
    none).
    """
    span = int(high.max()) + 4
    marks = np.unique(np.concatenate([number * span + low, number * span + high]))
    # ends that differ by rounding only are one
    fresh = np.concatenate([[True], np.diff(marks) > 2])
    group = np.cumsum(fresh) - 1
    heads = marks[fresh]

    def place(keys: Ints) -> Ints:
        return group[np.searchsorted(marks, keys)]

    first = place(number * span + low)
    last = place(number * span + high)
    count = last - first
    entry = np.repeat(np.arange(len(number)), count)
    element = first[entry] + np.arange(len(entry)) - np.repeat(np.cumsum(count) - count, count)
    sides = np.full((2, len(heads)), -1, np.int64)
    ahead = sign[entry] > 0
    side = after[entry].astype(int)
    sides[side[ahead], element[ahead]] = piece[entry[ahead]]
    net = np.zeros(sides.shape, np.int64)
    np.add.at(net, (side, element), sign[entry])
    sides[net <= 0] = -1
    used = np.flatnonzero((sides >= 0).any(axis=0))
    return (
        heads[used] // span,
        heads[used] % span,
        heads[np.minimum(used + 1, len(heads) - 1)] % span,
        sides[0, used],
        sides[1, used],
    )


def merge(  # noqa: C901 - one walk from sliver to neighbour
    pieces: Pieces,
    faces: Faces,
    exempt: NDArray[np.bool_] | None = None,
) -> Ints:
    """Join every piece under a quarter of a full cell to the neighbour it shares most with; give each piece
    its group. Those ``exempt`` (n_pieces,) stay.
    """
    root = np.arange(len(pieces.area))
    area = pieces.area.copy()
    full = pieces.full.copy()
    small = pieces.area < MERGE_BELOW * pieces.full
    if exempt is not None:
        small &= ~exempt
    if not small.any():
        return root
    length = np.hypot(*(faces.b - faces.a).T)
    touching: dict[int, list[tuple[float, int]]] = {}
    for side, other in ((faces.left, faces.right), (faces.right, faces.left)):
        for k in np.flatnonzero(small[side]):
            touching.setdefault(int(side[k]), []).append((float(length[k]), int(other[k])))

    def find(k: int) -> int:
        while root[k] != k:
            root[k] = root[root[k]]
            k = int(root[k])
        return k

    members: dict[int, list[int]] = {int(k): [int(k)] for k in np.flatnonzero(small)}
    for smallest in np.flatnonzero(small)[np.argsort(pieces.area[small])]:
        group = find(int(smallest))
        while area[group] < MERGE_BELOW * full[group]:
            shared: dict[int, float] = {}
            for member in members.get(group, [group]):
                for long, beyond in touching.get(member, []):
                    target = find(beyond)
                    if target != group:
                        shared[target] = shared.get(target, 0.0) + long
            if not shared:
                break
            target = max(shared, key=lambda t: (shared[t], t))
            root[group] = target
            area[target] += area[group]
            full[target] = max(full[target], full[group])
            members[target] = members.get(target, [target]) + members.get(group, [group])
            group = target
    return np.array([find(int(k)) for k in range(len(root))])


def connected(cell: Ints, faces: Faces, pieces: Pieces) -> Ints:
    """Keep the largest connected space; number its cells along a Morton curve, -1 for dropped dust."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components

    count = len(cell)
    links = coo_matrix((np.ones(len(faces.left)), (cell[faces.left], cell[faces.right])), (count, count))
    _, part = connected_components(links, directed=False)
    part = part[cell]
    sums = np.bincount(part, pieces.area)
    kept = part == sums.argmax()
    if pieces.area[~kept].sum() > 1e-3 * pieces.area.sum():
        x, y = pieces.centre[~kept][pieces.area[~kept].argmax()]
        where = f"near x = {x:.4g} m, y = {y:.4g} m"
        raise RunError(
            "the cells are too large for a narrow passage, which would be cut off",
            where,
            "Make the cells smaller.",
        )
    roots = np.unique(cell[kept])
    roots = roots[morton_order(pieces.centre[roots], pieces.centre)]
    number = np.full(count, -1)
    number[roots] = np.arange(len(roots))
    return np.where(kept, number[cell], -1)


def morton_order(places: Floats, among: Floats | None = None) -> Ints:
    """Give the order of places (k, 2) along a Morton curve over all they lie ``among``."""
    among = places if among is None else among
    spread = (np.ptp(among, axis=0).max() or 1.0) / 65535
    ij = ((places - among.min(axis=0)) / spread).astype(np.uint64)
    return np.argsort(_spread_bits(ij[:, 0]) | (_spread_bits(ij[:, 1]) << np.uint64(1)), kind="stable")


def _spread_bits(v: NDArray[np.uint64]) -> NDArray[np.uint64]:
    for shift, mask in (
        (8, 0x00FF00FF),
        (4, 0x0F0F0F0F),
        (2, 0x33333333),
        (1, 0x55555555),
    ):
        v = (v | (v << np.uint64(shift))) & np.uint64(mask)
    return v


def assemble(
    plane: Plane,
    leaves: Leaves,
    pieces: Pieces,
    faces: Faces,
    rim: Rim,
    cell: Ints,
) -> tuple[Mesh, NDArray[np.bool_]]:
    """Make the arrays of the mesh; also tell which faces of the rim are more than rounding, and were kept."""
    axis = plane.axisymmetric
    depth = plane.depth
    kept = cell >= 0
    count = int(cell.max()) + 1
    area = np.asarray(np.bincount(cell[kept], pieces.area[kept], count), float)
    centre = np.column_stack(
        [np.bincount(cell[kept], (pieces.area * pieces.centre[:, k])[kept], count) / area for k in (0, 1)]
    )
    left = cell[faces.left]
    right = cell[faces.right]
    use = (left >= 0) & (right >= 0) & (left != right)
    flip = left[use] > right[use]
    a = np.where(flip[:, None], faces.b[use], faces.a[use])
    b = np.where(flip[:, None], faces.a[use], faces.b[use])
    owner = np.minimum(left, right)[use]
    neighbour = np.maximum(left, right)[use]
    order = np.lexsort((neighbour, owner))
    a = a[order]
    b = b[order]
    owner = owner[order]
    neighbour = neighbour[order]
    wall_cell = rim.cell
    label = rim.label
    all_a = np.vstack([a, rim.a])
    all_b = np.vstack([b, rim.b])
    vector = np.column_stack([all_b[:, 1] - all_a[:, 1], all_a[:, 0] - all_b[:, 0]])
    _check_closed(vector, np.concatenate([owner, wall_cell]), neighbour, centre)
    middle = (all_a + all_b) / 2
    weight = np.full(len(middle), depth)
    if axis:
        weight = middle[:, 1].copy()
        lever = (all_b[:, 1] - all_a[:, 1]) / (12 * np.maximum(middle[:, 1], 1e-300))
        middle = middle + lever[:, None] * (all_b - all_a)
    keep_wall = np.hypot(*vector.T) * weight > 1e-14 * plane.size * (plane.size if axis else depth)
    keep_wall[: len(owner)] = True
    scale = centre[:, 1] if axis else np.full(count, depth)
    face_area = _flat(vector * weight[:, None])
    points, face_points = _points(np.stack([all_a, all_b], axis=1).reshape(-1, 2)[np.repeat(keep_wall, 2)])
    corners, offsets = _outlines(pieces, kept)
    drawn, ids = _points(corners)
    present = np.unique(label[keep_wall[len(owner) :]])
    patch_number = np.full(len(rim.names), -1)
    patch_number[present] = np.arange(len(present))
    made = Mesh(
        owner=np.concatenate([owner, wall_cell])[keep_wall].astype(np.int32),
        neighbour=neighbour.astype(np.int32),
        area=face_area[keep_wall],
        face_centre=_flat(middle)[keep_wall],
        volume=area * scale,
        centre=_flat(centre),
        patch=patch_number[label[keep_wall[len(owner) :]]].astype(np.int32),
        patch_names=tuple(rim.names[index] for index in present),
        points=np.vstack([_flat(points), _flat(drawn)]),
        face_points=face_points.astype(np.int32),
        face_offsets=np.arange(0, len(face_points) + 1, 2, dtype=np.int32),
        piece_points=(ids + len(points)).astype(np.int32),
        piece_offsets=offsets.astype(np.int32),
        piece_cell=cell[kept].astype(np.int32),
        radius=centre[:, 1].copy() if axis else np.zeros(0),
        plane_area=area,
        level=_largest(leaves.level[pieces.leaf[kept]], cell[kept], count),
        turn=2 * np.pi if axis else 1.0,
    )
    return made, keep_wall[len(owner) :]


def _check_closed(
    vector: Floats,
    owner: Ints,
    neighbour: Ints,
    centre: Floats,
) -> None:
    """Refuse a grid with a cell whose faces do not close around it: an answer on it would be wrong without a
    sign.

    Raises
    ------
    RunError : with the place.
    """
    count = len(centre)
    inner = len(neighbour)
    length = np.hypot(*vector.T)
    around = np.bincount(owner, length, count) + np.bincount(neighbour, length[:inner], count)
    sums = [
        np.bincount(owner, vector[:, k], count) - np.bincount(neighbour, vector[:inner, k], count)
        for k in (0, 1)
    ]
    gap = np.hypot(*sums) / around
    if gap.max() > OPEN_BELOW:
        x, y = centre[int(gap.argmax())]
        raise RunError(
            "a cell of this grid does not close",
            f"near x = {x:.4g} m, y = {y:.4g} m",
            "Change the cell size a little.",
        )


def _outlines(pieces: Pieces, kept: NDArray[np.bool_]) -> tuple[Floats, Ints]:
    """Give the corners of the outer rings of kept pieces, one after the other, and where each begins."""
    count = len(pieces.boxes)
    plain = _box_rings(pieces.boxes[kept[:count]])
    polygons = pieces.polygon[kept[count:]]
    coords, which = shapely.get_coordinates(shapely.get_exterior_ring(polygons), return_index=True)
    last = np.concatenate([which[1:] != which[:-1], [True]]) if len(which) else np.zeros(0, bool)
    sizes = np.concatenate([np.full(len(plain), 4), np.bincount(which[~last], minlength=len(polygons))])
    return np.concatenate([plain.reshape(-1, 2), coords[~last]]), np.concatenate([[0], np.cumsum(sizes)])


def _largest(values: Ints, group: Ints, count: int) -> Ints:
    """Give the largest value of every group."""
    found = np.zeros(count, np.int32)
    np.maximum.at(found, group, values)
    return found


def boundary(plane: Plane, walls: Faces, cell: Ints) -> Rim:
    """Name boundary faces after the shape's edges and join those of one cell and edge that run nearly the
    same way.
    """
    owner = cell[walls.left]
    use = owner >= 0
    a = walls.a[use]
    b = walls.b[use]
    owner = owner[use]
    return gathered(a, b, owner, plane.labels_at((a + b) / 2), plane.names)


def gathered(
    a: Floats,
    b: Floats,
    owner: Ints,
    label: Ints,
    edges: tuple[str, ...],
) -> Rim:
    """Join segments of one cell (or one pair of cells) and edge that run nearly the same way."""
    along = b - a
    length = np.hypot(*along.T)
    names = len(edges)
    _, group, sums, total = _grouped(owner * names + label, along, length)
    bent = np.hypot(*sums.T)[group] <= 0.985 * total[group]
    # a group that bends is split by direction, so that an arc inside one cell becomes a few flat faces
    turn = np.floor(np.arctan2(along[:, 1], along[:, 0]) / WALL_TURN).astype(np.int64) + 64
    key, group, sums, total = _grouped((owner * names + label) * 128 + np.where(bent, turn, 0), along, length)
    straight = np.hypot(*sums.T) > 0.9 * total
    middle = (
        np.column_stack([np.bincount(group, length * (a + b)[:, k] / 2, len(key)) for k in (0, 1)])
        / total[:, None]
    )
    loose = ~straight[group]
    joined_a = (middle - sums / 2)[straight]
    joined_b = (middle + sums / 2)[straight]
    pair = key[straight] // 128
    return Rim(
        np.vstack([joined_a, a[loose]]),
        np.vstack([joined_b, b[loose]]),
        np.concatenate([pair // names, owner[loose]]),
        np.concatenate([pair % names, label[loose]]),
        edges,
    )


def _grouped(key: Ints, along: Floats, length: Floats) -> tuple[Ints, Ints, Floats, Floats]:
    """Group segments by key: distinct keys, group of each, vector sum and length sum of each group."""
    keys, group = np.unique(key, return_inverse=True)
    sums = np.column_stack([np.bincount(group, along[:, k], len(keys)) for k in (0, 1)])
    return keys, group, np.asarray(sums, float), np.asarray(np.bincount(group, length, len(keys)), float)


def _flat(xy: Floats) -> Floats:
    return np.ascontiguousarray(np.column_stack([xy, np.zeros(len(xy))]))


def _points(xy: Floats) -> tuple[Floats, Ints]:
    """Give distinct points and the index of each given one among them."""
    quantum = (np.abs(xy).max() or 1.0) * 1e-9
    keys = np.round(xy / quantum).astype(np.int64)
    _, first, inverse = np.unique(
        keys,
        axis=0,
        return_index=True,
        return_inverse=True,
    )
    return xy[first], inverse.reshape(-1)
