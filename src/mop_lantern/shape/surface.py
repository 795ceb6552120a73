"""The surface of a wet space in space: triangles that each know their name."""

from __future__ import annotations

from dataclasses import dataclass, field
from functools import cached_property
from typing import Any, ClassVar

import numpy as np
from numpy.typing import NDArray

from mop_lantern.shape.beyond import beyond_edges
from mop_lantern.shape.facing import bending, divided, facing_gaps, scattered, sharp_places
from mop_lantern.shape.plane import edges_of_all

Floats = NDArray[np.float64]
Ints = NDArray[Any]


@dataclass(frozen=True)
class Surface:
    """A closed surface of triangles that face out of the fluid.

    Attributes
    ----------
    points : (n, 3) m. triangles : (m, 3). labels : (m,) index into ``names``. looks : layer and colour
    ("#rrggbb" or "") of faces
    that came with them from a file. solids : what every solid part takes up, by id: kept for what is to
    happen in solids. dry : there is no fluid: the triangles bound all that the solids take up.
    """

    points: Floats
    triangles: Ints
    labels: Ints
    names: tuple[str, ...]
    looks: dict[str, tuple[str, str]] = field(default_factory=dict)
    solids: dict[str, Surface] = field(default_factory=dict)
    dry: bool = False

    @cached_property
    def area_vectors(self) -> Floats:
        """Area vectors of the triangles, (m, 3) m2."""
        first, second, third = (self.points[self.triangles[:, k]] for k in range(3))
        return np.asarray(0.5 * np.cross(second - first, third - first))

    @property
    def volume(self) -> float:
        """Volume enclosed, m3."""
        return float((self.points[self.triangles].mean(axis=1) * self.area_vectors).sum() / 3)

    @property
    def size(self) -> float:
        """Length of the diagonal of the bounding box, m."""
        return float(np.linalg.norm(np.ptp(self.points, axis=0)))

    @property
    def extent(self) -> float:
        """Length of the diagonal of the box of what its triangles use, m."""
        return float(np.linalg.norm(np.ptp(self.points[self.triangles].reshape(-1, 3), axis=0)))

    axisymmetric: ClassVar[bool] = False
    depth: ClassVar[float] = float("inf")

    @cached_property
    def edge_lengths(self) -> dict[str, float]:
        """Area of every named face that is part of the surface, m2, as a plane tells the lengths of its
        edges.
        """
        sums = np.bincount(self.labels, np.linalg.norm(self.area_vectors, axis=1), len(self.names))
        return {name: float(total) for name, total in zip(self.names, sums, strict=True) if total > 0}

    @cached_property
    def all_edges(self) -> dict[str, float]:
        """Area of every named face of the fluid or a solid, m2: those of the fluid first."""
        return edges_of_all(self.edge_lengths, self.solids)

    def face(self, name: str) -> tuple[Floats, Floats]:
        """Give the middle of a named face and its mean direction into the fluid.

        Raises
        ------
        ValueError : there is no face of that name.
        """
        mine = self.labels == self.names.index(name)
        vector = self.area_vectors[mine]
        size = np.linalg.norm(vector, axis=1)
        middle = (self.points[self.triangles[mine]].mean(axis=1) * size[:, None]).sum(axis=0) / size.sum()
        inward = -vector.sum(axis=0)
        return middle, inward / (np.linalg.norm(inward) or 1.0)

    def facing(self, name: str) -> float:
        """Give how much of a named face faces its mean direction: 1 for a flat one, 0 for one that closes
        round a body.
        """
        vector = self.area_vectors[self.labels == self.names.index(name)]
        return float(np.linalg.norm(vector.sum(axis=0)) / max(np.linalg.norm(vector, axis=1).sum(), 1e-300))

    def samples(self, chosen: NDArray[np.bool_], step: float) -> Floats:
        """Spread places over chosen triangles (a mask), about ``step`` (m) apart, (k, 3) m."""
        return np.asarray(divided(self.points[self.triangles[chosen]], 1.5 * step).mean(axis=1))

    def spread(self, name: str, count: int) -> Floats:
        """Lay places at random over the named face, evenly by area, (count, 3) m."""
        mine = np.flatnonzero(self.labels == self.names.index(name))
        size = np.linalg.norm(self.area_vectors[mine], axis=1)
        chosen = np.random.default_rng(0).choice(mine, count, p=size / size.sum())
        return scattered(self.points[self.triangles], chosen)

    def sharp(self, step: float) -> Floats:
        """Give places along edges that turn by more than 30 degrees, about ``step`` (m) apart, (k, 3) m."""
        return sharp_places(self, step)

    def bends(self) -> tuple[Floats, Floats]:
        """Give places where the surface bends smoothly and its radius there, (k, 3) and (k,) m."""
        return bending(self, 0.01 * self.size)

    def gaps(self, chosen: NDArray[np.bool_]) -> Floats:
        """Give the gaps between chosen walls that face each other: places and widths, (k, 4) m."""
        kept: dict[bytes, Floats] = self.__dict__.setdefault(
            "_gaps", {}
        )  # many rays: measured once for every choice of walls
        key = chosen.tobytes()
        if key not in kept:
            kept[key] = facing_gaps(self, chosen)
        return kept[key]

    @cached_property
    def beyond(self) -> Ints:
        """The triangle beyond each edge (first to second corner, second to third, third to first) of every
        triangle, (m, 3); -1 for none. Where more than two meet at an edge, those that run opposite ways are
        paired in turn.
        """
        return beyond_edges(self.points, self.triangles)

    @property
    def odd_edges(self) -> Ints:
        """Edges along which as many triangles do not run one way as the other, by their two corners, (k, 2);
        none for a closed surface.
        """
        edges = np.concatenate(
            [self.triangles[:, [0, 1]], self.triangles[:, [1, 2]], self.triangles[:, [2, 0]]]
        )
        key = edges.min(axis=1) * len(self.points) + edges.max(axis=1)
        sign = np.where(edges[:, 0] < edges[:, 1], 1, -1)
        _, first, index = np.unique(key, return_index=True, return_inverse=True)
        return edges[first[np.bincount(index, sign) != 0]]

    @property
    def open_edges(self) -> int:
        """Number of odd edges; 0 for a closed surface."""
        return len(self.odd_edges)


