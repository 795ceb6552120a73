"""A solved field as readings see it."""

from __future__ import annotations

from dataclasses import dataclass, field, replace
from functools import cached_property

import numpy as np
from numpy.typing import NDArray

from mop_lantern.grid import Mesh
from mop_lantern.grid.quality import CELL_FIGURES, figures
from mop_lantern.grid.regions import faces_of_cells
from mop_lantern.judge.sampling import Weights, sampler_of

Floats = NDArray[np.float64]
FLOW_QUANTITIES: dict[str, tuple[str, str]] = {
    "pressure": ("static pressure", "pressure"),
    "total": ("total pressure", "pressure"),
    "speed": ("speed", "velocity"),
    "u": ("x velocity", "velocity"),
    "v": ("y velocity", "velocity"),
    "shear": ("wall shear", "pressure"),
}
ROUND_AXIS = {"w": ("swirl velocity", "velocity")}
IN_SPACE = {"w": ("z velocity", "velocity")}
CARRIED: dict[str, tuple[str, str]] = {
    "T": ("temperature", "temperature"),
    "age": ("mean age", "time"),
    "density": ("density", "density"),
    "viscosity": ("viscosity", "viscosity"),
    "k": ("turbulence energy", "energy"),
    "omega": ("turbulence frequency", "rate"),
    "epsilon": ("turbulence dissipation", "dissipation"),
    "eddy": ("eddy viscosity", "viscosity"),
    "intensity": ("turbulence intensity", "fraction"),
    "y_plus": ("wall distance y+", "number"),
    "humidity": ("relative humidity", "fraction"),
    "dew_point": ("dew point", "temperature"),
    "radiant": ("radiant temperature", "temperature"),
    "operative": ("operative temperature", "temperature"),
    "vote": ("predicted mean vote", "number"),
    "dissatisfied": ("predicted dissatisfied", "fraction"),
    "draught": ("draught rating", "fraction"),
    "swing": ("swing of the velocity", "velocity"),
}
TURBULENT = ("k", "eddy", "intensity", "y_plus")
MOIST = ("humidity", "dew_point")
COMFORT = ("operative", "vote", "dissatisfied", "draught")


@dataclass(frozen=True)
class Scalar:
    """Something carried, or a property that varies.

    Attributes
    ----------
    cells : (n_cells,) SI. boundary : (n_boundary,) SI. leaving : (n_boundary,) what leaves a second, whole
    body (W for heat).
    label, dimension : what it is called and how it is shown. spreading : numerical diffusivity, m2/s, nan if
    unknown.
    """

    cells: Floats
    boundary: Floats
    leaving: Floats
    label: str
    dimension: str
    spreading: float = float("nan")


