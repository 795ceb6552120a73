"""A cooler with a thermostat."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import ComponentFault, Floats, Rated


class Cooler(Rated):
    """A cooler: on above one temperature of what enters, off below another; it can not cool below that of its
    air.

    Steady it takes out what holds the middle between them, within its power.

    Source: energy balance; its power is the most it takes, and falls with the difference to the air below the
    rated one.
    """

    caption: ClassVar[str] = "Cooler"
    group: ClassVar[str] = "Heat"
    sentence: ClassVar[str] = (
        "{id}: a cooler of at most {power}, less below {difference} above the air of {air}, on above "
        "{on} and off below {off}, losing {loss} at {rated}, bore {bore}."
    )
    symbol: ClassVar[str] = (
        "M-0.8,-0.8 L0.8,-0.8 L0.8,0.8 L-0.8,0.8 Z M0,-0.5 L0,0.5 M-0.45,-0.25 L0.45,0.25 M-0.45,0.25 "
        "L0.45,-0.25"
    )

    heats: ClassVar[bool] = True
    kind: Literal["cooler"] = "cooler"
    power: Text = quantity(
        "power",
        "power",
        "Most heat it takes out: at the rated difference to its air and above, less below it.",
        default="10 kW",
        at_least=0,
        varies="t",
    )
    difference: Text = quantity(
        "number",
        "rated difference",
        "Of what enters over its air, in kelvins.",
        default="40",
        above=0,
    )
    air: Text = quantity(
        "temperature",
        "air",
        "Temperature of its air.",
        default="20 °C",
        varies="t",
    )
    on: Text = quantity(
        "temperature", "switch-on temperature", "Of what enters; it cools above.", default="60 °C"
    )
    off: Text = quantity(
        "temperature", "switch-off temperature", "Of what enters; it rests below.", default="50 °C"
    )

    @classmethod
    def switches(cls, a: Any) -> tuple[Floats, Floats, Floats]:
        """Give the heat brought in when on (W), and where it switches on and off (K)."""
        return -a.power, np.asarray(a.on), np.asarray(a.off)

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Check that it can switch."""
        if not numbers.off < numbers.on:
            raise ComponentFault(
                "off", "a cooler must switch off below where it switches on.", "Change one of them."
            )
        return numbers
