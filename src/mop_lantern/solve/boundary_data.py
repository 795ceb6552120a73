"""What a settled case demands of the boundary and the inside of a mesh, at a time: arrays for the field
core.
"""

from __future__ import annotations

import copy
from collections.abc import Mapping
from dataclasses import replace
from functools import partial
from types import MappingProxyType
from typing import TYPE_CHECKING, Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case import ResolvedCase
from mop_lantern.declare import Numbers, discover
from mop_lantern.errors import RunError
from mop_lantern.field.boundary import Boundary, Opening, Patch, patch_of
from mop_lantern.field.flow import Following
from mop_lantern.field.scalar_boundary import HeatWall, ScalarBoundary
from mop_lantern.field.source import SourceKind, spread
from mop_lantern.grid import Mesh, Wanted, make
from mop_lantern.grid.across import cells_across, leaves_across
from mop_lantern.grid.regions import plain_edge
from mop_lantern.grid.space_size import DEEPEST, cell_size, wants
from mop_lantern.grid.tree import refine
from mop_lantern.numerics.memory import trim_heap
from mop_lantern.shape import Plane, Surface, developed
from mop_lantern.shape.passages import narrowest_passage
from mop_lantern.units import UnitFault

if TYPE_CHECKING:
    from mop_lantern.solve.equation import Equation

Floats = NDArray[np.float64]


def prepare(settled: ResolvedCase, scale: float = 1.0, adapted: Wanted | None = None) -> Mesh:
    """Make the grid of a settled case; ``scale`` coarsens it, ``adapted`` are sizes a former field wants."""
    grid = copy.copy(settled.numbers.grid)
    grid.scale = scale
    grid.adapted = adapted
    grid.wall_unit = settled.regime.wall_unit
    if isinstance(settled.shape, Surface):
        from mop_lantern.grid.space_grid import make_in_space
        from mop_lantern.grid.space_regions import make_regions_in_space

        openings = sorted(settled.open_edges)
        finer = wants(settled.shape, grid, openings)
        shape = settled.meshed
        assert isinstance(shape, Surface)
        mesh = (make_regions_in_space if settled.solids else make_in_space)(
            shape,
            cell_size(settled.shape, grid, openings),
            int(grid.doublings),
            finer,
            DEEPEST if finer else 0,
        )
        trim_heap()
        return mesh
    assert isinstance(settled.meshed, Plane)
    return make(settled.meshed, grid, settled.open_edges)


def gap_cells(settled: ResolvedCase, mesh: Mesh, adapted: Wanted | None = None) -> float:
    """Count the cells across the narrowest passage of a grid, as the review of the case counts them; 0 where
    no wall faces another.
    """
    passage = narrowest_passage(settled.shape, settled.open_edges)
    if passage is None:
        return 0.0
    if isinstance(settled.shape, Surface):
        return cells_across(mesh, passage)
    grid = copy.copy(settled.numbers.grid)
    grid.adapted = adapted
    grid.wall_unit = settled.regime.wall_unit
    assert isinstance(settled.meshed, Plane)
    return leaves_across(refine(settled.meshed, grid, settled.open_edges), passage)


def _patch(
    mesh: Mesh,
    edge: str,
    density: float,
    path: str,
    shape: Surface | None = None,
) -> Patch:
    patch = patch_of(mesh, edge, density)
    if not len(patch.faces) and edge != "axis":
        raise _no_face(edge, path)
    if shape is not None:
        patch = replace(patch, developed=developed(shape, edge, patch.centre))
    return patch


def _no_face(edge: str, path: str) -> RunError:
    return RunError(
        f"the edge {edge} got no face on this grid", path, "Make the cells smaller or refine that edge."
    )


