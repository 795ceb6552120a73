"""One outer iteration after the other."""

from __future__ import annotations

from collections.abc import Callable, Sequence

import numpy as np

from mop_lantern.field.boundary import GIVEN, Boundary
from mop_lantern.field.flow import derived
from mop_lantern.field.flow.fields import NONE, FlowFields
from mop_lantern.field.flow.following import Following
from mop_lantern.field.flow.history import STILL, History
from mop_lantern.field.flow.momentum import CALM, CALM_LENGTH, Momentum
from mop_lantern.field.flow.pressure import PressureCorrection
from mop_lantern.field.flow.state import Floats, FlowSettings, FlowState, Step
from mop_lantern.grid import Mesh
from mop_lantern.grid.moved import Moved
from mop_lantern.numerics.anderson import Anderson
from mop_lantern.numerics.memory import trim_heap

EASING = 0.9  # of the first stiffness of openings that follow the flow, in an iteration
EASED = 10  # iterations from rest
HOLD = 0.5  # of N^2 t


class FlowSolver(FlowFields):
    """A laminar flow being solved.

    Parameters
    ----------
    mesh : any mesh. boundary : what its boundary faces demand (pressures in Pa). density : reference, kg/m3.
    viscosity : Pa s. start : where to begin, or None for rest. following : the openings whose pressure
    follows the flow.

    Attributes
    ----------
    coupled_scalars : (n_cells,) arrays iterated along with the flow, which acceleration mixes in step with
    it. after_flow : moves them on, within an iteration.
    """

    def __init__(
        self,
        mesh: Mesh,
        boundary: Boundary,
        density: float,
        viscosity: float,
        settings: FlowSettings,
        start: FlowState | None = None,
        following: Sequence[Following] = (),
    ) -> None:
        super().__init__(mesh, boundary, density, viscosity, start, following)
        self.iteration = 0
        self.calmed_at = 0  # iteration
        # first that of the momentum, until the correction takes its place
        self.pressure_matrix = matrix = self.geometry.matrix()
        self.history = History(self)
        self._momentum = Momentum(self, self.history, settings, matrix)
        self._correction = PressureCorrection(self, settings, matrix)
        self._anderson = Anderson(depth=8 if self.planar else 4) if settings.acceleration else None
        self.coupled_scalars: list[Floats] = []
        self.after_flow: Callable[[], None] | None = None
        self._eased = 0
        trim_heap()

    @property
    def relaxation(self) -> float:
        """Of momentum, 0 to 1."""
        return self._momentum.relaxation

    @relaxation.setter
    def relaxation(self, value: float) -> None:
        self._momentum.relaxation = value

    @property
    def time_step(self) -> float | None:
        """The present time step, s; None while steady."""
        return self.history.step

    def begin_step(self, step: float, moved: Moved | None = None) -> None:
        """Begin a time step of so many seconds: the present state becomes the former one; the guess is
        carried on evenly. ``moved`` : where the grid is at its end, if it moves.
        """
        self.history.begin_step(step, STILL if moved is None else moved.swept)
        sweeping = self.history.sweep()
        if moved is not None or len(sweeping):
            self.move(self.mesh if moved is None else moved.mesh, sweeping)
        self._anderson, self.relaxation = None, 1.0
        self._momentum.hold, self._momentum.mean = NONE[:, 0], NONE

    def renew_boundary(self, boundary: Boundary, following: Sequence[Following] = ()) -> None:
        """Take boundary values of a new time; which faces are open stays."""
        former = self.boundary
        self.boundary = boundary
        self.following = following
        for one in following:
            first = one.faces[0]
            boundary.pressure[one.faces] += former.pressure[first] - boundary.pressure[first]
        inner = self.mesh.n_internal
        given = (boundary.code == GIVEN) & ~boundary.wall
        through = (boundary.velocity * self.area_b).sum(axis=1)
        ratio = 1.0 if self.face_ratio is None else self.face_ratio[inner:]
        self.flux[inner:][given] = (through * ratio)[given]
        self.let_leave()
        rise = (boundary.pressure - former.pressure)[boundary.pressed]
        lift = float(rise.mean() / self.density) if len(rise) else 0.0
        self.history.lift(lift)
        self.work.pb += np.where(boundary.pressed, boundary.pressure - former.pressure, 0.0) / self.density
        self.turns = self.turns or bool(boundary.velocity[:, 2].any())
        self.work.Ub[:] = np.where((boundary.code == GIVEN)[:, None], boundary.velocity, self.work.Ub)

    def step(self) -> Step:
        """Do one outer iteration.

        Returns
        -------
        Step : scaled residuals before the iteration's own correction; not finite when the flow has diverged.
        """
        mesh = self.mesh
        before = (
            [self.U.copy(), self.p.copy(), *(values.copy() for values in self.coupled_scalars)]
            if self._anderson
            else None
        )
        self._ease()
        self.form_gradients()
        self.stiffness = EASING * self.stiffness
        inner = mesh.n_internal
        keep = self._momentum.kept()
        extra = NONE[:, 0]
        old_b = extra
        if self.boundary.level.any():
            plain = (
                self.flux[inner:] if self.face_ratio is None else self.flux[inner:] / self.face_ratio[inner:]
            )
            old_b = keep[self.bown] * (plain - self.free_flux())
        wrong = self._momentum.solve()
        D, response = self._momentum.responses()
        if self.time_step is not None:
            extra, old_b = self.history.excess(D, old_b)
        self._correction.predict(D, keep, extra, old_b)
        mass, used = self._correction.correct(response)
        self.iteration += 1
        if self.after_flow is not None:
            self.after_flow()
        if self._anderson and before is not None:
            self._accelerate(before)
        return Step(self.iteration, wrong, mass, used)

    def _ease(self) -> None:
        """Hold velocities back in the first iterations of a flow that pressures drive from rest, or forces
        that may grow: nothing but friction would resist them yet, and thin fluid would set out at thousands
        of times its speed (a warm room with little air at 37 m/s after two iterations).
        """
        if self.iteration == 0:
            rest = self.time_step is None and not self.U.any()
            pressures = self.boundary.pressure[self.boundary.pressed]
            driven = len(self.following) or (len(pressures) and np.ptp(pressures) > 0)
            self._eased = EASED if rest and (driven or len(self.force)) else 0
        left = 1.0 - self.iteration / max(self._eased, 1)
        if left <= 0 or not self._eased:
            self._momentum.ease = NONE[:, 0]
            return
        size = np.linalg.norm(self.mesh.area, axis=1)
        inner, count = self.mesh.n_internal, self.mesh.n_cells
        around = np.bincount(self.own, size, count) + np.bincount(self.nei, size[:inner], count)
        self._momentum.ease = left * self.reference_speed * around / 6

    def project_mass(self) -> float:
        """Project the fluxes onto an exact mass balance; give the largest scaled imbalance left."""
        if self._anderson is not None:
            self._anderson = Anderson(
                depth=self._anderson.depth
            )  # its history is not needed any more, its memory is
        if self.iteration == 0:  # stopped before anything was done: there is no equation to project with
            self.step()
        self.form_gradients()
        _, response = self._momentum.responses()
        for _ in range(2):  # what is carried multiplies what is left: hundreds of kelvins
            self._correction.correct(response, tolerance=1e-9, most=300)
        self._correction.imbalance()
        return float(np.abs(self.work.div).sum() / self.throughflow)

    def _accelerate(self, before: list[Floats]) -> None:
        assert self._anderson is not None
        speed = float(np.abs(self.U).max()) or 1.0
        scales = [
            1 / speed,
            1 / speed**2,
            *(1 / (float(np.ptp(values)) or 1.0) for values in self.coupled_scalars),
        ]
        self._anderson.mix(
            [before[0].ravel(), *before[1:]],
            [self.U.reshape(-1), self.p, *self.coupled_scalars, self.flux],
            scales,
        )

    def steady(self, lightness: Floats, gravity: Floats, response: Floats) -> None:
        """Hold velocities back where the fluid lies stably in layers, so that iterations come to rest.

        A velocity w moves layers by w t in the time t that what makes them light is given an iteration, and
        they pull back by N^2 w t: more than the momentum gives way to in its own time, and the two throw each
        other back and forth for ever (warm air under a ceiling carried four times its heat). Half of N^2 t is
        enough to rest; what is held back is given up as it settles, so that the answer is the same.
        Source: stability of two staggered relaxations, N^2 t1 t2 < 4; own derivation.

        Parameters
        ----------
        lightness : (n_cells,) density difference over the reference. gravity : (3,) m/s2. response :
        (n_cells,) s, what is given to layers in an iteration.
        """
        own = self.own[: self.mesh.n_internal]
        down = gravity / max(float(np.linalg.norm(gravity)), 1e-300)
        deeper = (self.mesh.centre[self.nei] - self.mesh.centre[own]) @ down
        count = self.mesh.n_cells
        both = np.concatenate([own, self.nei])
        rise = (lightness[self.nei] - lightness[own]) * deeper
        slope = np.bincount(both, np.tile(rise, 2), count) / np.maximum(
            np.bincount(both, np.tile(deeper**2, 2), count), 1e-300
        )
        square = np.maximum(slope, 0.0) * float(np.linalg.norm(gravity))
        self._momentum.hold = HOLD * square * response * self.mesh.volume

    def calm(self, share: float = CALM, length: float = CALM_LENGTH) -> None:
        """Pull velocities a little to their mean over the last iterations from now on: what swings is damped,
        what does not move is not touched, and the steady answer stays what it is.

        ``share`` : how hard, of the diagonal of the equations. ``length`` : iterations over which the mean
        forgets. Slow changes on the way to rest are held back too, by the one times the other over what
        relaxation adds.

        Source: selective frequency damping (Akervik et al., Physics of Fluids 18 (2006) 068102; not at hand
        to check); how hard and how long: own measurements on ventilated rooms. Of 0.01, 0.02 and 0.05 over
        30 iterations the second brought most to rest, one of them in 670 iterations in place of 1,795; the
        two that swung on were better off with 0.05 over 60.
        """
        if not self.calmed:
            self._momentum.mean = self.U.copy()
        self._momentum.calm = share
        self._momentum.calm_length = length
        self.calmed_at = self.iteration

    @property
    def calmed(self) -> bool:
        """Whether swings are damped."""
        return bool(len(self._momentum.mean))

    @property
    def calming(self) -> tuple[float, float]:
        """How hard they are damped, of the diagonal, and over how many iterations."""
        return self._momentum.calm, self._momentum.calm_length

    def relax_more(self) -> None:
        """Go on more carefully after trouble: stronger relaxation, no acceleration."""
        self.relaxation = 0.7
        self._anderson = None

    # --- what came of it ---

    def boundary_values(self) -> tuple[Floats, Floats]:
        """Give velocity (n_boundary, 3) m/s and pressure (n_boundary,) Pa on the boundary faces."""
        return derived.boundary_values(self)

    def wall_shear(self) -> Floats:
        """Give the viscous force of the fluid on each boundary face, (n_boundary, 3) N."""
        return derived.wall_shear(self)

    def shear_rate(self) -> tuple[Floats, Floats]:
        """Give the shear rate in cells (n_cells,) and at the boundary (n_boundary,), 1/s."""
        return derived.shear_rate(self)
