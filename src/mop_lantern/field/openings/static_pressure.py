"""An opening with a given static pressure."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure
from mop_lantern.units import EVERYWHERE


class StaticPressure(Opening):
    """Fluid crosses as the pressure makes it; what enters comes square to the edge, from rest at that
    pressure.

    So where fluid enters, the pressure at the edge itself is lower by the dynamic pressure of the entering
    flow.

    Source: Ferziger, Peric and Street, *Computational Methods for Fluid Dynamics* (4th ed.), section 9.11
    (given pressure).
    """

    caption: ClassVar[str] = "Given static pressure"
    group: ClassVar[str] = "Given pressure"
    symbol: ClassVar[str] = "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M0.4,-0.4 L0.4,-0.95 M0.2,-0.95 L0.6,-0.95"
    sentence: ClassVar[str] = (
        "{id}: {edge} is open to a static pressure of {pressure}; what enters comes from rest at that "
        "pressure."
    )
    fixes: ClassVar[str] = "pressure"

    kind: Literal["static_pressure"] = "static_pressure"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "static pressure",
        "Relative to the reference pressure.",
        default="0 Pa",
        varies=EVERYWHERE,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Fix the pressure of every face and let the velocity follow."""
        fix_pressure(patch, boundary, numbers.pressure)
