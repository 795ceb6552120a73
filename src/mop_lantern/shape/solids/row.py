"""Copies in a row."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.shape.piece import PartFault
from mop_lantern.shape.solid import Body, Others, Solid, copied, original, place_of


class Row(Solid):
    """Copies of a part listed before it, each set off by the same step; the part itself
    stays.

    Source: solid geometry.
    """

    caption: ClassVar[str] = "Copies in a row"
    group: ClassVar[str] = "Copies"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L-0.5,-0.3 L-0.5,0.3 L-0.9,0.3 Z M-0.2,-0.3 L0.2,-0.3 L0.2,0.3 L-0.2,0.3 Z "
        "M0.5,-0.3 L0.9,-0.3 L0.9,0.3 L0.5,0.3 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: {copies} copies of {of}, {role}, each set off by ({x}, {y}, {z}) from the one before."
    )

    kind: Literal["row"] = "row"
    role: Literal["same", "fluid", "solid", "void"] = copied()  # type: ignore[assignment]
    of: str = reference("solid", "part", "The part that is copied.")
    copies: Text = count(
        "copies",
        "How many besides the part itself.",
        default="3",
        at_least=1,
        at_most=500,
    )
    x: Text = quantity("length", "step along x", "From one to the next.", default="50 mm")

    @classmethod
    def build(cls, numbers: Any, others: Others) -> list[Body]:
        """Move copies."""
        found = original(numbers, others)
        step = place_of(numbers)
        if not np.linalg.norm(step) > 0:
            raise PartFault("x", "the copies lie on each other.", "Give a step.")
        return [
            replace(body, points=body.points + number * step)
            for number in range(1, int(numbers.copies) + 1)
            for body in found
        ]
