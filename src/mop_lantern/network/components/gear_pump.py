"""A displacement pump."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.component import Bored, Drop, Floats


class GearPump(Bored):
    """A displacement pump (gear, lobe, screw): nearly the same flow at any pressure, less what leaks back.

    Source: flow = displacement x speed less a leak in proportion to the pressure; any text on displacement
    pumps.
    """

    caption: ClassVar[str] = "Displacement pump"
    group: ClassVar[str] = "Machines"
    sentence: ClassVar[str] = (
        "{id}: a displacement pump of {flow} at {speed} of its speed, {leak} leaking back at {rated}, "
        "efficiency {efficiency}, bore {bore}."
    )
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M0.2,-0.35 L0.8,0 L0.2,0.35 Z"
    )

    driven: ClassVar[bool] = True
    kind: Literal["gear_pump"] = "gear_pump"
    flow: Text = quantity(
        "volume_flow",
        "flow",
        "At full speed against no pressure.",
        default="20 L/min",
        above=0,
    )
    speed: Text = quantity(
        "fraction",
        "speed",
        "Over full speed; 0 is at rest and holds.",
        default="100 %",
        at_least=0,
        at_most=2,
        varies="t",
    )
    leak: Text = quantity(
        "fraction",
        "leak",
        "Fraction of the flow that leaks back at the rated pressure.",
        default="5 %",
        above=0,
        at_most=1,
    )
    rated: Text = quantity(
        "pressure",
        "rated pressure",
        "Where that leak was measured.",
        default="100 bar",
        above=0,
    )
    efficiency: Text = quantity(
        "fraction",
        "efficiency",
        "Hydraulic over shaft power.",
        default="85 %",
        above=0,
        at_most=1,
    )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Minus the pressure at which the leak is what is missing."""
        wall = a.rated / (a.leak * a.flow)
        return -(a.flow * a.speed - q) * wall, wall + 0.0 * q
