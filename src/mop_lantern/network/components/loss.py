"""A loss given as a coefficient or an equivalent length."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.laws import friction
from mop_lantern.laws.sections import ROUGHNESS
from mop_lantern.network.component import Bored, Drop, Floats


class Loss(Bored):
    """A local loss by its coefficient K, by an equivalent length over the bore, or both.

    Source: definition of K; equivalent length after Crane, Technical Paper 410: K = (L/D) f_T, f_T of fully
    rough flow in steel.
    """

    caption: ClassVar[str] = "Loss"
    group: ClassVar[str] = "Pipes, ducts and fittings"
    sentence: ClassVar[str] = "{id}: local loss K {k}, equivalent length {lengths} D, bore {bore}."
    symbol: ClassVar[str] = "M-1,0 L1,0 M-0.2,-0.4 L0.2,0.4 M0,-0.4 L0.4,0.4"

    needs_bore: ClassVar[bool] = True
    kind: Literal["loss"] = "loss"
    k: Text = quantity(
        "number",
        "K",
        "Loss in velocity pressures.",
        default="1",
        at_least=0,
    )
    lengths: Text = quantity(
        "number",
        "equivalent length",
        "Length over bore: threaded elbow 30, globe valve 340, gate valve 8.",
        default="0",
        at_least=0,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Velocity pressures."""
        rough = 0.25 / np.log10(ROUGHNESS["steel"][1] / a.bore / 3.7) ** 2
        return friction.local_drop(
            q,
            a.k + a.lengths * rough,
            np.pi / 4 * a.bore**2,
            rho,
            mu,
            a.bore,
        )
