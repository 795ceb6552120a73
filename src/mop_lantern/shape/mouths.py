"""The mouths of hollow bodies, found from outside: where what they enclose is open to the outside.

Every loop of edges round a flat region is closed by a cap; caps that lie free on both sides stay. With all of
them in place the free space falls apart into voxels that hang together without crossing a wall or a cap:
the outside, and cavities. A cap between the outside and a cavity is a mouth; one between two cavities is a
junction within, and makes them one.
"""

from __future__ import annotations

import hashlib
from collections.abc import Sequence
from dataclasses import dataclass
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.shape.leak import along
from mop_lantern.shape.sealing import capped
from mop_lantern.shape.solid import Body, face_axes
from mop_lantern.shape.surface import Surface, winding
from mop_lantern.shape.topology import hanging, rims_of
from mop_lantern.shape.union import united_surface

Floats = NDArray[np.float64]
Ints = NDArray[Any]
ACROSS = 110  # voxels along the body
FLAT = np.cos(np.deg2rad(1.0))  # neighbours that meet flatter are one region
OFF = 0.1  # of its size: a rim farther off a plane has no flat cap
ONE_SIDED = 0.9  # of its area: less, and the cap folds over itself
STRAY = 0.05  # of the places about a cap: more within walls, and it does not lie free
LEVEL = np.cos(np.deg2rad(5.0))  # faces that lean apart less may lie in one plane
OFF_LEVEL = 5e-3  # of the body: how far apart those may lie
EVEN = 1 - 1e-5  # the same of a face that is flat altogether
BESIDE = 1e-4  # of the body: how far off a cap places are looked at
WITHIN = 2e-4  # of the body: how far within its rim
RAGGED = 2.0  # edges of a ragged rim: the same for those
RAGGED_STRAY = 0.15  # the same as STRAY, for those
FEW = 300  # faces whose rims are all looked at
SAME = 1e-3  # of its size: two caps whose middles are nearer are one
VOTES = 24  # places a cap asks on which side the outside lies
STEPS = 24  # places looked at on the way there
SEEN = 64  # voxels: smaller cavities without a mouth are gaps between facets
DEEP = 1.5  # voxels: thinner ones lie between two caps of one hole
ASKEW = (1.637, 1.411, 1.573)  # voxels outside: broken numbers, as walls often lie on even ones
SHARP = np.cos(np.deg2rad(40.0))  # edges that turn more are the edge of a mouth
SMALLEST = 1e-8  # of the square of the size: smaller loops are no openings
KEPT = 8  # bodies whose hollows are remembered


@dataclass(frozen=True)
class Mouth:
    """One mouth.

    Attributes
    ----------
    rim : (k, 3) m, in order. corners : (t, 3, 3) m, the triangles that close it. middle : (3,) m. direction :
    (3,), out of the cavity. area : m2. cavity : number of the cavity it opens.
    """

    rim: Floats
    corners: Floats
    middle: Floats
    direction: Floats
    area: float
    cavity: int

    @property
    def width(self) -> float:
        """The least width across its rim, m."""
        aside, up = face_axes(self.direction)
        flat = shapely.Polygon((self.rim - self.middle) @ np.column_stack([aside, up]))
        corners = np.asarray(flat.minimum_rotated_rectangle.exterior.coords)
        return float(np.linalg.norm(np.diff(corners[:3], axis=0), axis=1).min())


@dataclass(frozen=True)
class Hollows:
    """What a body encloses.

    Attributes
    ----------
    mouths : those of the largest cavity first, from large to small. places : (c, 3) m, well within every
    cavity, the largest first. volumes : (c,) m3, by voxels. also : the further parts that enclose
    them together with the part asked about.
    """

    mouths: tuple[Mouth, ...]
    places: Floats
    volumes: Floats
    also: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Cap:
    rim: Floats
    corners: Floats
    middle: Floats
    normal: Floats
    area: float
    shy: float  # m: how far within its rim places are looked at
    stray: float  # share of them and of its area that may lie in walls


_KNOWN: dict[bytes, Hollows] = {}


def hollows_in(bodies: list[Body]) -> Hollows:
    """Find the mouths of several bodies as one; remembered, as it takes seconds.

    Raises
    ------
    CaseError : a body is not closed.
    """
    mark = hashlib.sha256()
    for body in bodies:
        for each in (body.points, body.triangles, body.side):
            mark.update(np.ascontiguousarray(each).tobytes())
    key = mark.digest()
    if key not in _KNOWN:
        while len(_KNOWN) >= KEPT:
            _KNOWN.pop(next(iter(_KNOWN)), None)
        _KNOWN[key] = hollows_of(united_surface(bodies))
    return _KNOWN[key]


