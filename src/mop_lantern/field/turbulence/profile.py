"""The law of the wall: velocity and temperature beside a wall, smooth or rough, as functions of distance.

All in wall units: y+ = y u_tau / nu, u+ = U / u_tau, T+ = (T_wall - T) u_tau / (flux over density and heat
capacity). One table, inverted once; nothing here iterates on a smooth wall, and the laminar limit is exact.
"""

from __future__ import annotations

from functools import cache
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
KAPPA = 0.41
ADDED = 5.2  # B of the log law: what the closures' own fine solutions give (5.2 at y+ 100, 5.4 at 300)
PRANDTL = 0.85  # turbulent Prandtl number; Kader (1981) and common practice
ROUGH = 0.3  # of k_s+ in the shift of a rough wall: ln(1 + 0.3 k_s+) / kappa
LEAST = 1.0  # of u+ on a rough wall
SMOOTH, FULLY = 2.25, 90.0  # k_s+ up to which a wall is smooth, from which fully rough, to heat
PASSES = 20  # half-way steps for friction on a rough wall


def velocity(y: Any) -> Any:
    """Give u+ at y+ on a smooth wall (Reichardt, Z. angew. Math. Mech. 31 (1951) 208, with B = 5.2)."""
    y = np.asarray(y, float)
    rest = ADDED - np.log(KAPPA) / KAPPA
    return np.log1p(KAPPA * y) / KAPPA + rest * (1 - np.exp(-y / 11) - y / 11 * np.exp(-y / 3))


@cache
def _table() -> tuple[Floats, Floats]:
    """Give ln(y+ u+) and ln y+, ascending."""
    y = np.geomspace(1e-4, 1e7, 9000)
    return np.log(y * velocity(y)), np.log(y)


def from_reynolds(reynolds: Any) -> Floats:
    """Give y+ where U y / nu is so much, on a smooth wall."""
    ahead, ln_y = _table()
    small = np.sqrt(np.maximum(reynolds, 0.0))  # u+ = y+ below the table
    found = np.exp(np.interp(np.log(np.maximum(reynolds, 1e-300)), ahead, ln_y))
    return np.asarray(np.where(np.asarray(reynolds) < np.exp(ahead[0]), small, found))


def steepness(y: Any, roughness: Any = 0.0) -> Floats:
    """Give y+ / u+: how much more a wall pulls at y+ than in laminar flow; ``roughness`` is k_s+."""
    y = np.maximum(np.asarray(y, float), 1e-9)
    smooth = velocity(y)
    rough = np.maximum(smooth - np.log1p(ROUGH * np.asarray(roughness)) / KAPPA, np.minimum(LEAST, smooth))
    return np.asarray(y / rough)


def friction(
    speed: Floats,
    y: Floats,
    nu: Floats,
    roughness: Floats,
    energy: Floats | None,
    former: Floats | None = None,
) -> Floats:
    """Give the wall shear over the density (m2/s2) from what a flow is at a distance from the wall.

    The geometric mean of a one-scale law, from the speed alone, and a two-scale one, from the speed and the
    turbulence energy: the first errs in the buffer layer, the second where energy is carried from elsewhere.

    Parameters
    ----------
    speed : along the wall, relative to it, m/s. y : m. nu : m2/s. roughness : sand grain k_s, m. energy : k,
    m2/s2; None for the one-scale law alone. former : the friction before, from which that of rough walls is
    found.
    """
    one = (from_reynolds(speed * y / nu) * nu / y) ** 2
    rough = np.flatnonzero(roughness > 0)
    if len(rough):
        grain, s, h, n = roughness[rough], speed[rough], y[rough], nu[rough]
        tau = one[rough] if former is None else np.maximum(former[rough], one[rough])
        for _ in range(PASSES):
            scale = np.sqrt(np.maximum(tau, 1e-300))
            tau = np.sqrt(tau * s * n / h * steepness(h * scale / n, grain * scale / n))
        one[rough] = tau
    if energy is None:
        return one
    scale = 0.09**0.25 * np.sqrt(energy)
    two = speed * nu / y * steepness(y * scale / nu, roughness * scale / nu)
    return np.asarray(np.sqrt(one * two))


def temperature(y: Any, prandtl: Any, roughness: Any = 0.0) -> Floats:
    """Give T+ at y+ for a Prandtl number from 0.7 to thousands (Kader, Int. J. Heat Mass Transfer 24 (1981)
    1541), on a wall of a roughness k_s+.
    """
    y = np.maximum(np.asarray(y, float), 1e-9)
    beta = (3.85 * np.cbrt(prandtl) - 1.3) ** 2 + 2.12 * np.log(prandtl)
    gamma = 0.01 * (prandtl * y) ** 4 / (1 + 5 * prandtl**3 * y)
    smooth = prandtl * y * np.exp(-gamma) + (2.12 * np.log1p(y) + beta) * np.exp(
        -1 / np.maximum(gamma, 1e-30)
    )
    return np.asarray(
        np.maximum(smooth - _warmth_of_grains(beta, prandtl, roughness), np.minimum(LEAST, smooth))
    )


def _warmth_of_grains(beta: Any, prandtl: Any, roughness: Any) -> Floats:
    """Give by how much T+ is less at a roughness k_s+ than on a smooth wall, where its constant is ``beta``.

    Among grains T+ is 5.19 k_s+^0.2 Pr^0.44 (Dipprey & Sabersky, Int. J. Heat Mass Transfer 6 (1963) 329, who
    measured Prandtl numbers of 1.2 to 5.9); far less than the friction gains, as no pressure acts on heat.
    Between smooth and fully rough, k_s+ of 2.25 and 90, goes the sine of Ligrani & Moffat (J. Fluid Mech. 162
    (1986) 69).
    """
    grain = np.maximum(np.asarray(roughness, float), SMOOTH)
    lost = beta + 2.12 * np.log(grain) - 5.19 * grain**0.2 * np.asarray(prandtl, float) ** 0.44
    share = np.clip(np.log(grain / SMOOTH) / np.log(FULLY / SMOOTH), 0.0, 1.0)
    return np.asarray(np.sin(0.5 * np.pi * share) * np.maximum(lost, 0.0))


def shear_speed(reynolds: float) -> float:
    """Give u_tau over the mean velocity of developed flow in a smooth pipe or, by its hydraulic diameter,
    between plates (Prandtl's friction law, as in White, *Fluid Mechanics*, section 6.6).
    """
    root = 0.15
    for _ in range(30):  # of the friction factor
        root = 1 / max(2 * np.log10(max(reynolds, 1000.0) * root) - 0.8, 1.0)
    return float(root / np.sqrt(8))


def developed(off: Floats, reynolds: float) -> Floats:
    """Give the shape of the developed turbulent velocity (any scale) at places ``off`` the wall, from 0 there
    to 1 in the middle.
    """
    return np.asarray(velocity(np.maximum(off, 0.0) * 0.5 * reynolds * shear_speed(reynolds)))


def developed_energy(off: Floats) -> Floats:
    """Give k / u_tau2 of developed flow: 3.3 beside the wall, where production balances dissipation, and 0.9
    in the middle (common practice, no source).
    """
    return np.asarray(0.9 + 2.4 * (1 - off))


def developed_length(off: Floats) -> Floats:
    """Give the mixing length over the radius in a pipe (Nikuradse, Forschungsheft 356 (1932), as in
    Schlichting, *Boundary-Layer Theory*, chapter 20).
    """
    inward = 1 - np.clip(off, 0.0, 1.0)
    return np.asarray(np.maximum(0.14 - 0.08 * inward**2 - 0.06 * inward**4, 1e-4))
