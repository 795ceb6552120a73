"""An opening with a given mean velocity."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.given_flow import GivenFlow


class Velocity(GivenFlow):
    """Fluid crosses at a given mean velocity, evenly or with the developed laminar profile.

    Source: White, *Viscous Fluid Flow* (3rd ed.), section 3-3 (the developed profiles).
    """

    caption: ClassVar[str] = "Given velocity"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.7,0 L0.6,0 M0.3,-0.2 L0.6,0 L0.3,0.2"
    sentence: ClassVar[str] = "{id}: through {edge} fluid flows {way} at {velocity}, its profile {profile}."

    kind: Literal["velocity"] = "velocity"
    velocity: Text = quantity(
        "velocity",
        "mean velocity",
        "Always positive; the way says whether in or out.",
        default="0.1 m/s",
        at_least=0,
        varies="t",
    )

    @classmethod
    def magnitude(
        cls,
        numbers: Any,
        density: float,
        area: float,
    ) -> float:
        """Give the volume flow, m3/s."""
        return float(numbers.velocity * area)
