"""A humidifier that air passes."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.device import Passed

EVAPORATION = 2.45e6  # J/kg; of water at 20 degrees C, common tables


class Humidifier(Passed):
    """A humidifier: it gives water vapour to what passes, shared by the flow. Steam brings its heat of
    evaporation with it; a spray takes it from the air, 2.45 MJ/kg.

    Source: mass and energy balance of a stream.
    """

    caption: ClassVar[str] = "Humidifier"
    group: ClassVar[str] = "Treat it"
    symbol: ClassVar[str] = (
        "M-0.9,0 L-0.4,0 M0.4,0 L0.9,0 M0.7,-0.2 L0.9,0 L0.7,0.2 M0,-0.8 Q-0.35,-0.2 0,0 Q0.35,-0.2 0,-0.8 "
        "M0,0.2 Q-0.25,0.65 0,0.8 Q0.25,0.65 0,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: a humidifier, {form} of {width} by {height} about {centre}, heading {heading} and rising "
        "{lift}, gives {mass} of {species} to what passes as {by}; loss coefficient {loss}."
    )

    kind: Literal["humidifier"] = "humidifier"
    species: str = reference("species", "vapour", "The species that is water vapour.")
    mass: Text = quantity(
        "mass_flow",
        "water",
        "That becomes vapour; for the whole depth, or all around the axis.",
        default="1 kg/h",
        at_least=0,
        varies="t",
    )
    by: Literal["steam", "spray"] = choice(
        "by",
        "Steam leaves the air as warm as it was; a spray cools it.",
        {"steam": "steam", "spray": "a spray"},
        default="steam",
    )

    @classmethod
    def feeds(cls, numbers: Any) -> tuple[str, ...]:
        """Its species, and heat where it sprays."""
        return (f"c.{numbers.species}", *(("T",) if numbers.by == "spray" else ()))

    @classmethod
    def adds(cls, numbers: Any, name: str, mass: float) -> float:
        """Vapour by what its species is measured in; the heat it takes."""
        if name == "T":
            return -EVAPORATION * float(numbers.mass)
        return mass * float(numbers.mass)
