"""Valves: flow coefficient and how it follows the opening."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
KV = 1e-5**0.5 * 1000**0.5 / 3600  # a Kv of 1 m3/h: volume flow m3/s at 1 Pa and 1 kg/m3
CV_OF_KV = 1.1561  # US gallons a minute at 1 psi
CHARACTERISTICS = {
    "linear": "linear",
    "equal": "equal-percentage",
    "quick": "quick-opening",
}


def resistance(kv: Any, density: Any) -> Floats:
    """Give the resistance R of drop = R q |q|, Pa/(m3/s)^2, of a valve of so many m3/h at 1 bar.

    Source: definition of Kv (IEC 60534-1): 1 bar, density 1000 kg/m3.
    """
    return np.asarray(np.asarray(density, float) / (np.asarray(kv, float) * KV) ** 2)


def opened(kind: Any, lift: Any, rangeability: Any) -> Floats:
    """Give the share of the full flow coefficient at an opening of 0 to 1.

    Parameters
    ----------
    kind : (k,) str: ``linear``, ``equal`` (equal-percentage), ``quick``. rangeability : largest over smallest
    controlled coefficient.

    Source: IEC 60534-2-4 (linear and equal-percentage; an equal-percentage valve closes linearly below a lift
    of one twentieth, ours); quick-opening as the square root of the lift (common practice, no source).
    """
    h = np.clip(np.asarray(lift, float), 0.0, 1.0)
    of = np.asarray(kind)
    R = np.asarray(rangeability, float)
    equal = R ** (h - 1)
    low = 0.05
    equal = np.where(h < low, R ** (low - 1) * h / low, equal)
    return np.asarray(np.where(of == "equal", equal, np.where(of == "quick", np.sqrt(h), h)))
