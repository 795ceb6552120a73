"""Moist air."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Medium, from_table
from mop_lantern.media._library import table


class MoistAir(Medium):
    """Moist air at atmospheric pressure, -20 to 60 °C, by relative humidity at its temperature.

    Source: Herrmann, Kretzschmar and Gatley, HVAC&R Research 15 (2009) 961-986 (ASHRAE RP-1485), tabulated
    from CoolProp.
    """

    caption: ClassVar[str] = "Moist air"
    group: ClassVar[str] = "Gases"
    symbol: ClassVar[str] = (
        "M-0.9,-0.5 Q-0.3,-0.9 0.1,-0.5 Q0.5,-0.1 0.9,-0.5 M-0.9,0 Q-0.3,-0.4 0.1,0 Q0.5,0.4 0.9,0 "
        "M-0.3,0.4 L-0.3,0.8 M0.3,0.5 L0.3,0.9"
    )
    sentence: ClassVar[str] = "The fluid is air of {temperature} and {humidity} relative humidity."

    kind: Literal["moist_air"] = "moist_air"
    humidity: Text = quantity(
        "fraction",
        "relative humidity",
        "At the temperature given.",
        default="50 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Look the figures up; the water in the air stays, so nothing follows the temperature at fixed
        humidity.
        """
        fluid = from_table(table("moist_air", numbers.humidity), numbers.temperature, False, "moist air")
        return Fluid(
            fluid.temperature,
            fluid.density,
            fluid.viscosity,
            fluid.capacity,
            fluid.conductivity,
            expansion=1.0 / fluid.temperature,
        )
