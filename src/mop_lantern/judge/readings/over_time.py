"""The mean of another reading over time, in runs in time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title
from mop_lantern.judge.swing import counted, drift_of, mean_over

Floats = NDArray[np.float64]


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
        if numbers.measure != "mean":
            return 0.0
        level = 0.0 if numbers.followed == "temperature" else None
        return drift_of(*counted(times, values, float(numbers.begin)), level)
