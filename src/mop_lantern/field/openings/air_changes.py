"""An opening whose flow changes the fluid of the space so many times a time."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.field.given_flow import GivenFlow


class AirChanges(GivenFlow):
    """Fluid crosses at so many volumes of the whole space an hour; several openings add up.

    Source: definition of the air-change rate (ISO 16000-8).
    """

    caption: ClassVar[str] = "Air changes"
    group: ClassVar[str] = "Given flow"
    symbol: ClassVar[str] = (
        "M-0.9,-0.6 L0.4,-0.6 L0.4,0.6 L-0.9,0.6 Z M-0.5,0 A0.25,0.25 0 1 1 -0.25,0.25 M-0.6,-0.2 L-0.5,0.05 "
        "L-0.25,-0.05 M0.5,0 L0.95,0 M0.8,-0.2 L0.95,0 L0.8,0.2"
    )
    sentence: ClassVar[str] = (
        "{id}: through {edge} fluid flows {way} at {rate} times the volume of the space, its profile "
        "{profile}."
    )
    of_room: ClassVar[bool] = True

    kind: Literal["air_changes"] = "air_changes"
    rate: Text = quantity(
        "rate",
        "air changes",
        "Of the whole space through this opening; always positive, the way says whether in or out.",
        default="6 1/h",
        at_least=0,
        varies="t",
    )

    @classmethod
    def magnitude(cls, numbers: Any, density: float, area: float) -> float:
        """Give the volume flow, m3/s."""
        return float(numbers.rate) * float(numbers.room)
