"""Drawings in DXF: curves flattened, ends welded, loops closed, open ends found, islands told from spaces.

References
----------
AutoCAD DXF reference (the published exchange format), as read by the library ezdxf.
"""

from __future__ import annotations

import re
from collections import Counter
from dataclasses import dataclass, field, replace
from itertools import islice
from pathlib import Path
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.errors import FileError, because
from mop_lantern.numerics.doors import plain_file
from mop_lantern.numerics.nearest import nearest_tree

Floats = NDArray[np.float64]
UNITS = {
    1: "in",
    2: "ft",
    4: "mm",
    5: "cm",
    6: "m",
    8: "microinch",
    10: "yard",
    13: "um",
    14: "dm",
}
METRES = {
    "in": 0.0254,
    "ft": 0.3048,
    "mm": 1e-3,
    "cm": 1e-2,
    "m": 1.0,
    "microinch": 2.54e-8,
    "yard": 0.9144,
    "um": 1e-6,
    "dm": 0.1,
}
FLATNESS = 5e-5  # of the drawing's size: chords lie no farther from a curve
WELD = 1e-5  # of the drawing's size: ends nearer than this are one
LARGEST = 60_000_000  # bytes
MOST = 200_000  # segments
FARTHEST = 1e9  # units of the drawing
NEIGHBOURS = 6  # ends tried for a join in one go
LEVEL = 1e-6  # of the drawing's size: lines that lie farther off the plane of most are not of it
_DRAWN = {"LINE", "ARC", "CIRCLE", "LWPOLYLINE", "POLYLINE", "SPLINE", "ELLIPSE"}
_WORDS = {
    "LINE": "lines",
    "ARC": "arcs",
    "CIRCLE": "circles",
    "LWPOLYLINE": "polylines",
    "POLYLINE": "polylines",
    "SPLINE": "splines",
    "ELLIPSE": "ellipses",
    "TEXT": "texts",
    "MTEXT": "texts",
    "DIMENSION": "dimensions",
    "HATCH": "hatches",
    "POINT": "points",
    "3DFACE": "faces in space",
    "3DSOLID": "solids in space",
    "MESH": "meshes in space",
    "LEADER": "leaders",
    "VIEWPORT": "viewports",
    "IMAGE": "images",
}
OFF_PLANE = "lines off the plane of most"
HIDDEN = "entities on layers that are off or frozen"


@dataclass(frozen=True)
class Loop:
    """A closed loop: (n, 2) places in m and a layer for every side; ``island``: solid inside a space."""

    ring: Floats
    layers: tuple[str, ...]
    island: bool


@dataclass(frozen=True)
class Drawing:
    """What was read.

    Attributes
    ----------
    unit : of the file, "" when it says nothing. loops : closed ones, in m. open_ends : (k, 2) m, ends that
    meet no other.
    joins : pairs of open ends that would be sealed together, with their distance (m). skipped : what is
    excluded, read : what is not, with counts.
    """

    unit: str
    loops: tuple[Loop, ...]
    open_ends: Floats
    joins: tuple[tuple[int, int, float], ...] = ()
    skipped: dict[str, int] = field(default_factory=dict)
    read: dict[str, int] = field(default_factory=dict)


def drawing_unit(path: Path) -> str:
    """Give the unit a drawing is in, or "" when it does not say; raise `FileError` when it cannot be read."""
    return UNITS.get(int(_document(path).units), "")


def _document(path: Path) -> Any:
    import logging

    import ezdxf

    logging.getLogger("ezdxf").setLevel(
        logging.CRITICAL
    )  # what it skips of a damaged file is told by us, in words
    try:
        plain_file(path, LARGEST)
        return ezdxf.readfile(str(path))  # type: ignore[attr-defined]
    except OSError as problem:
        raise FileError(
            f"{path}: this is not a DXF drawing, or it cannot be read{because(problem)}."
        ) from None
    except FileError:
        raise
    except Exception as problem:  # damaged files raise whatever the reader stumbles on
        raise FileError(f"{path}: this drawing is damaged{because(problem)}. Save it again as DXF.") from None


def read_drawing(path: Path, unit: str = "", seal: bool = False) -> Drawing:
    """Read the closed loops of a drawing.

    Parameters
    ----------
    unit : overrides the file's; needed when it has none. seal : join open ends with straight lines, nearest
    first.

    Raises
    ------
    FileError : no drawing, no unit, nothing drawn, or lines that branch; in words.
    """
    document = _document(path)
    found = UNITS.get(int(document.units), "")
    if not (unit or found):
        raise FileError(f"{path}: the drawing does not say its unit. Give one of {', '.join(METRES)}.")
    if unit and unit not in METRES:
        raise FileError(
            f"{path}: “{unit}” is not a unit of length for a drawing. Give one of {', '.join(METRES)}."
        )
    scale = METRES[unit or found]
    try:
        segments, layers, skipped, read = _segments(document)
    except Exception as problem:
        raise FileError(
            f"{path}: a curve of this drawing cannot be read{because(problem)}. Save it again as DXF, with "
            "lines, arcs and polylines."
        ) from None
    if not len(segments):
        kinds = ", ".join(f"{count} {kind}" for kind, count in skipped.items()) or "nothing"
        raise FileError(
            f"{path}: there are no lines or curves in the drawing (only {kinds}). Draw the outline "
            "with lines, arcs or polylines."
        )
    segments = segments * scale
    return replace(_loops(path, segments, layers, seal), unit=found or unit, skipped=skipped, read=read)


