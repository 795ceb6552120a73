"""The largest values that mean anything, by dimension: beyond them a typing slip is likelier than a plant.
Common sense, no source.
"""

from __future__ import annotations

LARGEST = {
    "length": 1e6,  # m
    "area": 1e10,
    "volume": 1e13,
    "time": 3.2e9,  # s, a century
    "velocity": 3e3,  # m/s
    "volume_flow": 1e6,
    "mass_flow": 1e9,
    "pressure": 1e10,
    "density": 1e5,
    "viscosity": 1e9,
    "temperature": 2e4,
    "acceleration": 1e6,
    "angular_velocity": 1e6,
    "conductivity": 1e6,
    "heat_capacity": 1e8,
    "heat_flux": 1e10,
    "film": 1e10,
    "power": 1e13,
    "rate": 1e9,
    "number": 1e15,
}
SMALLEST_LENGTH = 1e-7  # m; below, a fluid is no continuum and grids no grids


def beyond_reason(value: float, dimension: str, above_nothing: bool) -> float | None:
    """Give the limit of reason a value (SI) breaks, or None; ``above_nothing``: it is a length that must not
    be nothing.
    """
    largest = LARGEST.get(dimension)
    if largest is not None and not abs(value) <= largest:
        return largest
    return SMALLEST_LENGTH if dimension == "length" and above_nothing and value < SMALLEST_LENGTH else None
