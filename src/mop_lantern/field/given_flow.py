"""What openings with a given flow have in common: the way, the profile, and how they write it on the boundary."""

from __future__ import annotations

from typing import Any, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_flow


class GivenFlow(Opening):
    """An opening whose flow is known; a kind says with ``magnitude`` how large it is."""

    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    way: Literal["in", "out"] = choice("way", "Into or out of the space.", {"in": "in", "out": "out"}, default="in")
    profile: Literal["uniform", "developed"] = choice(
        "profile",
        "How the velocity is spread over the edge.",
        {"uniform": "uniform", "developed": "fully developed"},
        default="uniform",
    )

    @classmethod
    def magnitude(cls, numbers: Any, density: float, area: float) -> float:
        """Give the volume flow, m3/s, whatever its way."""
        raise NotImplementedError

    @classmethod
    def signed_flow(cls, numbers: Any, density: float, area: float) -> float | None:
        """Give the volume flow into the space, m3/s."""
        return cls.magnitude(numbers, density, area) * (1 if numbers.way == "in" else -1)

    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        """Fix the velocity of every face."""
        inflow = cls.signed_flow(numbers, patch.density, patch.total)
        assert inflow is not None
        fix_flow(patch, boundary, inflow, numbers.profile)
