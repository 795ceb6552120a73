"""Sea water."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Followed, from_table
from mop_lantern.media._library import table


class SeaWater(Followed):
    """Sea water at atmospheric pressure, 0 to 100 °C, 0 to 120 g of salt a kg.

    Source: Sharqawy, Lienhard and Zubair, Desalination and Water Treatment 16 (2010) 354-380, tabulated from
    CoolProp.
    """

    caption: ClassVar[str] = "Sea water"
    group: ClassVar[str] = "Liquids"
    symbol: ClassVar[str] = (
        "M0,-0.9 Q0.7,0 0.7,0.3 A0.7,0.6 0 1 1 -0.7,0.3 Q-0.7,0 0,-0.9 Z M-0.4,0.3 Q-0.2,0.1 0,0.3 "
        "Q0.2,0.5 0.4,0.3"
    )
    sentence: ClassVar[str] = (
        "The fluid is sea water of salinity {salinity}, its properties at {temperature}, {follow}."
    )

    kind: Literal["sea_water"] = "sea_water"
    salinity: Text = quantity(
        "fraction",
        "salinity",
        "Mass of salt in the mass of water.",
        default="35 g/kg",
        at_least=0,
        at_most=0.12,
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up."""
        return from_table(
            table("sea_water", numbers.salinity), numbers.temperature, numbers.follow, "sea water"
        )
