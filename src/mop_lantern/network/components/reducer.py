"""A change of bore."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import fittings, friction
from mop_lantern.network.component import Component, Drop, Floats


class Reducer(Component):
    """A change of bore, sudden or by a cone; either way round, and backwards too.

    Source: Borda and Carnot; sudden narrowing Rennels and Hudson (2012); cones Crane, Technical Paper 410.
    """

    caption: ClassVar[str] = "Change of bore"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: a {form} change of bore from {bore} to {to}, cone angle {angle}."
    symbol: ClassVar[str] = "M-1,-0.6 L1,-0.3 L1,0.3 L-1,0.6 Z"

    kind: Literal["reducer"] = "reducer"
    form: Literal["sudden", "cone"] = choice(
        "form", "A step or a cone.", {"sudden": "sudden", "cone": "conical"}, default="sudden"
    )
    bore: Text = quantity(
        "length",
        "first bore",
        "Bore at the start of the line's direction.",
        default="50 mm",
        above=0,
    )
    to: Text = quantity(
        "length",
        "second bore",
        "Bore at its end.",
        default="80 mm",
        above=0,
    )
    angle: Text = quantity(
        "angle",
        "cone angle",
        "Included angle of a cone.",
        default="20 deg",
        above=0,
        at_most=3.15,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """K on the small side, by the way the flow goes."""
        small = np.minimum(a.bore, a.to)
        beta = small / np.maximum(a.bore, a.to)
        widens = (q >= 0) == (a.to >= a.bore)
        step = np.where(widens, fittings.sudden_expansion(beta**2), fittings.sudden_contraction(beta))
        cone = np.where(widens, fittings.cone_widening(beta, a.angle), fittings.cone_narrowing(beta, a.angle))
        return friction.local_drop(
            q,
            np.where(a.form == "sudden", step, cone),
            np.pi / 4 * small**2,
            rho,
            mu,
            small,
        )

    @classmethod
    def bore_at(cls, numbers: Any, side: int) -> float | None:
        """Its second bore at its end."""
        return numbers.to if side and numbers.to is not None else numbers.bore
