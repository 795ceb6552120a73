"""Whether turbulence has come to rest, and whether there is any."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.judge.trust import graded
from mop_lantern.solve.check import Evidence, TrustCheck

SETTLED, UNSETTLED = 1e-3, 1e-1  # scaled residual; readings of steps and columns stood still well before
LIVELY = 2.0  # times the viscosity of the fluid: an eddy viscosity that is hardly any


class Turbulent(TrustCheck):
    """The residual of the closure's equations, and whether they found turbulence anywhere.

    Source: own check cases; common practice for the limits, no source.
    """

    caption: ClassVar[str] = "Turbulence at rest"
    kind: Literal["turbulence"] = "turbulence"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at the last iteration."""
        turbulence = evidence.physics.turbulence
        if turbulence is None:
            return []
        nu = turbulence.flow.molecular
        volume = turbulence.flow.mesh.volume
        if turbulence.closure.second and not (turbulence.terms.eddy > LIVELY * nu).any():
            text = (
                "The closure found hardly any turbulence: the eddy viscosity is nowhere over "
                f"{LIVELY:g} times that of the fluid. Solve it as laminar, or let more turbulence in."
            )
            return [Trust("turbulence", "caution", 0.0, SETTLED, text)]
        if not evidence.steady or not turbulence.closure.second:
            return []
        mean = float(np.average(turbulence.terms.eddy / nu, weights=volume))
        text = (
            f"Turbulence is settled to a residual of {turbulence.residual:.1e}; the eddy viscosity is "
            f"{mean:.3g} times that of the fluid in the mean."
        )
        return [graded("turbulence", turbulence.residual, SETTLED, UNSETTLED, text)]
