"""Second-order backward differences with steps of changing length."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]


def weights(step: float, former: float | None) -> tuple[float, tuple[float, ...]]:
    """Give the weights of the time derivative, 1/s: of the new state, and (subtracted) of the former ones,
    newest first.

    Parameters
    ----------
    step : from the last state to the new one, s. former : from the one before to the last, s; None at the
    first step.

    References
    ----------
    Hairer, Norsett and Wanner, *Solving Ordinary Differential Equations I* (2nd ed.), section III.5
    (variable-step BDF2).
    """
    if former is None:
        return 1 / step, (1 / step,)
    ratio = step / former
    return (1 + 2 * ratio) / (1 + ratio) / step, ((1 + ratio) / step, -(ratio**2) / (1 + ratio) / step)


def swept_rate(rate: tuple[float, tuple[float, ...]], swept: Sequence[Floats]) -> Floats:
    """Give the rate of what was swept, from what was swept in every step: the same difference that `weights`
    forms of volumes, so that both close to rounding.

    Parameters
    ----------
    rate : as `weights` gives it. swept : (n,) of every step, oldest first; zero length where nothing moved.
    """
    now, former = rate
    total = np.zeros(0)
    # now V2 - w1 V1 - w2 V0 = now (V2 - V1) + w2 (V1 - V0), as the weights of a constant add up to nothing
    for weight, part in zip((now, *former[1:]), reversed(swept), strict=True):
        if len(part):
            total = weight * part + (total if len(total) else 0.0)
    return total
