"""Friction in straight passages: laminar, rough turbulent, and the way between them."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
LAMINAR, TURBULENT = 2000.0, 4000.0
_LN = 2.0 / np.log(10.0)


def colebrook(reynolds: Any, roughness: Any) -> Floats:
    """Give the Darcy friction factor of Colebrook and White, to rounding.

    Parameters
    ----------
    reynolds : any shape. roughness : over the diameter, same shape.

    Source: Colebrook, J. Inst. Civ. Eng. 11 (1939) 133-156, with the constants 3.7 and 2.51.
    """
    g = _inverse_root(np.asarray(reynolds, float), np.asarray(roughness, float))
    return np.asarray(g**-2.0)


def _inverse_root(reynolds: Floats, roughness: Floats) -> Floats:
    """Solve g = -2 log10(e / 3.7 + 2.51 g / Re) by Newton's method from Haaland's explicit formula."""
    rough = roughness / 3.7
    g = -1.8 * np.log10(rough**1.11 + 6.9 / reynolds)
    for _ in range(3):
        inside = rough + 2.51 * g / reynolds
        wrong = g + _LN * np.log(inside)
        g = g - wrong / (1.0 + _LN * 2.51 / (reynolds * inside))
    return np.asarray(g)


def darcy(reynolds: Any, roughness: Any, laminar: Any = 64.0) -> tuple[Floats, Floats]:
    """Give the friction factor at any Reynolds number, and its derivative by the Reynolds number.

    Laminar (``laminar`` / Re) below 2000, Colebrook above 4000, between them a blend with continuous slope,
    so that the pressure drop rises with the flow everywhere. ``laminar`` is 64 for a pipe and four times the
    Fanning product for other sections.

    Source: Hagen-Poiseuille; Colebrook; the blend is ours (common practice, no source).
    """
    re = np.maximum(np.asarray(reynolds, float), 1e-12)
    rough = np.broadcast_to(np.asarray(roughness, float), re.shape)
    slow = laminar / re
    slow_by = -laminar / re**2
    high = np.maximum(re, LAMINAR)
    g = _inverse_root(high, rough)
    inside = rough / 3.7 + 2.51 * g / high
    g_by = _LN * 2.51 * g / (high**2 * inside) / (1.0 + _LN * 2.51 / (high * inside))
    fast = g**-2.0
    fast_by = -2.0 * g**-3.0 * g_by
    x = np.clip((re - LAMINAR) / (TURBULENT - LAMINAR), 0.0, 1.0)
    share = x * x * (3 - 2 * x)
    share_by = 6 * x * (1 - x) / (TURBULENT - LAMINAR)
    f = (1 - share) * slow + share * fast
    by = (1 - share) * slow_by + share * fast_by + share_by * (fast - slow)
    return np.asarray(f), np.asarray(by)


def straight_drop(
    flow: Floats,
    length: Any,
    area: Any,
    diameter: Any,
    rough: Any,
    density: Any,
    viscosity: Any,
    laminar: Any = 64.0,
) -> tuple[Floats, Floats]:
    """Give the friction loss of straight passages, Pa, and its slope by the volume flow, Pa/(m3/s).

    Parameters
    ----------
    flow : (k,) m3/s, signed. length, area, diameter (hydraulic), rough : SI. density, viscosity : SI.

    Source: Darcy and Weisbach.
    """
    speed = np.abs(flow) / area
    reynolds = density * speed * diameter / viscosity
    f, by = darcy(reynolds, rough / diameter, laminar)
    scale = length / diameter * 0.5 * density
    drop = scale * f * speed * np.sign(flow) * speed
    still = scale * laminar * viscosity / (density * diameter) / area  # slope at rest
    slope = scale * (2 * f * speed + by * speed**2 * density * diameter / viscosity) / area
    return np.asarray(drop), np.asarray(np.where(reynolds < 1e-6, still, slope))


def local_drop(
    flow: Floats,
    k: Any,
    area: Any,
    density: Any,
    viscosity: Any,
    diameter: Any,
) -> tuple[Floats, Floats]:
    """Give the loss k rho v |v| / 2, Pa, and its slope; below a Reynolds number of about ten it becomes
    proportional to the flow.

    Source: definition of the loss coefficient; the creeping end is ours, to keep the slope above zero (common
    practice, no source).
    """
    creep = 10.0 * viscosity / (density * diameter) * area
    root = np.sqrt(flow**2 + creep**2)
    scale = 0.5 * k * density / np.square(area)
    return np.asarray(scale * flow * root), np.asarray(scale * (root + flow**2 / root))


def entry_of(reynolds: Any) -> Floats:
    """Give the usual laminar entrance length over the diameter, 0.06 Re (common practice, no source)."""
    return np.asarray(0.06 * np.asarray(reynolds, float))
