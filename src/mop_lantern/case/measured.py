"""Measured data that belong to a case: where they were taken, how they are shifted and scaled onto the
model.
"""

from __future__ import annotations

from typing import ClassVar, Literal

from pydantic import Field

from mop_lantern.declare import Record, choice, point, quantity, reference, text
from mop_lantern.declare.kind import Point, Text


class MeasuredData(Record):
    """Pairs of numbers measured along a line, or over time.

    Shown is x + shift_x against scale times y plus shift_y, all in the units of the columns.
    """

    sentence: ClassVar[str] = (
        "{id}: {title}, measured {kind} of {of} from {start} to {end}; shown {scale} times as large, "
        "moved by {shift} ({unit}) and by {along} ({along_unit}) along."
    )
    title: str = text("title", "What was measured.", default="measured")
    kind: Literal["profile", "trace"] = choice(
        "kind",
        "Along a line, or over time.",
        {"profile": "along a line", "trace": "over time"},
        default="profile",
    )
    of: str = reference(
        "quantity",
        "quantity",
        "The quantity of a profile, or the id of the reading of a trace.",
        default="speed",
    )
    start: Point = point("from", "Where the line begins.", default=("0 mm", "0 mm"))
    end: Point = point("to", "Where it ends.", default=("100 mm", "0 mm"))
    along_unit: str = Field(
        default="m",
        title="unit of the first column",
        description="Of distance along the line, or of time.",
    )
    unit: str = Field(
        default="",
        title="unit of the second column",
        description="Of the values.",
    )
    along: Text = quantity("number", "shift along", "Added to the first column, in its unit.", default="0")
    shift: Text = quantity("number", "shift", "Added to the values, in their unit.", default="0")
    scale: Text = quantity("number", "scale", "Values are multiplied with it.", default="1")
    rows: tuple[tuple[float, float], ...] = Field(
        default=((0.0, 0.0), (1.0, 0.0)),
        title="rows",
        description="Pairs of numbers.",
    )

    def template(self, space: bool = False) -> str:
        """A trace has no line."""
        if self.kind == "profile":
            return type(self).sentence
        return (
            "{id}: {title}, measured {kind} for the reading {of}; shown {scale} times as large, moved by "
            "{shift} ({unit}) and by {along} ({along_unit}) in time."
        )
