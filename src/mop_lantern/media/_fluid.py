"""What the solver needs to know of a fluid: figures at its reference temperature, tables over temperature, a
shear law.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Kind, flag, quantity
from mop_lantern.declare.kind import Text

Floats = NDArray[np.float64]
FOLLOW_WORDS = ("at that temperature throughout", "following the temperature of the flow")


@dataclass(frozen=True)
class Fluid:
    """A fluid with its figures worked out.

    Attributes
    ----------
    temperature : reference, K. density, viscosity, capacity, conductivity : there, SI; capacity and
    conductivity may be nan
    when nobody gave them. expansion : -1/rho drho/dT there, 1/K.
    over : table of temperature (K) and density, viscosity, capacity, conductivity over it; empty when
    constant.
    follows : whether the properties follow the local temperature.
    law : viscosity (Pa s) by shear rate (1/s), for fluids that have no fixed one.
    """

    temperature: float
    density: float
    viscosity: float
    capacity: float
    conductivity: float
    expansion: float
    over: dict[str, Floats] = field(default_factory=dict)
    follows: bool = False
    law: Callable[[Any], Any] | None = None

    def at(self, name: str, temperature: Any) -> Any:
        """Give ``density``, ``viscosity``, ``capacity`` or ``conductivity`` at temperatures (K), held at the
        table's ends.
        """
        if not self.over:
            return getattr(self, name) + 0.0 * np.asarray(temperature)
        if name == "viscosity":  # falls like an exponential: straight lines suit its logarithm
            return np.exp(np.interp(temperature, self.over["temperature"], np.log(self.over[name])))
        return np.interp(temperature, self.over["temperature"], self.over[name])


class Medium(Kind):
    """A fluid of the library; ``fluid(numbers)`` works it out."""

    temperature: Text = quantity(
        "temperature",
        "temperature",
        "Where the properties are taken; also the reference of buoyancy.",
        default="20 °C",
    )

    @classmethod
    def fluid(cls, numbers: Any) -> Fluid:
        """Work the fluid out.

        Raises
        ------
        ValueError : the figures lie outside the range of the data; the text says how.
        """
        raise NotImplementedError


class Followed(Medium):
    """A fluid whose properties may follow the local temperature."""

    follow: bool = flag(
        "properties", "Whether properties change with the local temperature.", FOLLOW_WORDS, default=False
    )


def from_table(
    over: dict[str, Floats],
    temperature: float,
    follows: bool,
    what: str,
) -> Fluid:
    """Make a fluid from a table over temperature.

    Raises
    ------
    ValueError : the temperature lies outside the table.
    """
    known = np.isfinite(over["density"])
    over = {name: np.asarray(values)[known] for name, values in over.items()}
    T = over["temperature"]
    low, high = (float(T[0]), float(T[-1])) if len(T) else (np.nan, np.nan)
    if not low - 1e-9 <= temperature <= high + 1e-9:
        raise ValueError(
            f"{what} is known from {low - 273.15:.4g} to {high - 273.15:.4g} °C, not at "
            f"{temperature - 273.15:.4g} °C."
        )
    fluid = Fluid(
        temperature,
        0.0,
        0.0,
        0.0,
        0.0,
        0.0,
        over,
        follows,
    )
    figures = {
        name: float(fluid.at(name, temperature))
        for name in ("density", "viscosity", "capacity", "conductivity")
    }
    step = min(1.0, 0.5 * (high - low))
    near = np.clip([temperature - step, temperature + step], low, high)
    slope = float(np.diff(fluid.at("density", near))[0] / np.diff(near)[0]) if near[1] > near[0] else 0.0
    return Fluid(
        temperature,
        figures["density"],
        figures["viscosity"],
        figures["capacity"],
        figures["conductivity"],
        -slope / figures["density"],
        over,
        follows,
    )
