"""A quantity at a point."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import point
from mop_lantern.declare.kind import Point as Place
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import dimension, title, what


class Point(Reading):
    """A quantity at a place in the wet space.

    Source: weighted linear fit through the nearest cells.
    """

    caption: ClassVar[str] = "Value at a point"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = "M-0.9,0 L-0.2,0 M0.2,0 L0.9,0 M0,-0.9 L0,-0.2 M0,0.2 L0,0.9"
    sentence: ClassVar[str] = "{id}: {quantity} at {at}."

    kind: Literal["point"] = "point"
    title: str = title()
    at: Place = point("place", "Where.")
    quantity: str = what()

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """The quantity's."""
        return dimension(numbers)

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Interpolate."""
        place = np.asarray(numbers.at, float)[None]
        return float(answer.sampler(numbers.quantity, place)[0]) if answer.inside(place)[0] else float("nan")
