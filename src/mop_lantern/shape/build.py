"""Join the parts of a two-dimensional case: union of passages, rounded corners, bodies taken away, names
kept.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.declare import discover
from mop_lantern.errors import CaseError, Fault
from mop_lantern.shape.join import join
from mop_lantern.shape.parted import parted
from mop_lantern.shape.piece import Corner, Part, PartFault, Piece, arc
from mop_lantern.shape.plane import Plane
from mop_lantern.shape.surface import Surface

Floats = NDArray[np.float64]
SHARP = 1e-9  # m: a corner rounded by less is a corner
_SNAP = 1e-11  # of the size: joins butted runs without slivers, far below any real dimension


def build(shape: Any) -> Plane | Surface:
    """Build the plane of a case, or the surface of its space.

    Parameters
    ----------
    shape : the resolved shape section: ``space`` ("plane", "axis" or "space"), ``depth`` (m), ``turn`` (rad),
    ``parts`` or ``solids`` by id; ``kept``, where there is one, names the solid parts that conduct heat.

    Raises
    ------
    CaseError : every part that cannot be built or joined, each with its path and remedy.
    """
    kept = frozenset(getattr(shape, "kept", ()))
    if shape.space == "space":
        return join(shape.solids, shape.wet, kept=kept)
    kinds: dict[str, Any] = dict(discover("mop_lantern.shape.parts", Part))
    pieces = _build_pieces(shape.parts, kinds)
    roles = {key: kinds[shape.parts[key].kind].role for key in pieces}
    passages = {key: piece for key, piece in pieces.items() if roles[key] == "passage"}
    bodies = {key: shapely.Polygon(piece.ring) for key, piece in pieces.items() if roles[key] == "body"}
    if not passages and not kept & set(bodies):
        solid = bool(getattr(shape, "solids", None))
        remedy = "Make the flow domain three-dimensional" if solid else "Add a passage or an outline"
        why = "there is no passage for the fluid" + (": its parts are three-dimensional." if solid else ".")
        raise CaseError([Fault("shape.parts", why, f"{remedy}.")])
    _check_rings(pieces, shape.parts)
    corners, rings = _corners_and_rings(pieces)
    chosen = passages or {key: pieces[key] for key in bodies}
    size = float(
        np.ptp(np.vstack([piece.ring for piece in chosen.values() if piece.ring is not None]), axis=0).max()
    )
    grid = 2.0 ** np.floor(np.log2(_SNAP * size))
    wet = shapely.Polygon()
    if passages:
        wet = _wet(passages, corners, rings, shape, grid)
        standing = [body for key, body in bodies.items() if not shape.parts[key].beneath]
        if standing:
            wet = shapely.difference(wet, shapely.union_all(standing, grid_size=grid), grid_size=grid)
            wet = _one_polygon(wet)
    elif shape.space == "axis":
        rings.append(_axis_ring(shapely.union_all(list(bodies.values())).bounds))
    if not kept & set(bodies):
        return _label(wet, rings, shape, size)
    whole, solids = parted(wet, bodies, kept, shape, grid)
    named = {key: _label(solid, rings, shape, size) for key, solid in solids.items()}
    return replace(_label(whole, rings, shape, size), solids=named, dry=not passages)


def _wet(
    passages: dict[str, Piece],
    corners: list[tuple[str, Corner]],
    rings: list[tuple[Floats, list[str]]],
    shape: Any,
    grid: float,
) -> shapely.Polygon:
    """Join the passages and round their corners; the arcs, and the axis, are added to the named rings."""
    wet = shapely.union_all([shapely.Polygon(piece.ring) for piece in passages.values()], grid_size=grid)
    if shape.space == "axis":
        x0, _, x1, y1 = wet.bounds
        wet = shapely.intersection(wet, shapely.box(x0 - 1, 0.0, x1 + 1, max(y1, grid) + 1), grid_size=grid)
        rings.append(_axis_ring(wet.bounds if not wet.is_empty else (x0, 0.0, x1, 0.0)))
    wet = _one_polygon(wet)
    for path, corner in corners:
        wet, fillet = _round(wet, corner, path)
        rings.append((np.stack([fillet[:-1], fillet[1:]], axis=1), [corner.name] * (len(fillet) - 1)))
    return wet


def _axis_ring(bounds: tuple[float, ...]) -> tuple[Floats, list[str]]:
    return np.array([[[bounds[0] - 1, 0.0], [bounds[2] + 1, 0.0]]]), ["axis"]


def _build_pieces(parts: dict[str, Any], kinds: dict[str, Any]) -> dict[str, Piece]:
    """Build every part, hosts before their branches, collecting all faults."""
    pieces: dict[str, Piece] = {}
    faults: list[Fault] = []
    waiting = dict(parts)
    while waiting:
        ready = [key for key, part in waiting.items() if getattr(part, "host", None) not in waiting]
        if not ready:
            for key in waiting:
                faults.append(
                    Fault(
                        f"shape.parts.{key}.host",
                        "the hosts of these branches form a circle.",
                        "Set one on a passage.",
                    )
                )
            break
        for key in ready:
            part = waiting.pop(key)
            try:
                pieces[key] = kinds[part.kind].build(part, pieces)
            except PartFault as fault:
                faults.append(Fault(f"shape.parts.{key}.{fault.parameter}", fault.says, fault.remedy))
    if faults:
        raise CaseError(faults)
    return {key: pieces[key] for key in parts}


def _check_rings(pieces: dict[str, Piece], parts: dict[str, Any]) -> None:
    faults = []
    for key, piece in pieces.items():
        if piece.ring is None:
            continue
        ring = shapely.Polygon(piece.ring)
        if not ring.is_valid:
            why = shapely.is_valid_reason(ring)
            place = why[why.find("[") :] if "[" in why else ""
            where = f"shape.parts.{key}.points" if hasattr(parts[key], "points") else f"shape.parts.{key}"
            faults.append(
                Fault(where, f"the outline crosses itself near {place} m.", "Reorder or move its points.")
            )
        elif ring.area <= 0:
            faults.append(Fault(f"shape.parts.{key}", "the part has no area.", "Give it a size."))
    if faults:
        raise CaseError(faults)


def _corners_and_rings(
    pieces: dict[str, Piece],
) -> tuple[list[tuple[str, Corner]], list[tuple[Floats, list[str]]]]:
    corners: list[tuple[str, Corner]] = []
    rings: list[tuple[Floats, list[str]]] = []
    for key, piece in pieces.items():
        for corner in piece.corners:
            if corner.radius > SHARP:
                named = Corner(corner.at, corner.radius, f"{key}.{corner.name}")
                corners.append(
                    (f"shape.parts.{key}.{'radius' if corner.name == 'arc' else 'corner_radius'}", named)
                )
        if piece.ring is not None:
            rings.append(
                (
                    np.stack([piece.ring, np.roll(piece.ring, -1, axis=0)], axis=1),
                    [f"{key}.{s}" for s in piece.sides],
                )
            )
    return corners, rings


def _one_polygon(wet: shapely.Geometry) -> shapely.Polygon:
    if wet.is_empty:
        raise CaseError(
            [Fault("shape.parts", "nothing is left for the fluid.", "Make a body smaller or move it.")]
        )
    if wet.geom_type == "GeometryCollection":
        wet = shapely.MultiPolygon([part for part in wet.geoms if part.geom_type == "Polygon"])
    if wet.geom_type == "MultiPolygon":
        parts = sorted(wet.geoms, key=lambda part: -part.area)
        slivers = [part for part in parts[1:] if part.area > 1e-9 * parts[0].area]
        if slivers:
            x, y = slivers[0].representative_point().coords[0]
            says = (
                f"the passages fall apart into {len(slivers) + 1} spaces that do not touch (one lies at x "
                f"= {x:.4g} m, y = {y:.4g} m)."
            )
            raise CaseError(
                [Fault("shape.parts", says, "Move the parts until they overlap, or take a body away.")]
            )
        wet = parts[0]
    return shapely.geometry.polygon.orient(wet)


def _round(wet: shapely.Polygon, corner: Corner, path: str) -> tuple[shapely.Polygon, Floats]:
    """Replace the corner nearest to a place by an arc that touches both sides; the arc's points are given
    too.
    """
    wet = shapely.simplify(wet, 0.0)
    rings = [np.asarray(ring.coords)[:-1] for ring in (wet.exterior, *wet.interiors)]
    which = min(range(len(rings)), key=lambda i: np.hypot(*(rings[i] - corner.at).T).min())
    ring = rings[which]
    index = int(np.hypot(*(ring - corner.at).T).argmin())
    here = ring[index]
    before = ring[index - 1]
    after = ring[(index + 1) % len(ring)]
    if np.hypot(*(here - corner.at)) > 0.05 * corner.radius + 1e-6:
        raise CaseError(
            [
                Fault(
                    path,
                    "the passages have no corner at the place where one is to be rounded.",
                    "Move it onto a corner.",
                )
            ]
        )
    back = before - here
    ahead = after - here
    legs = np.hypot(*back), np.hypot(*ahead)
    back = back / legs[0]
    ahead = ahead / legs[1]
    half = 0.5 * np.arccos(np.clip(back @ ahead, -1, 1))
    tangent = corner.radius / np.tan(half)
    if tangent > min(legs) * (1 + 1e-9):
        most = min(legs) * np.tan(half)
        says = f"the radius is too large for the sides beside the corner; at most {most * 1e3:.4g} mm fits."
        raise CaseError([Fault(path, says, "Make it smaller or the sides longer.")])
    bisector = (back + ahead) / np.hypot(*(back + ahead))
    centre = here + bisector * corner.radius / np.sin(half)
    first = here + back * tangent
    last = here + ahead * tangent
    start = np.arctan2(*(first - centre)[::-1])
    turn = (np.arctan2(*(last - centre)[::-1]) - start + np.pi) % (2 * np.pi) - np.pi
    fillet = arc(centre, corner.radius, float(start), float(turn))
    fillet[0], fillet[-1] = first, last
    rings[which] = np.vstack([ring[:index], fillet, ring[index + 1 :]])
    rounded = shapely.Polygon(rings[0], rings[1:])
    if not rounded.is_valid:
        raise CaseError(
            [Fault(path, "the rounded corner runs into another wall.", "Make the radius smaller.")]
        )
    return rounded, fillet


def _label(
    wet: shapely.Polygon | shapely.MultiPolygon,
    rings: list[tuple[Floats, list[str]]],
    shape: Any,
    size: float,
) -> Plane:
    """Give every segment of the boundary the name of the part's side it lies on; later parts win."""
    wet = shapely.orient_polygons(wet)
    segments = np.concatenate(
        [
            np.stack([c[:-1], c[1:]], axis=1)
            for c in (np.asarray(ring.coords) for ring in shapely.get_rings(shapely.get_parts(wet)))
        ]
    )
    segments = segments[np.hypot(*(segments[:, 1] - segments[:, 0]).T) > 0]
    sources = np.concatenate([ring for ring, _ in rings])
    owners = [name for _, names in rings for name in names]
    names = tuple(dict.fromkeys(owners))
    number = {name: index for index, name in enumerate(names)}
    tree = shapely.STRtree(shapely.linestrings(sources))
    middle = shapely.points(segments.mean(axis=1))
    query, found = tree.query(middle, predicate="dwithin", distance=1e-6 * size)
    # among the sides within reach the one running most nearly the same way is meant; a tie goes to the later
    # part
    way = segments[query, 1] - segments[query, 0]
    other = sources[found, 1] - sources[found, 0]
    parallel = np.abs((way * other).sum(axis=1)) / np.maximum(
        np.hypot(*way.T) * np.hypot(*other.T), 1e-300
    )  # a side without length runs no way
    order = np.lexsort((found, np.round(parallel, 6), query))
    best = np.full(len(segments), -1)
    best[query[order]] = found[order]
    missing = best < 0
    if missing.any():
        best[missing] = tree.nearest(middle[missing])
    labels = np.array([number[owners[index]] for index in best])
    if shape.turn:
        cos = np.cos(shape.turn)
        sin = np.sin(shape.turn)
        segments = segments @ np.array([[cos, sin], [-sin, cos]])
        wet = shapely.transform(wet, lambda xy: xy @ np.array([[cos, sin], [-sin, cos]]))
    return Plane(
        wet,
        segments,
        labels,
        names,
        shape.space == "axis",
        shape.depth,
    )