def hollows_of(surface: Surface) -> Hollows:
    """Find the mouths of a closed surface whose triangles face out of what is solid."""
    caps = _free(surface, _caps(surface))
    axes = _axes(surface)
    region = _regions(surface, caps, axes)
    beside = [_beside(surface, region, axes, cap) for cap in caps]
    outside = int(region[0, 0, 0])
    count = int(region.max()) + 1
    inner = np.array(
        [pair for pair in beside if outside not in pair and -1 not in pair and pair[0] != pair[1]], int
    ).reshape(-1, 2)
    _, cavity = hanging(inner[:, 0], inner[:, 1], count)
    size = np.bincount(region[region >= 0], minlength=count).astype(float)
    size[outside] = 0.0
    size = np.bincount(cavity, size, count)
    found: list[tuple[int, _Cap, float]] = []
    for cap, (ahead, behind) in zip(caps, beside, strict=True):
        if ahead == outside and behind not in (outside, -1):
            found.append((int(cavity[behind]), cap, 1.0))
        elif behind == outside and ahead not in (outside, -1):
            found.append((int(cavity[ahead]), cap, -1.0))
    found = _outermost(found, 2.5 * (axes[0][1] - axes[0][0]))
    open_ones = {number for number, _, _ in found}
    large = open_ones | set(np.flatnonzero(size > SEEN).tolist())
    deepest = {number: _deepest(region, cavity, number, axes) for number in large}
    cavities = [number for number in large if number in open_ones or deepest[number][1] > DEEP]
    order = sorted(cavities, key=lambda number: -size[number])
    mouths = tuple(
        Mouth(cap.rim, cap.corners, cap.middle, way * cap.normal, cap.area, order.index(number))
        for number, cap, way in sorted(found, key=lambda each: (order.index(each[0]), -each[1].area))
    )
    voxel = float(np.prod([axis[1] - axis[0] for axis in axes]))
    places = np.array([deepest[number][0] for number in order]).reshape(-1, 3)
    return Hollows(mouths, places, np.asarray(size[order] * voxel))


def wet_text(place: Floats) -> list[str]:
    """Write a place (3,) m as a case holds it, to a nanometre: models may lie kilometres off the origin."""
    return [f"{round(1e3 * float(each), 6) + 0.0:.15g} mm" for each in place]


def _outermost(found: list[tuple[int, _Cap, float]], thick: float) -> list[tuple[int, _Cap, float]]:
    """Keep the outer one of two caps on the same hole in a wall thinner than voxels show (m)."""
    kept = []
    for number, cap, way in found:
        nested = False
        for other_number, other, other_way in found:
            direction = other_way * other.normal
            off = other.middle - cap.middle
            ahead = float(off @ direction)
            aside = float(np.linalg.norm(off - ahead * direction))
            nested |= (
                other_number == number
                and other is not cap
                and float(way * cap.normal @ direction) > 0.9
                and 0 < ahead < thick
                and aside < 0.5 * np.sqrt(other.area)
            )
        if not nested:
            kept.append((number, cap, way))
    return kept


def _caps(surface: Surface) -> list[_Cap]:
    """Close every loop of edges round a flat region or an almost flat face, and every loop of sharp edges."""
    normal = surface.area_vectors / np.maximum(np.linalg.norm(surface.area_vectors, axis=1), 1e-300)[:, None]
    triangle, side = np.nonzero(surface.beyond > np.arange(len(surface.triangles))[:, None])
    other = surface.beyond[triangle, side]
    lean = (normal[triangle] * normal[other]).sum(axis=1)
    alike = (lean > FLAT) & (surface.labels[triangle] == surface.labels[other])
    count, region = hanging(triangle[alike], other[alike], len(surface.triangles))
    order = np.argsort(region, kind="stable")
    rims: list[Ints] = []
    for mine in np.split(order, np.cumsum(np.bincount(region, minlength=count))[:-1]):
        if len(mine) > 2:  # fewer are a facet of a curved face, or enclose nothing
            rims += rims_of(surface.triangles[mine])
    sharp = lean < SHARP
    ends = np.column_stack([surface.triangles[triangle, side], surface.triangles[triangle, (side + 1) % 3]])[
        sharp
    ]
    rims += _rings(ends)
    ragged = [rim for mine in _flat_faces(surface) for rim in rims_of(surface.triangles[mine])]
    if len(surface.names) <= FEW and ragged:  # of a wrap: its bores end in rims, too
        for label in range(len(surface.names)):
            ragged += rims_of(surface.triangles[surface.labels == label])
    made = [_cap(surface, rim, False) for rim in rims] + [_cap(surface, rim, True) for rim in ragged]
    return [cap for cap in made if cap is not None]


