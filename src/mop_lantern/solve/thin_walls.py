"""Thin walls that conduct along themselves: those of a case, as a net beside its grid."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.field.shell_net import ShellNet, net_of
from mop_lantern.grid import Mesh
from mop_lantern.shape.plane import Plane
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]


def shells_on(settled: ResolvedCase, mesh: Mesh, along: Floats) -> ShellNet | None:
    """Lay a net on the walls that conduct along themselves, ``along`` (n_boundary,) W/K; None without any."""
    faces = np.flatnonzero(along > 0)
    if not len(faces):
        return None
    conducts = {
        mesh.patch_names[k]: float(along[faces][mesh.patch[faces] == k][0]) for k in set(mesh.patch[faces])
    }
    size = np.linalg.norm(mesh.area[mesh.n_internal :][faces], axis=1)
    middles = mesh.face_centre[mesh.n_internal :][faces]
    meshed = settled.meshed
    regions = [*([] if meshed.dry else [meshed]), *meshed.solids.values()]
    found = [_pieces(region, conducts) for region in regions]
    pieces = np.concatenate([each for each, _ in found])
    carried = np.concatenate([each for _, each in found])
    if isinstance(meshed, Surface):
        return net_of(pieces, carried, faces, middles, float(np.sqrt(np.median(size))))
    if mesh.axisymmetric:  # of a radian
        size = size / np.maximum(middles[:, 1], 1e-30)
        pieces, carried = _short(pieces, carried, float(np.median(size)) / 2)
        carried = carried * pieces[:, :, 1].mean(axis=1)
    return net_of(pieces, carried, faces, middles, float(np.median(size)))


def _short(pieces: Floats, carried: Floats, longest: float) -> tuple[Floats, Floats]:
    """Cut lines (m, 2, 3) so short that each has one radius."""
    step = pieces[:, 1] - pieces[:, 0]
    parts = np.maximum(np.ceil(np.linalg.norm(step, axis=1) / longest).astype(int), 1)
    line = np.repeat(np.arange(len(pieces)), parts)
    number = np.arange(len(line)) - np.repeat(np.cumsum(parts) - parts, parts)
    ends = [pieces[line, 0] + ((number + k) / parts[line])[:, None] * step[line] for k in (0, 1)]
    return np.stack(ends, axis=1), carried[line]


def _pieces(region: Plane | Surface, conducts: dict[str, float]) -> tuple[Floats, Floats]:
    """Give the pieces of the named edges of a region, (m, 2 or 3, 3) m, and what each conducts, (m,) W/K."""
    every = np.array([conducts.get(name, 0.0) for name in region.names])[region.labels]
    mine = every > 0
    if isinstance(region, Surface):
        return region.points[region.triangles[mine]], every[mine]
    flat = region.segments[mine]
    return np.concatenate([flat, np.zeros((*flat.shape[:2], 1))], axis=2), every[mine]