def cut_by_plane(surface: Surface, across: int, level: float) -> Any:
    """Give what of the fluid lies in a plane, as polygons (shapely) of the two other directions in turn.

    Parameters
    ----------
    across : direction square to the plane (0 to 2). level : its place, m; it is moved by a millionth of the
    size to miss corners.
    """
    import shapely

    level += 1.7e-6 * surface.size
    height = surface.points[surface.triangles][:, :, across] - level
    met = (height.min(axis=1) < 0) & (height.max(axis=1) > 0)
    corners = surface.points[surface.triangles[met]]
    height = height[met]
    ends = []
    for first, second in (
        (0, 1),
        (1, 2),
        (2, 0),
    ):
        share = height[:, first] / (
            height[:, first] - height[:, second] + (height[:, first] == height[:, second])
        )
        place = corners[:, first] + share[:, None] * (corners[:, second] - corners[:, first])
        place[(height[:, first] < 0) == (height[:, second] < 0)] = np.nan
        ends.append(place[:, [(across + 1) % 3, (across + 2) % 3]])
    both = np.stack(ends, axis=1)
    lines = both[np.isfinite(both[:, :, 0])].reshape(-1, 2, 2)
    grid = 1e-7 * surface.size
    faces = shapely.polygonize(
        list(shapely.get_parts(shapely.union_all(shapely.linestrings(np.round(lines / grid) * grid))))
    )
    kept = []
    for face in shapely.get_parts(faces):
        inner = face.representative_point()
        place = np.zeros((1, 3))
        place[0, across], place[0, (across + 1) % 3], place[0, (across + 2) % 3] = level, inner.x, inner.y
        if winding(surface, place)[0] > 0:
            kept.append(face)
    return shapely.union_all(kept)


LOOKED_AT = 80  # triangles of a name
_TURN = np.linalg.qr(
    np.array(
        [
            [1.0, 0.37, 0.21],
            [0.13, 1.0, 0.55],
            [0.71, 0.29, 1.0],
        ]
    )
)[0]


def membranes(surface: Surface, seed: int = 0) -> Ints:
    """Find triangles with fluid on both sides: what is left of two parts that merely touch.

    Returns
    -------
    numbers of such triangles among those looked at: all of a name, or as many as `LOOKED_AT` chosen at
    random.
    """
    area = np.linalg.norm(surface.area_vectors, axis=1)
    real = np.flatnonzero(area > 1e-12 * surface.size**2)
    order = np.random.default_rng(seed).permutation(real)
    order = order[np.argsort(surface.labels[order], kind="stable")]
    first = np.searchsorted(surface.labels[order], surface.labels[order])
    chosen = np.sort(order[np.arange(len(order)) - first < LOOKED_AT])
    normal = surface.area_vectors[chosen] / area[chosen, None]
    outside = surface.points[surface.triangles[chosen]].mean(axis=1) + 1e-9 * surface.size * normal
    return np.asarray(chosen[winding(surface, outside) > 0])


