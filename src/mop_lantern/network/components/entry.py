"""Where a line begins in a large space."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import fittings, friction
from mop_lantern.network.component import Bored, Drop, Floats


class Entry(Bored):
    """An entry from a large space; backwards it is an exit.

    Source: Crane, Technical Paper 410, for entries flush with the wall; re-entrant 0.8 (White, Fluid
    Mechanics, not at hand to check).
    """

    caption: ClassVar[str] = "Entry"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: {form} entry of bore {bore}, edge rounded by {rounding} of the bore."
    symbol: ClassVar[str] = "M-1,0.7 Q-0.4,0.3 0,0.25 L1,0.25 M-1,-0.7 Q-0.4,-0.3 0,-0.25 L1,-0.25"

    needs_bore: ClassVar[bool] = True
    kind: Literal["entry"] = "entry"
    form: Literal["flush", "reentrant"] = choice(
        "form", "How the pipe begins.", {"flush": "a flush", "reentrant": "a re-entrant"}, default="flush"
    )
    rounding: Text = quantity(
        "fraction",
        "rounding",
        "Radius of the edge over the bore; 0 for a sharp edge.",
        default="0",
        at_least=0,
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
        """K of the entry forwards, 1 backwards."""
        k = np.where(a.form == "reentrant", 0.8, fittings.rounded_entry(a.rounding))
        return friction.local_drop(
            q,
            np.where(q >= 0, k, 1.0),
            np.pi / 4 * a.bore**2,
            rho,
            mu,
            a.bore,
        )