def heat_patch(mesh: Mesh, edge: str, path: str, between: bool) -> Patch:
    """Gather the faces of an edge, of whichever region, that lie between two regions or that do not.

    Raises
    ------
    RunError : there are none.
    """
    numbers = [k for k, name in enumerate(mesh.patch_names) if plain_edge(name) == edge]
    mine = np.isin(mesh.patch, numbers)
    faces = np.flatnonzero(mine & (mesh.joined == between))
    if len(faces) or edge == "axis":
        return patch_of(mesh, edge, 1.0, faces)
    if not mine.any():
        raise _no_face(edge, path)
    if between:
        raise RunError(
            f"nothing lies behind the edge {edge}: it is not a contact.",
            path,
            "Name a wall between two regions, or let heat through it by another kind.",
        )
    raise RunError(
        f"another region lies behind the edge {edge} all over, so that it can hold no temperature or flux.",
        path,
        "Remove it, name an outer wall, or take a contact that resists.",
    )


def numbers_at(
    numbers: Numbers,
    patch: Patch,
    time: float,
    path: str,
) -> Numbers:
    """Work varying numbers out on the faces of a patch.

    Raises
    ------
    RunError : an expression has no value there.
    """
    try:
        return numbers.at({"t": time, **patch.places})
    except UnitFault as fault:
        raise RunError(str(fault), f"{path} at t = {time:.6g} s.", "Change the expression.") from None


def inlet_density(settled: ResolvedCase, temperature: Any) -> float:
    """Give the density of what enters at a temperature (K): that of the gas law where it is asked for, else
    the reference.
    """
    fluid = settled.medium
    gas = settled.numbers.physics.buoyancy == "gas" and settled.numbers.heat.solve
    return fluid.density * (fluid.temperature / float(np.mean(temperature)) if gas else 1.0)


def boundary_of(
    settled: ResolvedCase,
    mesh: Mesh,
    time: float = 0.0,
    columns: Mapping[str, Floats] = MappingProxyType({}),
) -> Boundary:
    """Write what openings and walls demand of the flow onto the boundary of a mesh; ``columns`` : by how much
    pressures of openings are raised face by face, (k,) Pa.
    """
    boundary = Boundary.still(mesh.n_boundary)
    for package, items in (("openings", settled.numbers.openings), ("walls", settled.numbers.walls)):
        kinds = discover(f"mop_lantern.field.{package}")
        for key, numbers in items.items():
            path = f"field.{package}.{key}"
            face = settled.shape if package == "openings" and isinstance(settled.shape, Surface) else None
            patch = _patch(
                mesh,
                numbers.edge,
                settled.medium.density,
                path,
                face,
            )
            now = numbers_at(numbers, patch, time, path)
            if package == "openings":
                patch = replace(
                    patch, density=inlet_density(settled, now.temperature), reynolds=_turbulent(settled, key)
                )
            kinds[numbers.kind].apply(now, patch, boundary)  # type: ignore[attr-defined]
            if package == "openings" and mesh.axisymmetric:
                boundary.velocity[patch.faces, 2] += now.swirl * patch.radii.mean(axis=1)
            if package == "openings" and key in columns:
                boundary.pressure[patch.faces] += columns[key]
    return boundary


def _turbulent(settled: ResolvedCase, key: str) -> float:
    """Give the Reynolds number of an opening of turbulent flow, 0 of a laminar one."""
    if settled.closure is None:
        return 0.0
    [opening] = [each for each in settled.facts.openings if each.key == key]
    return settled.facts.reynolds(opening) or settled.regime.reynolds


def following_of(
    settled: ResolvedCase,
    mesh: Mesh,
    time: float = 0.0,
    columns: Mapping[str, Floats] = MappingProxyType({}),
) -> list[Following]:
    """Give the openings whose pressure follows the flow through them; ``columns`` as of `boundary_of`: the
    pressure that follows is that of the first face.
    """
    kinds = discover("mop_lantern.field.openings", Opening)
    found = []
    for key, numbers in settled.numbers.openings.items():
        kind = kinds[numbers.kind]
        if kind.follows_flow:
            path = f"field.openings.{key}"
            patch = _patch(mesh, numbers.edge, settled.medium.density, path)
            now = numbers_at(numbers, patch, time, path)
            now.area = float(np.linalg.norm(patch.area, axis=1).sum() * mesh.turn)
            density = inlet_density(settled, now.temperature)
            raised = float(columns[key][0]) if key in columns else 0.0
            law = partial(_law, kind, now, density, raised)
            found.append(Following(patch.faces, mesh.turn, law, kind.holds_flow))
    return found


