"""A wall with still air behind it."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.field.wall_store import Layer
from mop_lantern.laws.envelope import radiant_film, still_film
from mop_lantern.materials._table import TABLE


class StillAir(HeatWall):
    """Heat passes one layer of a common material to still air behind it, which rises along the wall by
    itself, and by radiation to surroundings as warm as that air: a pipe's or tank's wall, a window or door to
    another room.

    The film of the air is that of free convection by height and side, at the difference of temperature you
    expect between the outer surface and the air; it grows by its fourth or third root only. In time, the
    layer holds heat.

    Source: simplified equations of free convection in air (McAdams, *Heat Transmission* (3rd ed.), chapter 7;
    not at hand to check).
    """

    caption: ClassVar[str] = "Layer and still air outside"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = (
        "M-0.6,-0.9 L-0.6,0.9 M-0.2,-0.9 L-0.2,0.9 M0.1,0.7 Q0.3,0.2 0.15,-0.2 Q0,-0.5 0.2,-0.8 "
        "M0.5,0.7 Q0.7,0.2 0.55,-0.2 Q0.4,-0.5 0.6,-0.8"
    )
    sentence: ClassVar[str] = (
        "{id}: behind the wall {edge} lie {thickness} of {material}; outside is still air of {outside}, the "
        "wall {side}, {height} high or wide and about {difference} K off the air, of emissivity "
        "{emissivity}."
    )
    holds: ClassVar[bool] = True

    kind: Literal["still_air"] = "still_air"
    edge: str = reference("edge", "edge", "The wall.")
    thickness: Text = quantity(
        "length", "thickness", "Of the layer; zero when there is none.", default="5 mm", at_least=0
    )
    material: Literal[tuple(TABLE)] = choice(  # type: ignore[valid-type]
        "material", "Of the layer.", {name: row[0] for name, row in TABLE.items()}, default="steel"
    )
    outside: Text = quantity(
        "temperature", "outside temperature", "Of air and surroundings.", default="15 °C", varies="t"
    )
    side: Literal["upright", "free", "pressed"] = choice(
        "side",
        "How the outer surface lies: upright; level so that its air can leave it (warm side up, cold side "
        "down); or level with the air pressed to it.",
        {
            "upright": "upright",
            "free": "level, its air free to leave",
            "pressed": "level, its air pressed to it",
        },
        default="upright",
    )
    height: Text = quantity(
        "length", "height", "Of an upright wall; width of a level one.", default="1 m", above=0
    )
    difference: Text = quantity(
        "number",
        "difference",
        "Of the outer surface to the air, K, about.",
        default="5",
        above=0,
        at_most=500,
    )
    emissivity: Text = quantity(
        "number",
        "emissivity outside",
        "0.9 for most, 0.05 for bright metal.",
        default="0.9",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def film(cls, numbers: Any) -> float:
        """Give the film outside, W/m2/K."""
        still = still_film(numbers.side, numbers.height, numbers.difference)
        return still + radiant_film(numbers.emissivity, numbers.outside)

    @classmethod
    def passes(cls, numbers: Any) -> float:
        """The layer and the film."""
        return cls.across(numbers) + 1.0 / cls.film(numbers)

    @classmethod
    def layers(cls, numbers: Any) -> tuple[Layer, ...]:
        """Its one layer."""
        return (Layer.of(numbers.material, numbers.thickness),)

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Put the resistance between the air and the surface."""
        boundary.hold(patch.faces, numbers.outside, cls.passes(numbers))
