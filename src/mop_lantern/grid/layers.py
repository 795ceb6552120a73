"""Layers of stretched cells along the walls of a plane: where they lie, and how they join the lattice that
begins behind them.

Every corner of the wall is kept: layers follow it exactly. Between corners a wall is cut into pieces about as
long as the cells there; places are moved off the wall along the halves of the angles, at openings along the
opening. Where the space is narrow or a bend tight the layers grow thinner. At sharp corners they end, and the
lattice fills the corner: cells along the half of the angle would be askew to both walls, and on such cells
flows diverged.
"""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape import Plane

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]
LAYER = "behind the layers"  # name of the line where the lattice begins
OF_GAP = 0.3  # of the free width before a wall: thicker layers of both sides would meet
SLOPE = 0.1  # of the thickness along the wall
LEAST_SINE = 0.97  # of the angle between a wall and an opening that layers end along; else they end square
THINNEST = 0.3  # of the usual thickness, where cells are smaller than usual
SHARP = np.deg2rad(30)  # corners that turn by more carry no layers
CLEAR = 1.2  # of what two layers need before they meet in a corner
SQUEEZE = 0.75
TRIES = 40
FEW, MANY = 33, 2000  # places a side is looked at, first and then
LAST = 0.7  # of the cells beyond: the last layer is about as high


@dataclass(frozen=True)
class Run:
    """Layers along one stretch of wall.

    Attributes
    ----------
    places : (m + 1, n + 1, 2) m; along the wall, then off it. closed : the last place is the first.
    slides : whether its start and its end lie on an opening; else they stand square to the wall, and the
    lattice begins there too.
    """

    places: Floats
    closed: bool
    slides: tuple[bool, bool]


@dataclass(frozen=True)
class Part:
    """A stretch of wall without sharp corners, to be layered.

    Attributes
    ----------
    chain : (k, 2) m; its corners. closed : the last is the first. edges : the openings it ends on, as ways
    along them, None where it ends at a corner. left : corners of the wall before and behind it that carry no
    layers.
    """

    chain: Floats
    closed: bool
    edges: tuple[Floats | None, Floats | None]
    left: tuple[Floats, Floats]


@dataclass(frozen=True)
class Layers:
    """The layers of a plane: ``inside`` is what is left for the lattice, ``runs`` the stretches of wall."""

    inside: Plane
    runs: tuple[Run, ...]


def first_height(numbers: Any, unit: float) -> float:
    """Give the height of the first layer, m; ``unit`` : m, the distance of one y+ (0: not known)."""
    return float(2 * numbers.y_plus * unit if numbers.begins == "y_plus" else numbers.height)


def heights(numbers: Any, unit: float, beyond: float, scale: float) -> Floats:
    """Give how far off the wall the layers end, (n + 1,) m, the first is 0.

    Parameters
    ----------
    numbers : of the kind `layers`. unit : m, the distance of one y+, 0 where none is known. beyond : m, size
    of the cells behind. scale : coarsens the whole grid: fewer layers, of the same thickness in all.
    """
    first = first_height(numbers, unit)
    beyond = beyond / scale
    if not first or first >= LAST * beyond:
        return np.zeros(1)
    growth = float(numbers.growth)
    count = int(np.ceil(np.log(LAST * beyond / first) / np.log(growth) - 1e-9)) if growth > 1 else 10**6
    count = int(np.clip(count, 1, numbers.most))
    ends = np.linspace(0.0, count, max(1, round(count / scale)) + 1)
    return first * (np.expm1(ends * np.log(growth)) / (growth - 1) if growth > 1 else ends)


def layers_of(
    plane: Plane,
    free: frozenset[str],
    off: Floats,
    size_at: Any,
) -> Layers | None:
    """Lay layers along the walls of a plane; None where it has none.

    Parameters
    ----------
    free : names of the edges that are no walls. off : (n + 1,) m, ends of the layers. size_at : gives the
    size of the cells (m) at places (k, 2).

    Raises
    ------
    RunError : they do not fit.
    """
    if len(off) < 2:
        return None
    thickness = float(off[-1])
    for _ in range(TRIES):
        made = _laid(plane, free, off / off[-1], thickness, size_at)
        if made is None or _sound(made.inside, plane):
            return made
        thickness *= SQUEEZE
    raise RunError(
        "the layers along the walls do not fit this shape.", "field.grid.refine", "Make them thinner."
    )


