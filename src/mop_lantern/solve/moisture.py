"""The humidity of air that carries water vapour, as fields."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.judge.field_result import CARRIED, Scalar
from mop_lantern.laws.moist import dew_point, humidity_of

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics

Floats = NDArray[np.float64]


def vapour_of(settled: ResolvedCase) -> str:
    """Give the id of the species that is water vapour, "" where there is none."""
    return next((key for key, each in settled.numbers.species.items() if each.nature == "vapour"), "")


def shares(physics: Physics) -> tuple[Floats, Floats] | None:
    """Give the share of vapour in the mass of cells and before boundary faces of the fluid; None where there
    is none or no temperature.
    """
    name = vapour_of(physics.settled)
    if not name or "T" not in physics.scalars:
        return None
    scalar = physics.scalars[f"c.{name}"]
    heavy = physics.settled.numbers.species[name].measure == "density"
    over = physics.fluid.density if heavy else 1.0
    return scalar.phi / over, scalar.boundary_values() / over


def moisture_fields(physics: Physics) -> dict[str, Scalar]:
    """Give relative humidity and dew point (K) in every cell of the fluid and at its surfaces: there over 1
    where the surface is colder than the dew point of the air before it.
    """
    held = shares(physics)
    if held is None:
        return {}
    count = physics.wet.n_boundary
    surface = physics.scalars["T"].boundary_values()[:count]
    air = physics.in_fluid("T")
    none = np.zeros(physics.mesh.n_boundary)
    values = {
        "humidity": (humidity_of(held[0], air), humidity_of(held[1], surface)),
        "dew_point": (dew_point(held[0]), dew_point(held[1])),
    }
    return {
        name: Scalar(physics.whole.cells(cells), physics.whole.boundary(rim), none, *CARRIED[name])
        for name, (cells, rim) in values.items()
    }
