"""Whether the openings whose pressure follows the flow lie on their curves."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.field.flow.following import laws
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck

LIMIT = 1e-3  # of what the opening loses or the field spans: finished runs stay under 1e-5


class Follows(TrustCheck):
    """The pressure of an opening that follows the flow is that of its curve at the flow that was found.

    Source: identity of the answer; the limit from our own check cases.
    """

    caption: ClassVar[str] = "Openings on their curves"
    kind: Literal["follows"] = "follows"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        flow = evidence.physics.flow
        if not evidence.physics.wet.n_cells or not flow.following:
            return []
        through = flow.through()
        wanted, slopes = laws(flow.following, through, flow.entering(), flow.density)
        now = np.array([flow.boundary.pressure[one.faces[0]] / flow.density for one in flow.following])
        scale = np.maximum(np.ptp(flow.p), np.abs(slopes * through))
        off = float((np.abs(now - wanted) / np.maximum(scale, 1e-300)).max())
        text = f"Openings that follow the flow lie on their curves to {max(off, 1e-16):.0e}."
        if off > LIMIT:
            text += " Let the solve go on."
        return [Trust("follows", "holds" if off <= LIMIT else "caution", off, LIMIT, text)]
