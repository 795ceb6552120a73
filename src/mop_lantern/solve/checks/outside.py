"""Given pressures at different heights, beside surroundings of another weight."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.declare import discover
from mop_lantern.field.boundary import Opening
from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.outside import columns
from mop_lantern.units import show

MATTERS = 0.05  # of the pressures in the space


class Outside(TrustCheck):
    """Tell what the weight of the surroundings would add between openings whose pressures are given beside
    fluid at its reference.

    Source: hydrostatics, any text on natural ventilation.
    """

    caption: ClassVar[str] = "Weight of the surroundings"
    kind: Literal["outside"] = "outside"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Compare with the pressures that the flow makes."""
        settled = evidence.settled
        kinds = discover("mop_lantern.field.openings", Opening)
        openings = settled.numbers.openings
        weights = columns(settled, evidence.physics.wet, evidence.physics.time, every=True)
        missing = {
            key: 0.0 if kinds[openings[key].kind].surroundings else float(column.mean())
            for key, column in weights.items()
        }
        apart = float(np.ptp(list(missing.values()))) if missing else 0.0
        inside = float(np.ptp(evidence.answer.pressure))
        if apart <= MATTERS * inside:
            return []
        ends = {min(missing, key=missing.__getitem__), max(missing, key=missing.__getitem__)}
        named = " and ".join(sorted(key for key in ends if not kinds[openings[key].kind].surroundings))
        text = (
            f"The pressure at {named} is given beside fluid at its reference. Still surroundings that hold "
            f"what would enter weigh otherwise, by {show(apart, 'pressure', 'Pa', 3)} between the openings; "
            f"in the space pressures differ by {show(inside, 'pressure', 'Pa', 3)}. Where an opening leads "
            "outdoors, make it an open window or a grille."
        )
        return [Trust("outside", "caution", apart / max(inside, 1e-300), MATTERS, text)]