def _sound(inside: Plane, plane: Plane) -> bool:
    polygon = inside.polygon
    return bool(
        polygon.is_valid
        and polygon.geom_type == "Polygon"
        and polygon.area > 0.2 * plane.polygon.area
        and len(polygon.interiors) == len(plane.polygon.interiors)
        and plane.polygon.buffer(1e-9 * plane.size).covers(polygon)
    )


def _laid(
    plane: Plane,
    free: frozenset[str],
    shares: Floats,
    thickness: float,
    size_at: Any,
) -> Layers | None:
    loose = [k for k, name in enumerate(plane.names) if name in free or name == "axis"]
    runs: list[Run] = []
    outlines = []
    for ring in (plane.polygon.exterior, *plane.polygon.interiors):
        corners = np.asarray(ring.coords)[:-1]
        wall = ~np.isin(plane.labels_at((corners + np.roll(corners, -1, axis=0)) / 2), loose)
        outline: list[tuple[Floats, bool, bool]] = []
        for first, count in _stretches(wall):
            chain = np.take(corners, range(first, first + count + 1), axis=0, mode="wrap")
            ends = np.take(corners, [first - 1, first + count + 1], axis=0, mode="wrap")
            parts = _parts(chain, None if count == len(corners) else ends, thickness) if wall[first] else []
            if not parts:
                outline.append((chain, False, False))
            for part in parts:
                run = _along(plane, part, shares, thickness, size_at)
                runs += [run] if run else []
                outline.append(_outer(part, run))
        outlines.append(_joined(outline))
    if not runs:
        return None
    polygon = shapely.Polygon(outlines[0], outlines[1:])
    names = (*plane.names, LAYER)
    sides = [np.stack([line, np.roll(line, -1, axis=0)], axis=1) for line in outlines]
    segments = np.concatenate(sides)
    middles = segments.mean(axis=1)
    label = np.where(_on_runs(middles, runs, plane.size), len(plane.names), plane.labels_at(middles))
    inside = replace(plane, polygon=polygon, segments=segments, labels=label, names=names)
    return Layers(inside, tuple(runs))


def _parts(chain: Floats, ends: Floats | None, thickness: float) -> list[Part]:
    """Part a stretch of wall at its sharp corners; where the corner closes in on the fluid layers stop short
    of it.

    Parameters
    ----------
    ends : (2, 2) m; the corners of the ring before and behind the chain, None of a closed one.
    """
    if ends is None:
        turns = _turns(np.vstack([chain[-2:-1], chain, chain[1:2]]))
        sharp = np.flatnonzero(np.abs(turns[:-1]) > SHARP)
        if not len(sharp):
            return [Part(chain, True, (None, None), (chain[:0], chain[:0]))]
        chain = np.roll(chain[:-1], -sharp[0], axis=0)
        chain = np.vstack([chain, chain[:1]])
        ends = np.stack([chain[-2], chain[1]])
        edges: list[Floats | None] = [None, None]
    else:
        out = ends - chain[[0, -1]]
        ways = (chain[1] - chain[0], chain[-1] - chain[-2])
        edges = [edge if _sine(way, edge) > LEAST_SINE else None for way, edge in zip(ways, out, strict=True)]
    turns = _turns(np.vstack([ends[:1], chain, ends[1:]]))
    cuts = np.unique([0, *np.flatnonzero(np.abs(turns) > SHARP), len(chain) - 1])
    parts = []
    for first, last in zip(cuts[:-1], cuts[1:], strict=True):
        before = edges[0] if first == 0 else None
        behind = edges[1] if last == len(chain) - 1 else None
        short = [
            0.0 if edge is not None else CLEAR * thickness * np.tan(np.clip(turns[k], 0.0, 2.8) / 2)
            for k, edge in ((first, before), (last, behind))
        ]
        kept, head, tail = _shortened(chain[first : last + 1], *short)
        parts.append(Part(kept, False, (before, behind), (head, tail)))
    return parts


