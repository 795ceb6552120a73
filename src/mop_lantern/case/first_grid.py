"""How fine the cells are where the program chooses: so that a first answer is within about 5 %."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

import numpy as np

from mop_lantern.declare import Numbers
from mop_lantern.judge.facts import named_temperatures
from mop_lantern.media import Fluid
from mop_lantern.shape import Plane, Surface

ACROSS = 16.0  # over the usual width of a through-flow, or the smaller side of a box
STIRRED, HEATED = 1.75, 1.2  # times the root of the Reynolds number; the fourth root of the Rayleigh number
MOST_PLANE, MOST_SPACE = (
    200.0,
    56.0,
)  # across: what a first answer may cost; what is left is told with the answer
INNER = 1.5  # where cells double away from the walls of a space
ROUND_BODY, CREEPING = 8.0, 20.0  # cells a diameter at a body up to this Reynolds number, more by its root


@dataclass(frozen=True)
class FirstGrid:
    """What cells left to the program are told by.

    Attributes
    ----------
    width : m, what so many cells lie ``across``; 0 leaves the width to the grid. bodies : cells over the
    width of bodies in the stream.

    Source: own measurements: lid-driven cavities need 1.75 root Re cells a side, boxes heated from the side
    the fourth root of Ra for heat and 1.2 of it for velocities, cylinders 8 a diameter at Re 20, for 3 to 5
    %.
    """

    width: float = 0.0
    across: float = ACROSS
    bodies: float = 0.0


def first_grid(numbers: Numbers, shape: Plane | Surface, medium: Fluid) -> FirstGrid:
    """Work out how fine a first grid has to be for what moves the fluid."""
    low, high = (
        (shape.points.min(axis=0), shape.points.max(axis=0)) if isinstance(shape, Surface) else _box(shape)
    )
    side = float((high - low).min())
    nu = medium.viscosity / medium.density
    if numbers.openings:
        return FirstGrid(bodies=_bodies(numbers, shape, nu))
    speed = max((_speed(wall, shape) for wall in numbers.walls.values()), default=0.0)
    across = max(
        ACROSS, STIRRED * np.sqrt(speed * side / nu), HEATED * _rayleigh(numbers, medium, side) ** 0.25
    )
    if isinstance(shape, Surface):
        across = across * INNER ** min(int(numbers.grid.doublings), 1)
        most = MOST_SPACE
    else:
        most = MOST_PLANE
    return FirstGrid(side, float(2 * np.ceil(min(across, most) / 2)))


def _box(plane: Plane) -> tuple[Any, Any]:
    west, south, east, north = plane.polygon.bounds
    return np.array([west, south]), np.array([east, north])


def _speed(wall: Any, shape: Plane | Surface) -> float:
    """Give how fast a wall moves, m/s."""
    speed = getattr(wall, "speed", 0.0)
    rate = getattr(wall, "rate", 0.0)
    fixed = [
        abs(value)
        for value in (speed, rate * 0.5 * shape.size if isinstance(rate, float) else 0.0)
        if isinstance(value, float)
    ]
    return max(fixed, default=0.0)


def _rayleigh(numbers: Numbers, medium: Fluid, side: float) -> float:
    """Give the Rayleigh number on the smaller side, 0 where nothing rises."""
    warm = named_temperatures(numbers)
    if numbers.physics.buoyancy == "none" or not numbers.heat.solve or len(warm) < 2:
        return 0.0
    nu = medium.viscosity / medium.density
    alpha = medium.conductivity / (medium.density * medium.capacity)
    expansion = medium.expansion or 1 / medium.temperature
    found = numbers.physics.gravity * abs(expansion) * float(np.ptp(warm)) * side**3 / (nu * alpha)
    return found if np.isfinite(found) else 0.0


def _bodies(numbers: Numbers, shape: Plane | Surface, nu: float) -> float:
    """Give the cells wanted over the width of bodies that stand in the stream of a plane; 0 where there are
    none.
    """
    if isinstance(shape, Surface) or not len(shape.polygon.interiors):
        return 0.0
    widest = max(_width(ring) for ring in shape.polygon.interiors)
    speeds = [
        abs(value)
        for opening in numbers.openings.values()
        if isinstance(value := getattr(opening, "velocity", None), float)
    ]
    reynolds = max(speeds, default=0.0) * widest / nu
    return float(ROUND_BODY * np.sqrt(max(reynolds / CREEPING, 1.0)))


def _width(ring: Any) -> float:
    west, south, east, north = ring.bounds
    return float(min(east - west, north - south))
