"""A wall held at a temperature."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.units import EVERYWHERE


class Temperature(HeatWall):
    """The surface of the wall has a given temperature.

    Source: boundary condition of the first kind; any text on heat transfer.
    """

    caption: ClassVar[str] = "Given wall temperature"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-0.2,-0.7 A0.2,0.2 0 0 1 0.2,-0.7 L0.2,0.1 A0.2,0.2 0 1 1 -0.2,0.1 Z"
    )
    sentence: ClassVar[str] = "{id}: the wall {edge} is held at {temperature}."
    holds: ClassVar[bool] = True

    kind: Literal["temperature"] = "temperature"
    edge: str = reference("edge", "edge", "The wall.")
    temperature: Text = quantity(
        "temperature",
        "temperature",
        "Of the wall's surface.",
        default="40 °C",
        varies=EVERYWHERE,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Fix the surface temperature."""
        boundary.hold(patch.faces, numbers.temperature)
