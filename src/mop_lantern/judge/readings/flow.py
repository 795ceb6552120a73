"""Flow through an edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title

ROUNDING = 1e-12  # of all that passes an edge


class Flow(Reading):
    """What flows through an edge, out of the space counted positive.

    Source: sum of the solver's own face fluxes, so that it agrees with the mass balance to the last digit.
    """

    caption: ClassVar[str] = "Flow"
    group: ClassVar[str] = "At an edge or face"
    symbol: ClassVar[str] = "M-1,0 L0.7,0 M0.4,-0.25 L0.7,0 L0.4,0.25 M0,-0.8 L0,0.8"
    sentence: ClassVar[str] = "{id}: {measure} {way} through {edge}."

    kind: Literal["flow"] = "flow"
    title: str = title()
    edge: str = reference("edge", "edge", "The edge.")
    measure: Literal["volume_flow", "mass_flow"] = choice(
        "measure",
        "Volume or mass.",
        {"volume_flow": "volume flow", "mass_flow": "mass flow"},
        default="volume_flow",
    )
    way: Literal["out", "in"] = choice(
        "way", "Which way counts positive.", {"out": "out", "in": "in"}, default="out"
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Volume or mass flow."""
        return str(numbers.measure)

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up the face fluxes; where as much comes in as goes out, nothing passes on the whole."""
        mass = numbers.measure == "mass_flow"
        through = answer.outflow * answer.density if mass else answer.volume_outflow
        sign = 1.0 if numbers.way == "out" else -1.0
        mine = through[answer.mesh.faces_of(numbers.edge)]
        whole = float(sign * mine.sum())
        return whole if abs(whole) > ROUNDING * np.abs(mine).sum() else 0.0
