"""Where a quantity is largest or smallest."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point
from mop_lantern.declare.kind import Point
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title, what

SAMPLES = 801


class ExtremePlace(Reading):
    """A coordinate of the place where a quantity is largest or smallest: along a line, or among the cells of
    the whole space.

    Source: 801 samples along the line, the summit of the parabola through the three about it; the middle of
    the cell otherwise.
    """

    caption: ClassVar[str] = "Place of an extreme"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,0.6 Q-0.1,-1.6 0.8,0.6"
    sentence: ClassVar[str] = (
        "{id}: {axis} where {quantity} is {extreme} {extent}, the line from {start} to {end}."
    )

    kind: Literal["extreme_place"] = "extreme_place"
    title: str = title()
    quantity: str = what()
    extreme: Literal["max", "min"] = choice(
        "extreme", "Which one.", {"max": "largest", "min": "smallest"}, default="max"
    )
    extent: Literal["line", "whole"] = choice(
        "extent",
        "Where it is looked for.",
        {"line": "along a line", "whole": "in the whole space"},
        default="line",
    )
    start: Point = point("from", "One end of the line.", default=("0 mm", "0 mm"))
    end: Point = point("to", "Other end of the line.", default=("0 mm", "0 mm"))
    axis: Literal["x", "y", "z"] = choice(
        "coordinate",
        "Which coordinate is reported; z in a space only.",
        {
            "x": "x",
            "y": "y",
            "z": "z",
        },
        default="x",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A length."""
        return "length"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Look for it."""
        way = "xyz".index(numbers.axis)
        ways = len(answer.mesh.ways)
        sign = 1.0 if numbers.extreme == "max" else -1.0
        if way >= ways:
            return float("nan")
        if numbers.extent == "whole":
            cells = np.where(answer.covers(numbers.quantity), sign * answer.cells(numbers.quantity), -np.inf)
            return float(answer.mesh.centre[int(np.argmax(cells)), way])
        start = np.asarray(numbers.start, float)[:ways]
        end = np.asarray(numbers.end, float)[:ways]
        part = (np.arange(SAMPLES) + 0.5) / SAMPLES
        places = start + part[:, None] * (end - start)
        values = sign * np.where(answer.inside(places), answer.sampler(numbers.quantity, places), np.nan)
        if not np.isfinite(values).any():
            return float("nan")
        at = int(np.nanargmax(values))
        shift = 0.0
        if 0 < at < SAMPLES - 1 and np.isfinite(values[at - 1 : at + 2]).all():
            before, here, after = values[at - 1 : at + 2]
            bend = before - 2 * here + after
            shift = 0.5 * (before - after) / bend if bend < 0 else 0.0
        return float(start[way] + (part[at] + shift / SAMPLES) * (end - start)[way])
