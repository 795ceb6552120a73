"""Whether the arrays of a mesh that came from a file belong together."""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.grid.mesh import Mesh


def sound(mesh: Mesh) -> Mesh:
    """Give the mesh if all its arrays fit each other and all numbers in them point at something.

    Raises
    ------
    ValueError : they do not; the text says which.
    """
    cells = mesh.n_cells
    faces = len(mesh.owner)
    inner = mesh.n_internal
    points = len(mesh.points)
    shapes: dict[str, tuple[int, ...]] = {
        "area": (faces, 3),
        "face_centre": (faces, 3),
        "volume": (cells,),
        "centre": (cells, 3),
        "patch": (faces - inner,),
        "points": (points, 3),
    }
    if not cells or inner > faces:
        raise ValueError("the mesh has no cells")
    for name, shape in shapes.items():
        if np.shape(getattr(mesh, name)) != shape:
            raise ValueError(f"the mesh does not hang together: {name}")
    for name in ("radius", "plane_area", "level", "region"):
        if len(getattr(mesh, name)) not in (0, cells):
            raise ValueError(f"the mesh does not hang together: {name}")
    for name in ("area", "face_centre", "volume", "centre", "points"):
        if not np.isfinite(getattr(mesh, name)).all():
            raise ValueError(f"the mesh has a place that is not a number: {name}")
    _points_at(mesh.owner, cells, "owner")
    _points_at(mesh.neighbour, cells, "neighbour")
    _points_at(mesh.patch, len(mesh.patch_names), "patch")
    _points_at(mesh.piece_cell, cells, "piece_cell")
    _points_at(mesh.cube_cell, cells, "cube_cell")
    _points_at(mesh.region, len(mesh.region_names), "region")
    if len(mesh.region) and (np.diff(mesh.region).min(initial=0) < 0 or mesh.region_names[0] != ""):
        raise ValueError("the mesh does not hang together: region")
    if np.shape(mesh.joints) != (len(mesh.joints), 2):
        raise ValueError("the mesh does not hang together: joints")
    _points_at(mesh.joints.reshape(-1), mesh.n_boundary, "joints")
    _lists(
        mesh.face_points,
        mesh.face_offsets,
        points,
        faces,
        "face_points",
    )
    _lists(
        mesh.piece_points,
        mesh.piece_offsets,
        points,
        len(mesh.piece_cell),
        "piece_points",
    )
    if (
        not len(
            {
                len(mesh.cube_low),
                len(mesh.cube_size),
                len(mesh.cube_cell),
                len(mesh.cube_middle),
            }
        )
        == 1
    ):
        raise ValueError("the mesh does not hang together: cubes")
    return mesh


def _points_at(numbers: Any, count: int, name: str) -> None:
    numbers = np.asarray(numbers)
    if numbers.dtype.kind not in "iu" or (len(numbers) and (numbers.min() < 0 or numbers.max() >= count)):
        raise ValueError(f"the mesh points at what is not there: {name}")


def _lists(
    numbers: Any,
    offsets: Any,
    count: int,
    rows: int,
    name: str,
) -> None:
    _points_at(numbers, count, name)
    if len(offsets) not in (0, 1, rows + 1) or (
        len(offsets) > 1 and (np.diff(offsets).min() < 0 or offsets[0] < 0 or offsets[-1] > len(numbers))
    ):
        raise ValueError(f"the mesh does not hang together: {name}")
