"""Review what is peculiar to a space in three dimensions."""

from __future__ import annotations

from typing import Any

import numpy as np

from mop_lantern.case.document import Case
from mop_lantern.declare import Numbers, discover
from mop_lantern.errors import Fault
from mop_lantern.grid.space_size import cell_size, cells_expected
from mop_lantern.judge import Facts, OpeningFacts
from mop_lantern.media import Fluid
from mop_lantern.shape import Surface

PLANE_ONLY = ("point", "line", "region", "passing", "torque")  # readings at places of a plane


def faults_in_space(case: Case) -> list[Fault]:
    """Give what a space cannot have yet, each at its line."""
    faults = []
    for key, item in case.field.openings.items():
        if getattr(item, "profile", "uniform") == "developed" or item.kind == "velocity_profile":
            faults.append(Fault(f"field.openings.{key}.profile", "developed profiles are known for planes and bodies around the axis only.", "Take a uniform profile and give it a length of pipe to develop in."))
    for key, item in case.readings.items():
        if item.kind in PLANE_ONLY:
            faults.append(Fault(f"readings.{key}", "this reading is taken at places of a plane.", "Read a named face instead: a drop, a flow, a value or a force."))
    for key, item in case.field.walls.items():
        if item.kind in ("sliding", "turning"):
            faults.append(Fault(f"field.walls.{key}", "moving walls are known in planes and around the axis only yet.", "Remove it."))
    for key in case.field.sources:
        faults.append(Fault(f"field.sources.{key}", "sources fill places of a plane only yet.", "Remove it."))
    if case.field.physics.buoyancy != "none":
        faults.append(Fault("field.physics.buoyancy", "gravity is known in a plane only yet.", "Let density differences not move the fluid."))
    if case.field.adapt.cycles.strip() not in ("0", ""):
        faults.append(Fault("field.adapt.cycles", "the grid of a space cannot follow the solution yet.", "Set it to 0."))
    if case.field.grid.refine:
        faults.append(Fault(f"field.grid.refine.{next(iter(case.field.grid.refine))}", "the grid of a space has one size at its walls.", "Remove it and give a smaller cell size."))
    if case.field.run.grids.strip() != "1":
        faults.append(Fault("field.run.grids", "the grid error is told for planes only yet.", "Set it to 1 and compare two levels."))
    return faults


def facts_in_space(numbers: Numbers, surface: Surface, medium: Fluid) -> Facts:
    """Give what margin notes may look at: openings by their faces, the expected number of cells."""
    kinds = discover("mop_lantern.field.openings")
    openings = []
    for key, item in numbers.openings.items():
        area = surface.edge_lengths[item.edge]
        middle, _ = surface.face(item.edge)
        now = item.at({"t": 0.0, "x": middle[:1], "y": middle[1:2], "r": np.hypot(*middle[:2, None]), "across": np.zeros(1)})
        kind: Any = kinds[item.kind]
        flow = kind.signed_flow(now, medium.density, area)
        part = numbers.shape.solids.get(item.edge.split(".")[0])
        width = float(np.sqrt(4 * area / np.pi)) / 2  # half the bore of equal area: twice it is the hydraulic diameter notes ask for
        openings.append(OpeningFacts(key, item.edge, item.kind, width, area, flow, float(getattr(part, "length", 0.0) or 0.0), getattr(item, "profile", "")))
    cells = cells_expected(surface, cell_size(surface, numbers.grid, [item.edge for item in numbers.openings.values()]))
    return Facts(numbers, surface, tuple(openings), 0.0, (0.0, 0.0), 0.0, cells, medium.density, medium.viscosity, medium.expansion)
