"""A bend of two straight ends."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import flag, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import fittings, friction
from mop_lantern.network.component import Bored, Drop, Floats


class Mitre(Bored):
    """A mitre bend, with or without guide vanes.

    Source: Rennels and Hudson, Pipe Flow (2012); with vanes a fifth of it (common practice, no source).
    """

    caption: ClassVar[str] = "Mitre bend"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: a mitre bend of {angle}, {vanes}, bore {bore}."
    symbol: ClassVar[str] = "M-1,0 L0,0 L0,-0.6 M0,0 L1,0"

    needs_bore: ClassVar[bool] = True
    kind: Literal["mitre"] = "mitre"
    angle: Text = quantity(
        "angle",
        "angle",
        "Turn of the flow.",
        default="90 deg",
        above=0,
        at_most=2.8,
    )
    vanes: bool = flag(
        "vanes", "Whether vanes guide the flow.", ("without vanes", "with guide vanes"), default=False
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """K of the bend."""
        k = fittings.mitre(a.angle) * np.where(a.vanes, 0.2, 1.0)
        return friction.local_drop(
            q,
            k,
            np.pi / 4 * a.bore**2,
            rho,
            mu,
            a.bore,
        )
