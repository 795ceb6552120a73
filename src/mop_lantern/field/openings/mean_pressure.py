"""An outlet whose mean pressure is given and whose pressure may vary over the edge."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure


class MeanPressure(Opening):
    """The area mean of the static pressure over the edge is given; its profile follows the flow inside.

    The profile is carried out to the edge from the cells along it and shifted to the given mean: right where
    a curved or turning flow leaves, whose pressure is not even.

    Source: own derivation (zero second derivative of the pressure's departure from its mean).
    """

    caption: ClassVar[str] = "Given mean pressure"
    group: ClassVar[str] = "Given pressure"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M0.4,-0.4 L0.4,-0.95 M0.2,-0.95 L0.6,-0.95 M0.4,-0.3 Q0.1,0 0.4,0.3"
    )
    sentence: ClassVar[str] = "{id}: the mean static pressure over {edge} is {pressure}; its profile is free."
    fixes: ClassVar[str] = "pressure"

    kind: Literal["mean_pressure"] = "mean_pressure"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "mean pressure",
        "Relative to the reference pressure.",
        default="0 Pa",
        varies="t",
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Fix the mean of the faces."""
        fix_pressure(patch, boundary, numbers.pressure, 0.0)
        boundary.group[patch.faces] = int(boundary.group.max(initial=-1)) + 1
