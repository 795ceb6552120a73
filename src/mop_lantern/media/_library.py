"""Property tables made once with an open property library (see `bench/media_tables.py`) and read here."""

from __future__ import annotations

from functools import cache
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
PROPERTIES = ("density", "viscosity", "capacity", "conductivity")


@cache
def _stored() -> dict[str, Any]:
    with np.load(Path(__file__).parent / "assets" / "properties.npz") as file:
        return {name: file[name] for name in file.files}


def table(name: str, share: float = 0.0) -> dict[str, Floats]:
    """Give a library fluid over temperature, at a share (salt, glycol, relative humidity) where it has one.

    Raises
    ------
    ValueError : the share lies outside the data.
    """
    stored = _stored()
    over = {"temperature": stored[f"{name}.temperature"]}
    if f"{name}.share" not in stored:
        return over | {item: stored[f"{name}.{item}"] for item in PROPERTIES}
    shares = stored[f"{name}.share"]
    if not shares[0] - 1e-12 <= share <= shares[-1] + 1e-12:
        raise ValueError(f"shares from {shares[0]:.3g} to {shares[-1]:.3g} are known, not {share:.3g}.")
    at = int(np.clip(np.searchsorted(shares, share, "right") - 1, 0, len(shares) - 2))
    part = (share - shares[at]) / (shares[at + 1] - shares[at])
    for item in PROPERTIES:
        low = stored[f"{name}.{item}"][at]
        high = stored[f"{name}.{item}"][at + 1]
        if part < 1e-12:
            over[item] = low
        elif item == "viscosity":
            over[item] = np.exp((1 - part) * np.log(low) + part * np.log(high))
        else:
            over[item] = (1 - part) * low + part * high
    return over
