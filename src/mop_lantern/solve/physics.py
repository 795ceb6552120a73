"""All that is solved on one grid: the flow, everything it carries, and what they do to each other."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.case import ResolvedCase, quantities
from mop_lantern.errors import RunError
from mop_lantern.field.boundary import Boundary, joined
from mop_lantern.field.face_geometry import link
from mop_lantern.field.flow import FlowSettings, FlowSolver, FlowState, Step, StillFlow
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.solve.boundary_data import boundary_of, carried_names, demand_of, source_of, start_of

Floats = NDArray[np.float64]

RELAXATION = 0.9  # of what drives the flow
ABSOLUTE_ZERO = 1.0  # K: nothing is colder
COUPLED_LIMIT = 1e-6  # scaled residual of what drives the flow


class Physics:
    """The flow and what it carries on one grid.

    Parameters
    ----------
    settled : the case. mesh : its grid, of fluid and solids. start : where to begin; carried quantities it
    lacks begin as the case says.

    Attributes
    ----------
    wet : the grid of the fluid, whose arrays all of the flow and species have. driving : names of what moves
    or thickens the flow and is solved along with it; the rest is solved on the finished flow.
    """

    def __init__(
        self,
        settled: ResolvedCase,
        mesh: Mesh,
        start: FlowState | None,
        settings: FlowSettings | None = None,
        time: float = 0.0,
    ) -> None:
        self.settled = settled
        self.mesh = mesh
        self.wet = wet = mesh.fluid
        self.fluid = settled.medium
        self.time = time
        if start is None:
            start = FlowState(np.zeros((wet.n_cells, 3)), np.zeros(wet.n_cells), np.zeros(0))
            start.velocity[:, 0], start.velocity[:, 1] = (
                start_of(settled, wet, "u"),
                start_of(settled, wet, "v"),
            )
            if not start.velocity.any():
                start.flux = np.zeros(len(wet.owner))  # at rest nothing flows anywhere
        self.flow = (
            FlowSolver(
                wet,
                boundary_of(settled, wet, time),
                self.fluid.density,
                self.fluid.viscosity,
                settings or FlowSettings(),
                start,
            )
            if wet.n_cells
            else StillFlow(wet, settings or FlowSettings())
        )
        self.heat_links = link(mesh) if mesh is not wet else self.flow.links
        self.scalars = {name: self._transported(name, start) for name in carried_names(settled)}
        self.driving = self._driving()
        self.gas = settled.numbers.physics.buoyancy == "gas" and "T" in self.scalars
        self.sheared = self.fluid.law is not None
        self.varies = self.fluid.follows and "T" in self.scalars
        self._neutral = {
            name: float(np.average(scalar.phi, weights=scalar.mesh.volume))
            for name, scalar in self.scalars.items()
        }
        self._former_ratio: Floats | None = None
        self._mass = 0.0
        self.driving_residual = 0.0
        self._shear_viscosity: Floats | None = None
        if self.driving:
            self.flow.after_flow = self._after_flow
            self.flow.coupled_scalars = [self.scalars[name].phi for name in self.driving]
        self.refresh()

    def _driving(self) -> tuple[str, ...]:
        numbers = self.settled.numbers
        if numbers.physics.buoyancy != "none":
            moved = (
                [key for key, item in numbers.species.items() if item.expansion]
                if numbers.physics.buoyancy == "boussinesq"
                else []
            )
            return (*(["T"] if "T" in self.scalars else []), *(f"c.{key}" for key in moved))
        return ("T",) if self.fluid.follows and "T" in self.scalars else ()

    def _transported(self, name: str, start: FlowState) -> Transported:
        settled = self.settled
        mesh = self.mesh if name == "T" else self.wet
        fluid = self.fluid
        numbers = settled.numbers
        scale = fluid.density * fluid.capacity if name == "T" else 1.0
        if name == "T":
            diffusivity = self._conductivities() / scale
        else:
            diffusivity = (numbers.age if name == "age" else numbers.species[name[2:]]).diffusivity
        made = Transported(
            mesh,
            self.heat_links if name == "T" else self.flow.links,
            self._all_of(self.flow.boundary) if name == "T" else self.flow.boundary,
            demand_of(settled, mesh, name, self.time),
            diffusivity,
            source_of(settled, mesh, name, self.time) / scale,
            start.scalars[name] if name in start.scalars else start_of(settled, mesh, name),
            limited="always" if name.startswith("c.") else "needed" if name == "T" else "never",
            scale=scale,
        )
        made.sink = float(numbers.species[name[2:]].decay) if name.startswith("c.") else 0.0
        made.floor = ABSOLUTE_ZERO if name == "T" else None
        if name == "T" and len(mesh.region):
            made.ratio = self._capacities() / scale
        return made

    # --- fluid and solids ---

    def _conductivities(self) -> Floats:
        """Conductivity of every cell, fluid at its reference, (n_cells,) W/m/K."""
        found = np.full(self.mesh.n_cells, self.fluid.conductivity)
        for key, solid in self.settled.solids.items():
            found[self.mesh.cells_of(key)] = solid.conductivity
        return found

    def _capacities(self) -> Floats:
        """Heat capacity of every cell, (n_cells,) J/m3/K."""
        found = np.full(self.mesh.n_cells, self.fluid.density * self.fluid.capacity)
        for key, solid in self.settled.solids.items():
            found[self.mesh.cells_of(key)] = solid.density * solid.capacity
        return found

    def _all_of(self, boundary: Boundary) -> Boundary:
        """Give the boundary of fluid and solids: nothing crosses that of solids."""
        more = self.mesh.n_boundary - self.wet.n_boundary
        return boundary if not more else joined(boundary, Boundary.still(more))

    def _all_faces(self, flux: Floats) -> Floats:
        """Give fluxes through the faces of fluid and solids: none through those of solids."""
        if self.mesh is self.wet:
            return flux
        found = np.zeros(len(self.mesh.owner))
        inner = self.wet.n_internal
        found[:inner] = flux[:inner]
        found[self.mesh.n_internal :][: self.wet.n_boundary] = flux[inner:]
        return found

    def _all_cells(self, values: Floats) -> Floats:
        """Give values of the fluid's cells (k, ...) with zeros for those of solids behind them."""
        return _longer(values, self.mesh.n_cells)

    def _all_boundary(self, values: Floats) -> Floats:
        """Give values of the fluid's boundary faces (k, ...) with zeros for those of solids behind them."""
        return _longer(values, self.mesh.n_boundary)

    def _carry(self, name: str) -> Transported:
        """Give something carried the present flow."""
        scalar = self.scalars[name]
        gradient = self.flow.velocity_gradient
        if name == "T":
            scalar.set_flow(self._all_faces(self.flow.flux), self._all_cells(gradient))
        else:
            scalar.set_flow(self.flow.flux, gradient)
        self._warm_by_friction(name)
        return scalar

    # --- coupling ---

    def refresh(self) -> None:
        """Let properties and body forces follow what is carried and how the fluid is sheared."""
        physics = self.settled.numbers.physics
        if physics.buoyancy != "none":
            self.flow.set_force(self._lightness()[:, None] * self._gravity())
        if self.gas:
            self._expand()
        if self.varies:
            T = self.scalars["T"]
            surface = T.boundary_values()
            self.flow.set_viscosity(
                self.fluid.at("viscosity", T.phi[: self.wet.n_cells]),
                self.fluid.at("viscosity", surface[: self.wet.n_boundary]),
            )
            self._let_conductivity_follow(surface)
        if self.sheared:
            self._shear()

    def _let_conductivity_follow(self, surface: Floats) -> None:
        """Let the conductivity of the fluid follow the temperature in cells and on the ``surface``."""
        T = self.scalars["T"]
        cells = self._conductivities()
        boundary = cells[self.mesh.owner[self.mesh.n_internal :]]
        cells[: self.wet.n_cells] = self.fluid.at("conductivity", T.phi[: self.wet.n_cells])
        boundary[: self.wet.n_boundary] = self.fluid.at("conductivity", surface[: self.wet.n_boundary])
        T.set_diffusivity(cells / T.scale, boundary / T.scale)

    def _gravity(self) -> Floats:
        """Gravity, (3,) m/s2."""
        physics = self.settled.numbers.physics
        if len(self.mesh.ways) == 2:
            return physics.gravity * np.array([np.cos(physics.down), np.sin(physics.down), 0.0])
        way = np.zeros(3)
        way["xyz".index(physics.falls[1])] = physics.gravity * (1 if physics.falls[0] == "+" else -1)
        return way

    def _lightness(self) -> Floats:
        """Density difference over the reference density, (n_cells,)."""
        if self.gas:
            return self._ratio(self.wet_temperature) - 1.0
        total = np.zeros(self.wet.n_cells)
        for name in self.driving:
            if name == "T":
                total -= self.fluid.expansion * (self.wet_temperature - self.fluid.temperature)
            else:
                total += self.settled.numbers.species[name[2:]].expansion * (
                    self.scalars[name].phi - self._neutral[name]
                )
        return total

    @property
    def wet_temperature(self) -> Floats:
        """Temperature of the fluid's cells, K."""
        return self.scalars["T"].phi[: self.wet.n_cells]

    def _ratio(self, temperature: Floats) -> Floats:
        """Density over reference density by the gas law; in a closed space the pressure keeps the mass."""
        ratio = self.fluid.temperature / np.maximum(temperature, 1.0)
        if not self.flow.boundary.wall.all():
            return ratio
        if not self._mass:
            self._mass = float((ratio[: self.wet.n_cells] * self.wet.volume).sum())
        now = self.fluid.temperature / np.maximum(self.wet_temperature, 1.0)
        return ratio * self._mass / float((now * self.wet.volume).sum())

    def _expand(self) -> None:
        T = self.scalars["T"]
        cells = self._ratio(self.wet_temperature)
        surface = self._ratio(T.boundary_values()[: self.wet.n_boundary])
        rate = None
        if self._former_ratio is not None and self.flow.time_step:
            rate = (cells - self._former_ratio) / self.flow.time_step
        self.flow.set_ratio(cells, surface, rate)
        T.ratio = cells if self.mesh is self.wet else np.concatenate([cells, T.ratio[len(cells) :]])  # type: ignore[index]

    def _shear(self) -> None:
        """Let the viscosity follow the shear rate, half-way each time: power laws overshoot otherwise."""
        assert self.fluid.law is not None
        rate = np.concatenate(self.flow.shear_rate())
        wanted = np.log(np.maximum(self.fluid.law(rate), 1e-12))
        if self._shear_viscosity is None:
            self._shear_viscosity = np.full(len(wanted), np.log(self.fluid.viscosity))
        self._shear_viscosity += 0.5 * (wanted - self._shear_viscosity)
        viscosity = np.exp(self._shear_viscosity)
        self.flow.set_viscosity(viscosity[: self.wet.n_cells], viscosity[self.wet.n_cells :])

    def _after_flow(self) -> None:
        """Move what drives the flow one correction on."""
        self.driving_residual = 0.0
        for name in self.driving:
            scalar = self._carry(name)
            self.driving_residual = max(
                self.driving_residual,
                scalar.correct(relaxation=RELAXATION if self.flow.time_step is None else 1.0),
            )
            self.flow.coupled_scalars[self.driving.index(name)] = scalar.phi

    def _warm_by_friction(self, name: str) -> None:
        if name != "T" or not self.settled.numbers.heat.friction or not self.wet.n_cells:
            return
        rate, _ = self.flow.shear_rate()
        wet = self.wet
        nu = np.bincount(wet.owner, self.flow.nu, wet.n_cells) / np.bincount(wet.owner, minlength=wet.n_cells)
        base = source_of(self.settled, self.mesh, "T", self.time) / self.scalars["T"].scale
        self.scalars["T"].source = base + self._all_cells(nu * rate**2 / self.fluid.capacity)

    # --- iterating ---

    def step(self) -> Step:
        """Do one outer iteration of the flow and of what drives it."""
        if self.driving or self.sheared:
            self.refresh()
        made = self.flow.step()
        for name in self.driving:  # acceleration may overshoot
            self.scalars[name].keep_above_floor()
        return made

    def finish(self) -> float:
        """Close the mass balance and solve what is carried on the finished flow; give the mass imbalance
        left.
        """
        imbalance = self.flow.project_mass()
        for name in self.scalars:
            scalar = self._carry(name)
            if not self._settles(name):
                raise RunError(
                    f"{self.label(name)} has no steady value: nothing carries it away.",
                    "",
                    "Open the space, hold a wall, or follow it in time.",
                )
            left = scalar.solve(hold=name not in self.driving)
            if not np.isfinite(scalar.phi).all() or left > 1e-3:
                raise RunError(
                    f"{self.label(name)} could not be solved on this flow (residual {left:.0e}).",
                    "",
                    "Try a finer grid, or follow it in time.",
                )
        return imbalance

    def _settles(self, name: str) -> bool:
        """Whether something fixes the level of a carried quantity in the steady state."""
        scalar = self.scalars[name]
        mesh = scalar.mesh
        entering = scalar.open & (scalar.F[mesh.n_internal :] < 0)
        fixing = entering | (scalar.demand.given & ~scalar.open)
        if np.any(scalar.sink):
            return True
        if not len(mesh.joints):
            return bool(fixing.any())
        cell = mesh.owner[mesh.n_internal :]
        one, other = cell[mesh.joints].T
        near = np.concatenate([mesh.owner[: mesh.n_internal], one])
        far = np.concatenate([mesh.neighbour, other])
        every = coo_matrix((np.ones(len(near), np.int8), (near, far)), (mesh.n_cells,) * 2)
        count, part = connected_components(every, directed=False)
        return len(np.unique(part[cell[fixing]])) == count

    # --- in time ---

    def begin_step(self, step: float) -> None:
        """Begin a time step: former states are kept, boundaries and sources take their new values."""
        if self.gas:
            self._former_ratio = self._ratio(self.wet_temperature)
        self.time += step
        self.flow.begin_step(step)
        if self.wet.n_cells:
            self.flow.renew_boundary(boundary_of(self.settled, self.wet, self.time))
        for name, scalar in self.scalars.items():
            scalar.begin_step(step)
            scalar.demand = demand_of(self.settled, scalar.mesh, name, self.time)
            scalar.source = source_of(self.settled, scalar.mesh, name, self.time) / scalar.scale
        self.flow.coupled_scalars = [self.scalars[name].phi for name in self.driving]

    def carry_on(self, tolerance: float, most: int = 12) -> float:
        """Bring everything carried to the end of the time step on its finished flow; give the worst scaled
        residual.
        """
        worst = 0.0
        for name in self.scalars:
            scalar = self._carry(name)
            left = np.inf
            for _ in range(most):
                left = scalar.correct(1e-3)
                if left < tolerance:
                    break
            worst = max(worst, left)
        return worst

    # --- what came of it ---

    def state(self) -> FlowState:
        """Give a copy of the present state, with everything carried."""
        state = self.flow.state()
        state.scalars = {name: scalar.phi.copy() for name, scalar in self.scalars.items()}
        state.time = self.time
        return state

    def restore(self, state: FlowState) -> None:
        """Go back to a state of this grid."""
        self.flow.U[:], self.flow.p[:], self.flow.flux[:] = (
            state.velocity,
            state.pressure / self.flow.density,
            state.flux,
        )
        for name, values in state.scalars.items():
            self.scalars[name].phi[:] = values

    def label(self, name: str) -> str:
        """Give what something carried is called."""
        return quantities(self.settled.case).get(name, (name, ""))[0]

    def answer(self, final: bool = False) -> FieldResult:
        """Give the present field as readings and pictures see it; ``final`` adds what only a finished field
        needs.
        """
        wall_velocity, wall_pressure = self.flow.boundary_values()
        known = quantities(self.settled.case)
        scalars = {}
        for name, item in self.scalars.items():
            spreading = item.spreading() if final and name.startswith("c.") else float("nan")
            scalars[name] = Scalar(
                self._all_cells(item.phi.copy()),
                self._all_boundary(item.boundary_values()),
                self._all_boundary(item.boundary_flux()),
                *known[name],
                spreading,
            )
        scalars |= self._properties(known)
        state = self.flow.state()
        return FieldResult(
            self.mesh,
            self._all_cells(state.velocity),
            self._all_cells(state.pressure),
            self._all_faces(state.flux),
            self._all_boundary(wall_velocity),
            self._all_boundary(wall_pressure),
            self._all_boundary(self.flow.wall_shear()),
            self.flow.density,
            scalars,
            self.time,
        )

    def _properties(self, known: dict[str, tuple[str, str]]) -> dict[str, Scalar]:
        """Give viscosity and density as fields where the case lets them vary."""
        found = {}
        none = np.zeros(self.mesh.n_boundary)
        inner = self.wet.n_internal
        count = self.wet.n_cells
        if "viscosity" in known:
            if self._shear_viscosity is not None:
                cells = np.exp(self._shear_viscosity[:count])
            else:
                at = self.wet_temperature if self.varies else np.full(count, self.fluid.temperature)
                cells = np.asarray(self.fluid.at("viscosity", at))
            boundary = self.flow.nu[inner:] * self.flow.density
            found["viscosity"] = Scalar(
                self._all_cells(cells), self._all_boundary(boundary), none, *known["viscosity"]
            )
        if "density" in known:
            cells = self.flow.density * (1 + self._lightness())
            boundary = cells[self.wet.owner[inner:]]
            found["density"] = Scalar(
                self._all_cells(cells), self._all_boundary(boundary), none, *known["density"]
            )
        return found


def _longer(values: Floats, count: int) -> Floats:
    """Give values with zeros behind them, ``count`` in all."""
    if len(values) == count:
        return values
    return np.concatenate([values, np.zeros((count - len(values), *values.shape[1:]))])
