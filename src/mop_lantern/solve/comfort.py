"""The comfort of people in the air, as fields."""

from __future__ import annotations

from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge.field_result import CARRIED, Scalar
from mop_lantern.laws.comfort import CLO, MET, ZERO, dissatisfied, draught, mean_vote, operative

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics

Floats = NDArray[np.float64]
USUAL_HUMIDITY = 0.5
LEAST_SPEED = 1e-3  # m/s, over which an intensity is told
MOST_INTENSITY = 1.0
USUAL_INTENSITY = (
    0.4  # of laminar flows and closures without an energy (ISO 7730, section 6: mixing ventilation)
)


def comfort_fields(physics: Physics, known: dict[str, Scalar]) -> dict[str, Scalar]:
    """Work out operative temperature (K), mean vote, dissatisfied and draught rating in every cell of the
    fluid, where the case asks for them; of ``known`` fields the radiant temperature is used.
    """
    asked = physics.settled.numbers.comfort
    if not asked.solve or "T" not in physics.scalars or not physics.wet.n_cells:
        return {}
    air = physics.in_fluid("T") - ZERO
    speed = np.linalg.norm(physics.flow.U, axis=1)
    if asked.radiant is not None:
        radiant = asked.radiant - ZERO
    elif "radiant" in known:
        radiant = known["radiant"].cells[: len(air)] - ZERO
    else:
        radiant = surroundings(physics) - ZERO
    energy = None if physics.turbulence is None else physics.turbulence.k
    if energy is None:
        intensity = np.full(len(air), USUAL_INTENSITY)
    else:
        intensity = np.sqrt(2 / 3 * energy) / np.maximum(speed, LEAST_SPEED)
    if asked.humidity is not None:
        humidity = asked.humidity
    else:
        humidity = known["humidity"].cells[: len(air)] if "humidity" in known else USUAL_HUMIDITY
    vote = mean_vote(air, radiant, speed, humidity, asked.activity * MET, asked.clothing * CLO)
    values = {
        "operative": operative(air, radiant, speed) + ZERO,
        "vote": vote,
        "dissatisfied": dissatisfied(vote),
        "draught": draught(air, speed, np.minimum(intensity, MOST_INTENSITY)),
    }
    none = np.zeros(physics.mesh.n_boundary)
    beside = physics.wet.owner[physics.wet.n_internal :]
    return {
        name: Scalar(physics.whole.cells(cells), physics.whole.boundary(cells[beside]), none, *CARRIED[name])
        for name, cells in values.items()
    }


def surroundings(physics: Physics) -> float:
    """Give the mean temperature of all wall surfaces of the fluid by area, K; that of the fluid where it has
    no wall.
    """
    scalar = physics.scalars["T"]
    outer = physics.wet.n_boundary
    walls = physics.flow.boundary.wall
    size = np.where(walls, physics.flow.geometry.size_b, 0.0)
    if not size.any():
        return float(np.average(physics.in_fluid("T"), weights=physics.wet.volume))
    return float(np.average(scalar.boundary_values()[:outer], weights=size))
