"""A smooth bend."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import fittings, friction
from mop_lantern.laws.sections import ROUGHNESS
from mop_lantern.network.component import Bored, Drop, Floats


class Bend(Bored):
    """A smooth bend, its own length included; several alike count together.

    Source: Rennels and Hudson, Pipe Flow (2012), with the friction of fully rough steel.
    """

    caption: ClassVar[str] = "Bend"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: {count} bends of {angle}, radius {radius} bores, bore {bore}."
    symbol: ClassVar[str] = "M-1,0 Q0,0 0,-0.6 M0,-0.6 Q0,0 1,0"

    needs_bore: ClassVar[bool] = True
    kind: Literal["bend"] = "bend"
    count: Text = count("number", "How many alike.", default="1", at_least=1)
    angle: Text = quantity(
        "angle",
        "angle",
        "Turn of the flow.",
        default="90 deg",
        above=0,
        at_most=3.2,
    )
    radius: Text = quantity(
        "number",
        "radius",
        "Radius of the centreline over the bore.",
        default="1.5",
        at_least=0.5,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """K with the friction of fully rough steel, so that it does not change with the flow."""
        rough = 0.25 / np.log10(ROUGHNESS["steel"][1] / a.bore / 3.7) ** 2
        return friction.local_drop(
            q,
            a.count * fittings.smooth_bend(a.angle, a.radius, rough),
            np.pi / 4 * a.bore**2,
            rho,
            mu,
            a.bore,
        )
