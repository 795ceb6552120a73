"""A wall with a given heat flux."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.units import EVERYWHERE


class Flux(HeatWall):
    """A given heat flux enters the fluid through the wall; negative when it leaves.

    Source: boundary condition of the second kind; any text on heat transfer.
    """

    caption: ClassVar[str] = "Given heat flux"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = (
        "M-1,0.6 L1,0.6 M-0.8,0.9 L-0.5,0.6 M-0.3,0.9 L0,0.6 M0.2,0.9 L0.5,0.6 M0.7,0.9 L1,0.6 "
        "M-0.5,0.4 L-0.5,-0.7 M-0.7,-0.4 L-0.5,-0.7 L-0.3,-0.4 M0.5,0.4 L0.5,-0.7 M0.3,-0.4 L0.5,-0.7 "
        "L0.7,-0.4"
    )
    sentence: ClassVar[str] = "{id}: through the wall {edge} a heat flux of {flux} enters the fluid."

    kind: Literal["flux"] = "flux"
    edge: str = reference("edge", "edge", "The wall.")
    flux: Text = quantity(
        "heat_flux",
        "heat flux",
        "Into the fluid.",
        default="1000 W/m2",
        varies=EVERYWHERE,
    )

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Fix the flux."""
        boundary.inflow[patch.faces] = numbers.flux
