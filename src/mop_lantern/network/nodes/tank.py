"""A tank: a level that rises and falls."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node

GRAVITY = 9.80665


class Tank(Node):
    """A tank of finite volume; steady it keeps or finds its level, over time it fills, empties, warms and
    cools.

    Source: hydrostatics, conservation of mass and energy.
    """

    caption: ClassVar[str] = "Tank"
    group: ClassVar[str] = "Places that set the pressure"
    sentence: ClassVar[str] = (
        "{id}: a tank of {area}, its floor at {z}, filled to {level} of {height}, gauge pressure {over}, "
        "at {temperature}; in steady state {steady}; it loses heat at {film} over {surface} to {outside}."
    )
    symbol: ClassVar[str] = "M-0.9,-0.9 L-0.9,0.9 L0.9,0.9 L0.9,-0.9 M-0.9,-0.3 L0.9,-0.3"

    rises: ClassVar[bool] = True
    kind: Literal["tank"] = "tank"
    area: Text = quantity(
        "area",
        "area",
        "Of the surface, the same at every height.",
        default="1 m2",
        above=0,
    )
    level: Text = quantity(
        "length",
        "level",
        "Depth at the start.",
        default="1 m",
        at_least=0,
    )
    height: Text = quantity(
        "length",
        "height",
        "Where it overflows.",
        default="2 m",
        above=0,
    )
    over: Text = quantity(
        "pressure",
        "pressure",
        "On its surface, relative to the air outside.",
        default="0 Pa",
        varies="t",
    )
    temperature: Text = quantity("temperature", "temperature", "At the start.", default="20 °C")
    steady: Literal["keeps", "finds"] = choice(
        "steady state",
        "Whether the level stays as given, or is the one at which as much leaves as enters.",
        {"keeps": "the level is held", "finds": "the level is found"},
        default="keeps",
    )
    film: Text = quantity(
        "film",
        "heat loss",
        "U-value of its walls, on their inner surface; 0 keeps all heat.",
        default="0 W/m2/K",
        at_least=0,
    )
    surface: Text = quantity(
        "area",
        "walls",
        "Area that loses heat.",
        default="5 m2",
        at_least=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Around the tank.",
        default="15 °C",
        varies="t",
    )

    @classmethod
    def pressure(cls, numbers: Any, rho: float) -> float | None:
        """Weight of the fluid over the floor, while the level is kept."""
        if numbers.steady == "finds":
            return None
        return float(numbers.over + rho * GRAVITY * numbers.level)

    @classmethod
    def content(cls, numbers: Any) -> float:
        """Up to the level given."""
        return float(numbers.area * numbers.level)

    @classmethod
    def transmittance(cls, numbers: Any) -> tuple[float, float]:
        """Through its walls."""
        return float(numbers.film * numbers.surface), float(numbers.outside)
