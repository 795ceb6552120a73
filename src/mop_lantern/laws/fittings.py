"""Loss coefficients of fittings, on the velocity named in each."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


RIGHT = np.pi / 2 - 1e-3  # rad: wider angles count as right
_ROUNDING = (0.0, 0.02, 0.04, 0.06, 0.10, 0.15)
_ENTRY = (0.50, 0.28, 0.24, 0.15, 0.09, 0.04)


def rounded_entry(radius: Any) -> Floats:
    """Give K of an entry flush with its wall, by the rounding over the diameter (0: square edge, 0.5).

    Source: Crane, Technical Paper 410, table A-29 (from memory), straight between its points; compared with
    the `fluids` library.
    """
    return np.asarray(np.interp(radius, _ROUNDING, _ENTRY))


def sudden_expansion(area_ratio: Any) -> Floats:
    """Give K on the small side, by the small area over the large one.

    Source: Borda and Carnot.
    """
    return np.asarray((1 - np.asarray(area_ratio, float)) ** 2)


def sudden_contraction(diameter_ratio: Any) -> Floats:
    """Give K on the small side, by the small diameter over the large one.

    Source: Rennels and Hudson, Pipe Flow (2012), eq. 10.3 (from memory); compared with the `fluids` library.
    """
    b = np.asarray(diameter_ratio, float)
    jet = 1 + 0.622 * (1 - 0.215 * b**2 - 0.785 * b**5)
    return np.asarray(0.0696 * (1 - b**5) * jet**2 + (jet - 1) ** 2)


def cone_widening(diameter_ratio: Any, angle: Any) -> Floats:
    """Give K on the small side of a cone that widens, by the diameters and the included angle (rad).

    Source: Crane, Technical Paper 410 (from memory); compared with the `fluids` library.
    """
    b = np.asarray(diameter_ratio, float)
    full = np.asarray(angle, float)
    borda = (1 - b**2) ** 2
    return np.asarray(np.where(full <= np.radians(45), 2.6 * np.sin(full / 2), 1.0) * borda)


def cone_narrowing(diameter_ratio: Any, angle: Any) -> Floats:
    """Give K on the small side of a cone that narrows.

    Source: Crane, Technical Paper 410 (from memory); compared with the `fluids` library.
    """
    b = np.asarray(diameter_ratio, float)
    full = np.asarray(angle, float)
    return np.asarray(
        np.where(full <= np.radians(45), 0.8 * np.sin(full / 2), 0.5 * np.sqrt(np.sin(full / 2))) * (1 - b**2)
    )


def smooth_bend(angle: Any, radius: Any, friction: Any) -> Floats:
    """Give K of a bend, its own length included, by its angle (rad), its radius over the diameter and the
    friction factor.

    Source: Rennels and Hudson, Pipe Flow (2012), eq. 15.3 (from memory); compared with the `fluids` library.
    """
    a = np.asarray(angle, float)
    r = np.asarray(radius, float)
    f = np.asarray(friction, float)
    half = np.sin(a / 2)
    return np.asarray(
        f * a * r + (0.10 + 2.4 * f) * half + 6.6 * f * (np.sqrt(half) + half) / r ** (4 * a / np.pi)
    )


def mitre(angle: Any) -> Floats:
    """Give K of a bend made of two straight ends, without vanes.

    Source: Rennels and Hudson, Pipe Flow (2012), eq. 15.4 (from memory); compared with the `fluids` library.
    """
    half = np.sin(np.asarray(angle, float) / 2)
    return np.asarray(0.42 * half + 2.56 * half**3)


def joining_straight(share: Any, area_ratio: Any = 1.0, angle: float = np.pi / 2) -> Floats:
    """Give K of the straight way of a joining tee or wye, straight ways alike, on the joined velocity;
    ``share`` comes from the side.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (from memory): at right angles 1.55 q - q^2;
    else 1 - (1 - q)^2 - 2 q^2 cos(angle) / a, the balance of momentum along the straight way.
    """
    q = np.asarray(share, float)
    a = np.asarray(area_ratio, float)
    if angle > RIGHT:
        return np.asarray(1.55 * q - q**2)
    return np.asarray(1 - (1 - q) ** 2 - 2 * q**2 * np.cos(angle) / a)


def joining_side(share: Any, area_ratio: Any, angle: float = np.pi / 2) -> Floats:
    """Give K of the side way of a joining tee or wye, on the joined velocity; ``area_ratio`` side over
    joined.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (from memory): A (1 + (q / a)^2 - 2 (1 -
    q)^2 - 2 (q^2 / a) cos(angle)).
    """
    q = np.asarray(share, float)
    a = np.asarray(area_ratio, float)
    strength = np.where(a <= 0.35, 1.0, np.where(q <= 0.4, 0.9 * (1 - q), 0.55))
    return np.asarray(
        strength
        * (1 + (q / a) ** 2 - 2 * (1 - q) ** 2 - 2 * q**2 / a * (np.cos(angle) if angle <= RIGHT else 0.0))
    )


def dividing_straight(share: Any) -> Floats:
    """Give K of the straight way of a dividing tee or wye, on the whole velocity; ``share`` leaves by the
    side.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (from memory): 0.4 q^2 for equal areas.
    """
    return np.asarray(0.4 * np.asarray(share, float) ** 2)


def dividing_side(share: Any, area_ratio: Any, angle: float = np.pi / 2) -> Floats:
    """Give K of the side way of a dividing tee or wye, on the whole velocity.

    Source: Idelchik, Handbook of Hydraulic Resistance, chapter 7 (from memory): A (1 + v^2 - 2 v cos(angle)),
    v the velocity of the side over the whole one, A 1 for slow sides, else 0.9.
    """
    faster = np.asarray(share, float) / np.asarray(area_ratio, float)
    return np.asarray(
        np.where(faster <= 0.8, 1.0, 0.9)
        * (1 + faster**2 - 2 * faster * (np.cos(angle) if angle <= RIGHT else 0.0))
    )
