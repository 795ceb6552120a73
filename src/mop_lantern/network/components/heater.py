"""A heater with a thermostat."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import ComponentFault, Floats, Rated


class Heater(Rated):
    """A heater: on below one temperature of what enters, off above another.

    Steady it brings in what holds the middle between them, within its power.

    Source: energy balance.
    """

    caption: ClassVar[str] = "Heater"
    group: ClassVar[str] = "Heat"
    sentence: ClassVar[str] = (
        "{id}: a heater of {power}, on below {on} and off above {off}, losing {loss} at {rated}, bore {bore}."
    )
    symbol: ClassVar[str] = (
        "M-0.8,-0.8 L0.8,-0.8 L0.8,0.8 L-0.8,0.8 Z M-0.5,0 L-0.25,-0.5 L0,0.5 L0.25,-0.5 L0.5,0"
    )

    heats: ClassVar[bool] = True
    kind: Literal["heater"] = "heater"
    power: Text = quantity(
        "power",
        "power",
        "Heat it brings in when on.",
        default="10 kW",
        at_least=0,
        varies="t",
    )
    on: Text = quantity(
        "temperature", "switch-on temperature", "Of what enters; it heats below.", default="58 °C"
    )
    off: Text = quantity(
        "temperature", "switch-off temperature", "Of what enters; it rests above.", default="62 °C"
    )
    loss: Text = quantity(
        "pressure",
        "loss",
        "Loss of pressure at the rated flow.",
        default="2 kPa",
        at_least=0,
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where that loss was measured.",
        default="2 L/s",
        above=0,
    )

    @classmethod
    def switches(cls, a: Any) -> tuple[Floats, Floats, Floats]:
        """Give the heat brought in when on (W), and where it switches on and off (K)."""
        return a.power, np.asarray(a.on), np.asarray(a.off)

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Check that it can switch."""
        if not numbers.on < numbers.off:
            raise ComponentFault(
                "off", "a heater must switch off above where it switches on.", "Change one of them."
            )
        return numbers
