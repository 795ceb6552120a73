"""Second-order backward differences with steps of changing length."""

from __future__ import annotations


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
