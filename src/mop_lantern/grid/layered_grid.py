"""Grids in a plane whose walls carry layers: the lattice is cut by what the layers leave, and joined to them
along the line behind them.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.grid.layers import LAYER, Layers, Run
from mop_lantern.grid.mesh import Mesh
from mop_lantern.grid.plane_grid import (
    Faces,
    Pieces,
    assemble,
    boundary,
    connected,
    cut,
    join,
    merge,
)
from mop_lantern.grid.tree import refine
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape import Plane

Floats = NDArray[np.float64]
Ints = NDArray[Any]
STRETCHED = -1  # level of cells of layers: of no lattice
TOUCH = 1e-7  # of the size of the shape: overlaps shorter than that are rounding


def make_layered(plane: Plane, layers: Layers, grid: Any, openings: frozenset[str]) -> Mesh:
    """Make the mesh of a plane or axisymmetric shape with layers along its walls.

    Raises
    ------
    RunError : the cells are too many, or too large for the shape to survive.
    """
    leaves = refine(layers.inside, grid, openings, plane)
    pieces = cut(layers.inside, leaves)
    faces, walls = join(leaves, pieces)
    cell = merge(pieces, faces)
    count = len(pieces.area)
    pieces = _with_layers(pieces, layers)
    own = np.concatenate([cell, np.arange(count, len(pieces.area))])
    within, rims, behind = _faces_of(layers, count)
    behind_layers = layers.inside.labels_at((walls.a + walls.b) / 2) == layers.inside.names.index(LAYER)
    met = _met(walls, behind_layers, behind, TOUCH * plane.size)
    faces = _together(faces, within, met)
    plain = Faces(*(side[~behind_layers] for side in (walls.a, walls.b, walls.left, walls.right)))
    cell = connected(own, faces, pieces)
    rim = boundary(plane, _together(plain, rims), cell)
    mesh = assemble(plane, leaves, pieces, faces, rim, cell)[0]
    level = mesh.level.copy()
    level[np.unique(cell[count:][cell[count:] >= 0])] = STRETCHED
    return replace(mesh, level=level)


def _corners(run: Run) -> Floats:
    """Give the corners of the cells of a run, anticlockwise, (m, n, 4, 2)."""
    at = run.places
    return np.stack([at[:-1, :-1], at[1:, :-1], at[1:, 1:], at[:-1, 1:]], axis=2)


def _with_layers(pieces: Pieces, layers: Layers) -> Pieces:
    """Add the cells of layers behind the pieces of the lattice; each counts as of the leaf nearest to it."""
    rings = np.concatenate([_corners(run).reshape(-1, 4, 2) for run in layers.runs])
    made = shapely.polygons(rings)
    area = shapely.area(made)
    centre = shapely.get_coordinates(shapely.centroid(made)).reshape(-1, 2)
    nearest = np.asarray(nearest_tree(pieces.centre).query(centre)[1])
    return Pieces(
        np.concatenate([pieces.leaf, pieces.leaf[nearest]]),
        pieces.boxes,
        np.concatenate([pieces.polygon, made]),
        np.concatenate([pieces.area, area]),
        np.vstack([pieces.centre, centre]),
        np.concatenate([pieces.full, area]),
    )


def _faces_of(layers: Layers, first: int) -> tuple[Faces, Faces, Faces]:
    """Give the faces between cells of layers, those on walls and openings, and those behind the last layer,
    whose left is still to be found. ``first`` : number of the first cell.
    """
    within, rims, behind = [], [], []
    for run in layers.runs:
        at = run.places
        pieces, deep = at.shape[0] - 1, at.shape[1] - 1
        cell = first + np.arange(pieces * deep).reshape(pieces, deep)
        first += pieces * deep
        within.append(_faces(at[:-1, 1:-1], at[1:, 1:-1], cell[:, 1:], cell[:, :-1]))
        within.append(_faces(at[1:-1, :-1], at[1:-1, 1:], cell[:-1], cell[1:]))
        rims.append(_faces(at[:-1, 0], at[1:, 0], cell[:, 0]))
        behind.append(_faces(at[:-1, -1], at[1:, -1], cell[:, -1]))
        if run.closed:
            within.append(_faces(at[-1, :-1], at[-1, 1:], cell[-1], cell[0]))
            continue
        for side, slides in zip(
            (_faces(at[0, 1:], at[0, :-1], cell[0]), _faces(at[-1, :-1], at[-1, 1:], cell[-1])),
            run.slides,
            strict=True,
        ):
            (rims if slides else behind).append(side)
    return _together(*within), _together(*rims), _together(*behind)


def _faces(a: Floats, b: Floats, left: Ints, right: Ints | None = None) -> Faces:
    a, b, left = a.reshape(-1, 2), b.reshape(-1, 2), left.reshape(-1)
    return Faces(a, b, left, np.full(len(left), -1) if right is None else right.reshape(-1))


def _together(*every: Faces) -> Faces:
    return Faces(
        *(np.concatenate([getattr(each, name) for each in every]) for name in ("a", "b", "left", "right"))
    )


def _met(walls: Faces, use: NDArray[np.bool_], behind: Faces, touch: float) -> Faces:
    """Give the faces between the lattice and the layers: every piece of the line behind them that a cell of
    the one and a cell of the other share.
    """
    a, b, piece = walls.a[use], walls.b[use], walls.left[use]
    tree = shapely.STRtree(shapely.linestrings(np.stack([behind.a, behind.b], axis=1)))
    mine, other = tree.query(
        shapely.linestrings(np.stack([a, b], axis=1)), predicate="dwithin", distance=touch
    )
    start, way = a[mine], b[mine] - a[mine]
    long = np.hypot(*way.T)
    unit = way / long[:, None]
    along = [((end[other] - start) * unit).sum(axis=1) for end in (behind.a, behind.b)]
    aside = [np.abs(_cross(unit, end[other] - start)) for end in (behind.a, behind.b)]
    low = np.clip(np.minimum(*along), 0.0, long)
    high = np.clip(np.maximum(*along), 0.0, long)
    shared = (high - low > touch * 1e-2) & (np.maximum(*aside) < 10 * touch)
    mine, other, low, high = mine[shared], other[shared], low[shared], high[shared]
    start, unit = start[shared], unit[shared]
    met = Faces(start + low[:, None] * unit, start + high[:, None] * unit, piece[mine], behind.left[other])
    # where a corner too small for a piece was dropped, its neighbours border the layers with what bordered it
    whole = np.hypot(*(b - a).T)
    covered = np.bincount(mine, high - low, len(a))
    short = np.flatnonzero(covered < whole - 1e-5 * touch)
    lost = [_gaps(low[mine == k], high[mine == k], whole[k]) for k in short]
    which = np.repeat(short, [len(each) for each in lost])
    if not len(which):
        return met
    ends = np.concatenate(lost) / whole[which][:, None]
    first, last = (a[which] + ends[:, k, None] * (b - a)[which] for k in (0, 1))
    nearest = tree.nearest(shapely.points((first + last) / 2))
    return _together(met, Faces(first, last, piece[which], behind.left[nearest]))


def _gaps(low: Floats, high: Floats, whole: float) -> Floats:
    """Give what stretches between ``low`` and ``high`` leave of a length, (k, 2)."""
    order = np.argsort(low)
    starts = np.append(0.0, high[order])
    stops = np.append(low[order], whole)
    return np.column_stack([starts, stops])[stops > starts]


def _cross(one: Floats, other: Floats) -> Floats:
    return np.asarray(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0])
