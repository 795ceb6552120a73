"""A fan or blower."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, choice, curve, flag, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.network.component import Component, Drop, Floats
from mop_lantern.network.curves import falling, fitted, given


class Fan(Component):
    """A fan by its curve of total pressure over flow, taken in air of a given density.

    Source: fan laws: pressure by density and the square of speed. Any text on fans.
    """

    caption: ClassVar[str] = "Fan"
    group: ClassVar[str] = "Machines"
    sentence: ClassVar[str] = (
        "{id}: a fan with the total pressures {curve} ({fit}) in air of {density}, at {speed} of that "
        "speed, efficiency {efficiency}, {backflow}, outlet {section}."
    )
    symbol: ClassVar[str] = (
        "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M-0.5,-0.62 L0.7,-0.35 M-0.5,0.62 L0.7,0.35"
    )

    driven: ClassVar[bool] = True
    kind: Literal["fan"] = "fan"
    curve: tuple[Point, ...] = curve(
        "pressure curve",
        "Points of flow and total pressure, from shut to free delivery.",
        "volume_flow",
        "pressure",
    )
    fit: Literal["parabola", "through"] = choice(
        "fit",
        "How the points are joined.",
        {"parabola": "fitted by a parabola", "through": "joined smoothly"},
        default="parabola",
    )
    density: Text = quantity(
        "density",
        "density of the curve",
        "Air the curve was taken in.",
        default="1.2 kg/m3",
        above=0,
    )
    speed: Text = quantity(
        "fraction",
        "speed",
        "Over the speed of the curve; 0 is at rest.",
        default="100 %",
        at_least=0,
        at_most=3,
        varies="t",
    )
    efficiency: Text = quantity(
        "fraction",
        "efficiency",
        "Air power over shaft power.",
        default="60 %",
        above=0,
        at_most=1,
    )
    backflow: bool = flag(
        "backflow",
        "Whether air may flow back through it.",
        ("blocks reverse flow", "allows reverse flow"),
        default=True,
    )
    section: Text = quantity(
        "area",
        "outlet",
        "For the velocity.",
        default="0.05 m2",
        above=0,
    )

    @classmethod
    def area(cls, a: Any) -> Floats:
        """Its outlet."""
        return np.asarray(a.section)

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Fit the curve."""
        return Numbers(**{**vars(numbers), "knots": falling(fitted(numbers.curve, numbers.fit), "pressure")})

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Minus what it gives."""
        return given(a, q, rho / a.density)
