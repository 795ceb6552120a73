"""Measures of a surface that grids ask for: places spread over it, sharp edges, bends, gaps between walls
that face each other.
"""

from __future__ import annotations

from typing import Any, Protocol

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.plane import SHARP
from mop_lantern.shape.tracer import Tracer

Floats = NDArray[np.float64]
MOST = 400_000  # places
RAYS = 4000


class Triangles(Protocol):
    """What a surface is to these measures."""

    @property
    def points(self) -> Floats:
        """Corners of triangles, (n, 3) m."""

    @property
    def triangles(self) -> NDArray[Any]:
        """Numbers of the corners of every triangle, (m, 3)."""

    @property
    def labels(self) -> NDArray[Any]:
        """The face every triangle belongs to, (m,)."""

    @property
    def beyond(self) -> NDArray[Any]:
        """The triangle beyond each edge, (m, 3); -1 for none."""

    @property
    def area_vectors(self) -> Floats:
        """Area vectors, (m, 3) m2."""

    @property
    def size(self) -> float:
        """Length of the diagonal of the bounding box, m."""


def divided(corners: Floats, step: float) -> Floats:
    """Halve triangles (k, 3, 3) m at their longest sides until none is longer than ``step``, as far as `MOST`
    allows.
    """
    area = (
        0.5
        * np.linalg.norm(np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]), axis=1).sum()
    )
    step = max(step, float(np.sqrt(4 * area / MOST)))
    done = []
    while len(corners):
        sides = np.linalg.norm(corners - np.roll(corners, -1, axis=1), axis=2)
        longest = sides.argmax(axis=1)
        fine = sides.max(axis=1) <= step
        done.append(corners[fine])
        corners = corners[~fine]
        longest = longest[~fine]
        rows = np.arange(len(corners))
        a, b, c = (corners[rows, (longest + k) % 3] for k in range(3))
        middle = 0.5 * (a + b)
        corners = np.concatenate([np.stack([a, middle, c], axis=1), np.stack([middle, b, c], axis=1)])
    return np.concatenate(done) if done else corners


def scattered(corners: Floats, which: NDArray[Any], seed: int = 0) -> Floats:
    """Lay one place at random into each of the triangles chosen (numbers into (m, 3, 3) m, repeated ones get
    as many), evenly by area, (k, 3) m.
    """
    share = np.random.default_rng(seed).random((len(which), 2))
    root = np.sqrt(share[:, :1])
    a, b, c = (corners[which, k] for k in range(3))
    return np.asarray((1 - root) * a + root * (1 - share[:, 1:]) * b + root * share[:, 1:] * c)


def edges_of(surface: Triangles) -> tuple[Floats, Floats, Floats]:
    """Give every edge once: its two ends (k, 2, 3) m, the angle its triangles turn by (rad), and the distance
    between their middles across it (m).
    """
    normal = surface.area_vectors / np.maximum(np.linalg.norm(surface.area_vectors, axis=1), 1e-300)[:, None]
    triangle, side = np.nonzero(surface.beyond > np.arange(len(surface.triangles))[:, None])
    other = surface.beyond[triangle, side]
    ends = np.stack(
        [
            surface.points[surface.triangles[triangle, side]],
            surface.points[surface.triangles[triangle, (side + 1) % 3]],
        ],
        axis=1,
    )
    turn = np.arccos(np.clip((normal[triangle] * normal[other]).sum(axis=1), -1, 1))
    along = ends[:, 1] - ends[:, 0]
    length = np.maximum(np.linalg.norm(along, axis=1), 1e-300)
    size = 0.5 * np.linalg.norm(surface.area_vectors, axis=1)
    return ends, turn, (size[triangle] + size[other]) / length * 2


def standing_edges(surface: Triangles, least: float) -> tuple[Floats, NDArray[Any]]:
    """Give the sharp edges that stand into the fluid: middle (k, 3) m and the labels of the two faces that
    meet there (k, 2), the longest first.

    ``least`` : turn from which an edge is sharp, rad.
    """
    ends, triangle, other = _standing(surface, least)
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    longest = np.argsort(-length, kind="stable")
    labels = np.stack([surface.labels[triangle], surface.labels[other]], axis=1)
    return ends[longest].mean(axis=1), labels[longest]


def _standing(surface: Triangles, least: float) -> tuple[Floats, NDArray[Any], NDArray[Any]]:
    """Give the edges that turn by more than ``least`` (rad) and stand into the fluid: their ends (k, 2, 3) m
    and the two triangles (k,) that meet there.
    """
    ends, turn, _ = edges_of(surface)
    triangle, side = np.nonzero(surface.beyond > np.arange(len(surface.triangles))[:, None])
    other = surface.beyond[triangle, side]
    corners = surface.points[surface.triangles]
    apart = corners.mean(axis=1)[other] - corners[triangle, side]
    beyond = (apart * surface.area_vectors[triangle]).sum(axis=1) > 0  # the other lies there
    standing = np.flatnonzero((turn > least) & beyond)
    return ends[standing], triangle[standing], other[standing]


def _along(ends: Floats, step: float) -> tuple[NDArray[Any], Floats]:
    """Spread places along edges (k, 2, 3) m, about ``step`` (m) apart: the edge of each, and the place."""
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    count = np.maximum(1, np.ceil(length / max(step, length.sum() / MOST))).astype(int)
    which = np.repeat(np.arange(len(ends)), count)
    part = (np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count) + 0.5) / count[which]
    return which, ends[which, 0] + part[:, None] * (ends[which, 1] - ends[which, 0])