def _shortened(chain: Floats, head: float, tail: float) -> tuple[Floats, Floats, Floats]:
    """Take lengths (m) off both ends of a chain: what is left (maybe nothing), and what was taken."""
    along = np.append(0.0, np.cumsum(np.hypot(*np.diff(chain, axis=0).T)))
    if head + tail > 0.8 * along[-1]:
        return chain[:0], chain, chain[:0]
    ends = [head, along[-1] - tail]
    inside = (along > head) & (along < ends[1])
    cut = np.column_stack([np.interp(ends, along, chain[:, k]) for k in (0, 1)])
    cut = np.where(np.array([[head > 0], [tail > 0]]), cut, chain[[0, -1]])
    kept = np.vstack([cut[:1], chain[inside], cut[1:]])
    return kept, chain[along < head], chain[along > ends[1]]


def _turns(chain: Floats) -> Floats:
    """Give by how much a chain turns to the left at all its corners but the first and the last, rad."""
    along = np.diff(chain, axis=0)
    one, other = along[:-1], along[1:]
    return np.asarray(
        np.arctan2(one[:, 0] * other[:, 1] - one[:, 1] * other[:, 0], (one * other).sum(axis=1))
    )


def _outer(part: Part, run: Run | None) -> tuple[Floats, bool, bool]:
    """Give the line that bounds the lattice along a part of the wall, and whether it ends on openings behind
    layers.
    """
    head, tail = part.left
    if run is None:
        return np.vstack([head, part.chain, tail]), False, False
    at = run.places
    if run.closed:
        return at[:, -1], False, False
    first = at[:1, -1] if run.slides[0] else np.vstack([head, at[0, [0, -1]]])
    last = at[-1:, -1] if run.slides[1] else np.vstack([at[-1, [-1, 0]], tail])
    return np.vstack([first, at[1:-1, -1], last]), *run.slides


def _on_runs(middles: Floats, runs: list[Run], size: float) -> NDArray[np.bool_]:
    lines = [shapely.LineString(_outer_line(run)) for run in runs]
    tree = shapely.STRtree(lines)
    points = shapely.points(middles)
    nearest = tree.nearest(points)
    return np.asarray(shapely.distance(points, np.array(lines, object)[nearest]) < 1e-9 * size)


def _outer_line(run: Run) -> Floats:
    """Give the line between layers and lattice."""
    first, last = (
        run.places[end, :0] if on else run.places[end] for end, on in zip((0, -1), run.slides, strict=True)
    )
    if run.closed:
        return run.places[:, -1]
    return np.vstack([first, run.places[:, -1], last[::-1]])


def _stretches(wall: NDArray[np.bool_]) -> list[tuple[int, int]]:
    """Give where stretches of wall, and of no wall, begin on a ring and how many sides each has."""
    turns = np.flatnonzero(wall != np.roll(wall, 1))
    if not len(turns):
        return [(0, len(wall))]
    counts = np.diff(np.append(turns, turns[0] + len(wall)))
    return [(int(first), int(count)) for first, count in zip(turns, counts, strict=True)]


def _joined(pieces: list[tuple[Floats, bool, bool]]) -> Floats:
    """Join the pieces of a ring, each with both its ends; where layers end on an opening, the opening begins
    behind them.
    """
    kept = []
    for k, (piece, *_) in enumerate(pieces):
        first = int(pieces[k - 1][2])
        last = len(piece) - int(pieces[(k + 1) % len(pieces)][1])
        kept.append(piece[first:last])
    line = np.concatenate(kept)
    return line[np.any(line != np.roll(line, 1, axis=0), axis=1)]


def _sine(way: Floats, edge: Floats) -> float:
    """Give the sine of the angle by which an edge stands to the left of a way."""
    return float((way[0] * edge[1] - way[1] * edge[0]) / (np.hypot(*way) * np.hypot(*edge)))


def _along(
    plane: Plane,
    part: Part,
    shares: Floats,
    thickness: float,
    size_at: Any,
) -> Run | None:
    """Lay layers along a part of the wall; None where it is too short."""
    if len(part.chain) < 2:
        return None
    closed, edges = part.closed, part.edges
    places = _cut_up(part.chain, size_at)
    ways = _ways(places, part)
    sizes = size_at(places)
    thick = thickness * np.clip(sizes / np.median(sizes), THINNEST, 1.0)
    room = OF_GAP * _room(plane, places, ways, thickness)
    if not closed:
        room[[0, -1]] = room[[1, -2]] if len(places) > 2 else thickness  # they look along openings or walls
    thick = np.minimum(thick, room)
    for end, edge in zip((0, -1), edges, strict=True):
        if edge is not None:
            thick[end] = min(thick[end], 0.45 * np.hypot(*edge) / np.hypot(*ways[end]))
    for _ in range(TRIES):
        thick = _levelled(places, thick, closed)
        bad = _folded(places, places + thick[:, None] * ways)
        if not bad.any():
            break
        hit = np.zeros(len(places), bool)
        hit[:-1] |= bad
        hit[1:] |= bad
        if closed:
            hit[0] = hit[-1] = hit[0] | hit[-1]
        thick = np.where(hit, SQUEEZE * thick, thick)
    off = shares[None, :, None] * (thick[:, None] * ways)[:, None]
    return Run(places[:, None] + off, closed, (edges[0] is not None, edges[1] is not None))


