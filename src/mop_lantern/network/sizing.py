"""Sizes of ducts and pipes for their flows: by friction a metre, or by velocity."""

from __future__ import annotations

import numpy as np

from mop_lantern.laws.friction import straight_drop
from mop_lantern.laws.sections import OUTSIDE, bore, round_equivalent


def diameter_by_friction(
    flow: float,
    rate: float,
    rough: float,
    density: float,
    viscosity: float,
) -> float:
    """Give the diameter (m) of a round duct that loses so many Pa a metre at a flow (m3/s).

    Source: Darcy and Weisbach with Colebrook, solved for the diameter.
    """
    low, high = 1e-3, 20.0
    for _ in range(80):
        middle = float(np.sqrt(low * high))
        drop, _ = straight_drop(
            np.array([abs(flow)]),
            1.0,
            np.pi / 4 * middle**2,
            middle,
            rough,
            density,
            viscosity,
        )
        low, high = (middle, high) if drop[0] > rate else (low, middle)
    return float(np.sqrt(low * high))


def diameter_by_velocity(flow: float, velocity: float) -> float:
    """Give the diameter (m) at which a flow (m3/s) has a velocity (m/s)."""
    return float(np.sqrt(4 * abs(flow) / (np.pi * velocity)))


def width_for(equivalent: float, height: float) -> float:
    """Give the width (m) of a duct of a given height that loses as much as a round one of an equivalent
    diameter.

    Source: Huebscher's equivalent, solved for one side.
    """
    low = 1e-3 * height
    high = 1e3 * height
    for _ in range(80):
        middle = float(np.sqrt(low * high))
        low, high = (middle, high) if round_equivalent(middle, height) < equivalent else (low, middle)
    return float(np.sqrt(low * high))


def nominal_for(diameter: float) -> int | None:
    """Give the smallest nominal size whose bore is at least a diameter, or None when it is larger than
    all.
    """
    return next((size for size in sorted(OUTSIDE) if bore(size) >= diameter * (1 - 1e-9)), None)
