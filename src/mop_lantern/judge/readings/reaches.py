"""When another reading passes a limit, in runs in time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import choice, reference, text
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title

Floats = NDArray[np.float64]


class Reaches(Reading):
    """The time at which another reading first passes a limit, or from which on it stays on the safe side:
    until a detector responds, until a room is clear after a leak was shut.

    Source: by straight lines between steps.
    """

    caption: ClassVar[str] = "Time of a limit"
    group: ClassVar[str] = "Of another reading"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.9,-0.1 L0.9,-0.1 M-0.8,0.7 Q0,0.6 0.7,-0.8 M0.2,-0.1 L0.2,0.9"
    )
    sentence: ClassVar[str] = "{id}: time at which {swings} {when} {limit}."
    over_time: ClassVar[bool] = True
    without: ClassVar[str] = "it needs a solution in time in which that reading passes the limit."
    IN_OTHER: ClassVar[tuple[str, ...]] = ("limit",)

    kind: Literal["reaches"] = "reaches"
    title: str = title()
    swings: str = reference(
        "reading", "reading", "The reading that is followed, such as a species at a point."
    )
    when: Literal["rises", "falls", "stays"] = choice(
        "when",
        "First above it, first below it, or for good below it.",
        {"rises": "first rises above", "falls": "first falls below", "stays": "has fallen for good below"},
        default="rises",
    )
    limit: str = text("limit", "In the unit of that reading, such as 20 mg/m3.", default="0")

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A time."""
        return "time"

    @classmethod
    def follow(
        cls,
        numbers: Any,
        times: Floats,
        values: Floats,
    ) -> float:
        """Give the time, s; nan where it is not passed."""
        known = np.isfinite(values)
        return passed(times[known], values[known], float(numbers.limit), numbers.when)


def passed(times: Floats, values: Floats, limit: float, when: str) -> float:
    """Give the time (s) at which values (k,) at times (k,) pass a limit; nan where they do not.

    Parameters
    ----------
    when : "rises": first above, "falls": first below, "stays": below for good after having been above.
    """
    above = values > limit
    if len(values) < 2 or (when == "stays" and (above[-1] or not above.any())):
        return float("nan")
    if when == "stays":
        step = int(np.flatnonzero(above)[-1])
    else:
        wanted = above if when == "rises" else ~above
        if wanted[0]:
            return float(times[0])
        if not wanted.any():
            return float("nan")
        step = int(np.argmax(wanted)) - 1
    rise = values[step + 1] - values[step]
    share = (limit - values[step]) / rise if rise else 1.0
    return float(times[step] + share * (times[step + 1] - times[step]))
