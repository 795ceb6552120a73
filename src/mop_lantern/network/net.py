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
    kind : the component class. stack : an array (k,) for every parameter. run : (k,) where they are. place :
    (k,) order in the run.
    names : (k,) ids, RUN.PART.
    """

    kind: type[Component]
    stack: Numbers
    run: Ints
    place: Ints
    names: list[str] = field(default_factory=list)

    def __len__(self) -> int:
        return len(self.run)


@dataclass
class Net:
    """Nodes, runs and components.

    Attributes
    ----------
    start, end : (n_runs,) node indices. z : (n_nodes,) m. held : (n_nodes,) bool, pressure given. pressure :
    (n_nodes,) Pa over the air at the node's height, where held. demand : (n_nodes,) kg/s taken out. density,
    viscosity : (n_runs,) SI.
    air : (n_runs,) kg/m3, weight of the air outside that counts against that of the fluid (0 for liquids).
    groups : components by kind. node_names, run_names : ids. offset : (n_runs,) Pa
    lost along every run by what does not hang on its own flow alone, such as tees.
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
    run_names: list[str]
    offset: Floats | None = None

    @property
    def n_nodes(self) -> int:
        """Number of nodes."""
        return len(self.z)

    @property
    def n_runs(self) -> int:
        """Number of runs."""
        return len(self.start)

    def drops(self, mass: Floats) -> tuple[Floats, Floats]:
        """Give the loss of total pressure of every run (n_runs,) Pa, and its slope by the mass flow,
        Pa/(kg/s).
        """
        total = np.zeros(self.n_runs)
        slope = np.zeros(self.n_runs)
        for group in self.groups:
            drop, by = self.part_drops(group, mass)
            total += np.bincount(group.run, drop, self.n_runs)
            slope += np.bincount(group.run, by, self.n_runs)
        return total, slope / self.density

    def part_drops(self, group: Group, mass: Floats) -> tuple[Floats, Floats]:
        """Give the losses of the components of a group (k,) Pa, and their slopes by the volume flow."""
        rho = self.density[group.run]
        drop, by = group.kind.drop(group.stack, mass[group.run] / rho, rho, self.viscosity[group.run])
        return np.asarray(drop, float), np.asarray(by, float)

    def lift(self) -> Floats:
        """Give what the weight of the fluid adds along every run, Pa: height lost counts positive."""
        weight = (self.density - self.air) * 9.80665 * (self.z[self.start] - self.z[self.end])
        return np.asarray(weight if self.offset is None else weight - self.offset)

    def areas(self) -> Floats:
        """Give the smallest flow area of every run, m2; 1e-3 where none is known."""
        area = np.full(self.n_runs, np.nan)
        for group in self.groups:
            np.fmin.at(area, group.run, np.broadcast_to(group.kind.area(group.stack), len(group)))
        return np.where(np.isfinite(area), area, 1e-3)

    def end_areas(self, unknown: float = 1e-3) -> tuple[Floats, Floats]:
        """Give the flow area of every run at its start and at its end, m2; ``unknown`` where none is
        known.
        """
        found = np.full((2, self.n_runs), unknown)
        place = np.array([np.full(self.n_runs, 1 << 30), np.full(self.n_runs, -1)])
        for group in self.groups:
            area = np.broadcast_to(group.kind.area(group.stack), len(group))
            for known, run, at in zip(area.tolist(), group.run.tolist(), group.place.tolist(), strict=True):
                if not np.isfinite(known):
                    continue
                if at < place[0, run]:
                    place[0, run], found[0, run] = at, known
                if at > place[1, run]:
                    place[1, run], found[1, run] = at, known
        return found[0], found[1]

    def shut(self) -> NDArray[np.bool_]:
        """Tell which runs hold something closed."""
        found = np.zeros(self.n_runs, bool)
        for group in self.groups:
            closed = np.broadcast_to(group.kind.closed(group.stack), len(group))
            found[group.run[closed]] = True
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
