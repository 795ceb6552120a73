"""Whether heat balances in the fluid and in every solid."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge import Trust
from mop_lantern.judge.trust import BALANCE_FAILS, BALANCE_LIMIT, graded
from mop_lantern.solve.check import Evidence, TrustCheck


class Regions(TrustCheck):
    """Where solids conduct heat, what enters every solid, is made in it and leaves it adds up; what enters
    it from a neighbour is what leaves the neighbour, by construction.

    Source: conservation.
    """

    caption: ClassVar[str] = "Heat of every solid"
    kind: Literal["regions"] = "regions"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer; the whole is judged with all that is carried."""
        scalar = evidence.physics.scalars.get("T")
        if scalar is None or not len(scalar.mesh.region):
            return []
        most = max(largest for _, largest in scalar.came_by_region().values()) or 1e-300
        items = []
        for name, (left, largest) in scalar.came_by_region().items():
            if not name:
                continue
            share = abs(left) / max(largest, 1e-6 * most)
            text = f"Heat balances in the solid {name} to {max(share, 1e-16):.0e} of what passes through it."
            items.append(graded(f"region.{name}", share, BALANCE_LIMIT, BALANCE_FAILS, text))
        return items
