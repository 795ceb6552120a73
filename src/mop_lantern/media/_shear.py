"""What fluids with a shear-rate law have in common."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np

from mop_lantern.declare import quantity, text
from mop_lantern.declare.kind import Text
from mop_lantern.media._fluid import Fluid, Medium

NOMINAL = 100.0  # 1/s: where the one viscosity shown for such a fluid is taken
CREEP = 1e-8  # 1/s: below this no fluid is measured, and power laws would run away


class Sheared(Medium):
    """A fluid whose viscosity depends on the shear rate; ``law(numbers)`` gives it."""

    name: str = text("name", "What the fluid is called.", default="thickened water")
    density: Text = quantity(
        "density",
        "density",
        "Mass per volume.",
        default="1000 kg/m3",
        above=0,
    )
    capacity: Text = quantity(
        "heat_capacity",
        "specific heat",
        "Needed for heat.",
        default="4184 J/kg/K",
        above=0,
    )
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "Needed for heat.",
        default="0.598 W/m/K",
        above=0,
    )

    @classmethod
    def law(cls, numbers: Any) -> Callable[[Any], Any]:
        """Give viscosity (Pa s) as a function of shear rate (1/s)."""
        raise NotImplementedError

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Take the figures; the viscosity at 100 1/s stands for the fluid."""
        law = cls.law(numbers)
        return Fluid(
            numbers.temperature,
            numbers.density,
            float(law(np.array(NOMINAL))),
            numbers.capacity,
            numbers.conductivity,
            0.0,
            law=law,
        )


class Thinning(Sheared):
    """A fluid whose viscosity falls from one value at rest to another in strong shear; a kind says with
    ``share(numbers, rate)`` how much of the way is left, 1 at rest.
    """

    still: Text = quantity(
        "viscosity",
        "viscosity at rest",
        "At no shear.",
        default="0.1 Pa s",
        above=0,
    )
    sheared: Text = quantity(
        "viscosity",
        "viscosity in strong shear",
        "At endless shear.",
        default="1 mPa s",
        at_least=0,
    )
    time: Text = quantity(
        "time",
        "time",
        "One over the shear rate at which the thinning is under way.",
        default="1 s",
        at_least=0,
    )

    @classmethod
    def share(cls, numbers: Any, rate: Any) -> Any:
        """Give what is left of the fall at shear rates (1/s)."""
        raise NotImplementedError

    @classmethod
    def law(cls, numbers: Any) -> Callable[[Any], Any]:
        """Give viscosity (Pa s) as a function of shear rate (1/s)."""
        return lambda rate: numbers.sheared + (numbers.still - numbers.sheared) * cls.share(numbers, rate)
