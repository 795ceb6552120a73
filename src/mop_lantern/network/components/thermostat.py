"""A thermostatic valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import Bored, ComponentFault, Drop, Floats, valve_drop


class Thermostat(Bored):
    """A valve whose element opens it by temperature, in proportion between two temperatures; over time it
    lags behind.

    Without temperatures followed it stands as at the temperature of its fluid.

    Source: Kv by IEC 60534-1; opening in proportion, lag of the first order (common practice, no source).
    """

    caption: ClassVar[str] = "Thermostatic valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a thermostatic valve, Kv {kv} and {least} of it when shut, that {way} between {low} and "
        "{high} of what it feels at {sensed}, lagging {lag}, bore {bore}."
    )
    symbol: ClassVar[str] = (
        "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z M0,0 L0,-0.5 M0.2,-0.7 A0.2,0.2 0 1 1 -0.2,-0.7 A0.2,0.2 0 "
        "1 1 0.2,-0.7 Z"
    )
    adapts: ClassVar[str] = "share"

    kind: Literal["thermostat"] = "thermostat"
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar when open.",
        default="5 m3/h",
        above=0,
    )
    least: Text = quantity(
        "fraction",
        "leakage",
        "Fraction of Kv left when shut.",
        default="0.1 %",
        above=0,
        at_most=1,
    )
    way: Literal["opens", "shuts"] = choice(
        "way",
        "What it does as it gets warmer.",
        {"opens": "opens as it warms", "shuts": "shuts as it warms"},
        default="opens",
    )
    low: Text = quantity("temperature", "lower temperature", "Where it begins to move.", default="40 °C")
    high: Text = quantity(
        "temperature", "upper temperature", "Where it has moved all the way.", default="50 °C"
    )
    sensed: str = reference(
        "node", "place it feels", "Node whose temperature it feels; empty for what enters it.", default=""
    )
    lag: Text = quantity(
        "time",
        "lag",
        "Time constant of its element.",
        default="15 s",
        at_least=0,
    )

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Check that it can move; it stands half open until it has felt something."""
        if not numbers.low < numbers.high:
            raise ComponentFault(
                "low", "the lower temperature must lie below the upper one.", "Change one of them."
            )
        return Numbers(**{**vars(numbers), "share": 0.5})

    @classmethod
    def settle(
        cls,
        a: Any,
        state: Floats,
        entering: Floats,
        flow: Floats,
        dt: float,
    ) -> Floats:
        """Follow the temperature felt."""
        rise = np.clip((entering - a.low) / (a.high - a.low), 0.0, 1.0)
        target = np.where(a.way == "opens", rise, 1 - rise)
        return np.asarray(target + (state - target) * np.exp(-dt / np.maximum(a.lag, 1e-9)))

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
            valves.resistance(a.kv * 3600 * np.maximum(a.share, a.least), rho),
            mu,
            rho,
            a.bore,
        )
