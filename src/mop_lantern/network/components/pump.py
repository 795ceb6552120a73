"""A pump."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import Numbers, choice, curve, flag, quantity
from mop_lantern.declare.kind import Point, Text
from mop_lantern.network.component import Bored, Drop, Floats
from mop_lantern.network.curves import falling, fitted, given


class Pump(Bored):
    """A pump by its curve of head over flow, at a speed.

    Source: affinity laws; power = rho g Q H / efficiency. Any text on pumps.
    """

    caption: ClassVar[str] = "Pump"
    group: ClassVar[str] = "Machines"
    sentence: ClassVar[str] = (
        "{id}: a pump with the heads {curve} ({fit}), at {speed} of that speed, efficiency "
        "{efficiency}, NPSH required {npsh} at {height}, {backflow}, bore {bore}."
    )
    symbol: ClassVar[str] = "M-0.8,0 A0.8,0.8 0 1 1 0.8,0 A0.8,0.8 0 1 1 -0.8,0 Z M0,-0.8 L0.8,0 L0,0.8"

    driven: ClassVar[bool] = True
    kind: Literal["pump"] = "pump"
    curve: tuple[Point, ...] = curve(
        "head curve", "Points of flow and head, from shut to full flow.", "volume_flow", "length"
    )
    fit: Literal["parabola", "through"] = choice(
        "fit",
        "How the points are joined.",
        {"parabola": "fitted by a parabola", "through": "joined smoothly"},
        default="parabola",
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
        "Hydraulic over shaft power.",
        default="65 %",
        above=0,
        at_most=1,
    )
    npsh: Text = quantity(
        "length",
        "NPSH required",
        "Net positive head it needs at its suction.",
        default="2 m",
        at_least=0,
    )
    height: Text = quantity(
        "length", "height", "Elevation of its suction; auto is where its line begins.", default="auto"
    )
    backflow: bool = flag(
        "backflow",
        "Whether fluid may flow back through it.",
        ("blocks reverse flow", "allows reverse flow"),
        default=False,
    )

    @classmethod
    def ready(cls, numbers: Numbers) -> Numbers:
        """Fit the curve."""
        height = np.nan if numbers.height is None else numbers.height
        return Numbers(
            **{
                **vars(numbers),
                "height": height,
                "knots": falling(fitted(numbers.curve, numbers.fit), "head"),
            }
        )

    @classmethod
    def drop(
        cls,
        a: Any,
        q: Floats,
        rho: Floats,
        mu: Floats,
    ) -> Drop:
        """Minus what it gives."""
        return given(a, q, rho * 9.80665)
