"""Orifice plates after ISO 5167-2:2003."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
_TAPS = {"corner": (0.0, 0.0), "D": (1.0, 0.47)}


def discharge(
    beta: Any,
    reynolds: Any,
    bore: Any,
    taps: str = "corner",
) -> Floats:
    """Give the discharge coefficient by diameter ratio, pipe Reynolds number and pipe bore (m).

    Source: Reader-Harris/Gallagher equation, ISO 5167-2:2003, 5.3.2.1; ``taps`` corner, flange, or D (D and
    D/2).
    """
    b = np.asarray(beta, float)
    re = np.maximum(np.asarray(reynolds, float), 1e3)
    D = np.asarray(bore, float)
    up, down = (25.4e-3 / D, 25.4e-3 / D) if taps == "flange" else _TAPS[taps]
    A = (19000 * b / re) ** 0.8
    M = 2 * down / (1 - b)
    C = (
        0.5961
        + 0.0261 * b**2
        - 0.216 * b**8
        + 0.000521 * (1e6 * b / re) ** 0.7
        + (0.0188 + 0.0063 * A) * b**3.5 * (1e6 / re) ** 0.3
    )
    C = C + (0.043 + 0.080 * np.exp(-10 * up) - 0.123 * np.exp(-7 * up)) * (1 - 0.11 * A) * b**4 / (1 - b**4)
    C = C - 0.031 * (M - 0.8 * M**1.1) * b**1.3
    return np.asarray(C + 0.011 * (0.75 - b) * np.maximum(2.8 - D / 25.4e-3, 0.0))


def loss_coefficient(beta: Any, c: Any) -> Floats:
    """Give K of the plate on the pipe velocity: what is lost for good.

    Source: ISO 5167-2:2003, 5.4.2.
    """
    b = np.asarray(beta, float)
    C = np.asarray(c, float)
    return np.asarray((np.sqrt(1 - b**4 * (1 - C**2)) / (C * b**2) - 1) ** 2)


def expansibility(beta: Any, pressure_ratio: Any, kappa: Any) -> Floats:
    """Give the expansibility factor by downstream over upstream pressure.

    Source: ISO 5167-2:2003, 5.3.2.2.
    """
    b = np.asarray(beta, float)
    return np.asarray(
        1
        - (0.351 + 0.256 * b**4 + 0.93 * b**8)
        * (1 - np.asarray(pressure_ratio, float) ** (1 / np.asarray(kappa, float)))
    )


def mass_flow(
    beta: Any,
    bore: Any,
    difference: Any,
    density: Any,
    viscosity: Any,
    taps: str = "corner",
    epsilon: Any = 1.0,
) -> tuple[Floats, Floats]:
    """Give mass flow (kg/s) and discharge coefficient at a pressure difference over the taps.

    Source: ISO 5167-1:2003, 5.1, iterated on the Reynolds number.
    """
    b = np.asarray(beta, float)
    D = np.asarray(bore, float)
    base = (
        epsilon * np.pi / 4 * (b * D) ** 2 * np.sqrt(2 * np.asarray(difference, float) * density / (1 - b**4))
    )
    C = 0.6 + 0.0 * base
    for _ in range(30):
        C = discharge(b, 4 * C * base / (np.pi * D * viscosity), D, taps)
    return np.asarray(C * base), np.asarray(C)
