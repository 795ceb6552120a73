"""How much every patch of a surface sees of every other."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.radiation.sight import OFF, Sight
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LEAST = 2  # patches along every named edge, at least
AT_ONCE = 200_000  # rays
PASSES = 2000  # of balancing
CLOSED = 1e-12


@dataclass(frozen=True)
class Views:
    """What patches of the surface of a space see of each other.

    Attributes
    ----------
    patch : (n_boundary,) int; patch of every boundary face, -1 for mirrors. size : (n,) m2 of every patch.
    factors : (n, n); share of what leaves a patch (row) that meets another. raw_gap : how far the rows of
    sums were from one before they were balanced, rms; what rays alone would leave. lost : share of rays that
    met nothing.
    """

    patch: Ints
    size: Floats
    factors: Floats
    raw_gap: float
    lost: float


def patches_of(mesh: Mesh, mirrors: tuple[str, ...], wanted: int) -> Ints:
    """Group boundary faces of one name that look the same way and lie together, (n_boundary,); ``wanted`` in
    all, but at least two by two on every named edge. Mirrors are in none (-1).
    """
    inner = mesh.n_internal
    size = np.linalg.norm(mesh.area[inner:], axis=1)
    ways = 2 if len(mesh.plane_area) else 3
    normal = mesh.area[inner:, :ways] / np.maximum(size, 1e-300)[:, None]
    # by length in a plane, by area in a space
    spread = size / mesh.face_centre[inner:, 1].clip(1e-12) if mesh.axisymmetric else size
    power = 1.0 if ways == 2 else 0.5
    side = (spread.sum() / wanted) ** power
    key = np.zeros((mesh.n_boundary, 1 + 2 * ways), np.int64)
    key[:, 0] = mesh.patch
    key[:, 1 : 1 + ways] = np.rint(normal * (1 + 1e-9))  # 1 where it looks that way: round walls are parted
    for name in np.unique(mesh.patch):
        mine = mesh.patch == name
        here = max(min(side, spread[mine].sum() ** power / LEAST), 1e-12)
        place = mesh.face_centre[inner:][mine][:, :ways]
        span = np.ptp(place, axis=0)
        parts = np.maximum(np.rint(span / here), 1)
        key[mine, 1 + ways :] = (place - place.min(axis=0)) / np.maximum(span / parts, 1e-12) * (1 - 1e-9)
    _, patch = np.unique(key, axis=0, return_inverse=True)
    patch = patch.ravel().astype(np.int64)
    away = np.array([name in mirrors for name in mesh.patch_names] or [False])[mesh.patch] | (size <= 0)
    patch[away] = -1
    _, packed = np.unique(patch, return_inverse=True)
    return packed.ravel() - int(away.any())


def views(mesh: Mesh, sight: Sight, patch: Ints, rays: int) -> Views:
    """Find what every patch sees, from about ``rays`` rays of each.

    Rays start evenly over the surface and by the cosine law; what pairs of patches see of each other is the
    mean of both ways, weighted by how well each is known, and balanced so that nothing is lost: then both the
    sums of the rows and reciprocity hold. Source: Howell, Menguc, Daun and Siegel, *Thermal Radiation Heat
    Transfer* (7th ed.), chapter 4 (definitions); the balancing is of the kind of Sinkhorn (1967).

    Raises
    ------
    ValueError : the surface is open so wide that most rays meet nothing.
    """
    count = int(patch.max()) + 1
    area = np.linalg.norm(mesh.area[mesh.n_internal :], axis=1)
    size = np.zeros(count)
    np.add.at(size, patch[patch >= 0], area[patch >= 0])
    seen = np.zeros((count, count))
    sent = np.zeros(count)
    lost = 0
    generator = np.random.default_rng(7)
    for name in np.unique(sight.named):
        mine = np.flatnonzero((sight.named == name) & sight.starts & ~sight.mirror)
        groups = len(np.unique(patch[mesh.patch == name]))
        if not len(mine) or not groups:
            continue
        for start, way, origin in _rays(sight, mine, rays * groups, generator):
            here = patch[sight.face_at(origin, start)]
            hit, place = sight.cast(start + OFF * sight.size * sight.inward[origin], way)
            met = (hit >= 0) & (here >= 0)
            lost += int((hit < 0).sum())
            there = patch[sight.face_at(hit[met], place[met])]
            fine = there >= 0
            np.add.at(seen, (here[met][fine], there[fine]), 1.0)
            sent += np.bincount(here[met][fine], minlength=count)
    total = sent.sum() + lost
    if lost > 0.05 * total:
        raise ValueError(f"{lost / total:.0%} of the rays meet nothing")
    shared, gap = _balanced(seen, sent, size)
    return Views(patch, size, shared / size[:, None], gap, lost / max(total, 1.0))


def _rays(
    sight: Sight, mine: Ints, count: int, generator: np.random.Generator
) -> list[tuple[Floats, Floats, Ints]]:
    """Give starts (k, 3), unit ways (k, 3) and triangles (k,) of rays from some triangles, in portions."""
    from scipy.stats import qmc  # takes most of a second, and few cases radiate

    corners = sight.corners[mine]
    first = corners[:, 1] - corners[:, 0]
    area = np.linalg.norm(np.cross(first, corners[:, 2] - corners[:, 0]), axis=1)
    ends = np.cumsum(area) / area.sum()
    points = qmc.Sobol(4, rng=generator).random_base2(max(int(np.ceil(np.log2(count))), 4))
    made = []
    for begin in range(0, len(points), AT_ONCE):
        u = points[begin : begin + AT_ONCE]
        row = np.minimum(np.searchsorted(ends, u[:, 0], side="right"), len(mine) - 1)
        low = np.concatenate([[0.0], ends[:-1]])[row]
        along = (u[:, 0] - low) / np.maximum(ends[row] - low, 1e-300)
        if sight.flat:
            start = corners[row, 0] + along[:, None] * first[row]
            start[:, 2] = 0.0
            way = _in_plane(sight.inward[mine[row]], u[:, 1])
        else:
            root = np.sqrt(along)[:, None]
            second = corners[row, 2] - corners[row, 1]
            start = corners[row, 0] + root * (first[row] + u[:, 1:2] * second)
            way = _by_cosine(sight.inward[mine[row]], u[:, 2], u[:, 3])
        made.append((start, way, mine[row]))
    return made


def _in_plane(normal: Floats, u: Floats) -> Floats:
    """Directions in a plane whose sine to the normal is even: the cosine law of an endless strip."""
    sine = (2 * u - 1)[:, None]
    across = np.column_stack([-normal[:, 1], normal[:, 0], 0 * u])
    return np.asarray(np.sqrt(1 - sine**2) * normal + sine * across)


def _by_cosine(normal: Floats, u: Floats, v: Floats) -> Floats:
    """Directions about a normal by the cosine law."""
    away = np.where(np.abs(normal[:, :1]) < 0.9, [[1.0, 0, 0]], [[0, 1.0, 0]])
    one = np.cross(normal, away)
    one /= np.linalg.norm(one, axis=1)[:, None]
    two = np.cross(normal, one)
    turn = 2 * np.pi * v
    flat = np.cos(turn)[:, None] * one + np.sin(turn)[:, None] * two
    return np.asarray(np.sqrt(1 - u)[:, None] * normal + np.sqrt(u)[:, None] * flat)


def _balanced(seen: Floats, sent: Floats, size: Floats) -> tuple[Floats, float]:
    """Give the shared areas A F (n, n), symmetric and with rows that sum to A, and the rms of what single
    rows lacked before.
    """
    weight = sent / size
    both = weight[:, None] + weight[None, :]
    shared = (seen + seen.T) / np.maximum(both, 1e-300)
    alone = shared.sum(axis=1) <= 0
    shared[alone, alone] = size[alone]
    gap = float(np.sqrt(np.mean((shared.sum(axis=1) / size - 1) ** 2)))
    scale = np.ones(len(size))
    for _ in range(PASSES):
        sums = scale * (shared @ scale)
        if np.abs(sums / size - 1).max() < CLOSED:
            break
        scale *= np.sqrt(size / np.maximum(sums, 1e-300))
    return scale[:, None] * shared * scale[None, :], gap
