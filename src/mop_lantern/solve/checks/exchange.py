"""What passes an open window or door both ways at once."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.outside import surrounded
from mop_lantern.units import show

LEAST = 1e-3  # of what passes one way


class Exchange(TrustCheck):
    """Tell what comes in and what goes out where an opening to still surroundings is passed both ways.

    Source: sum of the solver's own face fluxes.
    """

    caption: ClassVar[str] = "Exchange through open windows"
    kind: Literal["exchange"] = "exchange"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at every opening of its own."""
        answer = evidence.answer
        told = []
        largest = 0.0
        for edge in surrounded(evidence.settled):
            flows = answer.volume_outflow[answer.mesh.faces_of(edge)]
            out, back = float(np.maximum(flows, 0.0).sum()), float(-np.minimum(flows, 0.0).sum())
            if min(out, back) > LEAST * max(out, back):
                largest = max(largest, min(out, back) / max(out, back))
                enters, leaves = (show(each, "volume_flow", "L/s", 3) for each in (back, out))
                told.append(f"{enters} in and {leaves} out through {edge}")
        if not told:
            return []
        text = f"Fluid passes both ways at once: {'; '.join(told)}. What comes in is as outdoors."
        return [Trust("exchange", "holds", largest, 1.0, text)]
