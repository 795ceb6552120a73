"""A wall of layers with an outside."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.field.wall_store import Layer


class Layered(HeatWall):
    """Heat passes one or two layers and an outside film to surroundings of a given temperature, straight
    through the wall.

    The resistances add: thickness over conductivity of each layer, and one over the film's coefficient. A
    layer of no thickness counts for nothing; an “auto” film means that the outer surface itself has the
    outside temperature.

    Source: thermal resistances in series; ISO 6946:2017 section 6.7.
    """

    caption: ClassVar[str] = "Layers and outside film"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = (
        "M-1,0.3 L1,0.3 M-1,-0.1 L1,-0.1 M-1,0.7 L1,0.7 M-0.6,0.3 L-0.3,0.7 M0.2,0.3 L0.5,0.7"
    )
    sentence: ClassVar[str] = (
        "{id}: behind the wall {edge} lie {thickness} of conductivity {conductivity} that hold {capacity}, "
        "and {thickness2} of {conductivity2} that hold {capacity2}; outside it is {outside}, with a film of "
        "{film}."
    )
    holds: ClassVar[bool] = True

    kind: Literal["layered"] = "layered"
    edge: str = reference("edge", "edge", "The wall.")
    thickness: Text = quantity(
        "length",
        "thickness",
        "Of the layer next to the fluid.",
        default="10 mm",
        at_least=0,
    )
    conductivity: Text = quantity(
        "conductivity",
        "conductivity",
        "Of the layer next to the fluid.",
        default="0.2 W/m/K",
        above=0,
    )
    capacity: Text = quantity(
        "heat_by_volume",
        "heat held by the layer",
        "By a cubic metre for a kelvin, density times specific heat; it counts in time only. Zero: what "
        "enters leaves at once.",
        default="0 MJ/m3/K",
        at_least=0,
    )
    thickness2: Text = quantity(
        "length",
        "thickness of the outer layer",
        "Zero when there is none.",
        default="0 mm",
        at_least=0,
    )
    conductivity2: Text = quantity(
        "conductivity",
        "conductivity of the outer layer",
        "Of the outer layer.",
        default="0.04 W/m/K",
        above=0,
    )
    capacity2: Text = quantity(
        "heat_by_volume",
        "heat held by the outer layer",
        "By a cubic metre for a kelvin, density times specific heat; it counts in time only. Zero: what "
        "enters leaves at once.",
        default="0 MJ/m3/K",
        at_least=0,
    )
    outside: Text = quantity(
        "temperature",
        "outside temperature",
        "Of the surroundings.",
        default="10 °C",
        varies="t",
    )
    film: Text = quantity(
        "film",
        "film",
        "Heat-transfer coefficient outside; “auto”: the outer surface has the outside temperature.",
        default="25 W/m2/K",
        above=0,
    )

    @classmethod
    def layers(cls, numbers: Any) -> tuple[Layer, ...]:
        """Both, with what they hold as stated."""
        return (
            Layer(numbers.thickness, numbers.conductivity, numbers.capacity),
            Layer(numbers.thickness2, numbers.conductivity2, numbers.capacity2),
        )

    @classmethod
    def passes(cls, numbers: Any) -> float:
        """The layers and the film."""
        return cls.across(numbers) + (0.0 if numbers.film is None else 1.0 / float(numbers.film))

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Put the resistance between the outside and the surface."""
        boundary.hold(patch.faces, numbers.outside, cls.passes(numbers))
