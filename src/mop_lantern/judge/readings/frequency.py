"""How often another reading swings, in runs in time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title

Floats = NDArray[np.float64]
FEWEST = 3  # rises through the mean: two whole periods
MOST = 11  # the last periods count
ALIKE = 0.15  # of the last period: earlier ones that differ by more belong to the start
BAND = 0.1  # of the swing, about the mean: wobbles within it are no swing


class Frequency(Reading):
    """The frequency at which another reading swings, or the Strouhal number f L / U that follows from it.

    Source: times at which the reading rises through its mean, by straight lines between steps, over the last
    ten periods that are alike; what does not leave a tenth of the swing about the mean is not counted.
    """

    caption: ClassVar[str] = "Frequency"
    group: ClassVar[str] = "Of another reading"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,0 Q-0.55,-0.9 -0.3,0 Q-0.05,0.9 0.2,0 Q0.45,-0.9 0.7,0"
    )
    sentence: ClassVar[str] = "{id}: {measure} of {swings}, from {begin} on; length {length}, speed {speed}."
    plain: ClassVar[str] = "{id}: {measure} of {swings}, from {begin} on."
    over_time: ClassVar[bool] = True
    without: ClassVar[str] = (
        "it needs a solution in time in which that reading swings at least twice, and steadily."
    )

    kind: Literal["frequency"] = "frequency"
    title: str = title()
    swings: str = reference("reading", "reading", "The reading that swings, such as a lift force.")
    measure: Literal["frequency", "strouhal"] = choice(
        "measure",
        "What is reported.",
        {"frequency": "the frequency", "strouhal": "the Strouhal number"},
        default="frequency",
    )
    begin: Text = quantity(
        "time",
        "from",
        "What comes before is ignored.",
        default="0 s",
        at_least=0,
    )
    length: Text = quantity(
        "length",
        "length",
        "L of the Strouhal number, such as a diameter.",
        default="1 m",
        above=0,
    )
    speed: Text = quantity(
        "velocity",
        "speed",
        "U of the Strouhal number, such as the mean upstream.",
        default="1 m/s",
        above=0,
    )

    def template(self, space: bool = False) -> str:
        """Leave out what only a Strouhal number needs."""
        return type(self).plain if self.measure == "frequency" else type(self).sentence

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A frequency, or a plain number."""
        return "frequency" if numbers.measure == "frequency" else "number"

    @classmethod
    def follow(
        cls,
        numbers: Any,
        times: Floats,
        values: Floats,
    ) -> float:
        """Give the frequency of values at times (s), 1/s, or the Strouhal number; nan with fewer than two
        whole periods.
        """
        use = (times >= numbers.begin) & np.isfinite(values)
        found = frequency_of(times[use], values[use])
        return found if numbers.measure == "frequency" else found * numbers.length / numbers.speed


def frequency_of(times: Floats, values: Floats) -> float:
    """Give the frequency at which values swing about their mean, 1/s; nan with fewer than two whole
    periods.
    """
    if len(values) < 2 * FEWEST:
        return float("nan")
    recent = values[len(values) // 2 :]
    low = float(recent.min())
    high = float(recent.max())
    middle = 0.5 * (low + high)
    room = 0.5 * BAND * (high - low)
    if room <= 0:
        return float("nan")
    state = np.where(values > middle + room, 1, np.where(values < middle - room, -1, 0))
    known = np.flatnonzero(state)
    turns = np.flatnonzero((state[known[:-1]] < 0) & (state[known[1:]] > 0))
    rises = []
    for before, after in zip(known[turns], known[turns + 1], strict=True):
        at = before + int(np.argmax(values[before + 1 : after + 1] >= middle)) + 1
        share = (middle - values[at - 1]) / (values[at] - values[at - 1])
        rises.append(times[at - 1] + share * (times[at] - times[at - 1]))
    periods = np.diff(rises[-MOST:])[::-1]  # the last first
    alike = np.cumprod(np.abs(periods - periods[:1]) <= ALIKE * periods[:1]).astype(bool)
    steady = periods[alike]
    return float(len(steady) / steady.sum()) if len(steady) >= FEWEST - 1 else float("nan")
