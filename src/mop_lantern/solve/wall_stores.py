"""Walls that hold heat: those of a case."""

from __future__ import annotations

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import discover
from mop_lantern.field.scalar_boundary import HeatWall
from mop_lantern.field.wall_store import WallStore
from mop_lantern.grid import Mesh
from mop_lantern.solve.boundary_data import heat_patch


def stores_on(settled: ResolvedCase, mesh: Mesh) -> dict[str, WallStore]:
    """Give the stores of heat of all walls whose layers hold some, by their names in the case."""
    kinds = discover("mop_lantern.field.heat_walls", HeatWall)
    found = {}
    for key, numbers in settled.numbers.warm.items():
        kind = kinds[numbers.kind]
        layers = kind.layers(numbers)
        if any(layer.thickness * layer.capacity > 0 for layer in layers):
            patch = heat_patch(mesh, numbers.edge, f"field.warm.{key}", kind.between)
            found[key] = WallStore(patch.faces, layers)
    return found
