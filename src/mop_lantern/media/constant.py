"""A fluid with the analyst's own properties, constant or by temperature."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, text
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Medium, from_table
from mop_lantern.units import Varying


class Constant(Medium):
    """A fluid whose properties are given: as constants, or as expressions and tables of the temperature T.

    Source: the analyst's own figures.
    """

    caption: ClassVar[str] = "Own properties"
    group: ClassVar[str] = "Own properties"
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.35,-0.15 L0.35,-0.15 M-0.35,0.2 L0.35,0.2"
    )
    sentence: ClassVar[str] = (
        "The fluid is {name}, of density {density} and dynamic viscosity {viscosity}; specific heat "
        "{capacity}, conductivity {conductivity} and expansion {expansion} at {temperature}."
    )

    kind: Literal["constant"] = "constant"
    name: str = text("name", "What the fluid is called.", default="water at 20 °C")
    density: Text = quantity(
        "density",
        "density",
        "Mass per volume; may use T, as in = density1(T).",
        default="998.2 kg/m3",
        above=0,
        varies="T",
    )
    viscosity: Text = quantity(
        "viscosity",
        "viscosity",
        "Dynamic viscosity; may use T.",
        default="1.0016 mPa s",
        above=0,
        varies="T",
    )
    capacity: Text = quantity(
        "heat_capacity",
        "specific heat",
        "Needed for heat; may use T.",
        default="4184 J/kg/K",
        above=0,
        varies="T",
    )
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "Needed for heat; may use T.",
        default="0.598 W/m/K",
        above=0,
        varies="T",
    )
    expansion: Text = quantity(
        "per_kelvin",
        "expansion",
        "Relative loss of density by temperature, for buoyancy (Boussinesq).",
        default="2.07e-4 1/K",
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Take the figures as they are, or tabulate them over temperature."""
        names = ("density", "viscosity", "capacity", "conductivity")
        if not any(isinstance(getattr(numbers, name), Varying) for name in names):
            return Fluid(
                numbers.temperature,
                numbers.density,
                numbers.viscosity,
                numbers.capacity,
                numbers.conductivity,
                numbers.expansion,
            )
        T = np.arange(200.15, 700.0)
        over = {"temperature": T}
        for name in names:
            value = getattr(numbers, name)
            over[name] = np.broadcast_to(
                np.asarray(value.at({"T": T}) if isinstance(value, Varying) else value, float), T.shape
            )
        return from_table(over, numbers.temperature, True, "this fluid")
