"""A heater or cooler that fluid passes."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.device import Passed


class Heater(Passed):
    """A heater or cooler: it gives a heat flow to what passes, shared by the flow, and loses its loss
    coefficient times the dynamic pressure.

    Source: energy balance of a stream.
    """

    caption: ClassVar[str] = "Heater or cooler"
    group: ClassVar[str] = "Treat it"
    symbol: ClassVar[str] = (
        "M-0.3,-0.9 L0.3,-0.7 L-0.3,-0.4 L0.3,-0.1 L-0.3,0.2 L0.3,0.5 L-0.3,0.8 M-0.9,0 L-0.5,0 "
        "M0.5,0 L0.9,0 M0.7,-0.2 L0.9,0 L0.7,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: a heater, {form} of {width} by {height} about {centre}, heading {heading} and rising {lift}, "
        "gives {power} to what passes; loss coefficient {loss}."
    )

    kind: Literal["heater"] = "heater"
    power: Text = quantity(
        "power",
        "power",
        "For the whole depth, or all around the axis; negative cools.",
        default="1 kW",
        varies="t",
    )

    @classmethod
    def feeds(cls, numbers: Any) -> tuple[str, ...]:
        """Heat."""
        return ("T",)

    @classmethod
    def adds(cls, numbers: Any, name: str, mass: float) -> float:
        """The power."""
        return float(numbers.power)
