"""A flow-limiting valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import Bored, Drop, Floats, valve_drop


class FlowLimit(Bored):
    """A flow-control valve: a plain valve up to its set flow, beyond which it throttles as hard as it must.

    Source: the ideal regulator with a band of one per cent over the set flow (ours); IEC 60534-1 below it.
    """

    caption: ClassVar[str] = "Flow-limiting valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a flow-control valve letting at most {limit} pass, Kv {kv} below it, bore {bore}."
    )
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z M-0.4,-0.9 L0.4,0.9"
    opens: ClassVar[str] = "limit"

    kind: Literal["flow_limit"] = "flow_limit"
    limit: Text = quantity(
        "volume_flow",
        "set flow",
        "Most that passes forwards.",
        default="10 L/min",
        at_least=0,
        varies="t",
    )
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar below the limit.",
        default="10 m3/h",
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
        """A valve plus a wall beyond the limit: 100 bar within one per cent."""
        drop, slope = valve_drop(
            q,
            valves.resistance(a.kv * 3600, rho),
            mu,
            rho,
            a.bore,
        )
        wall = 1e7 / (0.01 * np.maximum(a.limit, 1e-9))
        over = np.maximum(q - a.limit, 0.0)
        return drop + wall * over, slope + np.where(over > 0, wall, 0.0)