def _segments(document: Any) -> tuple[Floats, list[str], dict[str, int], dict[str, int]]:
    """Flatten the curves of the model space that lie in the plane of most; blocks are opened. Give them,
    their layers, and counts of what is excluded and what is read.
    """
    from ezdxf import path as curves

    entities = []
    skipped = dict[str, int]()
    dark = {layer.dxf.name.lower() for layer in document.layers if layer.is_off() or layer.is_frozen()}
    waiting = [(entity, 0) for entity in document.modelspace()]
    while waiting:
        entity, depth = waiting.pop()
        kind = entity.dxftype()
        if str(entity.dxf.get("layer", "0")).lower() in dark:
            skipped[HIDDEN] = skipped.get(HIDDEN, 0) + 1
        elif kind == "INSERT" and depth < 8:
            waiting += [(inner, depth + 1) for inner in islice(entity.virtual_entities(), MOST)]
        elif kind in _DRAWN:
            entities.append(entity)
        else:
            words = _WORDS.get(kind, kind.lower())
            skipped[words] = skipped.get(words, 0) + 1
        if len(waiting) + len(entities) > MOST:
            raise ValueError("blocks within blocks make too many lines")
    made_of = [(curves.make_path(entity), entity) for entity in entities]
    made_of = [(path, entity) for path, entity in made_of if len(path)]
    flat_ones = _in_plane([path for path, _ in made_of])
    if not all(flat_ones):
        skipped[OFF_PLANE] = flat_ones.count(False)
    made_of = [each for each, flat in zip(made_of, flat_ones, strict=True) if flat]
    paths = [(path, str(entity.dxf.layer)) for path, entity in made_of]
    read = dict(Counter(_WORDS[entity.dxftype()] for _, entity in made_of))
    if not paths:
        return np.zeros((0, 2, 2)), [], skipped, read
    corners = np.array([[point.x, point.y] for path, _ in paths for point in path.control_vertices()])
    if not (np.abs(corners) < FARTHEST).all():
        raise ValueError("places beyond reason")
    flat = FLATNESS * float(np.ptp(corners, axis=0).max() or 1.0)
    pieces = []
    layers = []
    for path, layer in paths:
        places = np.array([[point.x, point.y] for point in islice(path.flattening(flat), MOST)])
        steps = np.stack([places[:-1], places[1:]], axis=1)
        steps = steps[np.hypot(*(steps[:, 1] - steps[:, 0]).T) > 0]
        pieces.append(steps)
        layers += [_name(layer)] * len(steps)
        if len(layers) > MOST:
            raise ValueError("too many lines")
    made = np.concatenate(pieces)
    if not np.isfinite(made).all():
        raise ValueError("places that are no numbers")
    return made, layers, skipped, read


def _in_plane(paths: list[Any]) -> list[bool]:
    """Tell which curves lie at the level that most of their length lies at."""
    levels = [np.array([point.z for point in path.control_vertices()]) for path in paths]
    places = [np.array([[point.x, point.y] for point in path.control_vertices()]) for path in paths]
    if not paths or not all(np.isfinite(level).all() for level in levels):
        return [bool(np.isfinite(level).all()) for level in levels]
    near = LEVEL * float(np.ptp(np.concatenate(places), axis=0).max() or 1.0)
    even = [float(np.ptp(level)) <= near for level in levels]
    rounded = [round(float(level[0]) / (near or 1.0)) for level in levels]
    size = Counter[int]()
    for level, flat, place in zip(rounded, even, places, strict=True):
        if flat:
            size[level] += max(round(1e6 * float(np.ptp(place, axis=0).max())), 1)
    most = size.most_common(1)[0][0] if size else None
    return [
        flat and most is not None and abs(level - most) <= 1
        for level, flat in zip(rounded, even, strict=True)
    ]


def _name(layer: str) -> str:
    """Make a name that may stand in a path; layer 0 is plain wall."""
    plain = re.sub(r"[^A-Za-z0-9_-]+", "_", layer).strip("_")
    return "wall" if plain in ("", "0") else plain[:40]