def _cut_up(chain: Floats, size_at: Any) -> Floats:
    """Cut the sides of a wall into pieces about as long as the cells there; its own corners stay."""
    found = [chain[:1]]
    for start, end in zip(chain[:-1], chain[1:], strict=True):
        way = end - start
        length = float(np.hypot(*way))
        cuts = _even(length, lambda at, o=start, w=way, long=length: size_at(o + at[:, None] * w / long))
        found.append(np.vstack([start + (cuts[1:-1] / length)[:, None] * way, end]))
    return np.concatenate(found)


def _even(length: float, size_at: Any) -> Floats:
    """Cut a length into pieces as long as the cells beside them: where, from 0 to the length."""
    few = np.linspace(0.0, length, FEW)
    finest = float(size_at(few).min())
    places = np.linspace(0.0, length, int(np.clip(2 * length / finest, 4, MANY)) + 1)
    middles = (places[:-1] + places[1:]) / 2
    counted = np.append(0.0, np.cumsum(np.diff(places) / size_at(middles)))
    count = max(1, round(float(counted[-1])))
    return np.interp(np.linspace(0.0, counted[-1], count + 1), counted, places)


def _ways(places: Floats, part: Part) -> Floats:
    """Give the way off the wall of every place, so long that it is 1 across the wall."""
    along = np.diff(places, axis=0)
    along /= np.hypot(*along.T)[:, None]
    normal = np.column_stack([-along[:, 1], along[:, 0]])
    one = np.vstack([normal[-1] if part.closed else normal[0], normal])
    other = np.vstack([normal, normal[0] if part.closed else normal[-1]])
    middle = one + other
    ways = middle / np.maximum((middle * one).sum(axis=1), 0.15)[:, None]
    for end, edge in zip((0, -1), part.edges, strict=True):
        if edge is not None:
            ways[end] = edge / (edge @ normal[end])
    return np.asarray(ways)


def _room(plane: Plane, places: Floats, ways: Floats, thickness: float) -> Floats:
    """Give the free width before every place, m, as far as it matters."""
    reach = 2 * thickness / OF_GAP
    long = np.hypot(*ways.T)[:, None]
    start = places + 1e-6 * plane.size * ways / long
    rays = shapely.linestrings(np.stack([start, places + reach * ways / long], axis=1))
    met = shapely.intersection(rays, plane.polygon.boundary)
    free = shapely.distance(shapely.points(places), met)
    return np.where(np.isfinite(free), free, reach)


def _levelled(places: Floats, thick: Floats, closed: bool) -> Floats:
    """Let the thickness change slowly along the wall, by lowering it."""
    step = SLOPE * np.hypot(*np.diff(places, axis=0).T)
    thick = thick.copy()
    for _ in range(2 if closed else 1):
        for k in range(1, len(thick)):
            thick[k] = min(thick[k], thick[k - 1] + step[k - 1])
        for k in range(len(thick) - 2, -1, -1):
            thick[k] = min(thick[k], thick[k + 1] + step[k])
        if closed:
            thick[0] = thick[-1] = min(thick[0], thick[-1])
    return thick


def _folded(places: Floats, outer: Floats) -> NDArray[np.bool_]:
    """Mark the pieces of wall whose layers fold over or grow too narrow, (m,)."""
    along = np.diff(places, axis=0)
    beyond = np.diff(outer, axis=0)
    return np.asarray((along * beyond).sum(axis=1) < 0.25 * (along * along).sum(axis=1))


def sizes_of(centres: Floats, sizes: Floats) -> Any:
    """Give a function of places (k, 2) that gives the size of the nearest cell, m."""
    tree = nearest_tree(centres)
    return lambda places: sizes[tree.query(places)[1]]
