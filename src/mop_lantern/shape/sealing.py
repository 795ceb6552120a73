"""Open rims of models closed by flat caps."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import shapely
from numpy.typing import NDArray

from mop_lantern.numerics.nearest import nearest_tree
from mop_lantern.shape.model import Model
from mop_lantern.shape.topology import RIM, faces_of, rims_of, sides

Floats = NDArray[np.float64]
Ints = NDArray[Any]


def sealed(model: Model, only: int | None = None) -> Model:
    """Close every open rim, or only one (its number), by triangles within it. One that goes on the face
    around it becomes part of that face; others become rim1, rim2 ...

    Rims that are not flat are closed all the same and told in the report, with how far they are off a plane.
    """
    triangles = [model.triangles]
    group = [model.group]
    groups = list(model.groups)
    report = list(model.report)
    holes = 0
    number = 1
    taken = {name.removeprefix("*") for name in groups}
    _, owner, _ = sides(model.triangles)
    ends = model.triangles[:, [0, 1, 1, 2, 2, 0]].reshape(-1, 2)
    beside = {(int(a), int(b)): int(t) for (a, b), t in zip(ends.tolist(), owner.tolist(), strict=True)}
    normal = model.vectors / np.maximum(np.linalg.norm(model.vectors, axis=1), 1e-300)[:, None]
    for rim in model.rims if only is None else model.rims[only : only + 1]:
        cap, off = capped(model.points, rim)
        corners = model.points[cap]
        lid = np.cross(corners[:, 1] - corners[:, 0], corners[:, 2] - corners[:, 0]).sum(axis=0)
        around = [
            beside[pair]
            for pair in zip(np.roll(rim, -1).tolist(), rim.tolist(), strict=True)
            if pair in beside
        ]
        along = float((normal[around] @ lid).mean() / (np.linalg.norm(lid) or 1.0)) if around else 0.0
        if around and along > np.cos(np.deg2rad(50)):
            label = int(np.bincount(model.group[around]).argmax())
            holes += 1
        else:
            while f"{RIM[1:]}{number}" in taken:
                number += 1
            taken.add(f"{RIM[1:]}{number}")
            groups.append(f"{RIM}{number}")
            label = len(groups) - 1
            if off > 0.02:
                report.append(
                    f"{groups[-1][1:]} is closed though its corners are off a plane by {off:.0%} of "
                    "its size: look at it."
                )
        triangles.append(cap)
        group.append(np.full(len(cap), label))
    if holes:
        report.append(f"{holes} holes within faces are closed.")
    named = len(groups) - len(model.groups)
    if named:
        report.append(f"{named} rims are sealed and named rim1 …: openings can sit on them.")
    every = np.vstack(triangles)
    of = np.concatenate(group)
    face, names = faces_of(
        model.points,
        every,
        of,
        groups,
        model.split,
    )
    _, first = np.unique(face, return_index=True)
    if model.named:
        names = tuple(groups[of[k]].removeprefix("*") for k in first)
    look = {
        name: (layer, colour)
        for name, layer, colour in zip(model.names, model.layers, model.colours, strict=True)
    }
    was = [model.names[model.face[k]] if k < len(model.face) else "" for k in first]
    return replace(
        model,
        triangles=every,
        face=face,
        names=names,
        report=tuple(report),
        rims=rims_of(every),
        group=of,
        groups=tuple(groups),
        layers=tuple(look[name][0] if name else "" for name in was),
        colours=tuple(look[name][1] if name else "" for name in was),
    )


def capped(points: Floats, rim: Ints) -> tuple[Ints, float]:
    """Fill a rim by triangles that run as it does; give them and how far it is off a plane, over its size."""
    if len(rim) == 3:
        return rim[None, :], 0.0
    place = points[rim]
    middle = place.mean(axis=0)
    _, spread, axes = np.linalg.svd(place - middle, full_matrices=False)
    flat = (place - middle) @ axes[:2].T
    off = float(np.abs((place - middle) @ axes[2]).max() / (np.ptp(flat, axis=0).max() or 1.0))
    polygon = shapely.Polygon(flat)
    k = np.arange(1, len(rim) - 1)
    fan = np.column_stack([np.full(len(k), rim[0]), rim[k], rim[k + 1]])
    if not polygon.is_valid or polygon.area <= 0:
        return fan, off
    pieces = [
        shapely.get_coordinates(piece)[:3]
        for piece in shapely.get_parts(shapely.constrained_delaunay_triangles(polygon))
    ]
    _, found = nearest_tree(flat).query(np.array(pieces).reshape(-1, 2))
    inner = found.reshape(-1, 3)
    a, b, c = (flat[inner[:, n]] for n in range(3))
    wise = (b[:, 0] - a[:, 0]) * (c[:, 1] - a[:, 1]) - (b[:, 1] - a[:, 1]) * (c[:, 0] - a[:, 0]) > 0
    inner = np.where((wise == polygon.exterior.is_ccw)[:, None], inner, inner[:, ::-1])
    return (rim[inner] if len(inner) == len(rim) - 2 else fan), off
