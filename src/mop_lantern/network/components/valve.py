"""A control or stop valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import Bored, Drop, Floats, valve_drop


class Valve(Bored):
    """A valve by its flow coefficient, its characteristic and its opening.

    Source: IEC 60534-1 and 60534-2-4.
    """

    caption: ClassVar[str] = "Valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a {type} valve at {opening}, Kv {kv}, {characteristic}, rangeability {rangeability}, "
        "bore {bore}."
    )
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z"
    opens: ClassVar[str] = "opening"

    kind: Literal["valve"] = "valve"
    type: Literal["gate", "globe", "ball", "butterfly", "needle"] = choice(
        "type",
        "What it is; the figures are those given.",
        {name: name for name in ("gate", "globe", "ball", "butterfly", "needle")},
        default="globe",
    )
    opening: Text = quantity(
        "fraction",
        "opening",
        "From shut (0 %) to open (100 %).",
        default="100 %",
        at_least=0,
        at_most=1,
        varies="t",
    )
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar when open, usually given in m3/h.",
        default="25 m3/h",
        above=0,
    )
    characteristic: Literal["linear", "equal", "quick"] = choice(
        "characteristic", "How the flow follows the opening.", valves.CHARACTERISTICS, default="equal"
    )
    rangeability: Text = quantity(
        "number",
        "rangeability",
        "Largest over smallest controlled coefficient.",
        default="50",
        above=1,
        at_most=1000,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Rho over Kv squared."""
        share = np.maximum(valves.opened(a.characteristic, a.opening, a.rangeability), 1e-9)
        return valve_drop(
            q,
            valves.resistance(a.kv * 3600 * share, rho),
            mu,
            rho,
            a.bore,
        )
