"""A drive that takes work out of the fluid."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Bored, Drop, Floats


class Motor(Bored):
    """A hydraulic motor, cylinder or turbine: it takes pressure and gives work; what it does not give warms
    the fluid.

    Source: work = efficiency x flow x loss; the load as a pair of loss and flow, a share of it the same at
    any flow. Energy balance.
    """

    caption: ClassVar[str] = "Hydraulic motor"
    group: ClassVar[str] = "Machines"
    sentence: ClassVar[str] = (
        "{id}: a motor taking {loss} at {rated}, of which {steady} is constant load, efficiency "
        "{efficiency}, "
        "bore {bore}."
    )
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.2,-0.35 L-0.8,0 L-0.2,0.35 Z"
    )
    works: ClassVar[bool] = True

    kind: Literal["motor"] = "motor"
    loss: Text = quantity(
        "pressure",
        "pressure taken",
        "At the rated flow.",
        default="60 bar",
        above=0,
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where it was measured.",
        default="25 L/min",
        above=0,
    )
    steady: Text = quantity(
        "fraction",
        "constant load",
        "Fraction of that pressure that it takes at any flow: its load.",
        default="80 %",
        at_least=0,
        at_most=1,
    )
    efficiency: Text = quantity(
        "fraction",
        "efficiency",
        "Work over what it takes.",
        default="80 %",
        above=0,
        at_most=1,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """A load that begins within a hundredth of the rated flow, and a part in proportion to it."""
        small = 0.01 * a.rated
        share = q / small
        load = np.where(np.abs(share) < 1, share, np.sign(q))
        by = np.where(np.abs(share) < 1, 1 / small, 0.0)
        return a.loss * (a.steady * load + (1 - a.steady + 1e-3) * q / a.rated), a.loss * (
            a.steady * by + (1 - a.steady + 1e-3) / a.rated
        )
