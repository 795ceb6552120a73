"""A room whose air is well mixed."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity
from mop_lantern.declare.kind import Text
from mop_lantern.network.node import Node


class Room(Node):
    """A room, or any closed space, that is well mixed: people and machines warm it, its walls lose heat, what
    is released in it dilutes.

    Source: balances of mass, heat and species of a stirred volume; 75 W of sensible heat a person at rest
    (common practice, no source).
    """

    caption: ClassVar[str] = "Mixed room"
    group: ClassVar[str] = "Rooms"
    sentence: ClassVar[str] = (
        "{id}: a mixed room of {volume} at {z} with {occupants} people giving {each} each and {heat} "
        "from all else, {temperature} at the start; it loses heat at {film} over {surface} to "
        "{outside}."
    )
    symbol: ClassVar[str] = "M-0.9,0.9 L-0.9,-0.3 L0,-0.95 L0.9,-0.3 L0.9,0.9 Z"

    encloses: ClassVar[bool] = True
    kind: Literal["room"] = "room"
    volume: Text = quantity(
        "volume",
        "volume",
        "Of the air in it.",
        default="100 m3",
        above=0,
    )
    occupants: Text = quantity(
        "number",
        "people",
        "How many are in it.",
        default="0",
        at_least=0,
        varies="t",
    )
    each: Text = quantity(
        "power",
        "heat of each",
        "Heat a person gives to the air.",
        default="75 W",
        at_least=0,
    )
    heat: Text = quantity(
        "power",
        "heat",
        "Of machines, lamps and sun; negative where something cools.",
        default="0 W",
        varies="t",
    )
    temperature: Text = quantity("temperature", "temperature", "At the start.", default="20 °C")
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
        default="50 m2",
        at_least=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Around the room.",
        default="15 °C",
        varies="t",
    )

    @classmethod
    def content(cls, numbers: Any) -> float:
        """Its volume."""
        return float(numbers.volume)

    @classmethod
    def gains(cls, numbers: Any) -> float:
        """People and all else."""
        return float(numbers.occupants * numbers.each + numbers.heat)

    @classmethod
    def transmittance(cls, numbers: Any) -> tuple[float, float]:
        """Through its walls."""
        return float(numbers.film * numbers.surface), float(numbers.outside)
