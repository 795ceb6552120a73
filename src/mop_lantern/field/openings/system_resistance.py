"""An opening to the rest of a system, whose resistance rises with the square of the flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Boundary, Opening, Patch, fix_pressure


class SystemResistance(Opening):
    """The pressure follows the flow: what lies behind the edge (pipes, ducts, filters) loses a known pressure
    at a rated flow, and as the square of the flow elsewhere.

    Fluid that leaves needs the pressure at the far end and the loss; what enters comes from the far end and
    has lost on its way. So the edge's static pressure is its answer, not given.

    Source: loss of turbulent flow, Idelchik, *Handbook of Hydraulic Resistance* (3rd ed.), section 1
    (not at hand to check).
    """

    caption: ClassVar[str] = "Rest of a system"
    group: ClassVar[str] = "Rest of a system"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L0,-0.4 M-1,0.4 L0,0.4 M0,-0.7 L0.9,-0.7 L0.9,0.7 L0,0.7 Z M0.2,-0.4 L0.7,0.4 "
        "M0.2,0.4 L0.7,-0.4"
    )
    sentence: ClassVar[str] = (
        "{id}: behind {edge} lies a system that loses {loss} at {rated}, as the square of the flow; at its "
        "far end is {pressure}."
    )
    fixes: ClassVar[str] = "pressure"
    follows_flow: ClassVar[bool] = True

    kind: Literal["system_resistance"] = "system_resistance"
    edge: str = reference("edge", "edge", "The edge this opening sits on.")
    pressure: Text = quantity(
        "pressure",
        "pressure at the far end",
        "Relative to the reference pressure.",
        default="0 Pa",
        varies="t",
    )
    loss: Text = quantity(
        "pressure",
        "loss",
        "Loss of pressure of what lies behind, at the rated flow.",
        default="100 Pa",
        at_least=0,
        varies="t",
    )
    rated: Text = quantity(
        "volume_flow",
        "rated flow",
        "Where that loss was measured or worked out.",
        default="1 L/s",
        above=0,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: Boundary,
    ) -> None:
        """Begin with the pressure at the far end."""
        fix_pressure(patch, boundary, numbers.pressure)

    @classmethod
    def pressure_at(
        cls,
        numbers: Any,
        flow: float,
        density: float,
    ) -> tuple[float, float]:
        """Far end and loss, by the square of the flow and its sign."""
        share = flow / numbers.rated
        return (
            float(numbers.pressure + numbers.loss * share * abs(share)),
            float(2 * numbers.loss * abs(share) / numbers.rated),
        )
