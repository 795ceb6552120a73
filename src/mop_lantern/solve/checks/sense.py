"""Whether pressures and speeds can be."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.judge import FieldResult, Trust
from mop_lantern.laws.vapour import water
from mop_lantern.solve.check import Evidence, TrustCheck

ATMOSPHERE = 101_325.0  # Pa
LIQUID = 50.0  # kg/m3: gases are lighter
SOUND_IN_LIQUID = 1480.0  # m/s, water


class Sense(TrustCheck):
    """Pressures under that of vapour or under nothing, and speeds near that of sound, are not solved as they
    are.

    Source: White, Fluid Mechanics, chapter 9; vapour pressure of water, Wagner and Pruss 1993.
    """

    caption: ClassVar[str] = "Pressures and speeds that can be"
    kind: Literal["sense"] = "sense"

    @classmethod
    def judge(cls, evidence: Evidence) -> list[Trust]:
        """Look at an answer."""
        return sense_trust(evidence.settled, evidence.answer)


def sense_trust(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    """Tell of pressures under that of vapour or under nothing, and of speeds at which a fluid is no longer
    incompressible.

    Pressures count from the standard atmosphere; a closed space has no level. Source: incompressible to 5 %
    of density up to Mach 0.3 (White, Fluid Mechanics, chapter 9); vapour pressure of water, Wagner and Pruss
    1993.
    """
    fluid = settled.medium
    items = []
    fastest = float(np.linalg.norm(answer.velocity, axis=1).max(initial=0.0))
    gas = fluid.density < LIQUID
    sound = np.sqrt(1.4 * ATMOSPHERE / fluid.density) if gas else SOUND_IN_LIQUID
    if fastest > 0.3 * sound:
        text = (
            f"The fastest fluid, {fastest:.3g} m/s, moves at {fastest / sound:.2g} of the speed of sound: "
            "it is solved as if it could not be compressed."
        )
        items.append(
            Trust(
                "mach",
                "caution" if fastest < sound else "fails",
                fastest / sound,
                0.3,
                text,
            )
        )
    if not any(hasattr(opening, "pressure") for opening in settled.numbers.openings.values()):
        return items
    if not answer.wet.any():
        return items
    answer = answer.parts[""]
    pressure = np.concatenate([answer.pressure, answer.wall_pressure])
    lowest = ATMOSPHERE + float(pressure.min())
    place = int(pressure.argmin())
    mesh = answer.mesh
    at = (
        mesh.centre[place]
        if place < mesh.n_cells
        else mesh.face_centre[mesh.n_internal + place - mesh.n_cells]
    )
    where = ", ".join(f"{1e3 * value:.4g}" for value in at[: len(mesh.ways)])
    kind = next(iter(settled.numbers.media.values())).kind
    boils = float(water(fluid.temperature)) if kind in ("water", "sea_water") else 0.0
    if lowest < 0:
        text = (
            f"The absolute pressure falls to {lowest / 1e5:.3g} bar at ({where}) mm, less than nothing: "
            "this flow cannot be."
        )
        items.append(
            Trust(
                "absolute",
                "fails",
                lowest,
                0.0,
                text,
            )
        )
    elif lowest < boils:
        text = (
            f"The absolute pressure falls to {lowest / 1e5:.3g} bar at ({where}) mm, under that of vapour "
            f"({boils / 1e5:.3g} bar): the water boils there, which is not followed."
        )
        items.append(
            Trust(
                "absolute",
                "caution",
                lowest,
                boils,
                text,
            )
        )
    elif gas and np.ptp(pressure) > 0.1 * ATMOSPHERE:
        items.append(
            Trust(
                "absolute",
                "caution",
                float(np.ptp(pressure)),
                0.1 * ATMOSPHERE,
                (
                    "Pressure differs by more than a tenth of the atmosphere's: the gas is solved as if it "
                    "could not be compressed."
                ),
            )
        )
    return items
