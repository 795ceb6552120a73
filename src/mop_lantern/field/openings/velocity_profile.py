"""An opening whose velocity is given at every place of the edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_velocity
from mop_lantern.units import EVERYWHERE


class VelocityProfile(Opening):
    """Fluid enters square to the edge at a velocity given place by place; negative where it leaves.

    Source: the analyst's own figures, by expression or table.
    """

    caption: ClassVar[str] = "Given velocity profile"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.6,-0.4 Q0.6,0 -0.6,0.4 M-0.6,0 L0,0"
    sentence: ClassVar[str] = "{id}: through {edge} fluid enters at {velocity}, place by place."

    kind: Literal["velocity_profile"] = "velocity_profile"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    velocity: Text = quantity(
        "velocity",
        "velocity",
        "An expression or table of across (-1 ... 1), x, y, r and t, such as = profile1(y).",
        default="= 0.1 m/s * (1 - across**2)",
        varies=EVERYWHERE,
    )

    @classmethod
    def signed_flow(
        cls,
        numbers: Any,
        density: float,
        area: float,
    ) -> float | None:
        """Give the volume flow into the space, m3/s, from the mean of the velocities at evenly spread
        places.
        """
        return float(np.mean(numbers.velocity)) * area

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Fix the velocity of every face."""
        fix_velocity(patch, boundary, np.broadcast_to(np.asarray(numbers.velocity, float), len(patch.faces)))
