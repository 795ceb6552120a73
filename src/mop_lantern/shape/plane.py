"""The joined two-dimensional shape: a polygon whose every segment knows its name."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from functools import cached_property
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

Floats = NDArray[np.float64]
SHARP = np.deg2rad(30)  # corners that turn by more are edges, by less they round something


@dataclass(frozen=True)
class Plane:
    """A two-dimensional wet space.

    Attributes
    ----------
    polygon : the wet space (shapely), m.
    segments : (n, 2, 2) float, m; boundary segments with the fluid on their left.
    labels : (n,) int; index into ``names``.
    names : edge names such as ``header.start``; the parts' own, kept through joins.
    axisymmetric : the plane turns about the x axis (y is the radius).
    depth : m, for a plane.
    solids : what every solid that conducts heat takes up, by the id of its part; they share corners with the
    fluid and with each other wherever they touch.
    dry : there is no fluid: ``polygon`` is all that the solids take up.
    """

    polygon: shapely.Polygon
    segments: Floats
    labels: NDArray[np.int64]
    names: tuple[str, ...]
    axisymmetric: bool
    depth: float
    solids: dict[str, Plane] = field(default_factory=dict)
    dry: bool = False

    @cached_property
    def size(self) -> float:
        """Length of the diagonal of the bounding box, m."""
        x0, y0, x1, y1 = self.polygon.bounds
        return float(np.hypot(x1 - x0, y1 - y0))

    @property
    def volume(self) -> float:
        """Volume of the wet space, m3: of the whole body around an axis (Pappus), else to its depth."""
        turned = 2 * np.pi * self.polygon.centroid.y
        return float(self.polygon.area * (turned if self.axisymmetric else self.depth))

    @cached_property
    def edge_lengths(self) -> dict[str, float]:
        """Length of every named edge that is part of the boundary, m."""
        lengths = np.hypot(*(self.segments[:, 1] - self.segments[:, 0]).T)
        sums = np.bincount(self.labels, lengths, minlength=len(self.names))
        return {name: float(total) for name, total in zip(self.names, sums, strict=True) if total > 0}

    @cached_property
    def whole(self) -> Plane:
        """Fluid and solids as one: all they take up, with every wall between them as two edges."""
        if not self.solids:
            return self
        regions = [*([] if self.dry else [self]), *self.solids.values()]
        names = tuple(dict.fromkeys(name for region in regions for name in region.names))
        number = {name: k for k, name in enumerate(names)}
        return Plane(
            shapely.coverage_union_all([region.polygon for region in regions]),
            np.concatenate([region.segments for region in regions]),
            np.concatenate([np.array([number[n] for n in part.names])[part.labels] for part in regions]),
            names,
            self.axisymmetric,
            self.depth,
        )

    @cached_property
    def all_edges(self) -> dict[str, float]:
        """Length of every named edge of the fluid or a solid, m: those of the fluid first."""
        return edges_of_all(self.edge_lengths, self.solids)

    def edge(self, name: str) -> Floats:
        """Give the (k, 2, 2) segments of a named edge, m."""
        return (
            self.segments[self.labels == self.names.index(name)]
            if name in self.names
            else np.zeros((0, 2, 2))
        )

    def labels_at(self, middles: Floats) -> NDArray[np.int64]:
        """Give the label of the edge nearest to each of (k, 2) places, m."""
        tree = shapely.STRtree(shapely.linestrings(self.segments))
        return np.asarray(self.labels[tree.nearest(shapely.points(middles))])

    def samples(self, chosen: NDArray[np.bool_], step: float) -> Floats:
        """Spread places along chosen segments (a mask), about ``step`` (m) apart, (k, 2) m."""
        segments = self.segments[chosen]
        if not len(segments):
            return np.zeros((0, 2))
        lengths = np.hypot(*(segments[:, 1] - segments[:, 0]).T)
        count = np.maximum(1, np.ceil(lengths / max(step, lengths.sum() / 20_000))).astype(int)
        which = np.repeat(np.arange(len(segments)), count)
        part = (np.arange(len(which)) - np.repeat(np.cumsum(count) - count, count) + 0.5) / count[which]
        return np.asarray(segments[which, 0] + part[:, None] * (segments[which, 1] - segments[which, 0]))

    def _turns(self) -> tuple[Floats, Floats, Floats]:
        """Give the corners (k, 2) m, by how much the boundary turns there (rad) and the length of boundary
        that belongs to each (m).
        """
        along = self.segments[:, 1] - self.segments[:, 0]
        way = np.arctan2(along[:, 1], along[:, 0])
        length = np.hypot(*along.T)
        places, index = np.unique(
            np.vstack([self.segments[:, 0], self.segments[:, 1]]), axis=0, return_inverse=True
        )
        leaves = np.zeros(len(places))
        comes = np.zeros(len(places))
        reach = np.zeros(len(places))
        leaves[index[: len(way)]], comes[index[len(way) :]] = way, way
        np.add.at(reach, index, 0.5 * np.tile(length, 2))
        return places, np.abs((leaves - comes + np.pi) % (2 * np.pi) - np.pi), reach

    def sharp(self, step: float) -> Floats:
        """Give the corners that turn by more than `SHARP`, (k, 2) m."""
        places, turn, _ = self._turns()
        return places[turn > SHARP]

    def bends(self) -> tuple[Floats, Floats]:
        """Give places where the boundary bends smoothly and its radius there, (k, 2) and (k,) m."""
        places, turn, reach = self._turns()
        use = (turn > 1e-3) & (turn <= SHARP)
        return places[use], reach[use] / turn[use]

    def gaps(self, chosen: NDArray[np.bool_]) -> Floats:
        """Give the gaps between chosen walls that face each other: places and widths, (k, 3) m."""
        return narrowest_gaps(self, frozenset(self.names[label] for label in np.unique(self.labels[~chosen])))

    def edge_middle(self, name: str) -> tuple[Floats, Floats]:
        """Give the middle of an edge and its mean direction into the fluid."""
        segments = self.edge(name)
        along = (segments[:, 1] - segments[:, 0]).sum(axis=0)
        lengths = np.hypot(*(segments[:, 1] - segments[:, 0]).T)
        middle = (segments.mean(axis=1) * lengths[:, None]).sum(axis=0) / lengths.sum()
        norm = np.hypot(*along) or 1.0
        return middle, np.array([-along[1], along[0]]) / norm


def edges_of_all(own: dict[str, float], solids: Mapping[str, Any]) -> dict[str, float]:
    """Join the edges of solids to those of the fluid; an edge that both have counts with the fluid's size."""
    found = dict(own)
    for solid in solids.values():
        for name, size in solid.edge_lengths.items():
            found.setdefault(name, size)
    return found


