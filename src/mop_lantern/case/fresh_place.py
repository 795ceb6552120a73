"""Where a new item goes and how large it is in the shape there is: in its middle, in proportion."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import declared
from mop_lantern.shape import Plane, Surface
from mop_lantern.shape.solid import face_axes
from mop_lantern.units import UnitFault, read

Floats = NDArray[np.float64]
PLACED = ("readings", "field.devices", "field.sources", "field.grid.refine")  # what stands in the fluid
SHARE = 0.2  # of a face or of the space, that a new part or patch takes along each way
OUT_OF_SCALE = 5.0  # times larger or smaller than the space: a default size is no help
BEGIN, END = 0.35, 0.65  # of the space, the corners of a new box
THIN = 1e-4  # area over its largest extent squared: no wider than a hair
FLAT = 0.999


def placed(item: dict[str, Any], model: Any, section: str, shape: Plane | Surface) -> dict[str, Any]:
    """Fit a fresh item of a kind into a shape; what has no place in it stays as it is."""
    low, high = _bounds(shape)
    if not np.isfinite(low).all() or (high - low).max() <= 0:
        return item
    if item["kind"] == "patch" and isinstance(shape, Surface):
        return {**item, **_on_face(item["on"], shape)}
    if section.startswith("shape."):
        return {**item, **_scaled(model, low, high)}
    return {**item, **_points(item, low, high), **_sized(model, section, low, high)}


def moved_along(case: Any, path: str, value: Any, shape: Plane | Surface | None) -> dict[str, str]:
    """Give what else changes with an edit: a patch that is laid on another face goes to its middle."""
    section, _, field = path.rpartition(".")
    key = section.removeprefix("shape.solids.")
    solid = case.shape.solids.get(key)
    if field != "on" or solid is None or solid.kind != "patch" or not isinstance(shape, Surface):
        return {}
    if value == solid.on or value not in shape.names:
        return {}
    return {f"{section}.{name}": at for name, at in middle_of(value, shape).items()}


def bare_faces(case: Any, edges: list[str], shape: Plane | Surface | None) -> list[str]:
    """Give the flat faces that have no patch yet and are none, for a new one."""
    patched = {solid.on for solid in case.shape.solids.values() if solid.kind == "patch"}
    patches = {key for key, solid in case.shape.solids.items() if solid.kind == "patch"}
    free = [edge for edge in edges if edge not in patched and edge.split(".")[0] not in patches]
    if not isinstance(shape, Surface):
        return free
    return [edge for edge in free if edge in shape.names and shape.facing(edge) > FLAT]


def is_hair(shape: Plane | Surface, name: str) -> bool:
    """Whether a face of a space is a rim no wider than a hair: fluid cannot cross it."""
    if not isinstance(shape, Surface) or name not in shape.names:
        return False
    mine = shape.labels == shape.names.index(name)
    corners = shape.points[shape.triangles[mine]].reshape(-1, 3)
    if not len(corners):
        return False
    area = float(np.linalg.norm(shape.area_vectors[mine], axis=1).sum())
    return area < THIN * float(np.ptp(corners, axis=0).max()) ** 2


def _bounds(shape: Plane | Surface) -> tuple[Floats, Floats]:
    if isinstance(shape, Surface):
        return shape.points.min(axis=0), shape.points.max(axis=0)
    west, south, east, north = shape.polygon.bounds
    return np.array([west, south]), np.array([east, north])


def middle_of(name: str, shape: Surface) -> dict[str, str]:
    """Give the middle of a face as the place of a part."""
    return {way: length(float(at)) for way, at in zip("xyz", shape.face(name)[0], strict=True)}


def _on_face(name: str, shape: Surface) -> dict[str, str]:
    """Lay a patch on the middle of a face."""
    if name not in shape.names:
        return {}
    _, inward = shape.face(name)
    corners = shape.points[shape.triangles[shape.labels == shape.names.index(name)]].reshape(-1, 3)
    sides = [float(np.ptp(corners @ way)) for way in face_axes(-inward)]
    return {**middle_of(name, shape), "width": length(SHARE * sides[0]), "height": length(SHARE * sides[1])}


def _scaled(model: Any, low: Floats, high: Floats) -> dict[str, Any]:
    """Give a part the sizes it has by default, all times one factor, where they are out of scale, and stand
    it on the floor in the middle.
    """
    sizes = {}
    for name, rule in declared(model).items():
        default = model.model_fields[name].default
        if rule.dimension != "length" or rule.form != "quantity" or name in ("x", "y", "z"):
            continue
        try:
            value = read(str(default), "length")
        except UnitFault:  # auto
            continue
        if value > 0:
            sizes[name] = value
    if not sizes:
        return {}
    factor = SHARE * float((high - low).max()) / max(sizes.values())
    if 1 / OUT_OF_SCALE < factor < OUT_OF_SCALE:
        return {}
    found: dict[str, Any] = {name: length(factor * value) for name, value in sizes.items()}
    if len(low) == 3 and "x" in model.model_fields:
        middle = 0.5 * (low + high)
        found |= {"x": length(middle[0]), "y": length(middle[1]), "z": length(low[2])}
    return found


def _points(item: dict[str, Any], low: Floats, high: Floats) -> dict[str, Any]:
    """Put the points of an item in the middle of the shape, the ends of a line on both sides of it, a box
    about it.
    """
    middle = 0.5 * (low + high)
    west, east = middle.copy(), middle.copy()
    west[0], east[0] = low[0], high[0]
    wanted = {
        "centre": middle,
        "at": middle,
        "low": low + BEGIN * (high - low),
        "high": low + END * (high - low),
        "start": west,
        "end": east,
    }
    return {
        name: [length(value) for value in wanted[name]]
        for name, given in item.items()
        if name in wanted and isinstance(given, list) and len(given) == len(low)
    }


def _sized(model: Any, section: str, low: Floats, high: Floats) -> dict[str, str]:
    """Give a device that stands across the fluid a size in proportion."""
    if section != "field.devices":
        return {}
    size = length(2 * SHARE * float((high - low).min()))
    return {name: size for name in ("width", "height") if name in model.model_fields}


def length(value: float) -> str:
    """Give a length as it would be typed, to two figures of its size or a millimetre."""
    if abs(value) < 5e-10:
        return "0 mm"
    if abs(value) >= 1:
        return f"{value:.3g} m"
    return f"{value * 1e3:.3g} mm"
