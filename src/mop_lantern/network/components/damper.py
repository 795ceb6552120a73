"""A damper in a duct."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import friction
from mop_lantern.network.component import Component, Drop, Floats


class Damper(Component):
    """A damper: open it loses K0 velocity pressures, and ever more as its blades turn.

    Source: exponential law of blade dampers, K = K0 exp(c (1 - opening)) / opening (common practice, no
    source).
    """

    caption: ClassVar[str] = "Damper"
    group: ClassVar[str] = "Valves and dampers"
    sentence: ClassVar[str] = (
        "{id}: a damper at {opening} in a section of {section}, K {k} when open, loss exponent {strength}."
    )
    symbol: ClassVar[str] = "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.3,0.4 L0.3,-0.4"
    opens: ClassVar[str] = "opening"

    kind: Literal["damper"] = "damper"
    opening: Text = quantity(
        "fraction",
        "opening",
        "From shut (0 %) to open (100 %).",
        default="100 %",
        at_least=0,
        at_most=1,
        varies="t",
    )
    section: Text = quantity(
        "area",
        "section",
        "Free area of the duct.",
        default="0.05 m2",
        above=0,
    )
    k: Text = quantity(
        "number",
        "K open",
        "Loss when open.",
        default="0.3",
        above=0,
    )
    strength: Text = quantity(
        "number",
        "strength",
        "Exponent of the closing law.",
        default="7",
        above=0,
        at_most=20,
    )

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Its section."""
        return np.asarray(a.section)

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Velocity pressures."""
        k = a.k * np.exp(a.strength * (1 - a.opening)) / np.maximum(a.opening, 1e-4)
        return friction.local_drop(
            q,
            k,
            a.section,
            rho,
            mu,
            np.sqrt(a.section),
        )
