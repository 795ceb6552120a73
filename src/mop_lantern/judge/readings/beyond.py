"""How much of the space lies beyond a limit."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, point, text
from mop_lantern.declare.kind import Point
from mop_lantern.grid.zones import cells_in_box
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title, what


class Beyond(Reading):
    """Volume where a quantity is above a limit, below it, or between two: stagnant pockets by the age of the
    air, the cloud of a leak above an alarm, what of it may burn between its two limits.

    Source: cells count whole, by the value in their middle.
    """

    caption: ClassVar[str] = "Volume beyond a limit"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.9,0.8 L0.9,0.8 M-0.9,0.1 L0.9,0.1 M-0.7,0.8 Q-0.3,-1.4 0.1,0.1 Q0.4,0.8 0.8,0.4 "
        "M-0.5,-0.1 L-0.1,-0.1"
    )
    sentence: ClassVar[str] = (
        "{id}: volume where {quantity} is {way} {limit} and {upper}, over {extent}, corners {low} and "
        "{high}; as {measure}."
    )

    kind: Literal["beyond"] = "beyond"
    title: str = title()
    quantity: str = what()
    way: Literal["above", "below", "between"] = choice(
        "way",
        "On which side of the limit.",
        {"above": "above", "below": "below", "between": "between"},
        default="above",
    )
    limit: str = text("limit", "In the unit of the quantity, such as 10 min or 800 mg/m3.", default="0 Pa")
    upper: str = text("upper limit", "Counts for between only.", default="")
    extent: Literal["whole", "box"] = choice(
        "extent", "Where.", {"whole": "the whole space", "box": "a box"}, default="whole"
    )
    low: Point = point("one corner", "One corner of the box.", default=("0 mm", "0 mm"))
    high: Point = point("other corner", "The opposite corner.", default=("0 mm", "0 mm"))
    measure: Literal["volume", "share"] = choice(
        "measure",
        "How it is told.",
        {"volume": "a volume", "share": "a share of the whole"},
        default="volume",
    )
    IN_QUANTITY: ClassVar[tuple[str, ...]] = ("limit", "upper")

    def template(self, space: bool = False) -> str:
        """Speak of the upper limit and of corners only where they count."""
        words = type(self).sentence
        if self.way != "between":
            words = words.replace(" and {upper}", "")
        return words if self.extent == "box" else words.replace(", corners {low} and {high}", "")

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A volume or a fraction."""
        return "volume" if numbers.measure == "volume" else "fraction"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up the cells."""
        chosen = answer.covers(numbers.quantity)
        if numbers.extent != "whole":
            chosen = chosen & cells_in_box(answer.mesh, numbers.low, numbers.high)
        values = answer.cells(numbers.quantity)
        size = answer.mesh.volume * answer.mesh.turn
        beyond = values < numbers.limit if numbers.way == "below" else values > numbers.limit
        if numbers.way == "between":
            beyond = beyond & (values < numbers.upper)
        volume = float(size[chosen & beyond].sum())
        if numbers.measure == "volume":
            return volume
        whole = float(size[chosen].sum())
        return volume / whole if whole > 0 else float("nan")
