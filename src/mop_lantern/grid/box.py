"""A block of brick cells in space, with the faces of any unstructured mesh."""

from __future__ import annotations

import numpy as np

from mop_lantern.grid.mesh import Mesh


def box(counts: tuple[int, int, int], size: tuple[float, float, float]) -> Mesh:
    """Make a block of nx x ny x nz bricks from the origin; its patches are west east south north bottom top.

    Parameters
    ----------
    counts : cells along x, y, z. size : lengths, m.
    """
    lines = [np.linspace(0.0, length, count + 1) for count, length in zip(counts, size, strict=True)]
    cells = np.arange(np.prod(counts)).reshape(counts)
    nodes = np.arange(np.prod([count + 1 for count in counts])).reshape([count + 1 for count in counts])
    points = np.stack(np.meshgrid(*lines, indexing="ij"), axis=-1).reshape(-1, 3)
    owner = []
    neighbour = []
    corners = []
    area = []
    wall_owner = []
    wall_corners = []
    wall_area = []
    patch = []
    steps = [np.diff(line) for line in lines]
    for axis in range(3):
        others = [k for k in range(3) if k != axis]
        loop = [nodes]
        for other in others:
            loop = [
                np.take(part, np.arange(counts[other]) + shift, axis=other)
                for part in loop
                for shift in (0, 1)
            ]
        quad = np.stack([loop[0], loop[2], loop[3], loop[1]], axis=-1)
        size_ = np.ones(counts[:axis] + (counts[axis] + 1,) + counts[axis + 1 :])
        for other in others:
            shape = [1, 1, 1]
            shape[other] = counts[other]
            size_ = size_ * steps[other].reshape(shape)
        inner = np.arange(1, counts[axis])
        owner.append(np.take(cells, inner - 1, axis=axis).ravel())
        neighbour.append(np.take(cells, inner, axis=axis).ravel())
        corners.append(np.take(quad, inner, axis=axis).reshape(-1, 4))
        direction = np.eye(3)[axis]
        area.append(np.take(size_, inner, axis=axis).reshape(-1, 1) * direction)
        for side, sign in ((0, -1.0), (counts[axis], 1.0)):
            wall_owner.append(np.take(cells, [max(side - 1, 0)], axis=axis).ravel())
            wall_corners.append(np.take(quad, [side], axis=axis).reshape(-1, 4))
            wall_area.append(sign * np.take(size_, [side], axis=axis).reshape(-1, 1) * direction)
            patch.append(np.full(wall_owner[-1].shape, 2 * axis + (sign > 0)))
    own = np.concatenate(owner)
    nei = np.concatenate(neighbour)
    order = np.lexsort((nei, own))
    face_points = np.concatenate([np.concatenate(corners)[order], np.concatenate(wall_corners)])
    middles = [(line[1:] + line[:-1]) / 2 for line in lines]
    centre = np.stack(np.meshgrid(*middles, indexing="ij"), axis=-1).reshape(-1, 3)
    volume = (steps[0][:, None, None] * steps[1][:, None] * steps[2]).ravel()
    return Mesh(
        owner=np.concatenate([own[order], *wall_owner]).astype(np.int32),
        neighbour=nei[order].astype(np.int32),
        area=np.concatenate([np.concatenate(area)[order], *wall_area]),
        face_centre=points[face_points].mean(axis=1),
        volume=volume,
        centre=centre,
        patch=np.concatenate(patch).astype(np.int32),
        patch_names=("west", "east", "south", "north", "bottom", "top"),
        points=points,
        face_points=face_points.ravel().astype(np.int32),
        face_offsets=np.arange(0, 4 * len(face_points) + 1, 4, dtype=np.int32),
    )
