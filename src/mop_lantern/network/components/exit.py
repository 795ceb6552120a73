"""Where a line ends in a large space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.laws import fittings, friction
from mop_lantern.network.component import Bored, Drop, Floats


class Exit(Bored):
    """A discharge into a large space: the velocity pressure is lost; backwards it is a sharp entry.

    Source: Borda and Carnot; backwards Crane, Technical Paper 410.
    """

    caption: ClassVar[str] = "Exit"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: a discharge of bore {bore}."
    symbol: ClassVar[str] = "M-1,0.25 L0,0.25 L1,0.7 M-1,-0.25 L0,-0.25 L1,-0.7"

    needs_bore: ClassVar[bool] = True
    kind: Literal["exit"] = "exit"

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """One velocity pressure forwards."""
        return friction.local_drop(
            q,
            np.where(q >= 0, 1.0, fittings.rounded_entry(0.0)),
            np.pi / 4 * a.bore**2,
            rho,
            mu,
            a.bore,
        )