def _flat_faces(surface: Surface) -> list[Ints]:
    """Give the triangles of faces that are flat by and large but not quite, as those of a wrap are; faces in
    one plane together.
    """
    order = np.argsort(surface.labels, kind="stable")
    count = np.bincount(surface.labels, minlength=len(surface.names))
    vectors = surface.area_vectors
    planes: list[tuple[Floats, float, list[Ints], float]] = []
    for mine in np.split(order, np.cumsum(count)[:-1]):
        if len(mine) < 3:
            continue
        total = vectors[mine].sum(axis=0)
        size = float(np.linalg.norm(total))
        flat = size / float(np.linalg.norm(vectors[mine], axis=1).sum())
        if flat < ONE_SIDED:
            continue
        level = float((surface.points[surface.triangles[mine]].mean(axis=1) @ (total / size)).mean())
        for normal, other, faces, _ in planes:
            if normal @ total > LEVEL * size and abs(level - other) < OFF_LEVEL * surface.size:
                faces.append(mine)
                break
        else:
            planes.append((total / size, level, [mine], flat))
    return [np.concatenate(faces) for _, _, faces, flat in planes if flat < EVEN]


def _rings(ends: Ints) -> list[Ints]:
    """Give the closed chains of edges (k, 2) at whose corners no third edge meets."""
    beside: dict[int, list[int]] = {}
    for a, b in ends.tolist():
        beside.setdefault(a, []).append(b)
        beside.setdefault(b, []).append(a)
    left = {corner for corner, others in beside.items() if len(others) == 2}
    rings = []
    while left:
        ring = [left.pop()]
        while True:
            ahead = [other for other in beside[ring[-1]] if other in left]
            if not ahead:
                break
            ring.append(ahead[0])
            left.discard(ahead[0])
        if len(ring) > 2 and ring[0] in beside[ring[-1]]:
            rings.append(np.array(ring))
    return rings


def _cap(surface: Surface, rim: Ints, ragged: bool) -> _Cap | None:
    """Close a rim; one that is ragged, as those of a wrap are, is looked at farther within."""
    triangles, off = capped(surface.points, rim)
    corners = surface.points[triangles]
    vectors = 0.5 * np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0])
    sizes = np.linalg.norm(vectors, axis=1)
    total = vectors.sum(axis=0)
    area = float(np.linalg.norm(total))
    if off > OFF or not area > max(ONE_SIDED * sizes.sum(), SMALLEST * surface.size**2):
        return None
    middle = (corners.mean(axis=1) * sizes[:, None]).sum(axis=0) / sizes.sum()
    place = surface.points[rim]
    edge = float(np.linalg.norm(place - np.roll(place, 1, axis=0), axis=1).mean())
    return _Cap(
        place,
        corners,
        middle,
        total / area,
        area,
        RAGGED * edge if ragged else WITHIN * surface.size,
        RAGGED_STRAY if ragged else STRAY,
    )


def _free(surface: Surface, caps: list[_Cap]) -> list[_Cap]:
    """Keep the caps that lie free on both sides, all over and along their rims; one where several are the
    same.
    """
    looked = []
    weights = []
    for cap in caps:
        within = _within(cap)
        places = np.vstack([cap.corners.mean(axis=1), within])
        off = BESIDE * surface.size * cap.normal
        looked.append(np.vstack([places + off, places - off]))
        sides = cap.corners[:, 1:] - cap.corners[:, :1]
        sizes = np.linalg.norm(np.cross(sides[:, 0], sides[:, 1]), axis=1)
        share = np.concatenate([sizes / sizes.sum(), np.full(len(within), 1 / len(within))])
        weights.append(np.tile(share / cap.stray, 2))
    if not looked:
        return []
    met = winding(surface, np.vstack(looked)) != 0
    begins = np.cumsum([0, *map(len, looked[:-1])])
    free = np.add.reduceat(met * np.concatenate(weights), begins) <= 1.0
    kept: list[_Cap] = []
    for cap in (caps[k] for k in np.flatnonzero(free)):
        near = SAME * np.sqrt(cap.area)
        if not any(
            np.linalg.norm(cap.middle - other.middle) < near and abs(cap.area - other.area) < SAME * cap.area
            for other in kept
        ):
            kept.append(cap)
    return kept


