"""An opening with a given volume flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.given_flow import GivenFlow


class VolumeFlow(GivenFlow):
    """Fluid crosses at a given volume flow, evenly or with the developed laminar profile.

    Source: White, *Viscous Fluid Flow* (3rd ed.), section 3-3 (the developed profiles).
    """

    caption: ClassVar[str] = "Given volume flow"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-1,-0.4 L1,-0.4 M-1,0.4 L1,0.4 M-0.7,-0.15 L0.5,-0.15 M-0.7,0.15 L0.5,0.15 M0.4,-0.35 "
        "L0.8,0 L0.4,0.35"
    )
    sentence: ClassVar[str] = "{id}: through {edge} fluid flows {way} at {flow}, its profile {profile}."

    kind: Literal["volume_flow"] = "volume_flow"
    flow: Text = quantity(
        "volume_flow",
        "volume flow",
        "Always positive; the way says whether in or out.",
        default="0.1 L/s",
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
        return float(numbers.flow)
