"""Readings that keep swinging while a steady flow is sought: their mean over whole periods, and how far they
swing.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

Floats = NDArray[np.float64]
WINDOWS = (0.8, 0.6, 0.4)  # of the course, the longest first: what came before may be the way there
HYSTERESIS = 0.15  # of the half swing: smaller ripples about the mean are no periods
DRIFT = 0.25  # of the half swing: means of periods further apart are still on their way
AMPLITUDE = (0.6, 1.5)  # of the first period's swing: below it dies out, above it grows
FEWEST = 4  # steps that make two halves
OF_SWING = 4.0
WHOLE = 2  # periods: with fewer the mean is that of the whole stretch


@dataclass(frozen=True)
class Swing:
    """How a course swings: ``mean`` over whole periods, ``half`` of the way from its least to its largest
    value, ``period`` in the unit of its places, ``periods`` counted.
    """

    mean: float
    half: float
    period: float
    periods: int


def swing_of(
    places: Floats,
    values: Floats,
    least: int = 3,
) -> Swing | None:
    """Find a swing that neither dies out nor drifts away; None where there is none.

    Parameters
    ----------
    places : (k,) iterations or times, ascending. values : (k,) of a reading. least : whole periods wanted.
    """
    good = np.isfinite(values)
    places, values = places[good], values[good]
    for share in WINDOWS:
        window = slice(int(round((1 - share) * len(values))), None)
        found = _in_window(places[window], values[window], least)
        if found is not None:
            return found
    return None


def _in_window(places: Floats, values: Floats, least: int) -> Swing | None:
    if len(values) < 4 * least:
        return None
    rises = rises_of(values)
    if len(rises) < least + 1:
        return None
    pieces = [values[start:end] for start, end in zip(rises[:-1], rises[1:], strict=True)]
    swings = np.array([np.ptp(piece) / 2 for piece in pieces])
    means = np.array([piece.mean() for piece in pieces])
    half = float(np.median(swings))
    first, last = swings[: len(swings) // 2].mean(), swings[-(len(swings) // 2) :].mean()
    if not half > 0 or np.ptp(_halves(means)) > DRIFT * half:
        return None
    if not AMPLITUDE[0] <= last / first <= AMPLITUDE[1]:
        return None
    mean = float(values[rises[0] : rises[-1]].mean())
    period = float(places[rises[-1]] - places[rises[0]]) / len(pieces)
    return Swing(mean, float(np.ptp(values[rises[0] : rises[-1]]) / 2), period, len(pieces))


def _halves(means: Floats) -> Floats:
    """Give the mean of the earlier and of the later periods."""
    middle = len(means) // 2
    return np.array([means[: max(middle, 1)].mean(), means[-max(middle, 1) :].mean()])


def rises_of(values: Floats) -> list[int]:
    """Give where a course rises through the middle of its values, ripples left out."""
    off = values - np.median(values)
    slack = HYSTERESIS * np.ptp(np.quantile(off, (0.05, 0.95))) / 2
    found = []
    low = False
    for k, value in enumerate(off):
        if value < -slack:
            low = True
        elif value > slack and low:
            found.append(k)
            low = False
    return found


def counted(times: Floats, values: Floats, begin: float) -> tuple[Floats, Floats]:
    """Give what counts of a course from ``begin`` (s) on, each time once."""
    use = np.isfinite(values) & (times >= begin * (1 - 1e-12))
    times, first = np.unique(times[use], return_index=True)
    return times, values[use][first]


def mean_over(times: Floats, values: Floats) -> float:
    """Give the mean of values (k,) over times (k,) s: over whole periods where there are two or more."""
    rises = rises_of(values)
    if len(rises) > WHOLE:
        whole = slice(rises[0], rises[-1] + 1)
        times, values = times[whole], values[whole]
    return float(np.trapezoid(values, times) / (times[-1] - times[0]))


def drift_of(times: Floats, values: Floats, level: float | None = None) -> float:
    """Give by how much the means of the earlier and the later half of a course differ, of the mean, or of
    four times the swing where that is more; of ``level`` instead of the mean, where the quantity has no zero
    that means something.
    """
    if len(times) < FEWEST:
        return 0.0
    middle = 0.5 * (times[0] + times[-1])
    early, late = times <= middle, times >= middle
    if early.sum() < WHOLE or late.sum() < WHOLE:
        return 0.0
    means = [mean_over(times[half], values[half]) for half in (early, late)]
    level = abs(float(np.mean(means))) if level is None else level
    scale = max(level, OF_SWING * float(np.ptp(values)) / 2)
    return abs(means[1] - means[0]) / scale if scale > 0 else 0.0
