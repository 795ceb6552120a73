"""An opening with a given mass flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_flow


class MassFlow(Opening):
    """Fluid crosses at a given mass flow, evenly or with the developed laminar profile.

    Source: see `fix_flow`.
    """

    caption: ClassVar[str] = "Given mass flow"
    sentence: ClassVar[str] = "{id}: through {edge} fluid flows {way} at {flow}, its profile {profile}."

    kind: Literal["mass_flow"] = "mass_flow"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    way: Literal["in", "out"] = choice("way", "Into or out of the space.", {"in": "in", "out": "out"}, default="in")
    flow: Text = quantity("mass_flow", "mass flow", "Always positive; the way says whether in or out.", default="0.1 kg/s", at_least=0)
    profile: Literal["uniform", "developed"] = choice(
        "profile",
        "How the velocity is spread over the edge.",
        {"uniform": "uniform", "developed": "fully developed"},
        default="uniform",
    )

    @classmethod
    def signed_flow(cls, numbers: Any, density: float, area: float) -> float | None:
        """Give the volume flow into the space, m3/s."""
        return float(numbers.flow / density * (1 if numbers.way == "in" else -1))

    @classmethod
    def apply(cls, numbers: Any, patch: Patch, boundary: Boundary) -> None:
        """Fix the velocity of every face."""
        inflow = cls.signed_flow(numbers, patch.density, patch.total)
        assert inflow is not None
        fix_flow(patch, boundary, inflow, numbers.profile)
