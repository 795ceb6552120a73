"""A quantity over a box or the whole space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, point
from mop_lantern.declare.kind import Point
from mop_lantern.grid.zones import cells_in_box
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading, pick
from mop_lantern.judge.readings._words import dimension, how, title, what


class Region(Reading):
    """Mean, extreme or integral of a quantity over the cells of a box or of the whole space.

    Source: midpoint rule over cells; a cell belongs to the box when its centre does.
    """

    caption: ClassVar[str] = "Value over a box or the whole"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.8,-0.7 L0.8,-0.7 L0.8,0.7 L-0.8,0.7 Z M-0.4,-0.3 L0.4,-0.3 L0.4,0.3 L-0.4,0.3 Z"
    )
    sentence: ClassVar[str] = "{id}: {measure} {quantity} over {extent}, corners {low} and {high}."

    kind: Literal["region"] = "region"
    title: str = title()
    extent: Literal["whole", "box"] = choice(
        "extent", "Where.", {"whole": "the whole space", "box": "a box"}, default="whole"
    )
    low: Point = point("one corner", "One corner of the box.", default=("0 mm", "0 mm"))
    high: Point = point("other corner", "The opposite corner.", default=("0 mm", "0 mm"))
    quantity: str = what()
    measure: Literal["mean", "min", "max", "integral"] = how()

    def template(self, space: bool = False) -> str:
        """Corners are told of a box alone."""
        words = super().template(space)
        return words if self.extent == "box" else words.replace(", corners {low} and {high}", "")

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """The quantity's, times volume for an integral."""
        return dimension(numbers, "volume")

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Reduce over the cells."""
        chosen = answer.covers(numbers.quantity)
        if numbers.extent != "whole":
            chosen = chosen & cells_in_box(answer.mesh, numbers.low, numbers.high)
        return pick(
            numbers.measure,
            answer.cells(numbers.quantity)[chosen],
            (answer.mesh.volume * answer.mesh.turn)[chosen],
        )
