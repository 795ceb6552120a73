"""A passage that changes width: tapered or stepped."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, point, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.shape.piece import Part, PartFault, Piece, left_of, strip, unit_vector


class Reducer(Part):
    """A passage whose width goes from one value to another, evenly or in one step.

    Source: plane geometry.
    """

    caption: ClassVar[str] = "Tapered or stepped passage"
    group: ClassVar[str] = "Passages"
    symbol: ClassVar[str] = "M-1,-0.7 L-0.3,-0.7 L0.3,-0.3 L1,-0.3 M-1,0.7 L-0.3,0.7 L0.3,0.3 L1,0.3"
    sentence: ClassVar[str] = (
        "{id}: a {form} passage from {start}, heading {direction}, {length} long, {width_start} wide at "
        "its start and {width_end} at its end, {keep}."
    )
    edges: ClassVar[tuple[str, ...]] = ("start", "end", "left", "right")

    kind: Literal["reducer"] = "reducer"
    form: Literal["tapered", "stepped"] = choice(
        "form", "How the width changes.", {"tapered": "tapered", "stepped": "stepped"}, default="tapered"
    )
    start: Point = point("start", "Middle of the start edge.", default=("0 mm", "0 mm"))
    direction: Text = quantity(
        "angle", "heading", "Direction of the passage, anticlockwise from the x axis.", default="0 deg"
    )
    length: Text = quantity(
        "length",
        "length",
        "Length from start to end.",
        default="100 mm",
        above=0,
    )
    width_start: Text = quantity(
        "length",
        "start width",
        "Clear width at the start.",
        default="20 mm",
        above=0,
    )
    width_end: Text = quantity(
        "length",
        "end width",
        "Clear width at the end.",
        default="10 mm",
        above=0,
    )
    step_at: Text = quantity(
        "length",
        "step place",
        "Distance of the step from the start, for a stepped passage.",
        default="50 mm",
        above=0,
    )
    keep: Literal["centre", "left", "right"] = choice(
        "straight side",
        "Which line stays straight.",
        {
            "centre": "both sides closing in",
            "left": "its left side straight",
            "right": "its right side straight",
        },
        default="centre",
    )

    @classmethod
    def build(cls, numbers: Any, others: dict[str, Piece]) -> Piece:
        """Make the ring; a stepped passage has the step's face on its banks."""
        way = unit_vector(numbers.direction)
        normal = left_of(way)
        change = numbers.width_start - numbers.width_end
        ends = np.array([numbers.width_start, numbers.width_end]) / 2
        left = ends.copy()
        right = -ends
        if numbers.keep == "left":
            left = ends[0] * np.ones(2)
            right = np.array([-ends[0], -ends[0] + change])
        elif numbers.keep == "right":
            left = np.array([ends[0], ends[0] - change])
            right = -ends[0] * np.ones(2)
        stations = np.array([0.0, numbers.length])
        if numbers.form == "stepped":
            if numbers.step_at >= numbers.length:
                raise PartFault(
                    "step_at", "the step lies beyond the end of the passage.", "Place it within the length."
                )
            stations = np.array([0.0, numbers.step_at, numbers.step_at, numbers.length])
            left = np.repeat(left, 2)
            right = np.repeat(right, 2)
        base = numbers.start + stations[:, None] * way
        # branches sit on a line parallel to the heading that is inside at every station, whatever side is
        # kept
        within = {
            "centre": 0.0,
            "left": ends[0] - ends.min(),
            "right": ends.min() - ends[0],
        }[numbers.keep]
        path = np.array([numbers.start, numbers.start + way * numbers.length]) + within * normal
        banks = [_without_repeats(base + offset[:, None] * normal) for offset in (left, right)]
        return strip(path, *banks)


def _without_repeats(line: Any) -> Any:
    keep = np.concatenate([[True], np.hypot(*np.diff(line, axis=0).T) > 0])
    return line[keep]
