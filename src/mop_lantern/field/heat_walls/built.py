"""A wall of a building: layers of common materials, weather outside."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.field.wall_store import Layer
from mop_lantern.laws.envelope import radiant_film, sunned, wind_film
from mop_lantern.materials._table import TABLE

MATERIALS = {name: row[0] for name, row in TABLE.items()}
NAMES = tuple(TABLE)


def layer(number: int, default: str) -> Any:
    """Declare the material of a layer, counted from the fluid."""
    words = "; ".join(f"{row[0]} {row[1]:g} W/m/K" for row in TABLE.values())
    return choice(
        f"material {number}", f"Of layer {number} from the fluid: {words}.", MATERIALS, default=default
    )


def thick(number: int, default: str) -> Any:
    """Declare the thickness of a layer; none is there at zero."""
    return quantity("length", f"thickness {number}", "Zero when there is none.", default=default, at_least=0)


class Built(HeatWall):
    """Heat passes up to three layers of common materials, straight through the wall, and outside meets wind,
    the radiation of surroundings as warm as the air, and the sun.

    Outside the film is 4 + 4 v of the wind and 4 e s T^3 of the radiation; what the wall absorbs of the sun
    counts as warmer air outside (sol-air temperature). The margin tells the U-value. In time, the layers hold
    heat.

    Source: ISO 6946:2017, section 6.7 and annex C (not at hand to check); materials as listed.
    """

    caption: ClassVar[str] = "Wall of a building"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = (
        "M-1,-0.3 L0.2,-0.3 M-1,0.1 L0.2,0.1 M-1,0.5 L0.2,0.5 M0.2,-0.3 L0.2,0.5 M-0.4,-0.3 L-0.4,0.1 "
        "M-0.7,0.1 L-0.7,0.5 M0.5,-0.6 A0.2,0.2 0 1 1 0.9,-0.6 A0.2,0.2 0 1 1 0.5,-0.6 Z"
    )
    sentence: ClassVar[str] = (
        "{id}: behind the wall {edge} lie {thickness1} of {material1}, {thickness2} of {material2} and "
        "{thickness3} of {material3}; outside it is {outside} with wind of {wind}, emissivity {emissivity}, "
        "sun of {sun} of which {absorbed} is absorbed."
    )
    holds: ClassVar[bool] = True

    kind: Literal["built"] = "built"
    edge: str = reference("edge", "edge", "The wall.")
    thickness1: Text = thick(1, "12.5 mm")
    material1: Literal[NAMES] = layer(1, "plasterboard")  # type: ignore[valid-type]
    thickness2: Text = thick(2, "100 mm")
    material2: Literal[NAMES] = layer(2, "mineral_wool")  # type: ignore[valid-type]
    thickness3: Text = thick(3, "110 mm")
    material3: Literal[NAMES] = layer(3, "brick")  # type: ignore[valid-type]
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Of air and surroundings.",
        default="5 °C",
        varies="t",
    )
    wind: Text = quantity(
        "velocity", "wind", "Along the wall outside.", default="4 m/s", at_least=0, varies="t"
    )
    emissivity: Text = quantity(
        "number",
        "emissivity outside",
        "0.9 for masonry, wood and paint, 0.05 for bright metal (common practice, no source).",
        default="0.9",
        at_least=0,
        at_most=1,
    )
    sun: Text = quantity(
        "heat_flux",
        "sun",
        "What falls on the wall.",
        default="0 W/m2",
        at_least=0,
        varies="t",
    )
    absorbed: Text = quantity(
        "fraction",
        "absorbed share",
        "0.2 white, 0.6 brick, 0.9 black (common practice, no source).",
        default="60 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def layers(cls, numbers: Any) -> tuple[Layer, ...]:
        """Its layers of common materials."""
        return tuple(
            Layer.of(getattr(numbers, f"material{number}"), getattr(numbers, f"thickness{number}"))
            for number in (1, 2, 3)
        )

    @classmethod
    def film(cls, numbers: Any) -> float:
        """Give the film outside, W/m2/K."""
        return wind_film(numbers.wind) + radiant_film(numbers.emissivity, numbers.outside)

    @classmethod
    def passes(cls, numbers: Any) -> float:
        """The layers and the film."""
        return cls.across(numbers) + 1.0 / cls.film(numbers)

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Put the resistance between the weather and the surface."""
        film = cls.film(numbers)
        warmth = sunned(numbers.outside, numbers.sun * numbers.absorbed, film)
        boundary.hold(patch.faces, warmth, cls.passes(numbers))
