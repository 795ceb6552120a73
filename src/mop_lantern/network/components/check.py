"""A check valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import LEAK, Bored, Drop, Floats, valve_drop


class Check(Bored):
    """A check valve: open one way, shut the other.

    Source: Kv by IEC 60534-1; the leak backwards is 1e-15 m3/s a pascal, so that the answer exists (ours).
    """

    caption: ClassVar[str] = "Check valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = "{id}: a check valve, Kv {kv}, opening at {cracking}, bore {bore}."
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 M-1,-0.6 L-1,0.6 M1,-0.6 L1,0.6"

    kind: Literal["check"] = "check"
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar when open.",
        default="40 m3/h",
        above=0,
    )
    cracking: Text = quantity(
        "pressure",
        "opening pressure",
        "Difference of pressure that opens it.",
        default="0 Pa",
        at_least=0,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Forwards a valve, backwards a wall; between them the opening pressure."""
        drop, slope = valve_drop(
            np.maximum(q, 0.0),
            valves.resistance(a.kv * 3600, rho),
            mu,
            rho,
            a.bore,
        )
        small = 1e-6 * a.kv
        lift = a.cracking * np.clip(q / small, 0.0, 1.0)
        rise = np.where((q > 0) & (q < small), a.cracking / small, 0.0)
        return np.where(q < 0, LEAK * q, drop + lift), np.where(q < 0, LEAK, slope + rise)
