"""A relief valve."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import valves
from mop_lantern.network.component import LEAK, Bored, ComponentFault, Drop, Floats


class Relief(Bored):
    """A relief valve: shut below its set pressure, wholly open at the full-open pressure, both as difference
    over it.

    Once open it follows the line from its reseating pressure and shuts only there.

    Source: Kv by IEC 60534-1, the opening proportional to the pressure above the set one (common practice, no
    source).
    """

    caption: ClassVar[str] = "Relief valve"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a relief valve opening at {set}, full open at {full}, shutting at {reseat}, Kv {kv}, "
        "bore {bore}."
    )
    symbol: ClassVar[str] = "M-1,-0.6 L1,0.6 L1,-0.6 L-1,0.6 Z M0,0 L0,-0.9 M-0.3,-0.7 L0.3,-0.9"

    adapts: ClassVar[str] = "lifted"

    kind: Literal["relief"] = "relief"
    set: Text = quantity(
        "pressure",
        "set pressure",
        "Where it begins to open.",
        default="6 bar",
        above=0,
    )
    full: Text = quantity(
        "pressure",
        "full-open pressure",
        "Where it is wholly open.",
        default="7 bar",
        above=0,
    )
    reseat: Text = quantity(
        "pressure",
        "reseating pressure",
        "Where it shuts again once open; auto is where it opens.",
        default="auto",
        above=0,
    )
    kv: Text = quantity(
        "volume_flow",
        "Kv",
        "Flow of water at 1 bar when open.",
        default="5 m3/h",
        above=0,
    )

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Check that full is above set."""
        if not numbers.full > numbers.set:
            raise ComponentFault(
                "full", "the full-open pressure must lie above the set pressure.", "Raise it."
            )
        reseat = numbers.set if numbers.reseat is None else numbers.reseat
        if reseat > numbers.set:
            raise ComponentFault(
                "reseat",
                "a relief valve cannot shut above the pressure that opens it.",
                "Lower it, or write auto.",
            )
        return Numbers(
            **{
                **vars(numbers),
                "reseat": reseat,
                "lifted": False,
            }
        )

    @classmethod
    def settle(
        cls,
        a: Any,
        state: Floats,
        entering: Floats,
        flow: Floats,
        dt: float,
    ) -> Floats:
        """Open while it passes anything."""
        return np.asarray(flow > 1e-6 * a.kv)

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Invert q = Kv share(dp) sqrt(dp / rho), which rises with dp."""
        begin = np.where(a.lifted, a.reseat, a.set)
        most = a.kv * 3600 * valves.KV / np.sqrt(rho)
        forward = np.maximum(q, 0.0)
        dp = begin + (a.full - begin) * np.clip(forward / (most * np.sqrt(a.full)), 0.0, 1.0)
        for _ in range(30):  # Newton on a rising, nearly straight curve
            value = most * (dp - begin) / (a.full - begin) * np.sqrt(dp)
            by = most / (a.full - begin) * (np.sqrt(dp) + 0.5 * (dp - begin) / np.sqrt(dp))
            dp = np.maximum(dp - (value - forward) / by, begin)
        by = most / (a.full - begin) * (np.sqrt(dp) + 0.5 * (dp - begin) / np.sqrt(dp))
        wide = dp >= a.full
        dp = np.where(wide, (forward / most) ** 2, dp)
        slope = np.where(wide, 2 * forward / most**2, 1 / by)
        small = 1e-9 * a.kv  # shut: what is below the set pressure drives next to nothing
        shut = np.clip(q / small, -1.0, 1.0)
        return np.where(q < small, begin * shut + np.where(q < 0, LEAK * q, 0.0), dp), np.where(
            q < small, np.where(q > -small, begin / small, 0.0) + np.where(q < 0, LEAK, 0.0), slope
        )
