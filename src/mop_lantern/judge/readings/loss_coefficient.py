"""Loss coefficient between two openings."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading, pick
from mop_lantern.judge.readings._words import title


class LossCoefficient(Reading):
    """Total pressure lost between two openings, over the dynamic pressure of the mean speed at one of them.

    Total pressures are means weighted with the flow, so that what is lost is power lost a flow. Friction
    between the openings counts. Where nothing flows there is none.

    Source: definition; Idelchik, *Handbook of Hydraulic Resistance*, chapter 1.
    """

    caption: ClassVar[str] = "Loss coefficient"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = "M-0.7,-0.9 L-0.7,0.9 M0.6,-0.9 L-0.6,0 L0.6,0.9"
    sentence: ClassVar[str] = "{id}: loss coefficient from {edge} to {to} on the speed at {at}."

    kind: Literal["loss_coefficient"] = "loss_coefficient"
    title: str = title()
    edge: str = reference("edge", "from", "The upstream opening.")
    to: str = reference("edge", "to", "The downstream opening.")
    at: Literal["first", "second"] = choice(
        "on the speed at",
        "Where the mean speed of the dynamic pressure is taken; tables commonly use the narrower side.",
        {"first": "the first", "second": "the second"},
        default="first",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A plain number."""
        return "number"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Subtract the flow-weighted means and divide."""
        total = answer.boundary("total")
        flow = np.abs(answer.outflow)
        ends = [answer.mesh.faces_of(edge) for edge in (numbers.edge, numbers.to)]
        first, last = (pick("flow_mean", total[faces], flow[faces]) for faces in ends)
        chosen = ends[0] if numbers.at == "first" else ends[1]
        area = answer.face_size[chosen].sum()
        speed, mass = (abs(each[chosen].sum()) / area for each in (answer.volume_outflow, answer.outflow))
        stir = 0.5 * answer.density * mass * speed  # Pa
        return float((first - last) / stir) if stir > 0 else float("nan")
