"""Whether the forces on the whole fluid add up."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.field.force_balance import force_balance
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.physics import Physics

FORCE_LIMIT = 0.02  # of the forces at work; check cases on their own grids stay under 0.012


class Forces(TrustCheck):
    """Pressure, friction and momentum over the whole space add up.

    Source: momentum theorem; the limit from our own check cases.
    """

    caption: ClassVar[str] = "Forces"
    in_time: ClassVar[bool] = False
    kind: Literal["forces"] = "forces"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        return [force_trust(evidence.physics)] if evidence.physics.wet.n_cells else []


def force_trust(physics: Physics) -> Trust:
    """Judge whether pressure, friction on the walls, weight and what the fluid carries add up over the whole
    space.
    """
    left, scale = force_balance(physics.flow)
    share = float(np.linalg.norm(left)) / scale if scale > 0 else 0.0
    text = (
        f"Pressure, friction and momentum over the whole space add up to {max(share, 1e-16):.1%} of the "
        "forces."
    )
    if share > FORCE_LIMIT:
        text += " The cells are coarse where friction is made: halve them and compare."
    return Trust(
        "forces",
        "holds" if share <= FORCE_LIMIT else "caution",
        share,
        FORCE_LIMIT,
        text,
    )
