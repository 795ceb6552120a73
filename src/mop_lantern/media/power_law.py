"""A power-law fluid."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.media._shear import CREEP, Sheared


class PowerLaw(Sheared):
    """Viscosity = K rate^(n - 1), held between two limits.

    Source: Bird, Stewart and Lightfoot, *Transport Phenomena* (2nd ed.), section 8.3 (Ostwald and de Waele).
    """

    caption: ClassVar[str] = "Power-law fluid"
    group: ClassVar[str] = "Shear-dependent viscosity"
    symbol: ClassVar[str] = "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 M-0.8,-0.7 Q-0.6,0.5 0.8,0.6"
    sentence: ClassVar[str] = (
        "The fluid is {name}, of density {density}; its viscosity is {consistency} at 1 1/s, of power "
        "{index}, held between {lowest} and {highest}."
    )

    kind: Literal["power_law"] = "power_law"
    consistency: Text = quantity(
        "consistency",
        "consistency",
        "Viscosity at a shear rate of 1 1/s.",
        default="0.5 Pa s",
        above=0,
    )
    index: Text = quantity(
        "number",
        "index",
        "Below 1 the fluid thins when sheared.",
        default="0.5",
        above=0,
        at_most=3,
    )
    lowest: Text = quantity(
        "viscosity",
        "lowest viscosity",
        "The viscosity never falls below.",
        default="1e-4 Pa s",
        above=0,
    )
    highest: Text = quantity(
        "viscosity",
        "highest viscosity",
        "The viscosity never rises above.",
        default="1e3 Pa s",
        above=0,
    )

    @classmethod
    def law(cls, numbers: Any) -> Callable[[Any], Any]:
        """Give the law."""

        def viscosity(rate: Any) -> Any:
            return np.clip(
                numbers.consistency * np.maximum(rate, CREEP) ** (numbers.index - 1),
                numbers.lowest,
                numbers.highest,
            )

        return viscosity