def winding(surface: Surface, places: Floats) -> Ints:
    """Give how often the surface winds about places (k, 3) m: 1 in the fluid, 0 outside; by what a ray leaves
    and enters.
    """
    places = places @ _TURN
    place, height, way = _crossed(surface.points[surface.triangles] @ _TURN, places[:, :2])
    return np.bincount(place, np.where(height > places[place, 2], way, 0.0), len(places)).astype(int)


def heights_over(surface: Surface, places: Floats) -> tuple[Ints, Floats, Floats]:
    """Give where lines along z through places (k, 2) m cross the surface: number of the place, height (m),
    and 1 where the line leaves the fluid upwards or -1.
    """
    return _crossed(surface.points[surface.triangles], places)


def _crossed(corners: Floats, places: Floats) -> tuple[Ints, Floats, Floats]:
    """Cross triangles (m, 3, 3) by lines along the third direction through places (k, 2)."""
    place, triangle = _beneath(corners[:, :, :2], places)
    a, b, c = (corners[triangle, k] for k in range(3))
    facing = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0])
    px, py = places[place].T
    weights = [
        (q[:, 0] - px) * (r[:, 1] - py) - (q[:, 1] - py) * (r[:, 0] - px)
        for q, r in (
            (b, c),
            (c, a),
            (a, b),
        )
    ]
    hit = np.all([weight * np.sign(facing) > 0 for weight in weights], axis=0)
    with np.errstate(divide="ignore", invalid="ignore"):
        height = (weights[0] * a[:, 2] + weights[1] * b[:, 2] + weights[2] * c[:, 2]) / facing
    return place[hit], height[hit], np.sign(facing)[hit]


BINS = 96


def _beneath(corners: Floats, places: Floats) -> tuple[Ints, Ints]:
    """Pair places (k, 2) with the triangles (m, 3, 2) that share a bin with them: numbers of both."""
    low = corners.min(axis=(0, 1))
    high = corners.max(axis=(0, 1))
    step = np.maximum((high - low) / BINS, 1e-300)
    inside = np.flatnonzero(((places >= low) & (places <= high)).all(axis=1))
    own = np.clip(((places[inside] - low) / step).astype(int), 0, BINS - 1) @ [BINS, 1]
    asked = np.zeros(BINS * BINS, bool)
    asked[own] = True
    first = np.clip(((corners.min(axis=1) - low) / step).astype(int), 0, BINS - 1)
    last = np.clip(((corners.max(axis=1) - low) / step).astype(int), 0, BINS - 1)
    used = np.flatnonzero(_asked_in(asked.reshape(BINS, BINS), first, last))
    first = first[used]
    span = last[used] - first + 1
    count = span.prod(axis=1)
    triangle = np.repeat(np.arange(len(used)), count)
    within = np.arange(len(triangle)) - np.repeat(np.cumsum(count) - count, count)
    held = (
        (first[triangle, 0] + within // span[triangle, 1]) * BINS
        + first[triangle, 1]
        + within % span[triangle, 1]
    )
    wanted = asked[held]
    held, triangle = held[wanted], used[triangle[wanted]]
    order = np.argsort(held, kind="stable")
    start = np.searchsorted(held[order], np.arange(BINS * BINS + 1))
    many = (start[1:] - start[:-1])[own]
    place = np.repeat(inside, many)
    spot = np.repeat(start[own] - (np.cumsum(many) - many), many) + np.arange(len(place))
    return place, triangle[order][spot]


def _asked_in(asked: NDArray[np.bool_], first: Ints, last: Ints) -> NDArray[np.bool_]:
    """Tell which blocks of bins, from ``first`` to ``last`` (m, 2), hold one that is asked for (n, n)."""
    total = np.zeros((len(asked) + 1, len(asked) + 1), np.int64)
    total[1:, 1:] = asked.cumsum(axis=0).cumsum(axis=1)
    (left, below), (right, above) = first.T, last.T + 1
    return np.asarray(total[right, above] - total[left, above] - total[right, below] + total[left, below] > 0)
