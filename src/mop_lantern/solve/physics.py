"""All that is solved on one grid: the flow, everything it carries, and what they do to each other."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import coo_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.case import ResolvedCase, quantities
from mop_lantern.errors import RunError
from mop_lantern.field.face_geometry import link
from mop_lantern.field.flow import FlowSettings, FlowSolver, FlowState, Step, StillFlow
from mop_lantern.field.radiation.sight import Sight
from mop_lantern.field.transport import Transported
from mop_lantern.field.turbulence.buoyancy import Warmth
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.solve.boundary_data import boundary_of, demand_of, following_of, pushed, start_of
from mop_lantern.solve.comfort import comfort_fields
from mop_lantern.solve.devices_at_work import DevicesAtWork
from mop_lantern.solve.equation import equations_of
from mop_lantern.solve.gas_law import GasLaw
from mop_lantern.solve.moisture import moisture_fields
from mop_lantern.solve.outside import columns, gravity
from mop_lantern.solve.radiant import radiant_fields
from mop_lantern.solve.turbulent import turbulence_fields, turbulence_of
from mop_lantern.solve.whole import Whole

Floats = NDArray[np.float64]

# the pressure more closely than in laminar flow: what it left of the mass (up to a third) set small cells off
TURBULENT_SETTINGS = FlowSettings(relaxation=0.9, acceleration=False, pressure_tolerance=0.01)
RELAXATION = 0.9  # of what drives the flow
GIVEN = 1 / (1 - RELAXATION)  # times what is in a cell over what passes it: the time of one iteration
# where the heat of a device hangs on what comes back to it
MOST_ROUNDS, SAME_AMOUNT = 60, 1e-6
COUPLED_LIMIT = 1e-6  # scaled residual of what drives the flow
# of that wanted of momentum, where it is more: what drives the flow is solved to the end afterwards, and
# beside a law of the wall its residual stays at some 1e-5 for good (over a warm floor readings stood from 400
# iterations on, and it went on to 2,000)
COUPLED_SHARE = 0.3


def coupled_limit(residual: float) -> float:
    """Give the residual that what drives a flow may keep, by that wanted of momentum."""
    return max(COUPLED_LIMIT, COUPLED_SHARE * residual)


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
        self.whole = Whole(mesh)
        if settled.closure is not None:
            settings = settings or TURBULENT_SETTINGS
        if settled.closure is not None or settled.numbers.devices:  # mixed fluxes know nothing of jumps
            settings = replace(settings or FlowSettings(), acceleration=False)
        self.wet = wet = self.whole.wet
        self.fluid = settled.medium
        self.time = time
        start = start or self._first_state()
        outside = columns(settled, wet, time)
        self.flow = (
            FlowSolver(
                wet,
                boundary_of(settled, wet, time, outside),
                self.fluid.density,
                self.fluid.viscosity,
                settings or FlowSettings(),
                start,
                following_of(settled, wet, time, outside),
            )
            if wet.n_cells
            else StillFlow(wet, settings or FlowSettings())
        )
        self.devices = DevicesAtWork(settled, wet, time)
        self._given_push = pushed(settled, wet, time)
        self._added_change = 0.0  # of what devices give, since they last did
        self._push()
        self.turbulence = turbulence_of(self, start.scalars)
        self.sight: Sight | None = None  # of surfaces that radiate
        self.seen_by_cells: NDArray[np.int16] | None = None
        self._links = link(mesh) if mesh is not wet else self.flow.geometry
        self.kinds = equations_of(settled)
        self.scalars = {name: self._transported(name, start) for name in self.kinds}
        self.driving = tuple(name for name, kind in self.kinds.items() if kind.drives(settled, name))
        closed = bool(self.flow.boundary.wall.all())
        by_gas_law = settled.numbers.physics.buoyancy == "gas" and settled.numbers.heat.solve
        self.gas = GasLaw(wet, self.fluid.temperature, closed) if by_gas_law else None
        self.reference = {name: self.kinds[name].reference(settled, wet, name) for name in self.driving}
        self.driving_residual = 0.0
        self._shear_viscosity: Floats | None = None
        if self.driving or self.turbulence is not None or len(self.devices):
            self.flow.after_flow = self._after_flow
            self.flow.coupled_scalars = [self.scalars[name].phi for name in self.driving]
        self.refresh()

    def _first_state(self) -> FlowState:
        """Give the state the case begins with."""
        wet = self.wet
        begin = self.settled.numbers.start
        start = FlowState(np.zeros((wet.n_cells, 3)), np.zeros(wet.n_cells), np.zeros(0))
        start.velocity[:, 0] = start_of(begin, "u", wet)
        start.velocity[:, 1] = start_of(begin, "v", wet)
        if not start.velocity.any():
            start.flux = np.zeros(len(wet.owner))  # at rest nothing flows anywhere
        return start

    def _transported(self, name: str, start: FlowState) -> Transported:
        settled = self.settled
        kind = self.kinds[name]
        mesh = self.mesh if kind.in_solids else self.wet
        scale = kind.scale(settled)
        made = kind.solved_by(settled)(
            mesh,
            self._links if kind.in_solids else self.flow.geometry,
            self.whole.boundary_state(self.flow.boundary) if kind.in_solids else self.flow.boundary,
            demand_of(settled, mesh, kind, name, self.time),
            kind.diffusivity(settled, mesh, name),
            kind.source(settled, mesh, name, self.time) / scale,
            start.scalars[name] if name in start.scalars else kind.start(settled, mesh, name),
            limited=kind.limited,
            scale=scale,
        )
        made.sink = kind.sink(settled, name)
        made.floor = kind.floor
        capacity = kind.capacity(settled, mesh)
        if capacity is not None:
            made.ratio = capacity
        kind.made_ready(self, made)
        made.lay_walls(start.walls, fresh=name not in start.scalars)
        return made

    def in_fluid(self, name: str) -> Floats:
        """Give the values of something carried in the cells of the fluid."""
        return self.scalars[name].phi[: self.wet.n_cells]

    def _carry(self, name: str) -> Transported:
        """Give something carried the present flow."""
        scalar = self.scalars[name]
        gradient = self.flow.velocity_gradient
        self._thin(name)
        if self.kinds[name].in_solids:
            scalar.set_flow(self.whole.faces(self.flow.flux), self.whole.cells(gradient))
        else:
            scalar.set_flow(self.flow.flux, gradient)
        if self.turbulence is not None:
            warmth = self._warmth(scalar) if self.kinds[name].warms and name in self.driving else None
            cells, walls = self.turbulence.mixing(scalar.molecular[0][: self.wet.n_cells], warmth)
            cells = self.whole.cells(cells) if self.kinds[name].in_solids else cells
            scalar.set_eddy(cells, self.turbulence.walls.faces, walls)
        kind = self.kinds[name]
        treated = bool(len(self.devices)) and self.devices.treats(name)
        if treated:
            scalar.source = kind.source(self.settled, scalar.mesh, name, self.time) / scalar.scale
            scalar.sink = kind.sink(self.settled, name)
        kind.carry(self, scalar, name)
        if treated:
            self._added_change = self.devices.treat(name, scalar, self.flow.flux)
        return scalar

    def _thin(self, name: str) -> None:
        """Let something carried know how thin a gas is where it is; the temperature itself does."""
        if self.gas is not None and not self.kinds[name].in_solids:
            self.scalars[name].thin(self.gas.ratio(self.in_fluid("T")))

    def _push(self) -> None:
        """Let devices push the flow as it is now."""
        if isinstance(self.flow, FlowSolver):
            self.devices.push(self.flow)
            self.flow.stir(self.devices.twist(self.flow))

    def _warmth(self, scalar: Transported) -> Warmth | None:
        """Give how walls differ in temperature from the fluid beside them; nothing where it does not rise."""
        if self.turbulence is None or self.settled.numbers.physics.buoyancy == "none":
            return None
        faces = self.turbulence.walls.faces
        surface = scalar.boundary_values()[: self.wet.n_boundary][faces]
        beside = scalar.phi[self.wet.owner[self.wet.n_internal + faces]]
        return Warmth(self.fluid.expansion * (surface - beside), self._gravity())

    # --- coupling ---

    def refresh(self) -> None:
        """Let properties and body forces follow what is carried and how the fluid is sheared."""
        rises = self.settled.numbers.physics.buoyancy != "none"
        if rises:
            force = self._lightness()[:, None] * self._gravity()
            self.flow.set_force(force if self._given_push is None else force + self._given_push)
        elif self._given_push is not None:
            self.flow.set_force(self._given_push)
        for name in self.driving:
            self.kinds[name].refresh(self, name)
        if self.fluid.law is not None:
            self._shear()

    def _gravity(self) -> Floats:
        """Gravity, (3,) m/s2."""
        return gravity(self.settled, self.mesh)

    def _lightness(self) -> Floats:
        """Density difference over the reference density, (n fluid cells,)."""
        total = np.zeros(self.wet.n_cells)
        for name in self.driving:
            total += self.kinds[name].lightness(self, name)
        return total

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

    @property
    def _relaxation(self) -> float:
        """Of what drives the flow: layers must not answer a whole velocity within an iteration, or the two
        throw each other back and forth.
        """
        return RELAXATION if self.flow.time_step is None else 1.0

    def _after_flow(self) -> None:
        """Move turbulence and what drives the flow one correction on."""
        self.driving_residual = 0.0
        self._push()
        if self.turbulence is not None:
            if self.driving and self.settled.numbers.physics.buoyancy != "none":
                self.turbulence.stratify(self._lightness(), self._gravity())
            self.turbulence.step()
        for name in self.driving:
            scalar = self._carry(name)
            self.driving_residual = max(
                self.driving_residual,
                scalar.correct(relaxation=self._relaxation),
            )
            self.flow.coupled_scalars[self.driving.index(name)] = scalar.phi
        self._steady()

    def _steady(self) -> None:
        """Let layers that lie stably come to rest."""
        moved = self.driving and self.settled.numbers.physics.buoyancy != "none"
        if not moved or self.flow.time_step is not None or not isinstance(self.flow, FlowSolver):
            return
        count = self.wet.n_cells
        pulls = [
            scalar.matrix.data[scalar.geometry.indptr[:-1]][:count]
            for scalar in (self.scalars[name] for name in self.driving)
        ]
        given = GIVEN * self.wet.volume / np.maximum(np.min(pulls, axis=0), 1e-300)
        self.flow.steady(self._lightness(), self._gravity(), given)

    # --- iterating ---

    def step(self) -> Step:
        """Do one outer iteration of the flow and of what drives it."""
        if self.driving or self.fluid.law is not None:
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
            left = self._solve_along(name, scalar)
            if not np.isfinite(scalar.phi).all() or left > 1e-3:
                raise RunError(
                    f"{self.label(name)} could not be solved on this flow (residual {left:.0e}).",
                    "",
                    "Try a finer grid, or follow it in time.",
                )
        return imbalance

    def _solve_along(self, name: str, scalar: Transported) -> float:
        """Solve for something carried, over and over where devices add what hangs on it; give what is
        left.
        """
        left = scalar.solve(hold=name not in self.driving)
        for _ in range(MOST_ROUNDS if self.devices.holding(name) else 0):
            self._carry(name)
            if self._added_change < SAME_AMOUNT:
                break
            left = scalar.solve(hold=name not in self.driving)
        return left

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

    def begin_step(self, step: float, kept: bool = False) -> None:
        """Begin a time step: former states are kept, boundaries and sources take their new values; the flow
        stays as it is where it is ``kept``.
        """
        for name, kind in self.kinds.items():
            kind.begin_step(self, name)
            scalar = self.scalars[name]
            if scalar.stores and scalar.history.steady:  # their surfaces depend on what the flow brings
                self._carry(name)
        self.time += step
        self.devices.at(self.time)
        if self._given_push is not None and not kept:
            self._given_push = pushed(self.settled, self.wet, self.time)
            self.refresh()
        if self.turbulence is not None and not kept:
            self.turbulence.begin_step(step)
        if not kept:
            self.flow.begin_step(step)
        if self.wet.n_cells and not kept:
            outside = columns(self.settled, self.wet, self.time)
            self.flow.renew_boundary(
                boundary_of(self.settled, self.wet, self.time, outside),
                following_of(self.settled, self.wet, self.time, outside),
            )
        for name, scalar in self.scalars.items():
            self._thin(name)
            scalar.begin_step(step)
            kind = self.kinds[name]
            scalar.renew(demand_of(self.settled, scalar.mesh, kind, name, self.time))
            when = self.time if scalar.held is None else self.time - 0.5 * step
            scalar.source = kind.source(self.settled, scalar.mesh, name, when) / scalar.scale
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
        if self.turbulence is not None:
            state.scalars |= self.turbulence.state()
        state.time = self.time
        for scalar in self.scalars.values():
            if scalar.stores and not scalar.history.steady:
                state.walls |= scalar.within_walls(scalar.boundary_values())
        return state

    def restore(self, state: FlowState) -> None:
        """Go back to a state of this grid."""
        self.flow.U[:], self.flow.p[:], self.flow.flux[:] = (
            state.velocity,
            state.pressure / self.flow.density,
            state.flux,
        )
        for name, scalar in self.scalars.items():
            scalar.phi[:] = state.scalars[name]
        if self.turbulence is not None:
            self.turbulence.restore(state.scalars)

    def label(self, name: str) -> str:
        """Give what something carried is called."""
        return self._told(name)[0]

    def _told(self, name: str) -> tuple[str, str]:
        known = quantities(self.settled.case).get(name)
        return known or self.kinds[name].told(self.settled, name)

    def answer(self, final: bool = False) -> FieldResult:
        """Give the present field as readings and pictures see it; ``final`` adds what only a finished field
        needs.
        """
        wall_velocity, wall_pressure = self.flow.boundary_values()
        known = quantities(self.settled.case)
        scalars = {}
        walls: dict[str, Floats] = {}
        for name, item in self.scalars.items():
            spreading = item.spreading() if final and name.startswith("c.") else float("nan")
            surface = item.boundary_values()
            walls |= item.within_walls(surface)
            scalars[name] = Scalar(
                self.whole.cells(item.phi.copy()),
                self.whole.boundary(surface),
                self.whole.boundary(item.boundary_flux()),
                *self._told(name),
                spreading,
            )
        scalars |= self._properties(known) | turbulence_fields(self)
        scalars |= radiant_fields(self, scalars) | moisture_fields(self)
        scalars |= comfort_fields(self, scalars)
        state = self.flow.state()
        return FieldResult(
            self.mesh,
            self.whole.cells(state.velocity),
            self.whole.cells(state.pressure),
            self.whole.faces(state.flux),
            self.whole.boundary(wall_velocity),
            self.whole.boundary(wall_pressure),
            self.whole.boundary(self.flow.wall_shear()),
            self.flow.density,
            scalars,
            self.time,
            swells=self.gas.reference_now(self.in_fluid("T")) if self.gas is not None else 0.0,
            walls=walls,
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
                warm = self.fluid.follows and "T" in self.scalars
                at = self.in_fluid("T") if warm else np.full(count, self.fluid.temperature)
                cells = np.asarray(self.fluid.at("viscosity", at))
            boundary = self.flow.nu[inner:] * self.flow.density
            found["viscosity"] = Scalar(
                self.whole.cells(cells), self.whole.boundary(boundary), none, *known["viscosity"]
            )
        if "density" in known:
            cells = self.flow.density * (1 + self._lightness())
            boundary = cells[self.wet.owner[inner:]]
            found["density"] = Scalar(
                self.whole.cells(cells), self.whole.boundary(boundary), none, *known["density"]
            )
        return found
