"""Vapour pressure of water."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def water(temperature: Any) -> Floats:
    """Give the saturation pressure of water, Pa, at temperatures (K) from the triple point on.

    Source: Wagner and Pruss, J. Phys. Chem. Ref. Data 22 (1993) 783-787 (saturation line, used by IAPWS-95;
    from memory).
    """
    T = np.asarray(temperature, float)
    v = np.maximum(1 - T / 647.096, 0.0)  # beyond the critical point there is no vapour to form
    terms = (
        -7.85951783 * v
        + 1.84408259 * v**1.5
        - 11.7866497 * v**3
        + 22.6807411 * v**3.5
        - 15.9618719 * v**4
        + 1.80122502 * v**7.5
    )
    return np.asarray(22.064e6 * np.exp(647.096 / T * terms))
