"""Walls of buildings: films outside, and the sun on them.

Source: ISO 6946:2017, annex C (films), from memory; sol-air temperature: any text on building physics.
"""

from __future__ import annotations

STEFAN_BOLTZMANN = 5.670374e-8  # W/m2/K4 (CODATA 2018)
INSIDE = {"level": 0.13, "up": 0.10, "down": 0.17}  # m2 K/W, by the way heat goes (ISO 6946, table 7)


def wind_film(speed: float) -> float:
    """Give the convective film outside, W/m2/K, at a wind speed in m/s: 4 + 4 v (ISO 6946, annex C)."""
    return 4.0 + 4.0 * speed


def still_film(side: str, size: float, difference: float) -> float:
    """Give the film of still air of room temperature, W/m2/K, at a surface that is so many K off it: the
    larger of the laws for calm and for turbulent layers.

    Parameters
    ----------
    side : "upright", "free" (level, warm side up or cold side down) or "pressed". size : height or width, m.
    Source: McAdams, *Heat Transmission* (3rd ed.), equations 7-5 and 7-8 for air; not at hand to check.
    """
    calm = (difference / size) ** 0.25
    if side == "pressed":
        return float(0.59 * calm)
    slow, fast = (1.42, 1.31) if side == "upright" else (1.32, 1.52)
    return float(max(slow * calm, fast * difference ** (1 / 3)))


def radiant_film(emissivity: float, temperature: float) -> float:
    """Give the film of radiation to surroundings of nearly the same temperature (K), W/m2/K."""
    return 4.0 * emissivity * STEFAN_BOLTZMANN * temperature**3


def sunned(outside: float, absorbed: float, film: float) -> float:
    """Give the sol-air temperature, K: what the air outside would have to be for a wall that absorbs so many
    W/m2 of sun behind a film, W/m2/K.
    """
    return outside + absorbed / film
