"""Moist air: vapour by its share of the mass, relative humidity, dew point.

Source: ideal mixture of dry air and vapour (ASHRAE Handbook Fundamentals, chapter "Psychrometrics"; not at
hand to check), with the saturation pressure of `laws.vapour` over liquid water.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.laws.vapour import water

Floats = NDArray[np.float64]
RATIO = 0.621945  # of the molar masses of water and dry air
PRESSURE = 101_325.0  # Pa
LIGHTER = 1 / RATIO - 1  # vapour of this share makes the air lighter by as much
_AT = np.linspace(200.0, 373.0, 693)  # K
_LOG = np.log(water(_AT))


def share_of(humidity: Any, temperature: Any) -> Floats:
    """Give the mass of vapour in that of moist air at a relative humidity (0 to 1) and a temperature, K."""
    pressure = np.minimum(np.asarray(humidity) * water(temperature), 0.99 * PRESSURE)
    ratio = RATIO * pressure / (PRESSURE - pressure)
    return np.asarray(ratio / (1 + ratio))


def pressure_of(share: Any) -> Floats:
    """Give the pressure of vapour, Pa, of its share of the mass."""
    held = np.clip(np.asarray(share, float), 0.0, 0.95)
    ratio = held / (1 - held)
    return np.asarray(PRESSURE * ratio / (RATIO + ratio))


def humidity_of(share: Any, temperature: Any) -> Floats:
    """Give the relative humidity, over 1 where vapour would condense."""
    return np.asarray(pressure_of(share) / water(temperature))


def dew_point(share: Any) -> Floats:
    """Give the temperature, K, at which vapour of this share begins to condense; 200 K for none."""
    return np.asarray(np.interp(np.log(np.maximum(pressure_of(share), 1e-30)), _LOG, _AT))
