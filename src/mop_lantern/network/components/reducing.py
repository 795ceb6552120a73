"""A pressure-reducing valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import LEAK, Bored, Drop, Floats, valve_drop


class Reducing(Bored):
    """A valve that holds the pressure behind it at a set value as long as there is more before it; it never
    lets flow back.

    Source: the ideal regulator; wide open it is a valve of its Kv (IEC 60534-1).
    """

    caption: ClassVar[str] = "Pressure-reducing valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a pressure-reducing valve holding {set} behind it, Kv {kv} when wide open, bore {bore}."
    )
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z M0,0 L0,-0.8 L1,-0.8"
    regulates: ClassVar[bool] = True

    kind: Literal["reducing"] = "reducing"
    set: Text = quantity(
        "pressure",
        "set pressure",
        "Pressure to hold behind it, relative to the air outside.",
        default="3 bar",
        at_least=0,
        varies="t",
    )
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar when wide open.",
        default="25 m3/h",
        above=0,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Wide open; shut backwards."""
        drop, slope = valve_drop(
            np.maximum(q, 0.0),
            valves.resistance(a.kv * 3600, rho),
            mu,
            rho,
            a.bore,
        )
        return np.where(q < 0, LEAK * q, drop), np.where(q < 0, LEAK, slope)