def _loops(
    path: Path,
    segments: Floats,
    layers: list[str],
    seal: bool,
) -> Drawing:
    size = float(np.ptp(segments.reshape(-1, 2), axis=0).max())
    node, places = _weld(segments.reshape(-1, 2), WELD * size)
    ends = node.reshape(-1, 2)
    keep = ends[:, 0] != ends[:, 1]
    ends = ends[keep]
    layers = [layer for layer, kept in zip(layers, keep, strict=True) if kept]
    _, once = np.unique(np.sort(ends, axis=1), axis=0, return_index=True)  # a line drawn twice counts once
    ends = ends[np.sort(once)]
    layers = [layers[k] for k in np.sort(once)]
    degree = np.bincount(ends.ravel(), minlength=len(places))
    if (degree > 2).any():
        x, y = places[int(np.argmax(degree > 2))]
        raise FileError(
            f"{path}: more than two lines meet at x = {x:.4g} m, y = {y:.4g} m. Trim the drawing so "
            "that every outline is one closed loop."
        )
    loose = np.flatnonzero(degree == 1)
    joins = _joins(places[loose])
    if seal:
        for first, second, _ in joins:
            ends = np.vstack([ends, [loose[first], loose[second]]])
            layers = [*layers, "seal"]
        degree = np.bincount(ends.ravel(), minlength=len(places))
    rings = _walk(ends, layers, degree, places)
    left = places[loose] if not seal else places[np.flatnonzero(degree == 1)]
    return Drawing("", _nested(rings), left, joins)


def _weld(points: Floats, distance: float) -> tuple[NDArray[np.int64], Floats]:
    """Make ends nearer than a distance one; give the node of every end and the nodes' places."""
    from scipy.sparse import coo_matrix
    from scipy.sparse.csgraph import connected_components
    from scipy.spatial import cKDTree

    pairs = cKDTree(points).query_pairs(distance, output_type="ndarray")
    links = coo_matrix((np.ones(len(pairs)), (pairs[:, 0], pairs[:, 1])), (len(points), len(points)))
    count, node = connected_components(links, directed=False)
    total = np.bincount(node, minlength=count)
    return node, np.column_stack([np.bincount(node, points[:, k], count) / total for k in (0, 1)])


def _joins(loose: Floats) -> tuple[tuple[int, int, float], ...]:
    """Pair open ends, nearest first."""
    if len(loose) < 2:
        return ()
    left = np.arange(len(loose))
    joins = []
    while len(left) > 1:  # the nearest few of each: the nearest pair of all is always among them
        count = min(NEIGHBOURS, len(left))
        distance, near = nearest_tree(loose[left]).query(loose[left], k=count)
        first = np.repeat(left, count)
        second = left[near.reshape(-1)]
        use = first < second
        first = first[use]
        second = second[use]
        far = distance.reshape(-1)[use]
        used: set[int] = set()
        for k in np.argsort(far, kind="stable").tolist():
            a = int(first[k])
            b = int(second[k])
            if a not in used and b not in used:
                used |= {a, b}
                joins.append((a, b, float(far[k])))
        if not used:
            break
        left = np.array([k for k in left.tolist() if k not in used], int)
    return tuple(joins)


def _walk(
    ends: Any,
    layers: list[str],
    degree: Any,
    places: Floats,
) -> list[tuple[Floats, tuple[str, ...]]]:
    """Follow lines from node to node until they close."""
    at: dict[int, list[int]] = {}
    for index, (a, b) in enumerate(ends):
        at.setdefault(int(a), []).append(index)
        at.setdefault(int(b), []).append(index)
    done = np.zeros(len(ends), bool)
    found = []
    for first in range(len(ends)):
        if done[first]:
            continue
        start = int(ends[first][0])
        here = int(ends[first][1])
        done[first] = True
        nodes = [start]
        names = [layers[first]]
        while here != start:
            onward = [k for k in at[here] if not done[k]]
            if not onward:
                break
            done[onward[0]] = True
            a, b = (int(n) for n in ends[onward[0]])
            nodes.append(here)
            names.append(layers[onward[0]])
            here = b if a == here else a
        if here == start and len(nodes) >= 3:
            found.append((places[nodes], tuple(names)))
    return found


def _nested(rings: list[tuple[Floats, tuple[str, ...]]]) -> tuple[Loop, ...]:
    """Tell spaces from islands: inside an odd number of other loops is solid."""
    polygons = [shapely.Polygon(ring) for ring, _ in rings]
    loops = []
    whole = [k for k, polygon in enumerate(polygons) if polygon.is_valid]
    tree = shapely.STRtree([polygons[k] for k in whole])
    for k, (ring, names) in enumerate(rings):
        depth = sum(
            whole[other] != k for other in tree.query(shapely.Point(ring[0]), predicate="within").tolist()
        )
        loops.append(Loop(ring, names, bool(depth % 2)))
    order = sorted(range(len(loops)), key=lambda k: -polygons[k].area)
    return tuple(loops[k] for k in order)


def parts_of(drawing: Drawing, source: str) -> dict[str, dict[str, Any]]:
    """Give the parts a drawing makes, as data of the case: spaces first, then islands."""
    parts: dict[str, dict[str, Any]] = {}
    counts = {"space": 0, "island": 0}
    for loop in drawing.loops:
        stem = "island" if loop.island else "space"
        counts[stem] += 1
        parts[f"{stem}{counts[stem]}"] = {
            "kind": "drawn_body" if loop.island else "drawn",
            "source": source,
            "ring": [[float(x), float(y)] for x, y in np.round(loop.ring, 9)],
            "sides": list(loop.layers),
        }
    return parts
