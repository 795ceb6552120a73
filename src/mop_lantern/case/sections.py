"""The sections of a case: what the sheet, edits, new items, the resolver and the manual all need to know of
them. One line a section; the order is that of work.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any


@dataclass(frozen=True)
class Section:
    """A part of the document.

    Attributes
    ----------
    path : where it stands. heading : of the sheet, under which its lines come. package : of the kinds its
    items are of; empty where all have one form. many : it holds items by id. stem : what ids of new items
    begin with. offered : the sheet offers to add one. resolved : how it becomes numbers: "record" (as its
    declarations say), "species", "reading", or "" for not by itself. chapter : of the manual that describes
    its kinds.
    """

    path: str
    heading: str = ""
    package: str = ""
    many: bool = True
    stem: str = "item"
    offered: bool = False
    resolved: str = "record"
    chapter: str = ""

    @property
    def name(self) -> str:
        """The last part of its path: what the resolved numbers call it."""
        return self.path.rpartition(".")[2]

    def of(self, case: Any) -> Any:
        """Give this section of a case: a record, or items by id."""
        here = case
        for step in self.path.split("."):
            here = getattr(here, step)
        return here


def _kinds(
    path: str,
    heading: str,
    package: str,
    stem: str,
    chapter: str = "",
    resolved: str = "record",
) -> Section:
    return Section(
        path,
        heading,
        f"mop_lantern.{package}",
        stem=stem,
        offered=True,
        resolved=resolved,
        chapter=chapter or heading,
    )


def _one(path: str, heading: str = "") -> Section:
    return Section(path, heading, many=False)


SECTIONS = (
    Section("parameters", "Parameters", offered=True, resolved=""),
    Section("tables", "Tables", stem="table", offered=True, resolved=""),
    _one("shape", "Shape"),
    _kinds("shape.parts", "Shape", "shape.parts", "part", resolved=""),
    _kinds("shape.solids", "Shape", "shape.solids", "part", resolved=""),
    _kinds("media", "Fluid", "media", "fluid"),
    _one("field.physics", "Physics"),
    _one("field.time", "Physics"),
    _one("field.start", "Physics"),
    _one("field.heat", "Transported quantities"),
    Section("field.species", "Transported quantities", stem="species", offered=True, resolved="species"),
    _one("field.age", "Transported quantities"),
    _one("field.radiation", "Transported quantities"),
    _one("field.comfort", "Transported quantities"),
    _kinds("field.openings", "Openings", "field.openings", "opening"),
    _kinds("field.devices", "Devices in the fluid", "field.devices", "device", "Devices"),
    _kinds("field.walls", "Walls and solids", "field.walls", "wall", "Walls"),
    _kinds("field.warm", "Walls and solids", "field.heat_walls", "warm", "Walls"),
    _kinds("field.finishes", "Walls and solids", "field.finishes", "finish", "Walls"),
    _kinds("field.solids", "Walls and solids", "materials", "solid", "Walls"),
    _kinds("field.sources", "Transported quantities", "field.sources", "source", "Transported"),
    _one("field.grid", "Grid"),
    _kinds("field.grid.refine", "Grid", "grid.refinements", "finer", resolved=""),
    _one("field.adapt", "Grid"),
    _one("field.solver", "Solver"),
    _one("network", "Network"),
    _kinds("network.nodes", "Network", "network.nodes", "node", resolved=""),
    Section("network.lines", "Network", stem="line", offered=True, resolved=""),
    Section("network.operations", "Network", stem="work", resolved=""),
    Section("network.species", "Network", stem="species", resolved=""),
    Section("network.releases", "Network", stem="release", resolved=""),
    _kinds("readings", "Readings", "judge.readings", "reading", resolved="reading"),
    Section("measured", "Measured"),
    Section("variants", resolved=""),
    Section("units", resolved=""),
    Section("views", resolved=""),
)
COMPONENTS = "mop_lantern.network.components"
BY_PATH = {section.path: section for section in SECTIONS}


def package_of(path: str) -> str:
    """Give the package of the kinds of a section; the components of any run are alike."""
    section = BY_PATH.get(path)
    return (section.package if section else "") or COMPONENTS


def offered_under(heading: str) -> tuple[str, ...]:
    """Name the sections the sheet offers to add to under a heading."""
    return tuple(section.path for section in SECTIONS if section.heading == heading and section.offered)


def place_in_work(path: str) -> int:
    """Give where a path comes in the order of work; the innermost section counts."""
    found = [number for number, section in enumerate(SECTIONS) if f"{path}.".startswith(f"{section.path}.")]
    return found[-1] if found else len(SECTIONS)
