"""What a settled case demands of turbulence: what enters, and what came of it as fields."""

from __future__ import annotations

from dataclasses import replace
from typing import TYPE_CHECKING

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase, quantities
from mop_lantern.field.boundary import patch_of
from mop_lantern.field.closure import C_MU
from mop_lantern.field.turbulence.model import Inflow, Turbulence
from mop_lantern.field.turbulence.profile import developed_energy, developed_length, shear_speed
from mop_lantern.grid import Mesh
from mop_lantern.judge.field_result import TURBULENT, Scalar
from mop_lantern.shape import Surface, developed

if TYPE_CHECKING:
    from mop_lantern.solve.physics import Physics

Floats = NDArray[np.float64]
INTENSITY = {"low": 0.01, "medium": 0.05, "high": 0.10}  # common practice, no source
MIXING = 0.07  # of the hydraulic diameter; common practice, no source


def usual_intensity(reynolds: float) -> float:
    """Give the intensity on the axis of a long pipe (common practice, from memory)."""
    return float(0.16 * max(reynolds, 1.0) ** -0.125)


def inflow_of(settled: ResolvedCase, mesh: Mesh) -> Inflow:
    """Give what turbulence enters with through the openings of a mesh; of a given eddy viscosity the mixing
    length that makes it, as all closures have it: C_mu^(1/4) k^(1/2) times the length.
    """
    count = mesh.n_boundary
    facts = {opening.key: opening for opening in settled.facts.openings}
    intensity = np.full(count, INTENSITY["medium"])
    length = np.full(count, 0.01 * settled.shape.size)
    energy = np.full(count, np.nan)
    for key, numbers in settled.numbers.openings.items():
        faces = patch_of(mesh, numbers.edge, settled.medium.density).faces
        opening = facts[key]
        width = opening.width if settled.shape.axisymmetric else 2 * opening.width
        reynolds = settled.facts.reynolds(opening) or settled.regime.reynolds
        chosen = numbers.turbulence
        intensity[faces] = (
            usual_intensity(reynolds)
            if chosen == "usual"
            else numbers.intensity
            if chosen == "given"
            else INTENSITY.get(chosen, 0.0)
        )
        given = numbers.mixing if chosen == "given" else None
        length[faces] = MIXING * width if given is None else given
        if chosen == "energy":
            nu = settled.medium.viscosity / settled.medium.density
            energy[faces] = numbers.energy
            length[faces] = numbers.ratio * nu / (C_MU**0.25 * np.sqrt(max(numbers.energy, 1e-12)))
        if chosen == "usual" and getattr(numbers, "profile", "") == "developed" and opening.flow:
            off = 1 - np.abs(opening_places(settled, mesh, numbers.edge))
            pull = shear_speed(reynolds) * abs(opening.flow) / opening.area
            energy[faces] = developed_energy(off) * pull**2
            length[faces] = developed_length(off) * width / 2
    return Inflow(intensity, np.maximum(length, 1e-9), energy)


def opening_places(settled: ResolvedCase, mesh: Mesh, edge: str) -> Floats:
    """Give where the faces of an opening lie across it: 0 in its middle, 1 at its rim, (k,)."""
    patch = patch_of(mesh, edge, settled.medium.density)
    if isinstance(settled.shape, Surface):
        patch = replace(patch, developed=developed(settled.shape, edge, patch.centre))
    return np.clip(np.abs(patch.across), 0.0, 1.0)


def turbulence_of(physics: Physics, start: dict[str, Floats]) -> Turbulence | None:
    """Make the turbulence of a flow; None where it is laminar or there is none."""
    settled = physics.settled
    wet = physics.wet
    if settled.closure is None or not wet.n_cells:
        return None
    return Turbulence(physics.flow, settled.closure, inflow_of(settled, wet), start)


def turbulence_fields(physics: Physics) -> dict[str, Scalar]:
    """Give turbulence as fields that readings and pictures see; of a laminar flow, all zero, what readings
    ask for.
    """
    known = quantities(physics.settled.case)
    wet = physics.wet
    names = [name for name in (*TURBULENT, "omega", "epsilon") if name in known]
    outer = wet.n_boundary
    turbulence = physics.turbulence
    if turbulence is None:
        asked = {getattr(item, "quantity", "") for item in physics.settled.numbers.readings.values()}
        names = [name for name in names if name in asked]
    found = {}
    for name in names if wet.n_cells else ():
        cells = np.zeros(wet.n_cells)
        boundary = np.zeros(outer)
        if turbulence is not None:
            cells, boundary = turbulence.field(name)
        found[name] = Scalar(
            physics.whole.cells(cells),
            physics.whole.boundary(boundary),
            np.zeros(physics.mesh.n_boundary),
            *known[name],
        )
    return found
