"""Whether pressures and speeds can be."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.case import ResolvedCase
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult, Trust
from mop_lantern.judge.facts import LIQUID
from mop_lantern.laws.vapour import water
from mop_lantern.solve.check import Evidence, TrustCheck
from mop_lantern.units import show, show_handy, show_place

ATMOSPHERE = 101_325.0  # Pa
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
    items = _too_fast(settled, answer)
    levelled = any(hasattr(opening, "pressure") for opening in settled.numbers.openings.values())
    if levelled and answer.wet.any():
        items += _too_low(settled, answer.parts[""])
    return items


def _too_fast(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    fluid = settled.medium
    fastest = float(np.linalg.norm(answer.velocity, axis=1).max(initial=0.0))
    sound = np.sqrt(1.4 * ATMOSPHERE / fluid.density) if fluid.density < LIQUID else SOUND_IN_LIQUID
    if fastest <= 0.3 * sound:
        return []
    speed = show(fastest, "velocity", "m/s", 3)
    text = (
        f"The fastest fluid, {speed}, moves at {fastest / sound:.2g} of the speed of sound: it is solved as "
        "if it could not be compressed."
    )
    return [Trust("mach", "caution" if fastest < sound else "fails", fastest / sound, 0.3, text)]


def _too_low(settled: ResolvedCase, answer: FieldResult) -> list[Trust]:
    fluid = settled.medium
    pressure = np.concatenate([answer.pressure, answer.wall_pressure])
    lowest = ATMOSPHERE + float(pressure.min())
    where = _place_told(answer.mesh, int(pressure.argmin()))
    told = show_handy(lowest, "pressure", "bar")
    kind = next(iter(settled.numbers.media.values())).kind
    boils = float(water(fluid.temperature)) if kind in ("water", "sea_water") else 0.0
    if lowest < 0:
        text = f"The absolute pressure falls to {told} at {where}, less than nothing: this flow cannot be."
        return [Trust("absolute", "fails", lowest, 0.0, text)]
    if lowest < boils:
        text = (
            f"The absolute pressure falls to {told} at {where}, under that of vapour "
            f"({show_handy(boils, 'pressure', 'bar')}): the water boils there, which is not followed."
        )
        return [Trust("absolute", "caution", lowest, boils, text)]
    apart = float(np.ptp(pressure))
    if fluid.density < LIQUID and apart > 0.1 * ATMOSPHERE:
        text = (
            "Pressure differs by more than a tenth of the atmosphere's: the gas is solved as if it "
            "could not be compressed."
        )
        return [Trust("absolute", "caution", apart, 0.1 * ATMOSPHERE, text)]
    return []


def _place_told(mesh: Mesh, place: int) -> str:
    """Give the place of a value of a cell, or of a boundary face after all cells."""
    inside = place < mesh.n_cells
    at = mesh.centre[place] if inside else mesh.face_centre[mesh.n_internal + place - mesh.n_cells]
    return show_place(at[: len(mesh.ways)])