def standing_sides(
    surface: Triangles,
    least: float,
    unwanted: NDArray[Any],
    hair: float,
    most: int,
) -> tuple[Floats, Floats, Floats]:
    """Give places along sharp edges that stand into the fluid, once for each of the two triangles that meet
    there: the place, the way out of the triangle into the fluid, and the way in it away from the edge, all
    (k, 3).

    ``least`` : turn from which an edge is sharp, rad. ``unwanted`` : labels of faces whose edges do not
    count, nor do those of faces no deeper than a ``hair`` (m), such as the rim of a patch laid on a wall.
    ``most`` : places.
    """
    ends, triangle, other = _standing(surface, least)
    corners = surface.points[surface.triangles]
    length = np.linalg.norm(ends[:, 1] - ends[:, 0], axis=1)
    double = 2 * np.linalg.norm(surface.area_vectors, axis=1)
    use = (length > 0) & (np.minimum(double[triangle], double[other]) > hair * length)
    use &= ~(np.isin(surface.labels[triangle], unwanted) | np.isin(surface.labels[other], unwanted))
    if not use.any():
        return np.zeros((0, 3)), np.zeros((0, 3)), np.zeros((0, 3))
    ends, length = ends[use], length[use]
    which, place = _along(ends, 2 * length.sum() / most)
    edge = (ends[which, 1] - ends[which, 0]) / length[which, None]
    normals, ways = [], []
    for mine in (triangle[use][which], other[use][which]):
        normal = -surface.area_vectors[mine]
        normal = normal / np.maximum(np.linalg.norm(normal, axis=1), 1e-300)[:, None]
        way = np.cross(normal, edge)
        inward = ((corners[mine].mean(axis=1) - place) * way).sum(axis=1)
        normals.append(normal)
        ways.append(np.sign(inward)[:, None] * way)
    return np.tile(place, (2, 1)), np.vstack(normals), np.vstack(ways)


def sharp_places(surface: Triangles, step: float) -> Floats:
    """Spread places along edges that turn by more than `SHARP`, (k, 3) m."""
    ends, turn, _ = edges_of(surface)
    ends = ends[turn > SHARP]
    if not len(ends):
        return np.zeros((0, 3))
    return _along(ends, step)[1]


def bending(surface: Triangles, step: float) -> tuple[Floats, Floats]:
    """Give places where the surface bends smoothly and its radius there, (k, 3) and (k,) m."""
    ends, turn, reach = edges_of(surface)
    use = (turn > 1e-3) & (turn <= SHARP)
    ends = ends[use]
    radius = 0.5 * reach[use] / turn[use]
    which, places = _along(ends, step)
    return places, radius[which]


def facing_gaps(surface: Triangles, chosen: NDArray[np.bool_]) -> Floats:
    """Measure the free width in front of places spread over chosen triangles: middle of each gap and its
    width, (k, 4) m.
    """
    start, way, width = facing_places(surface, chosen, RAYS)
    return np.column_stack([start + 0.5 * width[:, None] * way, width])


def facing_places(surface: Triangles, chosen: NDArray[np.bool_], rays: int) -> tuple[Floats, Floats, Floats]:
    """Look inward from about so many places on chosen triangles: those that see another face them (k, 3) m,
    the way they look (k, 3), and the free width (k,) m.
    """
    area = np.linalg.norm(surface.area_vectors, axis=1)
    mine = np.flatnonzero(chosen & (area > 0))
    if not len(mine):
        return np.zeros((0, 3)), np.zeros((0, 3)), np.zeros(0)
    step = float(np.sqrt(area[mine].sum() / rays))
    corners = surface.points[surface.triangles]
    count = np.maximum(1, np.round(area[mine] / step**2)).astype(int)
    if count.sum() > 4 * rays:  # far more triangles than rays: every so many
        mine = mine[:: int(np.ceil(count.sum() / (4 * rays)))]
        count = np.ones(len(mine), int)
    which = np.repeat(mine, count)
    start = scattered(corners, which)
    inward = -surface.area_vectors[which] / area[which, None]
    hit, distance = first_triangles(corners, start, inward, 1e-6 * surface.size)
    facing = hit >= 0
    facing[facing] &= chosen[hit[facing]] & (
        (surface.area_vectors[hit[facing]] * inward[facing]).sum(axis=1) > 0.5 * area[hit[facing]]
    )
    return start[facing], inward[facing], distance[facing]


def first_triangles(
    corners: Floats,
    start: Floats,
    towards: Floats,
    least: float,
) -> tuple[NDArray[Any], Floats]:
    """Find the first triangle each ray meets, and how far.

    The tracer counts in single precision: rays begin ``least`` away (m), and the way to the plane of what
    they meet is reckoned anew.
    """
    low = corners.min(axis=(0, 1))
    tracer = Tracer(corners, low, float(np.linalg.norm(corners.max(axis=(0, 1)) - low)))
    hit, _ = tracer.first(start + least * towards, towards)
    far = np.full(len(start), np.inf)
    met = np.flatnonzero(hit >= 0)
    a, b, c = (corners[hit[met], k] for k in range(3))
    square = np.cross(b - a, c - a)
    with np.errstate(divide="ignore", invalid="ignore"):
        far[met] = ((a - start[met]) * square).sum(axis=1) / (towards[met] * square).sum(axis=1)
    hit[~(far > least) | ~np.isfinite(far)] = -1
    far[hit < 0] = np.inf
    return hit, far