@dataclass(frozen=True)
class FieldResult:
    """Fields on a mesh.

    Attributes
    ----------
    velocity : (n_cells, 3) m/s. pressure : (n_cells,) Pa. flux : (n_faces,) m3/s out of the owner.
    wall_velocity : (n_boundary, 3) m/s. wall_pressure : (n_boundary,) Pa. shear : (n_boundary, 3) N, on the
    boundary.
    density : reference, kg/m3. scalars : what is carried, by name (T, age, c.ID), and properties that vary.
    time : s. since : where they are means over time up to ``time``, when those begin, s.
    swells : of a gas whose density follows the temperature everywhere, that at which it has the reference
    density, K; its fluxes are those of moles, in m3 of that density. 0 of what does not swell.
    walls : temperatures within walls that hold heat, K, by their names, (n_boundary, slices); nan elsewhere.
    """

    mesh: Mesh
    velocity: Floats
    pressure: Floats
    flux: Floats
    wall_velocity: Floats
    wall_pressure: Floats
    shear: Floats
    density: float
    scalars: dict[str, Scalar] = field(default_factory=dict)
    time: float = 0.0
    solid: bool = False  # the cells are those of one solid
    since: float | None = None
    swells: float = 0.0
    walls: dict[str, Floats] = field(default_factory=dict)

    def has(self, what: str) -> bool:
        """Whether a quantity has a meaning in any cell."""
        return what in self.quantities

    @cached_property
    def parts(self) -> dict[str, FieldResult]:
        """The field of every region on a mesh of its own, the fluid's under "" first; solids hold temperature
        only.
        """
        mesh = self.mesh
        if not len(mesh.region):
            return {"": self}
        present = [name for name in mesh.region_names if mesh.cells_of(name).any()]
        return {name: self._part(name) for name in present}

    def _part(self, region: str) -> FieldResult:
        cells = slice(*self.mesh.span_of(region))
        inner, outer = (slice(*ends) for ends in faces_of_cells(self.mesh, cells.start, cells.stop))
        behind = self.mesh.n_internal
        scalars = {
            name: replace(
                scalar,
                cells=scalar.cells[cells],
                boundary=scalar.boundary[outer],
                leaving=scalar.leaving[outer],
            )
            for name, scalar in self.scalars.items()
            if region == "" or name == "T"
        }
        return FieldResult(
            self.mesh.part(region),
            self.velocity[cells],
            self.pressure[cells],
            np.concatenate([self.flux[inner], self.flux[behind:][outer]]),
            self.wall_velocity[outer],
            self.wall_pressure[outer],
            self.shear[outer],
            self.density,
            scalars,
            self.time,
            region != "",
            self.since,
            self.swells,
        )

    @property
    def quantities(self) -> dict[str, tuple[str, str]]:
        """Give everything that can be shown or read: key to label and dimension."""
        own = (
            FLOW_QUANTITIES
            | (IN_SPACE if len(self.mesh.ways) == 3 else ROUND_AXIS if self.mesh.axisymmetric else {})
            if self.wet.any()
            else {}
        )
        return (
            own
            | {key: (scalar.label, scalar.dimension) for key, scalar in self.scalars.items()}
            | CELL_FIGURES
        )

    @cached_property
    def wet(self) -> NDArray[np.bool_]:
        """Mark the cells that hold fluid."""
        return np.zeros(self.mesh.n_cells, bool) if self.solid else self.mesh.cells_of("")

    def covers(self, what: str) -> NDArray[np.bool_]:
        """Mark the cells in which a quantity has a meaning: temperature in all, the rest in the fluid."""
        everywhere = what == "T" or what in CELL_FIGURES
        return np.ones(self.mesh.n_cells, bool) if everywhere else self.wet

    def spread(self, what: str = "T") -> float:
        """Give how far a temperature (``what``, or else that of fluid and solids) differs from place to
        place, K.
        """
        known = what if what in self.scalars and self.scalars[what].dimension == "temperature" else "T"
        return float(np.ptp(self.scalars[known].cells[self.covers(known)]))

    @cached_property
    def _figures(self) -> dict[str, Floats]:
        return figures(self.mesh)

    def cells(self, what: str) -> Floats:
        """Give a quantity in every cell, SI."""
        if what in self.scalars:
            return self.scalars[what].cells
        if what in CELL_FIGURES:
            return self._figures[what]
        if what == "shear":  # of the wall a cell touches; nothing inside
            found = np.zeros(self.mesh.n_cells)
            np.maximum.at(found, self.mesh.owner[self.mesh.n_internal :], self.boundary("shear"))
            return found
        return _quantity(what, self.velocity, self.pressure, self.density)

    def boundary(self, what: str) -> Floats:
        """Give a quantity on every boundary face, SI."""
        if what in self.scalars:
            return self.scalars[what].boundary
        if what in CELL_FIGURES:
            return np.asarray(self._figures[what][self.mesh.owner[self.mesh.n_internal :]])
        if what == "shear":
            size = np.linalg.norm(self.mesh.area[self.mesh.n_internal :], axis=1)
            return np.asarray(np.linalg.norm(self.shear, axis=1) / np.maximum(size, 1e-300))
        return _quantity(what, self.wall_velocity, self.wall_pressure, self.density)

    @cached_property
    def outflow(self) -> Floats:
        """Volume flow out through every boundary face, m3/s of the whole body."""
        return self.flux[self.mesh.n_internal :] * self.mesh.turn

    @cached_property
    def passing(self) -> float:
        """All that leaves through the boundary, also where as much comes in beside it, m3/s."""
        return float(np.maximum(self.outflow, 0.0).sum())

    @cached_property
    def volume_outflow(self) -> Floats:
        """Volume flow out through every boundary face at the density it has there, m3/s of the whole body."""
        if not self.swells:
            return self.outflow
        return np.asarray(self.outflow * self.scalars["T"].boundary / self.swells)

    @cached_property
    def held(self) -> Floats:
        """What every cell holds of fluid, m3 of the reference density, of the whole body."""
        size = self.mesh.volume * self.mesh.turn * self.wet
        return np.asarray(size * self.swells / self.scalars["T"].cells if self.swells else size)

    @cached_property
    def face_size(self) -> Floats:
        """Area of every boundary face, m2 of the whole body."""
        return np.asarray(np.linalg.norm(self.mesh.area[self.mesh.n_internal :], axis=1) * self.mesh.turn)

    def sampler(self, what: str, places: Floats) -> Floats:
        """Give a quantity at (k, 2 or 3) places in m, (k,) SI; nan outside the wet space."""
        return self.weighed(what, sampler_of(self.mesh).weights(places))

    def weighed(self, what: str, weights: Weights) -> Floats:
        """Give a quantity at the places of some weights, (k,) SI; nan outside the wet space.

        Speed and total pressure are made from the sampled velocity; what is carried stays within the range it
        has anywhere.
        """
        if what in ("speed", "total"):
            parts = range(3) if np.any(self.velocity[:, 2]) else (0, 1)
            velocity = np.zeros((len(weights.cell), 3))
            for k in parts:
                part = weights.apply(np.concatenate([self.velocity[:, k], self.wall_velocity[:, k]]))
                velocity[:, k] = np.where(self.wet[weights.cell], part, np.nan)
            pressure = self.weighed("pressure", weights) if what == "total" else np.zeros(len(velocity))
            return _quantity(what, velocity, pressure, self.density)
        inside = self.covers(what)
        values = np.concatenate([self.cells(what), self.boundary(what)])
        found = np.where(inside[weights.cell], weights.apply(values), np.nan)
        if what not in self.scalars:
            return found
        outer = inside[self.mesh.owner[self.mesh.n_internal :]]
        held = values[np.concatenate([inside, outer])]
        return np.clip(found, held.min(), held.max())

    def inside(self, places: Floats) -> NDArray[np.bool_]:
        """Tell which (k, 2 or 3) places lie in the wet space."""
        return sampler_of(self.mesh).inside(places)


def _quantity(
    what: str,
    velocity: Floats,
    pressure: Floats,
    density: float,
) -> Floats:
    if what == "pressure":
        return pressure
    if what == "total":
        return pressure + 0.5 * density * (velocity**2).sum(axis=1)
    if what == "speed":
        return np.asarray(np.linalg.norm(velocity, axis=1))
    return velocity[
        :,
        {
            "u": 0,
            "v": 1,
            "w": 2,
        }[what],
    ]
