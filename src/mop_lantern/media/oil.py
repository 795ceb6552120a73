"""A mineral oil by two viscosities."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, text
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Followed, from_table


class Oil(Followed):
    """A mineral oil whose kinematic viscosity is known at two temperatures.

    Between them log10(log10(nu + 0.7)) = A - B log10(T), nu in mm2/s. The density falls evenly by the
    expansion given.

    Source: ASTM D341 (two-point form); specific heat and conductivity of mineral oils after Cragoe, NBS
    Miscellaneous Publication 97 (1929); not at hand to check.
    """

    caption: ClassVar[str] = "Oil, by two viscosities"
    group: ClassVar[str] = "Liquids"
    symbol: ClassVar[str] = "M0,-0.9 Q0.7,0 0.7,0.3 A0.7,0.6 0 1 1 -0.7,0.3 Q-0.7,0 0,-0.9 Z M0,-0.1 L0,0.6"
    sentence: ClassVar[str] = (
        "The fluid is {name}, of {nu1} at {t1} and {nu2} at {t2}, density {density} at 15 °C, "
        "expanding by {expansion}; its properties at {temperature}, {follow}."
    )

    kind: Literal["oil"] = "oil"
    name: str = text("name", "What the oil is called.", default="mineral oil VG 46")
    nu1: Text = quantity(
        "diffusivity",
        "kinematic viscosity",
        "At the first temperature.",
        default="46 mm2/s",
        above=2e-7,
    )
    t1: Text = quantity(
        "temperature",
        "first temperature",
        "Of the first viscosity.",
        default="40 °C",
        above=0,
    )
    nu2: Text = quantity(
        "diffusivity",
        "kinematic viscosity",
        "At the second temperature.",
        default="6.8 mm2/s",
        above=2e-7,
    )
    t2: Text = quantity(
        "temperature",
        "second temperature",
        "Of the second viscosity.",
        default="100 °C",
        above=0,
    )
    density: Text = quantity(
        "density",
        "density",
        "At 15 °C.",
        default="875 kg/m3",
        above=0,
    )
    expansion: Text = quantity(
        "per_kelvin",
        "expansion",
        "Relative loss of density by temperature.",
        default="7e-4 1/K",
        at_least=0,
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Work the table out."""
        if abs(numbers.t1 - numbers.t2) < 1.0:
            raise ValueError("the two temperatures of the oil's viscosity lie too close together.")
        z1, z2 = (np.log10(np.log10(nu * 1e6 + 0.7)) for nu in (numbers.nu1, numbers.nu2))
        slope = (z1 - z2) / (np.log10(numbers.t2) - np.log10(numbers.t1))
        T = np.arange(233.15, 433.15)
        nu = (10 ** (10 ** (z1 - slope * (np.log10(T) - np.log10(numbers.t1)))) - 0.7) * 1e-6
        density = numbers.density * (1 - numbers.expansion * (T - 288.15))
        gravity = numbers.density / 999.0
        celsius = T - 273.15
        over = {
            "temperature": T,
            "density": density,
            "viscosity": nu * density,
            "capacity": (1685.0 + 3.4 * celsius) / np.sqrt(gravity),
            "conductivity": 0.1172 / gravity * (1 - 0.00054 * celsius),
        }
        return from_table(over, numbers.temperature, numbers.follow, "the oil")
