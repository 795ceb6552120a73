"""An opening to a supply of given total pressure."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure
from mop_lantern.units import EVERYWHERE


class TotalPressure(Opening):
    """Fluid enters from a supply whose total pressure is known; the static pressure is lower by the dynamic
    pressure.

    Should fluid leave here, the total pressure becomes the static pressure of the edge.

    Source: Bernoulli's equation from the still supply to the edge; any text on fluid mechanics.
    """

    caption: ClassVar[str] = "Given total pressure"
    group: ClassVar[str] = "Given pressure"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-1,0 L0.2,0 M0.2,0 L0.2,-0.95 M0,-0.95 L0.4,-0.95"
    )
    sentence: ClassVar[str] = "{id}: {edge} is fed from a supply of total pressure {pressure}."
    fixes: ClassVar[str] = "pressure"

    kind: Literal["total_pressure"] = "total_pressure"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "total pressure",
        "Relative to the reference pressure; may change with time and over the edge.",
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
        """Fix the total pressure of every face."""
        fix_pressure(patch, boundary, numbers.pressure, 1.0)