def _law(
    kind: type[Opening],
    numbers: Numbers,
    density: float,
    raised: float,
    flow: float,
    entering: float,
) -> tuple[float, float]:
    numbers.entering = entering
    pressure, slope = kind.pressure_at(numbers, flow, density)
    return pressure + raised, slope


def demand_of(
    settled: ResolvedCase,
    mesh: Mesh,
    kind: type[Equation],
    name: str,
    time: float = 0.0,
) -> ScalarBoundary:
    """Write what openings and walls demand of something carried onto the boundary of a mesh."""
    demand = ScalarBoundary.closed(mesh.n_boundary)
    shape = settled.shape if isinstance(settled.shape, Surface) else None
    for key, numbers in settled.numbers.openings.items():
        path = f"field.openings.{key}"
        patch = _patch(mesh, numbers.edge, settled.medium.density, path, shape)
        demand.value[patch.faces] = kind.entering(settled, numbers_at(numbers, patch, time, path), name)
    kind.at_walls(settled, mesh, demand, time)
    return demand


def warm_walls(
    settled: ResolvedCase,
    mesh: Mesh,
    demand: ScalarBoundary,
    time: float,
) -> None:
    """Write what walls demand of heat."""
    kinds = discover("mop_lantern.field.heat_walls", HeatWall)
    for key, numbers in settled.numbers.warm.items():
        path = f"field.warm.{key}"
        kind = kinds[numbers.kind]
        patch = heat_patch(mesh, numbers.edge, path, kind.between)
        kind.apply(numbers_at(numbers, patch, time, path), patch, demand)


def made_in(
    settled: ResolvedCase,
    mesh: Mesh,
    what: str,
    time: float = 0.0,
) -> Floats:
    """Give what the sources of a case make of "heat" or a species, (n_cells,) per m3 and second (W/m3 for
    heat).
    """
    total = np.zeros(mesh.n_cells)
    kinds = discover("mop_lantern.field.sources", SourceKind)
    measures = {key: species.measure for key, species in settled.numbers.species.items()}
    for key, numbers in settled.numbers.sources.items():
        kind = kinds[numbers.kind]
        now = numbers.at({"t": time})
        strength = kind.gives(now, settled.medium.density, measures).get(what)
        if strength is not None:
            total += spread(kind.cells(now, mesh), mesh, strength, f"field.sources.{key}")
    return total


def pushed(settled: ResolvedCase, mesh: Mesh, time: float = 0.0) -> Floats | None:
    """Give what sources push the fluid with, (n_cells, 3) m/s2; None where none does."""
    kinds = discover("mop_lantern.field.sources", SourceKind)
    total = np.zeros((mesh.n_cells, 3))
    found = False
    for key, numbers in settled.numbers.sources.items():
        kind = kinds[numbers.kind]
        if not kind.pushes:
            continue
        now = numbers.at({"t": time})
        each = spread(kind.cells(now, mesh), mesh, 1.0, f"field.sources.{key}")
        force = kind.push(now, len(mesh.ways) == 2)
        if mesh.axisymmetric:
            force[1:] = 0.0
        total += each[:, None] * force / settled.medium.density
        found = True
    return total if found else None


def start_of(record: Numbers, field: str, mesh: Mesh) -> Floats:
    """Give the start a section of the case tells for one of its values, (n_cells,)."""
    where = {
        "x": mesh.centre[:, 0],
        "y": mesh.centre[:, 1],
        "z": mesh.centre[:, 2],
        "r": np.hypot(*mesh.centre[:, :2].T) if not mesh.axisymmetric else mesh.radius,
    }
    value = record.at(where).__dict__[field]
    return np.broadcast_to(np.asarray(value, float), mesh.n_cells).copy()
