"""Pressure drop between two edges."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading, pick
from mop_lantern.judge.readings._words import title


class Drop(Reading):
    """Difference of the area means of pressure over two edges.

    Source: definition.
    """

    caption: ClassVar[str] = "Pressure drop"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = "M-0.9,-0.6 L-0.5,-0.6 L0.5,0.6 L0.9,0.6 M-0.7,-0.9 L-0.7,-0.3 M0.7,0.3 L0.7,0.9"
    sentence: ClassVar[str] = "{id}: drop of {quantity} from {edge} to {to}."

    kind: Literal["drop"] = "drop"
    title: str = title()
    edge: str = reference("edge", "from", "The upstream edge.")
    to: str = reference("edge", "to", "The downstream edge.")
    quantity: Literal["pressure", "total"] = choice(
        "quantity",
        "Static or total pressure.",
        {"pressure": "static pressure", "total": "total pressure"},
        default="pressure",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Pressure."""
        return "pressure"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Subtract the means."""
        values = answer.boundary(numbers.quantity)
        ends = [answer.mesh.faces_of(edge) for edge in (numbers.edge, numbers.to)]
        first, last = (pick("mean", values[faces], answer.face_size[faces]) for faces in ends)
        return first - last
