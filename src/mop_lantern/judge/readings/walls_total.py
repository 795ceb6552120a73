"""What passes through all walls together."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, reference
from mop_lantern.judge.field_result import FieldResult
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import PASSING, title


class WallsTotal(Reading):
    """Heat or a species passing through all walls of the flow domain together, openings not counted: all that
    is lost, all that is gained, or what remains of both.

    Source: sum of the solver's own face fluxes.
    """

    caption: ClassVar[str] = "Heat or species through all walls"
    group: ClassVar[str] = "In the flow domain"
    symbol: ClassVar[str] = (
        "M-0.6,-0.6 L0.6,-0.6 L0.6,0.6 L-0.6,0.6 Z M0.3,0 L0.95,0 M0.8,-0.15 L0.95,0 L0.8,0.15 "
        "M-0.3,0 L-0.95,0 M-0.8,-0.15 L-0.95,0 L-0.8,0.15 M0,-0.3 L0,-0.95 M-0.15,-0.8 L0,-0.95 L0.15,-0.8"
    )
    sentence: ClassVar[str] = "{id}: rate of {quantity} through all walls, {what}."

    kind: Literal["walls_total"] = "walls_total"
    title: str = title()
    quantity: str = reference("quantity", "quantity", "T or c.ID.", default="T")
    what: Literal["lost", "gained", "net"] = choice(
        "what",
        "Walls that lose, walls that gain, face by face, or what all gain less what all lose.",
        {"lost": "what is lost", "gained": "what is gained", "net": "gained less lost"},
        default="lost",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Power, volume or mass a second."""
        return PASSING.get(numbers.of[1], "number")

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Add up the face fluxes of all that is neither open nor a joint between regions."""
        if numbers.quantity not in answer.scalars:
            return float("nan")
        leaving = answer.scalars[numbers.quantity].leaving
        walls = leaving[(answer.outflow == 0) & ~answer.mesh.joined]
        if numbers.what == "net":
            return float(-walls.sum())
        return float(np.maximum(walls if numbers.what == "lost" else -walls, 0.0).sum())
