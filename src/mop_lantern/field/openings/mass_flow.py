"""An opening with a given mass flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.given_flow import GivenFlow


class MassFlow(GivenFlow):
    """Fluid crosses at a given mass flow, evenly or with the developed laminar profile.

    Source: White, *Viscous Fluid Flow* (3rd ed.), section 3-3 (the developed profiles).
    """

    caption: ClassVar[str] = "Given mass flow"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.9,0 L-0.3,0 M-0.3,-0.25 L0.2,-0.25 L0.2,0.25 L-0.3,0.25 "
        "Z M0.2,0 L0.8,0"
    )
    sentence: ClassVar[str] = "{id}: through {edge} fluid flows {way} at {flow}, its profile {profile}."

    kind: Literal["mass_flow"] = "mass_flow"
    flow: Text = quantity(
        "mass_flow",
        "mass flow",
        "Always positive; the way says whether in or out.",
        default="0.1 kg/s",
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
        return float(numbers.flow / density)
