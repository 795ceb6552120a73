"""How much denser or lighter what is carried makes the fluid."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge import Trust
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.solve.equations.species import Species


class Composition(TrustCheck):
    """Whether species change the density by more than the weight alone may stand for: how hard the fluid is
    to set moving stays that of the reference.

    Source: Gray and Giorgini, Int. J. Heat Mass Transfer 19 (1976) 545-551: within 10 % for differences of
    density up to about 0.1.
    """

    caption: ClassVar[str] = "Density by what is carried"
    kind: Literal["composition"] = "composition"
    LIMIT: ClassVar[float] = 0.1

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at all species that move the fluid together."""
        physics = evidence.physics
        acting = [name for name in physics.driving if physics.kinds[name] is Species]
        if not acting or evidence.settled.numbers.time.flow == "kept" and not evidence.steady:
            return []
        share = np.sum([Species.denser(physics, name) for name in acting], axis=0)
        most = float(np.abs(share).max(initial=0.0))
        way = "denser" if float(share[np.abs(share).argmax()]) > 0 else "lighter"
        text = f"What the fluid carries makes it at most {most:.1%} {way}"
        if most <= cls.LIMIT:
            return [
                Trust("composition", "holds", most, cls.LIMIT, f"{text}: little enough to count its weight.")
            ]
        text += (
            ": its weight is counted, and not how much harder or easier it is to set moving. Where it is so "
            "dense or light, as close to a leak, velocities may be off by 10 % and more."
        )
        return [Trust("composition", "caution", most, cls.LIMIT, text)]
