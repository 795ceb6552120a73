"""Evenness of the flow through a set of openings."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class Evenness(Reading):
    """How evenly the flow is shared among edges: spread over the mean, or largest over smallest.

    Source: coefficient of variation with the population standard deviation; any text on statistics.
    """

    caption: ClassVar[str] = "Evenness"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.6,0.9 L-0.6,0.1 M-0.1,0.9 L-0.1,-0.3 M0.4,0.9 L0.4,0"
    )
    sentence: ClassVar[str] = "{id}: {measure} of the flows through {edges}."

    kind: Literal["evenness"] = "evenness"
    title: str = title()
    edges: tuple[str, ...] = reference("edges", "edges", "The openings, at least two.")
    measure: Literal["variation", "max_min"] = choice(
        "measure",
        "How unevenness is reported.",
        {"variation": "coefficient of variation", "max_min": "largest over smallest"},
        default="variation",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A plain number."""
        return "number"

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Compare the flows."""
        flows = np.abs([answer.outflow[answer.mesh.faces_of(edge)].sum() for edge in numbers.edges])
        if numbers.measure == "variation":
            return float(flows.std() / flows.mean()) if flows.mean() else float("nan")
        return float(flows.max() / flows.min()) if flows.min() else float("inf")
