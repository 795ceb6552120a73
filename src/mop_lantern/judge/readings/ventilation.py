"""How well a room is ventilated."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point
from mop_lantern.declare.kind import Point
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Ventilation(Reading):
    """Figures of ventilation of the whole space, from the flow that enters and the mean age of the air.

    The nominal time is volume over flow, air changes its inverse. The air-exchange efficiency is the nominal
    time over twice the mean age in the room: 1 for a plug, 0.5 where all is mixed, less where air goes
    straight to the exhaust. The local index is the nominal time over the age at a place.

    Source: Sandberg, "What is ventilation efficiency?", Building and Environment 16 (1981) 123-135;
    Etheridge and Sandberg, *Building Ventilation* (1996), chapter 12.
    """

    caption: ClassVar[str] = "Ventilation"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.8,-0.6 L0.8,-0.6 L0.8,0.7 L-0.8,0.7 Z M-0.5,-0.2 Q0,-0.5 0.4,-0.1 Q0.6,0.3 0.1,0.4 "
        "Q-0.3,0.4 -0.3,0.2"
    )
    sentence: ClassVar[str] = "{id}: {measure} of the space, at {at} where it is local."

    kind: Literal["ventilation"] = "ventilation"
    title: str = title()
    measure: Literal["changes", "nominal", "mean_age", "efficiency", "index"] = choice(
        "measure",
        "Which figure; all but the first two need the mean age to be solved.",
        {
            "changes": "air changes an hour",
            "nominal": "nominal time, volume over flow",
            "mean_age": "mean age of the air",
            "efficiency": "air-exchange efficiency",
            "index": "local air-change index",
        },
        default="changes",
    )
    at: Point = point("place", "Of the local index.", default=("0 mm", "0 mm"))

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """By the measure."""
        return {"changes": "number", "nominal": "time", "mean_age": "time"}.get(numbers.measure, "fraction")

    @classmethod
    def reads(cls, numbers: Any) -> str:
        """The age, for its figures."""
        return "" if numbers.measure in ("changes", "nominal") else "age"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Work out the figure; not a number where nothing enters or no age is solved."""
        size = answer.held
        entering = -float(np.minimum(answer.outflow, 0.0).sum())
        if not entering > 0:
            return float("nan")
        nominal = float(size.sum()) / entering
        if numbers.measure == "changes":
            return 3600.0 / nominal
        if numbers.measure == "nominal":
            return nominal
        if not answer.has("age"):
            return float("nan")
        if numbers.measure == "index":
            place = np.zeros((1, 3))
            place[0, : len(numbers.at)] = numbers.at
            age = float(answer.sampler("age", place)[0])
            return nominal / age if age > 0 else float("nan")
        mean = float((answer.cells("age") * size).sum() / size.sum())
        if numbers.measure == "mean_age":
            return mean
        return nominal / (2 * mean) if mean > 0 else float("nan")  # solved on the finished flow only
