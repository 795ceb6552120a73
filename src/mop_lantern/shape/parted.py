"""Part a plane into what the fluid and what every conducting solid takes up, with corners in common."""

from __future__ import annotations

from typing import Any

import numpy as np
import shapely

from mop_lantern.errors import CaseError, Fault

_LEAST = 1e-12  # of the whole: smaller scraps are rounding


def parted(
    wet: shapely.Polygon,
    bodies: dict[str, shapely.Polygon],
    kept: frozenset[str],
    shape: Any,
    grid: float,
) -> tuple[shapely.Geometry, dict[str, shapely.Geometry]]:
    """Give the wet space, or all the solids where there is none, and what every kept body takes up.

    Later bodies take precedence over earlier ones, and the fluid over those it runs through. Wherever two
    of them touch, both have the same corners, so that a wall between them is the same line on either side.

    Parameters
    ----------
    wet : the wet space, empty where there is no fluid. bodies : of all solid parts, in order. kept : ids of
    those that conduct heat. shape : the resolved shape section. grid : m, what places are rounded to.

    Raises
    ------
    CaseError : a body of which nothing is left, or solids without fluid that do not touch.
    """
    regions = {"": wet} if not wet.is_empty else {}
    faults = []
    keys = list(bodies)
    for number, key in enumerate(keys):
        if key not in kept:
            continue
        taken = [bodies[later] for later in keys[number + 1 :]]
        if shape.parts[key].beneath:
            taken.append(wet)
        body = shapely.difference(bodies[key], shapely.union_all(taken, grid_size=grid), grid_size=grid)
        if shape.space == "axis":
            x0, _, x1, y1 = bodies[key].bounds
            above = shapely.box(x0 - 1, 0.0, x1 + 1, max(y1, grid) + 1)
            body = shapely.intersection(body, above, grid_size=grid)
        body = _areas(body)
        if body.is_empty:
            says = "nothing of this solid is left: later parts take it all up."
            faults.append(Fault(f"shape.parts.{key}", says, "Move it, or put it after them."))
        regions[key] = body
    if faults:
        raise CaseError(faults)
    regions = _with_common_corners(regions, grid)
    fluid = regions.pop("", None)
    if fluid is not None:
        return shapely.orient_polygons(max(shapely.get_parts(fluid), key=shapely.area)), regions
    whole = shapely.coverage_union_all(list(regions.values()))
    pieces = shapely.get_parts(whole)
    if len(pieces) > 1:
        x, y = pieces[np.argmin(shapely.area(pieces))].representative_point().coords[0]
        says = (
            f"there is no fluid, and the solids do not all touch (one lies at x = {x:.4g} m, y = {y:.4g} m)."
        )
        raise CaseError([Fault("shape.parts", says, "Move them together, or add a passage for a fluid.")])
    return pieces[0], regions


def _areas(found: shapely.Geometry) -> shapely.Geometry:
    """Keep what has an area."""
    parts = [part for part in shapely.get_parts(found) if part.geom_type == "Polygon"]
    whole = sum(part.area for part in parts)
    kept = [part for part in parts if part.area > _LEAST * whole]
    return shapely.MultiPolygon(kept) if len(kept) > 1 else kept[0] if kept else shapely.Polygon()


def _with_common_corners(regions: dict[str, shapely.Geometry], grid: float) -> dict[str, shapely.Geometry]:
    """Give the regions again, each with every corner that others have on its boundary."""
    lines = shapely.union_all([region.boundary for region in regions.values()], grid_size=grid)
    faces = shapely.get_parts(shapely.polygonize(list(shapely.get_parts(lines))))
    places = shapely.point_on_surface(faces)
    found = {}
    free = np.ones(len(faces), bool)
    for key, region in regions.items():
        shapely.prepare(region)
        mine = free & shapely.covers(region, places)
        free &= ~mine
        found[key] = shapely.coverage_union_all(list(faces[mine]))
    return found
