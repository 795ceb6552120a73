"""The lines of the sheet that have one form each: where the manual describes them, and under which title."""

from __future__ import annotations

from mop_lantern.case.conditions import (
    Adapt,
    Age,
    Comfort,
    Heat,
    Physics,
    Radiation,
    Species,
    Start,
    Table,
    Time,
)
from mop_lantern.case.document import Grid, Parameter, Shape, Solver
from mop_lantern.case.measured import MeasuredData
from mop_lantern.case.network_section import (
    NetworkLine,
    NetworkRelease,
    NetworkSection,
    NetworkSpecies,
    NetworkTime,
    Operation,
)
from mop_lantern.declare import Record

RECORDS: dict[str, tuple[tuple[str, str, type[Record]], ...]] = {
    "Shape": (("shape", "The flow domain", Shape),),
    "Physics": (
        ("field.physics", "Flow and buoyancy", Physics),
        ("field.time", "Steady or in time", Time),
        ("field.start", "What a solution begins from", Start),
    ),
    "Transported": (
        ("field.heat", "Temperature", Heat),
        ("field.species", "Species", Species),
        ("field.age", "Mean age", Age),
        ("field.radiation", "Radiation between surfaces", Radiation),
        ("field.comfort", "Comfort", Comfort),
    ),
    "Grid": (("field.grid", "The grid", Grid), ("field.adapt", "Adaptive refinement", Adapt)),
    "Solver": (("field.solver", "How the case is solved", Solver),),
    "Network": (
        ("network", "The network", NetworkSection),
        ("network.time", "Steady, in time, or with pressure waves", NetworkTime),
        ("network.lines", "Line", NetworkLine),
        ("network.operations", "Timed operation", Operation),
        ("network.species", "Species of a network", NetworkSpecies),
        ("network.releases", "Release of a species", NetworkRelease),
    ),
    "Measured": (("measured", "Measured data set", MeasuredData),),
    "Parameters": (("parameters", "A parameter", Parameter),),
    "Tables": (("tables", "A table", Table),),
}
"""Chapter to path, title and form of its lines, in the order of the sheet."""
