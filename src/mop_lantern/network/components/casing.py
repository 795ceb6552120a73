"""What a component loses through its casing."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Component, Drop, Floats

HARDLY = 1.0  # Pa/(m3/s)


class Casing(Component):
    """Heat that a machine, valve or vessel beside it loses through its casing; it resists no flow.

    Source: resistances of a flat layer and its film in a row; any text on heat conduction.
    """

    caption: ClassVar[str] = "Casing that loses heat"
    group: ClassVar[str] = "Heat"
    sentence: ClassVar[str] = (
        "{id}: a casing of {surface} under {insulation} of insulation of {conductivity}, losing heat "
        "at {film} to {outside}."
    )
    symbol: ClassVar[str] = (
        "M-1,0 L1,0 M-0.6,-0.5 L0.6,-0.5 M-0.4,-0.8 L-0.4,-0.5 M0,-0.8 L0,-0.5 M0.4,-0.8 L0.4,-0.5"
    )

    leaks: ClassVar[bool] = True
    kind: Literal["casing"] = "casing"
    surface: Text = quantity(
        "area",
        "surface",
        "Area that loses heat.",
        default="0.5 m2",
        at_least=0,
    )
    insulation: Text = quantity(
        "length",
        "insulation",
        "Its thickness; 0 for a bare casing.",
        default="0 mm",
        at_least=0,
    )
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "Of the insulation.",
        default="0.04 W/m/K",
        above=0,
    )
    film: Text = quantity(
        "film",
        "outer film",
        "Heat transfer from the surface, radiation included: 8 to 12 W/m2/K in still air.",
        default="10 W/m2/K",
        above=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Temperature around it.",
        default="15 °C",
        varies="t",
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """So little that it does not count, but rising: a line may hold nothing else."""
        return HARDLY * q, np.full_like(q, HARDLY)

    @classmethod
    def transmittance(cls, a: Any) -> tuple[Floats, Floats]:
        """Give heat lost a kelvin (W/K) and the outside temperature (K)."""
        return np.asarray(a.surface / (a.insulation / a.conductivity + 1 / a.film)), np.asarray(a.outside)
