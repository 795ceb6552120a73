"""What buoyancy does to turbulence, and heat at walls that warm fluid rises along."""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field.closure import Closure, Present, Terms
from mop_lantern.field.turbulence.profile import PRANDTL

Floats = NDArray[np.float64]
MOST = 10.0  # of the dissipation: more is not made by buoyancy, nor lost to it
FLAT = 0.14  # Nusselt over the third root of Rayleigh, on a level surface warm side up
UPRIGHT = 0.13  # the same on an upright surface


def stir(closure: type[Closure], rising: Floats, up: Floats, now: Present, terms: Terms) -> None:
    """Add to the terms of a closure what buoyancy makes of turbulence, or takes where layers lie stable.

    Parameters
    ----------
    rising : (n_cells,) 1/s2, made per eddy viscosity: - g . grad(density / reference) / Pr_t, negative where
    stable. up : (3,) unit vector. now, terms : the field, and what is added to.

    Source: Rodi, Turbulence Models and Their Application in Hydraulics (IAHR, 1980), section 2.6; the share
    of the second equation by the way the flow goes, Henkes, van der Vlugt and Hoogendoorn, Int. J. Heat Mass
    Transfer 34 (1991) 377-388.
    """
    dissipated = closure.dissipation(now.k, now.second)
    made = np.clip(terms.eddy * rising, -MOST * dissipated, MOST * dissipated)
    gained = np.maximum(made, 0.0)
    lost = (gained - made) / now.k
    terms.make += gained
    terms.lose += lost
    terms.pull += lost
    along = now.velocity @ up
    level = np.linalg.norm(now.velocity - along[:, None] * up, axis=1)
    share = np.tanh(np.abs(along) / np.maximum(level, 1e-12))
    terms.make2 += closure.rise * share * gained * now.second / now.k


@dataclass(frozen=True)
class Warmth:
    """How walls differ from the fluid beside them.

    Attributes
    ----------
    lighter : (w,) density the fluid at the surface lacks, over the reference: expansion times how much warmer
    the surface is. gravity : (3,) m/s2.
    """

    lighter: Floats
    gravity: Floats


def natural(
    warmth: Warmth, normal: Floats, away: Floats, nu: Floats, diffusivity: Floats
) -> tuple[Floats, Floats]:
    """Give the heat transfer coefficient over the heat capacity of natural convection on walls, (w,) m/s, and
    what of it the cell does not carry itself.

    It does not know how far the cell is away: what conduction to the cell carries counts towards it, in cubes
    as both are joined, and within the layer that makes it, a / h thick, nothing is added.

    Parameters
    ----------
    normal : (w, 3) out of the fluid. away : (w,) m, of the cell. nu, diffusivity : (w,) m2/s.

    Source: turbulent natural convection, Nu = C Ra^(1/3): 0.14 on level surfaces warm side up, 0.13 on
    upright ones (McAdams, Heat Transmission, 3rd ed. 1954, chapter 7); nothing where layers lie stable.
    """
    strength = float(np.linalg.norm(warmth.gravity))
    if strength <= 0:
        return np.zeros(len(away)), np.zeros(len(away))
    down = normal @ (warmth.gravity / strength)
    upright = np.sqrt(np.maximum(1.0 - down**2, 0.0))
    flat = np.where(warmth.lighter * down > 0, np.abs(down), 0.0)
    constant = np.hypot(FLAT * flat, UPRIGHT * upright)
    h = constant * diffusivity * np.cbrt(strength * np.abs(warmth.lighter) / (nu * diffusivity))
    return h, np.cbrt(np.maximum(h**3 - (diffusivity / away) ** 3, 0.0))


def stratification(slope: Floats, gravity: Floats) -> Floats:
    """Give what turbulence gains from buoyancy per eddy viscosity, (n,) 1/s2, of the gradient (n, 3) 1/m of
    density over the reference.
    """
    return np.asarray(-(slope @ gravity) / PRANDTL)
