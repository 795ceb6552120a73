"""Water."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.media._fluid import Fluid, Followed, from_table
from mop_lantern.media._library import table


class Water(Followed):
    """Pure liquid water at atmospheric pressure, 0.01 to 99.9 °C.

    Source: IAPWS-95 (density, specific heat), IAPWS R12-08 (viscosity), IAPWS R15-11 (conductivity),
    tabulated from CoolProp (Bell et al., Ind. Eng. Chem. Res. 53 (2014) 2498-2508).
    """

    caption: ClassVar[str] = "Water"
    group: ClassVar[str] = "Liquids"
    symbol: ClassVar[str] = "M0,-0.9 Q0.7,0 0.7,0.3 A0.7,0.6 0 1 1 -0.7,0.3 Q-0.7,0 0,-0.9 Z"
    sentence: ClassVar[str] = "The fluid is water, its properties at {temperature}, {follow}."

    kind: Literal["water"] = "water"

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up."""
        return from_table(table("water"), numbers.temperature, numbers.follow, "liquid water")