def _within(cap: _Cap) -> Floats:
    """Give places along a rim, a little within it, (k, 3) m."""
    if cap.stray == STRAY:
        ends = np.stack([cap.rim, np.roll(cap.rim, -1, axis=0)], axis=1)
        inward = np.cross(cap.normal, ends[:, 1] - ends[:, 0])
        inward /= np.maximum(np.linalg.norm(inward, axis=1), 1e-300)[:, None]
        return np.asarray(ends.mean(axis=1) + cap.shy * inward)
    # edges of a ragged rim run all ways: it is shrunk in its plane
    axes = np.column_stack(face_axes(cap.normal))
    flat = shapely.Polygon((cap.rim - cap.middle) @ axes).buffer(0).buffer(-cap.shy)
    if flat.is_empty:
        return cap.middle[None]
    line = (
        flat.exterior if flat.geom_type == "Polygon" else max(flat.geoms, key=lambda each: each.area).exterior
    )
    places = shapely.get_coordinates(line.segmentize(cap.shy))
    return np.asarray(cap.middle + places @ axes.T)


def _axes(surface: Surface) -> list[Floats]:
    """Give the middles of voxels along x, y and z; two of them lie outside all around."""
    low = surface.points.min(axis=0)
    high = surface.points.max(axis=0)
    step = float((high - low).max() / ACROSS)
    return [
        low[k] + step * (np.arange(int(np.ceil((high[k] - low[k]) / step)) + 4) - ASKEW[k]) for k in range(3)
    ]


def _regions(surface: Surface, caps: Sequence[_Cap], axes: list[Floats]) -> Ints:
    """Number the voxels outside of what is solid by what hangs together without crossing a wall or a cap; -1
    for solid ones.
    """
    closing = np.concatenate([np.zeros((0, 3, 3)), *(cap.corners for cap in caps)])
    walls = Surface(
        np.vstack([surface.points, closing.reshape(-1, 3)]),
        np.vstack([surface.triangles, len(surface.points) + np.arange(3 * len(closing)).reshape(-1, 3)]),
        np.zeros(len(surface.triangles) + len(closing), np.int64),
        ("",),
    )
    free = ~along(surface, axes, 2)[0]
    number = np.full(free.shape, -1)
    number[free] = np.arange(int(free.sum()))
    one = []
    two = []
    for k in range(3):
        met = along(walls, axes, k)[1]
        first = np.moveaxis(number, k, 0)[:-1]
        second = np.moveaxis(number, k, 0)[1:]
        both = (first >= 0) & (second >= 0) & ~np.moveaxis(met, k, 0)
        one.append(first[both])
        two.append(second[both])
    _, label = hanging(np.concatenate(one), np.concatenate(two), int(free.sum()))
    region = np.full(free.shape, -1)
    region[free] = label
    return region


def _beside(surface: Surface, region: Ints, axes: list[Floats], cap: _Cap) -> tuple[int, int]:
    """Give the regions before and behind a cap by the most votes of places a step or two off it, as far as
    nothing solid is met on the way; -1 for none.
    """
    step = axes[0][1] - axes[0][0]
    asked = cap.corners.mean(axis=1)
    sizes = np.linalg.norm(
        np.cross(cap.corners[:, 1] - cap.corners[:, 0], cap.corners[:, 2] - cap.corners[:, 0]), axis=1
    )
    asked = asked[np.argsort(-sizes)[:VOTES]]
    far = step * np.linspace(0, 2, STEPS + 1)[1:]
    found = []
    for way in (1.0, -1.0):
        places = asked[:, None] + way * far[:, None] * cap.normal
        solid = winding(surface, places.reshape(-1, 3)).reshape(len(asked), STEPS) != 0
        free = ~np.logical_or.accumulate(solid, axis=1) & (far > 0.6 * step)
        spot = [
            np.clip(np.rint((places[free][:, k] - axes[k][0]) / step).astype(int), 0, len(axes[k]) - 1)
            for k in range(3)
        ]
        votes = region[spot[0], spot[1], spot[2]]
        votes = votes[votes >= 0]
        found.append(int(np.bincount(votes).argmax()) if len(votes) else -1)
    return found[0], found[1]


def _deepest(region: Ints, cavity: Ints, number: int, axes: list[Floats]) -> tuple[Floats, float]:
    """Give the voxel of a cavity farthest from everything else, m, and how many voxels that is."""
    from scipy import ndimage

    mine = (region >= 0) & (cavity[np.maximum(region, 0)] == number)
    depth = ndimage.distance_transform_edt(mine)
    spot = np.unravel_index(int(depth.argmax()), mine.shape)
    return np.array([axes[k][spot[k]] for k in range(3)]), float(depth[spot])
