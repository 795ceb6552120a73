"""A thin wall that conducts along itself."""

from __future__ import annotations

from dataclasses import replace
from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, quantity, reference
from mop_lantern.declare.kind import Text
from mop_lantern.field.boundary import Patch
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.field.wall_store import Layer
from mop_lantern.materials._table import TABLE
from mop_lantern.units import EVERYWHERE

SHUT = 1e12  # m2 K/W: a wall behind which nothing takes heat


class Shell(HeatWall):
    """A thin wall, of sheet metal say, carries heat along itself, from where it is warm to where it is cold,
    round corners to other thin walls as well. It is equally warm through its thickness; outside it meets
    surroundings of a given temperature through one film, and may be heated.

    In time it holds heat; its free ends let nothing out. A coefficient of zero outside stands for a wall that
    is well wrapped.

    Source: heat balance of a thin sheet (a fin): any text on heat transfer, e.g. Incropera et al.,
    Fundamentals of Heat and Mass Transfer, section 3.6.
    """

    caption: ClassVar[str] = "Thin wall that conducts along itself"
    group: ClassVar[str] = "Heat at walls"
    symbol: ClassVar[str] = "M-1,0.3 L1,0.3 M-1,0.5 L1,0.5 M-0.7,0 L0.6,0 M0.3,-0.2 L0.6,0 L0.3,0.2"
    sentence: ClassVar[str] = (
        "{id}: the wall {edge} is {thickness} of {material} and conducts along itself; outside is {outside}, "
        "with a film of {film}; it is heated by {heated}."
    )
    holds: ClassVar[bool] = True

    kind: Literal["shell"] = "shell"
    edge: str = reference("edge", "edge", "The wall.")
    thickness: Text = quantity("length", "thickness", "Of the sheet.", default="2 mm", above=0)
    material: Literal[tuple(TABLE)] = choice(  # type: ignore[valid-type]
        "material", "Of the sheet.", {name: row[0] for name, row in TABLE.items()}, default="steel"
    )
    outside: Text = quantity(
        "temperature", "outside temperature", "Of the surroundings.", default="10 °C", varies="t"
    )
    film: Text = quantity(
        "film",
        "film",
        "Heat-transfer coefficient outside, of the insulation too; zero: nothing passes.",
        default="10 W/m2/K",
        at_least=0,
    )
    heated: Text = quantity(
        "heat_flux",
        "heating",
        "Put into the sheet: a heating foil, the sun it absorbs.",
        default="0 W/m2",
        varies=EVERYWHERE,
    )

    @classmethod
    def passes(cls, numbers: Any) -> float:
        """The film."""
        return 1.0 / float(numbers.film) if numbers.film > 0 else 0.0

    @classmethod
    def ties(cls, numbers: Any) -> bool:
        """Only where something passes to the outside."""
        return bool(numbers.film > 0)

    @classmethod
    def layers(cls, numbers: Any) -> tuple[Layer, ...]:
        """The sheet, equally warm through its thickness."""
        return (replace(Layer.of(numbers.material, numbers.thickness), conductivity=np.inf),)

    @classmethod
    def apply(
        cls,
        numbers: Any,
        patch: Patch,
        boundary: ScalarBoundary,
    ) -> None:
        """Put the film between the outside and the sheet, and let the sheet conduct."""
        resistance = 1.0 / numbers.film if numbers.film > 0 else SHUT
        boundary.hold(patch.faces, numbers.outside, resistance)
        boundary.inflow[patch.faces] = numbers.heated
        boundary.along[patch.faces] = numbers.thickness * TABLE[numbers.material][1]
