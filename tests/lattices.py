"""Hand-made meshes for the field core: quadrilaterals between given points, in a plane or about its axis."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
SIDES = ("west", "east", "south", "north")


def points_of(x: Floats, y: Floats) -> Floats:
    """Give the points (nx + 1, ny + 1, 2) of straight lines at ``x`` and ``y``."""
    return np.stack(np.meshgrid(x, y, indexing="ij"), axis=-1)


def lattice(points: Floats, axis: bool = False) -> Mesh:
    """Join points (nx + 1, ny + 1, 2), m, to a mesh of a plane one metre deep, or about the x axis."""
    nx, ny = points.shape[0] - 1, points.shape[1] - 1
    flat = np.concatenate([points.reshape(-1, 2), np.zeros(((nx + 1) * (ny + 1), 1))], axis=1)
    node = np.arange(len(flat)).reshape(nx + 1, ny + 1)
    cell = np.arange(nx * ny).reshape(nx, ny)
    across = node[1:-1, 1:], node[1:-1, :-1], cell[:-1], cell[1:]  # faces along y, between neighbours in x
    along = node[:-1, 1:-1], node[1:, 1:-1], cell[:, :-1], cell[:, 1:]
    inside = [np.concatenate([a.ravel(), b.ravel()]) for a, b in zip(across, along, strict=True)]
    order = np.lexsort((inside[3], inside[2]))
    first, second, own, nei = (part[order] for part in inside)
    rim = [
        (node[0, 1:], node[0, :-1], cell[0]),
        (node[-1, 1:], node[-1, :-1], cell[-1]),
        (node[:-1, 0], node[1:, 0], cell[:, 0]),
        (node[:-1, -1], node[1:, -1], cell[:, -1]),
    ]
    first = np.concatenate([first, *(side[0] for side in rim)])
    second = np.concatenate([second, *(side[1] for side in rim)])
    owner = np.concatenate([own, *(side[2] for side in rim)]).astype(np.int32)
    corners = np.stack([points[:-1, :-1], points[1:, :-1], points[1:, 1:], points[:-1, 1:]], axis=2)
    size, centre, radius = _cells(corners.reshape(-1, 4, 2))
    ends = flat[np.stack([first, second], axis=1)]
    middle = ends.mean(axis=1)
    way = ends[:, 1] - ends[:, 0]
    area = np.stack([-way[:, 1], way[:, 0], 0 * way[:, 0]], axis=1)
    outward = ((middle - centre[owner]) * area).sum(axis=1)
    area *= np.where(outward < 0, -1.0, 1.0)[:, None] * (middle[:, 1:2] if axis else 1.0)
    return Mesh(
        owner=owner,
        neighbour=nei.astype(np.int32),
        area=area,
        face_centre=middle,
        volume=size * radius if axis else size,
        centre=centre,
        patch=np.repeat(np.arange(4), [ny, ny, nx, nx]).astype(np.int32),
        patch_names=SIDES,
        points=flat,
        face_points=np.stack([first, second], axis=1).ravel().astype(np.int32),
        face_offsets=np.arange(0, 2 * len(owner) + 1, 2, dtype=np.int32),
        radius=radius if axis else np.zeros(0),
        plane_area=size,
        turn=2 * np.pi if axis else 1.0,
    )


def _cells(corners: Floats) -> tuple[Floats, Floats, Floats]:
    """Give area (n,), centre (n, 3) and distance of the centre from the x axis (n,) of quadrilaterals."""
    following = np.roll(corners, -1, axis=1)
    cross = corners[..., 0] * following[..., 1] - following[..., 0] * corners[..., 1]
    size = cross.sum(axis=1) / 2
    middle = ((corners + following) * cross[..., None]).sum(axis=1) / (6 * size[:, None])
    return size, np.concatenate([middle, np.zeros((len(size), 1))], axis=1), middle[:, 1]
