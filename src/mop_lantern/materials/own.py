"""A solid with figures of one's own."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.materials._solid import Material, Solid


class OwnMaterial(Material):
    """A solid part of known conductivity, density and heat capacity; the last two matter in time only.

    Source: the person who gives them.
    """

    caption: ClassVar[str] = "Of own figures"
    group: ClassVar[str] = "Materials of solids"
    symbol: ClassVar[str] = (
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 "
        "M0.3,-0.3 L0.8,-0.8 M-0.6,0.1 L0,0.1 M-0.6,0.4 L0,0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: heat flows through the part {part}, with a conductivity of {conductivity}, a density of "
        "{density} and a heat capacity of {capacity}."
    )

    kind: Literal["own"] = "own"
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "How well it conducts heat.",
        default="0.2 W/m/K",
        above=0,
    )
    density: Text = quantity(
        "density",
        "density",
        "Its density; matters in time only.",
        default="1000 kg/m3",
        above=0,
    )
    capacity: Text = quantity(
        "heat_capacity",
        "heat capacity",
        "Its heat capacity; matters in time only.",
        default="1000 J/kg/K",
        above=0,
    )

    @classmethod
    def solid(cls, numbers: Any) -> Solid:
        """Take them as they are."""
        return Solid(numbers.conductivity, numbers.density, numbers.capacity)
