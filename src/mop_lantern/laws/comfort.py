"""Thermal comfort: predicted mean vote, dissatisfied, draught, operative temperature.

Sources: ISO 7730:2005, sections 4 to 6 and annex D; its equations from memory, checked against its own table
(reference O-8.7). Operative temperature: ISO 7726:1998, annex G.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
MET = 58.15  # W/m2
CLO = 0.155  # m2 K/W
ZERO = 273.15
ROUNDS = 60
STILL = 0.05  # m/s: slower air is no draught
FASTEST = 0.5  # m/s: the rating is made for slower air
COLDEST, WARMEST = 20.0, 26.0  # degrees C of the rating


def saturation(celsius: Any) -> Any:
    """Give the vapour pressure of water at saturation, Pa, as ISO 7730 does (annex D)."""
    return 1000 * np.exp(16.6536 - 4030.183 / (np.asarray(celsius) + 235))


def mean_vote(air: Any, radiant: Any, speed: Any, humidity: Any, activity: float, clothing: float) -> Floats:
    """Give the predicted mean vote, -3 cold to 3 hot, (n,).

    Parameters
    ----------
    air, radiant : (n,) degrees C. speed : (n,) m/s. humidity : 0 to 1. activity : W/m2. clothing : m2 K/W.
    """
    air, radiant, speed = np.broadcast_arrays(*(np.asarray(each, float) for each in (air, radiant, speed)))
    vapour = humidity * saturation(air)
    made = activity  # no outer work
    factor = 1 + 1.29 * clothing if clothing <= 0.078 else 1.05 + 0.645 * clothing
    forced = 12.1 * np.sqrt(np.maximum(speed, 0.0))
    ta, tr = air + ZERO, radiant + ZERO
    surface = ta + (35.5 - air) / (3.5 * (6.45 * clothing + 0.1))
    for _ in range(ROUNDS):  # half-way steps: the fourth power overshoots
        film = np.maximum(forced, 2.38 * np.abs(surface - ta) ** 0.25)
        shone = 3.96e-8 * factor * (surface**4 - tr**4)
        skin = 35.7 - 0.028 * made + ZERO
        # linear in the surface about its last value, so that it settles at once
        slope = clothing * (factor * film + 4 * 3.96e-8 * factor * surface**3)
        wanted = skin - clothing * (shone + factor * film * (surface - ta))
        surface = (wanted + slope * surface) / (1 + slope)
    film = np.maximum(forced, 2.38 * np.abs(surface - ta) ** 0.25)
    lost = (
        3.05e-3 * (5733 - 6.99 * made - vapour)
        + max(0.42 * (made - MET), 0.0)
        + 1.7e-5 * made * (5867 - vapour)
        + 0.0014 * made * (34 - air)
        + 3.96e-8 * factor * (surface**4 - tr**4)
        + factor * film * (surface - ta)
    )
    return np.asarray((0.303 * np.exp(-0.036 * made) + 0.028) * (made - lost))


def dissatisfied(vote: Any) -> Floats:
    """Give the predicted share of dissatisfied, 0 to 1."""
    vote = np.asarray(vote, float)
    return np.asarray(1 - 0.95 * np.exp(-0.03353 * vote**4 - 0.2179 * vote**2))


def draught(air: Any, speed: Any, intensity: Any) -> Floats:
    """Give the draught rating, 0 to 1: the share of people it bothers.

    Parameters
    ----------
    air : degrees C. speed : m/s. intensity : of turbulence, 0 to 1 of the speed at the place.
    """
    beyond = np.maximum(np.asarray(speed, float) - STILL, 0.0)
    percent = 100 * np.asarray(intensity, float)
    rating = np.maximum(34 - np.asarray(air), 0.0) * beyond**0.62 * (0.37 * speed * percent + 3.14)
    return np.asarray(np.clip(rating / 100, 0.0, 1.0))


def operative(air: Any, radiant: Any, speed: Any) -> Floats:
    """Give the operative temperature of air and surroundings, in their unit: the share of the air is 0.5 in
    calm air under 0.2 m/s, 0.6 up to 0.6 and 0.7 beyond (ISO 7726, annex G).
    """
    share = np.select([np.asarray(speed) < 0.2, np.asarray(speed) < 0.6], [0.5, 0.6], 0.7)
    return np.asarray(share * np.asarray(air) + (1 - share) * np.asarray(radiant))
