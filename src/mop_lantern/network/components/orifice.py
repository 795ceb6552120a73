"""An orifice plate."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import friction, orifice
from mop_lantern.network.component import Bored, ComponentFault, Drop, Floats


class Orifice(Bored):
    """An orifice plate for measuring or balancing; backwards it loses the same.

    Source: ISO 5167-2:2003, permanent loss with the Reader-Harris/Gallagher coefficient.
    """

    caption: ClassVar[str] = "Orifice plate"
    group: ClassVar[str] = "Filters, orifices and given flows"
    sentence: ClassVar[str] = "{id}: an orifice plate with a hole of {hole}, {taps} taps, bore {bore}."
    symbol: ClassVar[str] = "M-1,0 L1,0 M0,-0.7 L0,-0.2 M0,0.2 L0,0.7"

    needs_bore: ClassVar[bool] = True
    kind: Literal["orifice"] = "orifice"
    hole: Text = quantity(
        "length",
        "hole",
        "Diameter of the hole.",
        default="25 mm",
        above=0,
    )
    taps: Literal["corner", "flange", "D"] = choice(
        "taps",
        "Where the pressure is taken.",
        {
            "corner": "corner",
            "flange": "flange",
            "D": "D and D/2",
        },
        default="corner",
    )

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Check that the hole fits."""
        if numbers.bore is not None and not 0.05 < numbers.hole / numbers.bore < 0.98:
            raise ComponentFault(
                "hole",
                "the hole must be smaller than the bore.",
                "Give 10 % to 75 % of the bore, the range of ISO 5167.",
            )
        return numbers

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """K by the Reynolds number; held below 5000, where the standard ends."""
        area = np.pi / 4 * a.bore**2
        beta = a.hole / a.bore
        k = []
        for shift in (1.0, 1.001):
            reynolds = np.maximum(rho * np.abs(q) * shift / area * a.bore / mu, 5e3)
            c = np.select(
                [a.taps == taps for taps in ("corner", "flange")],
                [orifice.discharge(beta, reynolds, a.bore, taps) for taps in ("corner", "flange")],
                orifice.discharge(beta, reynolds, a.bore, "D"),
            )
            k.append(orifice.loss_coefficient(beta, c))
        drop, slope = friction.local_drop(
            q,
            k[0],
            area,
            rho,
            mu,
            a.bore,
        )
        return drop, slope * (1 + (k[1] / k[0] - 1) / 0.001 * 0.5)
