"""Heat exchange: effectiveness by number of transfer units, layers around pipes."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
ARRANGEMENTS = {
    "counter": "counterflow",
    "parallel": "parallel flow",
    "cross": "crossflow, both unmixed",
    "shell": "one shell pass, two tube passes",
}


def effectiveness(arrangement: str, units: Any, ratio: Any) -> Floats:
    """Give the effectiveness by number of transfer units and ratio of heat capacity flows (smaller over
    larger).

    Source: Kays and London, Compact Heat Exchangers; Incropera, Fundamentals of Heat and Mass Transfer, table
    11.3 (crossflow: the usual approximation within a few per cent of the exact series).
    """
    n = np.asarray(units, float)
    c = np.asarray(ratio, float)
    if arrangement == "counter":
        c_ = np.where(c > 1 - 1e-6, 1 - 1e-6, c)
        e = np.exp(-n * (1 - c_))
        return np.asarray(np.where(c > 1 - 1e-6, n / (1 + n), (1 - e) / (1 - c_ * e)))
    if arrangement == "parallel":
        return np.asarray((1 - np.exp(-n * (1 + c))) / (1 + c))
    if arrangement == "shell":
        root = np.sqrt(1 + c**2)
        e = np.exp(-n * root)
        return np.asarray(2 / (1 + c + root * (1 + e) / np.maximum(1 - e, 1e-300)))
    return _unmixed(n, c)


def _unmixed(n: Floats, c: Floats) -> Floats:
    """Crossflow with both streams unmixed: mean of the exact local solution, by quadrature.

    Source: Nusselt's solution (Baclic, Int. J. Heat Mass Transfer 21 (1978) 1027): the series of Bessel
    functions, summed.
    """
    from scipy.special import ive

    n, c = np.broadcast_arrays(n, np.maximum(c, 1e-9))
    root = 2 * n * np.sqrt(c)
    total = ive(0, root) + np.sqrt(c) * ive(1, root)
    for k in range(2, 61):
        total = total - (1 - c) / c * c ** (k / 2) * ive(k, root)
    return np.asarray(np.where(n > 0, 1 - np.exp(root - n * (1 + c)) * total, 0.0))


def round_layers(
    diameter: Any,
    inside: Any,
    layers: list[tuple[Any, Any]],
    outside: Any,
) -> Floats:
    """Give the heat transmittance of a pipe on its inner surface, W/m2/K.

    Parameters
    ----------
    diameter : bore, m. inside, outside : films, W/m2/K. layers : (thickness m, conductivity W/m/K) from the
    inside out.

    Source: resistances of round layers in a row; any text on heat conduction.
    """
    inner = np.asarray(diameter, float) / 2
    resistance = 1 / np.asarray(inside, float)
    radius = inner
    for thickness, conductivity in layers:
        resistance = resistance + inner * np.log((radius + thickness) / radius) / conductivity
        radius = radius + thickness
    return np.asarray(1 / (resistance + inner / (radius * np.asarray(outside, float))))