def narrowest_gaps(plane: Plane, openings: frozenset[str] = frozenset(), samples: int = 400) -> Floats:
    """Measure the free width in front of sample points of the walls.

    Returns
    -------
    (k, 3) float, m : x, y of the middle of each gap and its width, narrowest first. A gap runs between two
    walls that face each other; openings do not count. Around the axis a gap ends at the axis and counts
    twice.
    """
    start, way, width = facing_walls(plane, openings, samples)
    gaps = np.column_stack([start + 0.5 * width[:, None] * way, width])
    return gaps[np.argsort(gaps[:, 2])]


def facing_walls(
    plane: Plane, openings: frozenset[str] = frozenset(), samples: int = 400
) -> tuple[Floats, Floats, Floats]:
    """Look inward from sample points of the walls: the points (k, 2) m that see another wall face them, the
    way they look (k, 2), and the free width (k,) m, twice that to the axis.
    """
    start = plane.segments[:, 0]
    end = plane.segments[:, 1]
    lengths = np.hypot(*(end - start).T)
    opening_ids = [index for index, name in enumerate(plane.names) if name in openings]
    axis = np.isin(plane.labels, [index for index, name in enumerate(plane.names) if name == "axis"])
    wall = ~np.isin(plane.labels, opening_ids) & (lengths > 0) & ~axis
    if not wall.any():
        return np.zeros((0, 2)), np.zeros((0, 2)), np.zeros(0)
    count = np.maximum(1, np.round(samples * lengths / lengths[wall].sum())).astype(int)
    chosen = np.repeat(np.flatnonzero(wall), count[wall])
    first = np.cumsum(count[wall]) - count[wall]
    fraction = (np.arange(len(chosen)) - np.repeat(first, count[wall]) + 0.5) / count[chosen]
    points = start[chosen] + fraction[:, None] * (end - start)[chosen]
    direction = (end - start)[chosen] / lengths[chosen, None]
    inward = np.column_stack([-direction[:, 1], direction[:, 0]])
    hit, distance = first_segments(
        points,
        inward,
        start,
        end,
        plane.size,
    )
    facing = np.full(len(points), False)
    found = hit >= 0
    other = (end - start)[hit[found]] / lengths[hit[found], None]
    facing[found] = (other * direction[found]).sum(axis=1) < -0.5
    facing[found] &= (wall | axis)[hit[found]]
    distance[found] *= np.where(axis[hit[found]], 2.0, 1.0)
    return points[facing], inward[facing], distance[facing]


def first_segments(
    points: Floats,
    towards: Floats,
    start: Floats,
    end: Floats,
    reach: float,
) -> tuple[NDArray[np.int64], Floats]:
    """Find the first boundary segment each ray meets, beyond the point it starts from."""
    along = end - start
    hit = np.full(len(points), -1)
    distance = np.full(len(points), np.inf)
    for block in np.array_split(np.arange(len(points)), max(1, len(points) * len(start) // 2_000_000)):
        offset = start[None] - points[block, None]
        cross = towards[block, None, 0] * along[None, :, 1] - towards[block, None, 1] * along[None, :, 0]
        with np.errstate(
            divide="ignore",
            invalid="ignore",
            over="ignore",
        ):
            ahead = (offset[..., 0] * along[None, :, 1] - offset[..., 1] * along[None, :, 0]) / cross
            where = (
                offset[..., 0] * towards[block, None, 1] - offset[..., 1] * towards[block, None, 0]
            ) / cross
        ahead[~((ahead > 1e-7 * reach) & (where >= 0) & (where <= 1))] = np.inf
        best = ahead.argmin(axis=1)
        distance[block] = ahead[np.arange(len(block)), best]
        hit[block] = np.where(np.isfinite(distance[block]), best, -1)
    return hit, distance
