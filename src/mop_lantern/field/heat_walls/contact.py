"""A joint between two regions that resists heat."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary


class Contact(HeatWall):
    """The joint between a solid and what lies against it resists heat: dry faces that touch in places only, a
    coat of paint, scale. Without one, they join perfectly.

    Source: definition of the thermal contact resistance (Incropera et al., Fundamentals of Heat and Mass
    Transfer, section 3.1.4).
    """

    caption: ClassVar[str] = "Contact that resists"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = "M-0.9,-0.7 L0,-0.7 L0,0.7 L-0.9,0.7 Z M0.15,-0.7 L0.9,-0.7 L0.9,0.7 L0.15,0.7 Z"
    sentence: ClassVar[str] = (
        "{id}: where another region lies against {edge}, the contact resists by {resistance}."
    )
    between: ClassVar[bool] = True

    kind: Literal["contact"] = "contact"
    edge: str = reference("edge", "edge", "The wall between two regions.")
    resistance: Text = quantity(
        "resistance",
        "resistance",
        "Of the contact, for one square metre.",
        default="0.0001 m2*K/W",
        at_least=0,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Put the resistance between both sides."""
        boundary.resistance[patch.faces] = numbers.resistance
