"""A quantity along a line."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point
from mop_lantern.declare.kind import Point
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading, pick
from mop_lantern.judge.readings._words import dimension, how, title, what

SAMPLES = 201


class Line(Reading):
    """Mean, extreme or integral of a quantity along a straight line, parts outside the fluid excluded.

    Source: midpoint rule over 201 samples.
    """

    caption: ClassVar[str] = "Value along a line"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = "M-0.9,0.6 L0.9,-0.6 M-0.9,0.4 L-0.9,0.8 M0.9,-0.8 L0.9,-0.4"
    sentence: ClassVar[str] = "{id}: {measure} {quantity} from {start} to {end}."

    kind: Literal["line"] = "line"
    title: str = title()
    start: Point = point("from", "One end of the line.")
    end: Point = point("to", "Other end of the line.")
    quantity: str = what()
    measure: Literal["mean", "min", "max", "integral"] = how()

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """The quantity's, times length for an integral."""
        return dimension(numbers, "length")

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Sample the line and reduce."""
        start = np.asarray(numbers.start, float)
        end = np.asarray(numbers.end, float)
        places = start + (np.arange(SAMPLES)[:, None] + 0.5) / SAMPLES * (end - start)
        places = places[answer.inside(places)]
        if not len(places):
            return float("nan")
        piece = float(np.linalg.norm(end - start)) / SAMPLES
        return pick(numbers.measure, answer.sampler(numbers.quantity, places), np.full(len(places), piece))
