"""A network as arrays."""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.network.component import Component

Floats = NDArray[np.float64]
Ints = NDArray[np.int64]


@dataclass
class Group:
    """All components of one kind.

    Attributes
    ----------
    kind : the component class. stack : an array (k,) for every parameter. line : (k,) where they are. place :
    (k,) order in the line.
    names : (k,) ids, LINE.PART.
    """

    kind: type[Component]
    stack: Numbers
    line: Ints
    place: Ints
    names: list[str] = field(default_factory=list)

    def __len__(self) -> int:
        return len(self.line)


@dataclass
class Net:
    """Nodes, lines and components.

    Attributes
    ----------
    start, end : (n_lines,) node indices. z : (n_nodes,) m. held : (n_nodes,) bool, pressure given. pressure :
    (n_nodes,) Pa over the air at the node's height, where held. demand : (n_nodes,) kg/s taken out. density,
    viscosity : (n_lines,) SI.
    air : (n_lines,) kg/m3, weight of the air outside that counts against that of the fluid (0 for liquids).
    groups : components by kind. node_names, line_names : ids. offset : (n_lines,) Pa
    lost along every line by what does not hang on its own flow alone, such as tees.
    """

    start: Ints
    end: Ints
    z: Floats
    held: NDArray[np.bool_]
    pressure: Floats
    demand: Floats
    density: Floats
    viscosity: Floats
    air: Floats
    groups: list[Group]
    node_names: list[str]
    line_names: list[str]
    offset: Floats | None = None

    @property
    def n_nodes(self) -> int:
        """Number of nodes."""
        return len(self.z)

    @property
    def n_lines(self) -> int:
        """Number of lines."""
        return len(self.start)

    def drops(self, mass: Floats) -> tuple[Floats, Floats]:
        """Give the loss of total pressure of every line (n_lines,) Pa, and its slope by the mass flow,
        Pa/(kg/s).
        """
        total = np.zeros(self.n_lines)
        slope = np.zeros(self.n_lines)
        for group in self.groups:
            drop, by = self.part_drops(group, mass)
            total += np.bincount(group.line, drop, self.n_lines)
            slope += np.bincount(group.line, by, self.n_lines)
        return total, slope / self.density

    def part_drops(self, group: Group, mass: Floats) -> tuple[Floats, Floats]:
        """Give the losses of the components of a group (k,) Pa, and their slopes by the volume flow."""
        rho = self.density[group.line]
        drop, by = group.kind.drop(group.stack, mass[group.line] / rho, rho, self.viscosity[group.line])
        return np.asarray(drop, float), np.asarray(by, float)

    def lift(self) -> Floats:
        """Give what the weight of the fluid adds along every line, Pa: height lost counts positive."""
        weight = (self.density - self.air) * 9.80665 * (self.z[self.start] - self.z[self.end])
        return np.asarray(weight if self.offset is None else weight - self.offset)

    def areas(self) -> Floats:
        """Give the smallest flow area of every line, m2; 1e-3 where none is known."""
        area = np.full(self.n_lines, np.nan)
        for group in self.groups:
            np.fmin.at(area, group.line, np.broadcast_to(group.kind.area(group.stack), len(group)))
        return np.where(np.isfinite(area), area, 1e-3)

    def end_areas(self, unknown: float = 1e-3) -> tuple[Floats, Floats]:
        """Give the flow area of every line at its start and at its end, m2; ``unknown`` where none is
        known.
        """
        found = np.full((2, self.n_lines), unknown)
        place = np.array([np.full(self.n_lines, 1 << 30), np.full(self.n_lines, -1)])
        for group in self.groups:
            area = np.broadcast_to(group.kind.area(group.stack), len(group))
            for known, line, at in zip(area.tolist(), group.line.tolist(), group.place.tolist(), strict=True):
                if not np.isfinite(known):
                    continue
                if at < place[0, line]:
                    place[0, line], found[0, line] = at, known
                if at > place[1, line]:
                    place[1, line], found[1, line] = at, known
        return found[0], found[1]

    def shut(self) -> NDArray[np.bool_]:
        """Tell which lines hold something closed."""
        found = np.zeros(self.n_lines, bool)
        for group in self.groups:
            closed = np.broadcast_to(group.kind.closed(group.stack), len(group))
            found[group.line[closed]] = True
        return found


def stacked(items: list[Numbers]) -> Numbers:
    """Make one array for every parameter out of many instances; lists of points stay apart."""
    made: dict[str, Any] = {}
    for name in vars(items[0]):
        values = [getattr(item, name) for item in items]
        if name in ("knots", "curve"):
            column = np.empty(len(values), object)
            column[:] = values
            made[name] = column
        else:
            made[name] = np.array(values)
    return Numbers(**made)
