"""How still surroundings weigh on the openings that lead to them.

Pressures of the flow are those left when the weight of fluid at its reference is taken out. Surroundings
that are warmer, colder or otherwise composed weigh differently: from one open window to a higher one their
pressure falls by more or less than that, and this alone may drive a room. They are taken to hold what would
enter.
"""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import Numbers, discover
from mop_lantern.field.boundary import Opening, Patch, patch_of
from mop_lantern.grid import Mesh
from mop_lantern.solve.boundary_data import numbers_at
from mop_lantern.solve.equation import equations_of

Floats = NDArray[np.float64]


def gravity(settled: ResolvedCase, mesh: Mesh) -> Floats:
    """Give gravity, (3,) m/s2."""
    physics = settled.numbers.physics
    if len(mesh.ways) == 2:
        return np.asarray(physics.gravity * np.array([np.cos(physics.down), np.sin(physics.down), 0.0]))
    way = np.zeros(3)
    way["xyz".index(physics.falls[1])] = physics.gravity * (1 if physics.falls[0] == "+" else -1)
    return way


def columns(settled: ResolvedCase, mesh: Mesh, time: float = 0.0, every: bool = False) -> dict[str, Floats]:
    """Give by how much the weight of still surroundings raises the pressure on the faces of every opening
    that leads to them, (k,) Pa by opening. Heights count from the lowest opening that holds a pressure.
    ``every``: as if all that hold a pressure led to still surroundings.

    Source: hydrostatics, any text on natural ventilation.
    """
    if settled.numbers.physics.buoyancy == "none":
        return {}
    kinds = discover("mop_lantern.field.openings", Opening)
    pull = gravity(settled, mesh)
    holding = {
        key: patch_of(mesh, numbers.edge, settled.medium.density)
        for key, numbers in settled.numbers.openings.items()
        if kinds[numbers.kind].fixes == "pressure" and not kinds[numbers.kind].holds_flow
        if len(mesh.faces_of(numbers.edge))  # where it got none, the boundary says so
    }
    depths = {key: _middle(patch) @ pull for key, patch in holding.items()}
    found = {}
    for key, patch in holding.items():
        numbers = settled.numbers.openings[key]
        if every or kinds[numbers.kind].surroundings:
            now = numbers_at(numbers, patch, time, f"field.openings.{key}")
            heavier = settled.medium.density * _denser(settled, mesh, now)
            found[key] = heavier * (patch.centre @ pull - max(depths.values()))
    return found


def surrounded(settled: ResolvedCase) -> list[str]:
    """Give the edges of openings that lead to still surroundings."""
    kinds = discover("mop_lantern.field.openings", Opening)
    openings = settled.numbers.openings.values()
    return [numbers.edge for numbers in openings if kinds[numbers.kind].surroundings]


def _middle(patch: Patch) -> Floats:
    return np.average(patch.centre, axis=0, weights=np.linalg.norm(patch.area, axis=1))


def _denser(settled: ResolvedCase, mesh: Mesh, opening: Numbers) -> float:
    """Give the density difference of what would enter over the reference density."""
    return sum(
        kind.denser_outside(settled, mesh, name, opening)
        for name, kind in equations_of(settled).items()
        if kind.drives(settled, name)
    )
