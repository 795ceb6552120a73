"""Several regions on one grid: fluid first, then solids, each a mesh of its own behind the same arrays."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid.mesh import Mesh

Ints = NDArray[Any]
BEHIND = "@"  # parts the name of an edge from the solid whose own side of it is meant


def part_of(mesh: Mesh, first: int, end: int) -> Mesh:
    """Give the mesh of the cells from ``first`` up to ``end``, which touch others through boundary faces
    only.
    """
    inner, outer = faces_of_cells(mesh, first, end)
    faces = np.concatenate([np.arange(*inner), mesh.n_internal + np.arange(*outer)])
    corner = np.diff(mesh.face_offsets)[faces] if len(mesh.face_offsets) > 1 else np.zeros(0, int)
    drawn = (mesh.piece_cell >= first) & (mesh.piece_cell < end)
    offsets, inside = _rows(mesh.piece_offsets, drawn)
    cubes = (mesh.cube_cell >= first) & (mesh.cube_cell < end)
    cells = slice(first, end)
    return replace(
        mesh,
        owner=mesh.owner[faces] - np.int32(first),
        neighbour=mesh.neighbour[slice(*inner)] - np.int32(first),
        area=mesh.area[faces],
        face_centre=mesh.face_centre[faces],
        volume=mesh.volume[cells],
        centre=mesh.centre[cells],
        patch=mesh.patch[slice(*outer)],
        face_points=_gathered(mesh.face_points, mesh.face_offsets, faces),
        face_offsets=np.concatenate([[0], np.cumsum(corner)]).astype(np.int32),
        piece_points=mesh.piece_points[inside],
        piece_offsets=offsets,
        piece_cell=mesh.piece_cell[drawn] - np.int32(first),
        radius=mesh.radius[cells],
        plane_area=mesh.plane_area[cells],
        level=mesh.level[cells],
        cube_low=mesh.cube_low[cubes],
        cube_size=mesh.cube_size[cubes],
        cube_cell=mesh.cube_cell[cubes] - np.int32(first),
        cube_middle=mesh.cube_middle[cubes],
        region=np.zeros(0, np.int32),
        region_names=("",),
        joints=np.zeros((0, 2), np.int32),
    )


def faces_of_cells(mesh: Mesh, first: int, end: int) -> tuple[tuple[int, int], tuple[int, int]]:
    """Give where the internal faces and the boundary faces of a region's cells begin and end."""
    inner = np.searchsorted(mesh.owner[: mesh.n_internal], [first, end])
    owner = mesh.owner[mesh.n_internal :]
    before = (owner < first).sum(), (owner < end).sum()
    return (int(inner[0]), int(inner[1])), (int(before[0]), int(before[1]))


def _gathered(values: Ints, offsets: Ints, rows: Ints) -> Ints:
    """Give the entries of some rows of CSR lists, one row behind the other."""
    if len(offsets) < 2:
        return values
    count = np.diff(offsets)[rows]
    within = np.arange(count.sum()) - np.repeat(np.cumsum(count) - count, count)
    return np.asarray(values[np.repeat(offsets[rows], count) + within])


def _rows(offsets: Ints, kept: NDArray[np.bool_]) -> tuple[Ints, NDArray[np.bool_]]:
    """Give the offsets of the kept rows of CSR lists, and which entries stay."""
    count = np.diff(offsets)
    return np.concatenate([[0], np.cumsum(count[kept])]).astype(np.int32), np.repeat(kept, count)


def patch_names(
    region: Ints,
    label: Ints,
    names: Sequence[str],
    regions: Sequence[str],
) -> tuple[Ints, tuple[str, ...]]:
    """Name the boundary faces of several regions, (n_boundary,) patch numbers and their names.

    An edge has one plain name: that of the fluid's side, else of the solid whose part it belongs to, else of
    the first. Another region's own side of it is called ``edge@region``.
    """
    pairs, back = np.unique(np.column_stack([label, region]), axis=0, return_inverse=True)
    found = []
    for edge in range(len(names)):
        having = [int(which) for number, which in pairs.tolist() if number == edge]
        owner = names[edge].split(".")[0]
        plain = next((which for which in having if regions[which] in ("", owner)), min(having, default=0))
        found += [
            names[edge] if which == plain else f"{names[edge]}{BEHIND}{regions[which]}" for which in having
        ]
    return np.asarray(back.reshape(-1)), tuple(found)


def plain_edge(name: str) -> str:
    """Give the edge a patch belongs to, whichever region's side of it it is."""
    return name.partition(BEHIND)[0]


def together(meshes: dict[str, Mesh], joints: list[tuple[str, str, Ints, Ints]]) -> Mesh:
    """Put the meshes of fluid ("") and solids behind each other, boundary faces too.

    Parameters
    ----------
    joints : of pairs of regions, their ids and the boundary faces (k,) of each that belong together.
    """
    keys = ["", *(key for key in meshes if key)]
    present = [key for key in keys if key in meshes]
    first = dict(zip(present, np.cumsum([0, *(meshes[key].n_cells for key in present)]), strict=False))
    edge = dict(zip(present, np.cumsum([0, *(meshes[key].n_boundary for key in present)]), strict=False))
    parts = [meshes[key] for key in present]
    names = tuple(dict.fromkeys(name for part in parts for name in part.patch_names))
    number = {name: k for k, name in enumerate(names)}
    region = np.repeat([keys.index(key) for key in present], [part.n_cells for part in parts])
    label = np.concatenate([np.array([number[n] for n in part.patch_names])[part.patch] for part in parts])
    where = np.repeat([keys.index(key) for key in present], [part.n_boundary for part in parts])
    patch, named = patch_names(where, label, names, keys)

    def inner_first(name: str) -> Any:
        inner = [getattr(part, name)[: part.n_internal] for part in parts]
        outer = [getattr(part, name)[part.n_internal :] for part in parts]
        return np.concatenate([*inner, *outer])

    def stacked(name: str) -> Any:
        return np.concatenate([getattr(part, name) for part in parts])

    shift = [first[key] for key in present]
    inner = [part.owner[: part.n_internal] + at for part, at in zip(parts, shift, strict=True)]
    outer = [part.owner[part.n_internal :] + at for part, at in zip(parts, shift, strict=True)]
    both = [
        np.column_stack([edge[one] + mine, edge[other] + its])
        for one, other, mine, its in joints
        if len(mine)
    ]
    return replace(
        parts[0],
        owner=np.concatenate([*inner, *outer]).astype(np.int32),
        neighbour=np.concatenate([p.neighbour + at for p, at in zip(parts, shift, strict=True)]).astype(
            np.int32
        ),
        area=inner_first("area"),
        face_centre=inner_first("face_centre"),
        volume=stacked("volume"),
        centre=stacked("centre"),
        patch=patch.astype(np.int32),
        patch_names=named,
        level=stacked("level"),
        cube_low=stacked("cube_low"),
        cube_size=stacked("cube_size"),
        cube_cell=np.concatenate([p.cube_cell + at for p, at in zip(parts, shift, strict=True)]).astype(
            np.int32
        ),
        cube_middle=stacked("cube_middle"),
        region=region.astype(np.int32),
        region_names=tuple(keys),
        joints=(np.concatenate(both) if both else np.zeros((0, 2))).astype(np.int32),
    )
