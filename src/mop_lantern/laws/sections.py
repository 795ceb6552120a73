"""Sections of passages: laminar friction of rectangles, equivalents of ducts, sizes pipes and ducts are made
in.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]

ROUGHNESS: dict[str, tuple[str, float]] = {
    # Moody, Trans. ASME 66 (1944) 671-684, as tabulated in White, Fluid Mechanics (from memory); PVC and
    # flexible: common practice, no source
    "smooth": ("drawn tube or plastic", 1.5e-6),
    "steel": ("commercial steel", 4.5e-5),
    "galvanised": ("galvanised iron", 1.5e-4),
    "cast_iron": ("cast iron", 2.6e-4),
    "asphalted": ("asphalted cast iron", 1.2e-4),
    "concrete": ("concrete", 1.0e-3),
    "sheet": ("galvanised sheet duct", 9.0e-5),
    "flexible": ("flexible duct, stretched", 1.5e-3),
}

# Outside diameter (mm) by nominal size DN: EN 10255/ISO 4200 series 1 and ASME B36.10 agree on these (from
# memory)
OUTSIDE = {
    6: 10.3,
    8: 13.7,
    10: 17.1,
    15: 21.3,
    20: 26.7,
    25: 33.4,
    32: 42.2,
    40: 48.3,
    50: 60.3,
    65: 73.0,
    80: 88.9,
    100: 114.3,
    125: 141.3,
    150: 168.3,
    200: 219.1,
    250: 273.0,
    300: 323.8,
    350: 355.6,
    400: 406.4,
    450: 457.0,
    500: 508.0,
    600: 610.0,
}
# Wall (mm) of schedule 40, ASME B36.10M (from memory)
SCHEDULE_40 = {
    6: 1.73,
    8: 2.24,
    10: 2.31,
    15: 2.77,
    20: 2.87,
    25: 3.38,
    32: 3.56,
    40: 3.68,
    50: 3.91,
    65: 5.16,
    80: 5.49,
    100: 6.02,
    125: 6.55,
    150: 7.11,
    200: 8.18,
    250: 9.27,
    300: 10.31,
    350: 11.13,
    400: 12.70,
    450: 14.27,
    500: 15.09,
    600: 17.48,
}


def bore(nominal: int) -> float:
    """Give the bore of a schedule 40 pipe of a nominal size DN, m.

    Raises
    ------
    KeyError : no such size.
    """
    return (OUTSIDE[nominal] - 2 * SCHEDULE_40[nominal]) * 1e-3


def rectangle_product(ratio: Any) -> Floats:
    """Give the laminar product f Re (Darcy, hydraulic diameter) of rectangles by their ratio of sides, 0 to
    1.

    Source: Shah and London, Laminar Flow Forced Convection in Ducts (1978), polynomial for Fanning f Re (from
    memory).
    """
    a = np.asarray(ratio, float)
    a = np.where(a > 1, 1 / np.maximum(a, 1e-300), a)
    return np.asarray(96.0 * (1 - 1.3553 * a + 1.9467 * a**2 - 1.7012 * a**3 + 0.9564 * a**4 - 0.2537 * a**5))


def round_equivalent(a: Any, b: Any) -> Floats:
    """Give the diameter of the round duct that loses as much at the same flow, m.

    Source: Huebscher, ASHVE Trans. 54 (1948) 101-144: 1.30 (a b)^0.625 / (a + b)^0.25.
    """
    return np.asarray(1.30 * (np.asarray(a, float) * b) ** 0.625 / (np.asarray(a, float) + b) ** 0.25)
