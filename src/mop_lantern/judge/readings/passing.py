"""What passes through an edge of something carried."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import PASSING, title


class Passing(Reading):
    """Heat or species passing through an opening or wall a second, by flow and by conduction together.

    Heat carried by flow counts from 0 K, so that of an opening alone means little; that of walls, and sums
    over all openings, are what they seem.

    Source: sum of the solver's own face fluxes.
    """

    caption: ClassVar[str] = "Heat or species passing"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = (
        "M0,-0.9 L0,0.9 M-0.8,-0.4 Q-0.4,-0.7 0,-0.4 Q0.4,-0.1 0.8,-0.4 M-0.8,0.3 Q-0.4,0 0,0.3 "
        "Q0.4,0.6 0.8,0.3"
    )
    sentence: ClassVar[str] = "{id}: rate of {quantity} passing {way} through {edge}."

    kind: Literal["passing"] = "passing"
    title: str = title()
    edge: str = reference("edge", "edge", "The opening or wall.")
    quantity: str = reference("quantity", "quantity", "T or c.ID.", default="T")
    way: Literal["out", "in"] = choice(
        "way", "Which way counts positive.", {"out": "out", "in": "in"}, default="in"
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Power, volume or mass a second."""
        return PASSING.get(numbers.of[1], "number")

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up the face fluxes."""
        if numbers.quantity not in answer.scalars:
            return float("nan")
        leaving = answer.scalars[numbers.quantity].leaving[answer.mesh.faces_of(numbers.edge)].sum()
        return float(leaving if numbers.way == "out" else -leaving)
