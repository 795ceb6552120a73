"""The mean of another reading over time, in runs in time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title
from mop_lantern.judge.swing import rises_of

Floats = NDArray[np.float64]
FEWEST = 4  # steps that make two halves
OF_SWING = 4.0
WHOLE = 2  # periods: with fewer the mean is that of the whole stretch


class OverTime(Reading):
    """The mean, smallest or largest value of another reading over time: of a room whose jets swing, of
    the lift on a body that sheds vortices. The mean is taken over whole periods, where it swings.

    Source: trapezoids between steps.
    """

    caption: ClassVar[str] = "Mean over time"
    group: ClassVar[str] = "Of another reading"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,-0.4 Q-0.55,0.6 -0.3,-0.1 Q-0.05,-0.8 0.2,-0.1 "
        "Q0.45,0.6 0.7,-0.4 M-0.9,-0.1 L0.9,-0.1"
    )
    sentence: ClassVar[str] = "{id}: {measure} of {swings} over time, from {begin} on."
    over_time: ClassVar[bool] = True
    without: ClassVar[str] = "it needs a solution in time that goes on beyond the time it begins at."

    kind: Literal["over_time"] = "over_time"
    title: str = title()
    swings: str = reference("reading", "reading", "The reading that is followed, such as a speed at a point.")
    measure: Literal["mean", "min", "max"] = choice(
        "measure",
        "What is reported.",
        {"mean": "the mean", "min": "the smallest value", "max": "the largest value"},
        default="mean",
    )
    begin: Text = quantity(
        "time",
        "from",
        "What comes before, such as the way from the start, does not count.",
        default="0 s",
        at_least=0,
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """That of the reading followed."""
        return str(getattr(numbers, "followed", "number"))

    @classmethod
    def follow(cls, numbers: Any, times: Floats, values: Floats) -> float:
        """Give the value, SI; nan where less than two steps count."""
        times, values = counted(times, values, float(numbers.begin))
        if len(times) < 2:
            return float("nan")
        if numbers.measure == "mean":
            return mean_over(times, values)
        return float(values.min() if numbers.measure == "min" else values.max())

    @classmethod
    def swing(cls, numbers: Any, times: Floats, values: Floats) -> float:
        """Give how far the reading goes to either side of its mean, SI."""
        _, values = counted(times, values, float(numbers.begin))
        return float(np.ptp(values) / 2) if numbers.measure == "mean" and len(values) > 1 else 0.0

    @classmethod
    def drift(cls, numbers: Any, times: Floats, values: Floats) -> float:
        """Give by how much the means of the earlier and the later half differ, of the mean, or of four times
        the swing where that is more.
        """
        times, values = counted(times, values, float(numbers.begin))
        if numbers.measure != "mean" or len(times) < FEWEST:
            return 0.0
        middle = 0.5 * (times[0] + times[-1])
        early, late = times <= middle, times >= middle
        if early.sum() < WHOLE or late.sum() < WHOLE:
            return 0.0
        means = [mean_over(times[half], values[half]) for half in (early, late)]
        level = 0.0 if numbers.followed == "temperature" else abs(float(np.mean(means)))
        scale = max(level, OF_SWING * float(np.ptp(values)) / 2)
        return abs(means[1] - means[0]) / scale if scale > 0 else 0.0


def counted(times: Floats, values: Floats, begin: float) -> tuple[Floats, Floats]:
    """Give what counts of a course from ``begin`` (s) on, each time once."""
    use = np.isfinite(values) & (times >= begin)
    times, first = np.unique(times[use], return_index=True)
    return times, values[use][first]


def mean_over(times: Floats, values: Floats) -> float:
    """Give the mean of values (k,) over times (k,) s: over whole periods where there are two or more."""
    rises = rises_of(values)
    if len(rises) > WHOLE:
        whole = slice(rises[0], rises[-1] + 1)
        times, values = times[whole], values[whole]
    return float(np.trapezoid(values, times) / (times[-1] - times[0]))
