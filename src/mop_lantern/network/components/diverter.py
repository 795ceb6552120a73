"""One leg of a three-way valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import Bored, Drop, Floats, valve_drop


class Diverter(Bored):
    """One leg of a three-way valve that parts or joins flows: what the straight leg opens, the side leg
    closes.

    Give both legs the same position, best by a parameter.

    Source: IEC 60534-1, linear legs.
    """

    caption: ClassVar[str] = "Leg of a three-way valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: the {leg} leg of a three-way valve at {position}, Kv {kv} when open, bore {bore}."
    )
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z M0,0 L-0.6,0.9 L0.6,0.9 Z"
    opens: ClassVar[str] = "opening"

    kind: Literal["diverter"] = "diverter"
    leg: Literal["straight", "side"] = choice(
        "leg", "Which leg this is.", {"straight": "straight", "side": "side"}, default="straight"
    )
    position: Text = quantity(
        "fraction",
        "position",
        "0 % sends all through the side leg, 100 % all straight.",
        default="50 %",
        at_least=0,
        at_most=1,
        varies="t",
    )
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar through one open leg.",
        default="25 m3/h",
        above=0,
    )

    @classmethod
    def closed(cls, a: Any) -> Any:
        """Shut at one end of the travel."""
        return cls._share(a) <= 0

    @classmethod
    def _share(cls, a: Any) -> Floats:
        return np.asarray(np.where(a.leg == "straight", a.position, 1 - a.position))

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """A linear valve."""
        return valve_drop(
            q,
            valves.resistance(a.kv * 3600 * np.maximum(cls._share(a), 1e-9), rho),
            mu,
            rho,
            a.bore,
        )
