"""The net on which thin walls conduct along themselves.

The walls are cut into straight lines (planes) or triangles (spaces) about as long as the cells beside them;
on these stand linear finite elements (any text; in triangles the weights are half the cotangents of the
angles opposite). What the corners have follows from what the faces have, by the straight function that fits
those around best (moving least squares: Lancaster and Salkauskas, Math. Comp. 37, 1981), so that there are
as many unknowns as faces, however fine the drawing is.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix, csr_matrix
from scipy.spatial import Delaunay, QhullError, cKDTree

Floats = NDArray[np.float64]
Ints = NDArray[Any]
SAME = 1e-9  # of the size of all: corners so near each other are one
AROUND = {2: 4, 3: 12}  # faces a value is fitted to, of lines and triangles
STEADIED = 1e-6  # of the weights: what the drawing leaves undetermined (straight on, square to it) is level
FINER = 0.75  # sides of pieces, of the cells beside


@dataclass(frozen=True)
class ShellNet:
    """What thin walls conduct between the boundary faces that lie on them.

    Attributes
    ----------
    faces : (k,) boundary faces. stiffness : (k, k), W/K: what goes from one to another for a kelvin.
    share : (k, k), what the temperature at a face is made of; rows sum up to one.
    """

    faces: Ints
    stiffness: csr_matrix
    share: csr_matrix


def net_of(pieces: Floats, along: Floats, faces: Ints, middles: Floats, size: float) -> ShellNet:
    """Lay a net on walls.

    Parameters
    ----------
    pieces : (m, 2, 3) m, straight lines, or (m, 3, 3) m, triangles. along : (m,) W/K, thickness times
    conductivity, of lines times their width. faces : (k,) boundary faces, middles : (k, 3) m theirs.
    size : m, of the cells beside.
    """
    points, corners = _joined(pieces)
    points, corners, parent = _cut(points, corners, FINER * size)
    solid = _sizes(points, corners) > (SAME * size) ** (corners.shape[1] - 1)
    corners, along = corners[solid], along[parent[solid]]
    fit = _fitted(middles, points, corners.shape[1])
    stiffness = (fit.T @ _stiffness(points, corners, along) @ fit).tocsr()
    return ShellNet(faces, stiffness, _fitted(middles, middles, corners.shape[1]))


def _joined(pieces: Floats) -> tuple[Floats, Ints]:
    """Give the corners of pieces once each, (n, 3), and which ones every piece has, (m, 2 or 3)."""
    every = pieces.reshape(-1, 3)
    grain = SAME * max(float(np.ptp(every, axis=0).max()), 1e-30)
    _, first, number = np.unique(np.round(every / grain), axis=0, return_index=True, return_inverse=True)
    return every[first], number.reshape(pieces.shape[:2])


def _sizes(points: Floats, corners: Ints) -> Floats:
    """Give the lengths or areas of pieces, (m,)."""
    first, *rest = (points[corners[:, k]] for k in range(corners.shape[1]))
    sides = [each - first for each in rest]
    way = sides[0] if len(sides) == 1 else 0.5 * np.cross(sides[0], sides[1])
    return np.asarray(np.linalg.norm(way, axis=1))


def _cut(points: Floats, corners: Ints, longest: float) -> tuple[Floats, Ints, Ints]:
    """Cut pieces whose sides are too long, so that they still share whole sides; give the points, the pieces,
    and which piece each came from.
    """
    ends = np.array([(0, 1)] if corners.shape[1] == 2 else [(0, 1), (1, 2), (2, 0)])
    sides = np.sort(corners[:, ends], axis=2)
    each, number = np.unique(sides.reshape(-1, 2), axis=0, return_inverse=True)
    number = number.reshape(sides.shape[:2])
    step = points[each[:, 1]] - points[each[:, 0]]
    parts = np.maximum(np.ceil(np.linalg.norm(step, axis=1) / longest).astype(int), 1)
    first = len(points) + np.concatenate([[0], np.cumsum(parts - 1)])  # of the new points on every side
    side = np.repeat(np.arange(len(each)), parts - 1)
    at = (np.arange(len(side)) + len(points) - first[side] + 1) / parts[side]
    points = np.concatenate([points, points[each[side, 0]] + at[:, None] * step[side]])
    whole = (parts[number] == 1).all(axis=1)
    made, come_from = [corners[whole]], [np.flatnonzero(whole)]
    for piece in np.flatnonzero(~whole):
        on = [np.arange(first[k], first[k + 1]) for k in number[piece]]
        if corners.shape[1] == 2:
            line = np.concatenate([each[number[piece, 0], :1], on[0], each[number[piece, 0], 1:]])
            new = np.stack([line[:-1], line[1:]], axis=1)
        else:
            rim = np.concatenate([corners[piece], *on])
            inside = _inside(points[corners[piece]], longest)
            rim = np.concatenate([rim, len(points) + np.arange(len(inside))])
            points = np.concatenate([points, inside]) if len(inside) else points
            new = rim[_spanned(points[rim])]
        made.append(new)
        come_from.append(np.full(len(new), piece))
    return points, np.concatenate(made), np.concatenate(come_from)


def _flat(corners: Floats) -> Floats:
    """Give two unit vectors in the plane of a triangle (3, 3): along its longest side and square to it."""
    sides = np.roll(corners, -1, axis=0) - corners
    one = sides[np.argmax((sides**2).sum(axis=1))]
    one = one / np.linalg.norm(one)
    other = sides - (sides @ one)[:, None] * one
    other = other[np.argmax((other**2).sum(axis=1))]
    return np.stack([one, other / max(float(np.linalg.norm(other)), 1e-300)])


def _turn(one: Floats, other: Floats) -> Floats:
    """Give twice the area between vectors in a plane, (…, 2) each, (…,)."""
    return np.asarray(one[..., 0] * other[..., 1] - one[..., 1] * other[..., 0])


def _inside(corners: Floats, apart: float) -> Floats:
    """Give places inside a triangle (3, 3), so far apart, that keep half as far from its sides, (k, 3)."""
    frame = _flat(corners)
    flat = (corners - corners[0]) @ frame.T
    low, high = flat.min(axis=0), flat.max(axis=0)
    ways = [np.arange(low[k] + apart / 2, high[k], apart) for k in (0, 1)]
    grid = np.stack(np.meshgrid(*ways, indexing="ij"), axis=-1).reshape(-1, 2)
    turned = np.sign(_turn(flat[1] - flat[0], flat[2] - flat[0])) or 1.0
    for k in range(3):
        side = flat[(k + 1) % 3] - flat[k]
        away = turned * _turn(side, grid - flat[k]) / max(float(np.linalg.norm(side)), 1e-300)
        grid = grid[away > apart / 2]
    return np.asarray(corners[0] + grid @ frame)


def _spanned(places: Floats) -> Ints:
    """Give the triangles between places in one plane, (m, 3) numbers of theirs."""
    flat = (places - places[0]) @ _flat(places[:3]).T
    try:
        return np.asarray(Delaunay(flat).simplices)
    except QhullError:  # thinner than rounding: it carries nothing
        return np.zeros((0, 3), int)


def _stiffness(points: Floats, corners: Ints, along: Floats) -> csr_matrix:
    """Give what goes from corner to corner for a kelvin, (n, n) W/K."""
    if corners.shape[1] == 2:
        pairs = [(0, 1, along / _sizes(points, corners))]
    else:
        pairs = []
        for k in range(3):
            i, j = (k + 1) % 3, (k + 2) % 3
            one, other = (points[corners[:, e]] - points[corners[:, k]] for e in (i, j))
            area = np.linalg.norm(np.cross(one, other), axis=1)
            pairs.append((i, j, 0.5 * along * (one * other).sum(axis=1) / area))
    start = np.concatenate([corners[:, i] for i, _, _ in pairs])
    end = np.concatenate([corners[:, j] for _, j, _ in pairs])
    pull = np.concatenate([each for _, _, each in pairs])
    rows, columns = np.concatenate([start, end, start, end]), np.concatenate([start, end, end, start])
    data = np.concatenate([pull, pull, -pull, -pull])
    return coo_matrix((data, (rows, columns)), (len(points), len(points))).tocsr()


def _fitted(middles: Floats, places: Floats, corners: int) -> csr_matrix:
    """Give the weights by which values at the middles of faces (k, 3) make those at places (n, 3), (n, k): of
    the straight function that fits the nearest ones best, the nearer the more.
    """
    count = min(AROUND[corners], len(middles))
    away, near = (each.reshape(len(places), -1) for each in cKDTree(middles).query(places, count))
    least = SAME * max(float(np.ptp(middles, axis=0).max()), 1e-30)
    reach = np.maximum(away[:, count // 2], least)[:, None]
    weight = np.exp(-1.5 * (away / reach) ** 2)
    apart = (middles[near] - places[:, None, :]) / reach[..., None]
    basis = np.concatenate([np.ones((*near.shape, 1)), apart], axis=2)
    matrix = np.einsum("nki,nk,nkj->nij", basis, weight, basis)
    matrix[:, np.arange(1, 4), np.arange(1, 4)] += STEADIED * weight.sum(axis=1)[:, None]
    at_place = np.linalg.solve(matrix, np.broadcast_to(np.eye(4)[:, :1], (len(places), 4, 1)))[..., 0]
    shares = np.einsum("nki,ni->nk", basis, at_place) * weight
    rows = np.repeat(np.arange(len(places)), count)
    return coo_matrix((shares.ravel(), (rows, near.ravel())), (len(places), len(middles))).tocsr()
