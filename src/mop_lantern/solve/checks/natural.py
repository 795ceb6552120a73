"""Walls along which the fluid rises or sinks by itself."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck

SHARE = 0.2  # of the heat through walls


class Natural(TrustCheck):
    """How much of the heat passes walls by natural convection, which the law of the wall does not know.

    Source: own runs against the tall cavity of Betts and Bokhari (2000): speeds 30 to 100 % too high.
    """

    caption: ClassVar[str] = "Natural convection at walls"
    kind: Literal["natural"] = "natural"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Weigh walls with the heat that passes them."""
        turbulence = evidence.physics.turbulence
        if turbulence is None or not turbulence.naturally.any() or "T" not in evidence.physics.scalars:
            return []
        walls = turbulence.walls.faces
        heat = np.abs(evidence.physics.scalars["T"].boundary_flux()[: turbulence.flow.mesh.n_boundary][walls])
        share = float(heat[turbulence.naturally].sum() / max(heat.sum(), 1e-300))
        if share < SHARE:
            return []
        text = (
            f"{share:.0%} of the heat at walls passes where the fluid rises or sinks along them by itself. "
            "The law of the wall knows forced flow: heat there is good for about 15 %, but speeds close to "
            "these walls may be 30 to 100 % too high. The room may also hold one of several circulations."
        )
        return [Trust("natural", "caution", share, SHARE, text)]
