"""A reservoir: a level that does not change."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node

GRAVITY = 9.80665


class Reservoir(Node):
    """A body of fluid so large that its level, pressure and temperature stay: the sea, the open air, a main.

    Source: hydrostatics.
    """

    caption: ClassVar[str] = "Reservoir"
    group: ClassVar[str] = "Places that set the pressure"
    sentence: ClassVar[str] = (
        "{id}: a reservoir at {z} with {level} of fluid above it, gauge pressure {over}, at {temperature}."
    )
    symbol: ClassVar[str] = (
        "M-0.9,-0.6 L-0.9,0.6 L0.9,0.6 L0.9,-0.6 M-0.9,-0.2 L0.9,-0.2 M-0.2,-0.6 L0.2,-0.6 L0,-0.25 Z"
    )

    endless: ClassVar[bool] = True
    kind: Literal["reservoir"] = "reservoir"
    level: Text = quantity(
        "length",
        "level",
        "Depth of the fluid over the elevation given.",
        default="0 m",
        varies="t",
    )
    over: Text = quantity(
        "pressure",
        "pressure",
        "On its surface, relative to the air outside.",
        default="0 Pa",
        varies="t",
    )
    temperature: Text = quantity(
        "temperature",
        "temperature",
        "Of what leaves it.",
        default="20 °C",
        varies="t",
    )

    @classmethod
    def pressure(cls, numbers: Any, rho: float) -> float | None:
        """Weight of the fluid over the node."""
        return float(numbers.over + rho * GRAVITY * numbers.level)
