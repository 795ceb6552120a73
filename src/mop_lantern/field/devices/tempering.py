"""A heater or cooler that holds a temperature."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.device import Held, Passed


class Tempering(Passed):
    """A heater or cooler that brings what passes to a temperature, as far as its power goes: the power is
    the heat capacity of the flow times what is missing, at most its limit.

    Source: energy balance of a stream.
    """

    caption: ClassVar[str] = "Heater to a temperature"
    group: ClassVar[str] = "Treat it"
    symbol: ClassVar[str] = (
        "M-0.5,-0.9 L0.1,-0.7 L-0.5,-0.4 L0.1,-0.1 L-0.5,0.2 L0.1,0.5 L-0.5,0.8 M0.5,-0.8 Q0.3,-0.8 0.3,-0.6 "
        "L0.3,0.3 Q0.1,0.5 0.3,0.7 Q0.5,0.85 0.7,0.7 Q0.9,0.5 0.7,0.3 L0.7,-0.6 Q0.7,-0.8 0.5,-0.8 M0.5,0 "
        "L0.5,0.5"
    )
    sentence: ClassVar[str] = (
        "{id}: {form} of {width} by {height} about {centre}, heading {heading} and rising {lift}, {does} "
        "what passes to {outlet} with at most {limit}; loss coefficient {loss}."
    )

    kind: Literal["tempering"] = "tempering"
    does: Literal["heats", "cools", "both"] = choice(
        "does",
        "What it may do.",
        {"heats": "heats", "cools": "cools", "both": "heats or cools"},
        default="heats",
    )
    outlet: Text = quantity(
        "temperature",
        "outlet temperature",
        "The mean of what leaves it.",
        default="30 °C",
        varies="t",
    )
    limit: Text = quantity(
        "power",
        "greatest power",
        "For the whole depth, or all around the axis.",
        default="2 kW",
        at_least=0,
        varies="t",
    )

    @classmethod
    def feeds(cls, numbers: Any) -> tuple[str, ...]:
        """Heat."""
        return ("T",)

    @classmethod
    def holds(cls, numbers: Any, name: str) -> Held:
        """The outlet temperature, within its power."""
        limit = float(numbers.limit)
        return Held(
            float(numbers.outlet),
            0.0 if numbers.does == "heats" else -limit,
            0.0 if numbers.does == "cools" else limit,
        )

    @classmethod
    def strays(cls, numbers: Any, flow: float, added: Mapping[str, float]) -> str:
        """At its limit."""
        short = abs(added.get("T", 0.0)) >= float(numbers.limit) * (1 - 1e-9)
        return "It works at its greatest power: what leaves misses the outlet temperature." if short else ""
