"""Laminar flow on any mesh: SIMPLEC, one outer iteration a step; steady, or implicit in time.

Method: collocated finite volumes; SIMPLEC (Van Doormaal and Raithby, Numer. Heat Transfer 7 (1984) 147-163);
face fluxes after Rhie and Chow, independent of relaxation and of the time step; Anderson acceleration; all as
measured in our feasibility study. Time: second-order backward differences (BDF2). Everything is divided by a
reference density, so that a density that varies enters as the ratio to it; body forces are taken out of the
pressure gradient before it is formed, so that a fluid at rest stays at rest. The solver steps and does not
call back: `FlowSolver.step()` does one outer iteration.
"""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.field import kernels
from mop_lantern.field.boundary import FREE, GIVEN, SLIP, Boundary
from mop_lantern.field.face_geometry import FaceGeometry, link, stencil, wall_curvature
from mop_lantern.grid import Mesh
from mop_lantern.numerics.anderson import Anderson
from mop_lantern.numerics.backward import weights
from mop_lantern.numerics.memory import trim_heap
from mop_lantern.numerics.pressure import DIRECT_BELOW, PressureSolver

Floats = NDArray[np.float64]
LEAST_CHANGE = 2e-3  # of the forces at work: a step that changes less is judged as if it changed so much
_NONE = np.zeros((0, 3))


@dataclass(frozen=True)
class FlowSettings:
    """How a flow is iterated.

    Attributes
    ----------
    relaxation : of momentum, 0 to 1. sweeps : Gauss-Seidel sweeps an iteration. pressure_tolerance : of the
    inner solve.
    acceleration : whether Anderson mixing is on.
    """

    relaxation: float = 0.9
    sweeps: int = 4
    pressure_tolerance: float = 0.05
    acceleration: bool = True


@dataclass
class FlowState:
    """What a steady flow is: all that is needed to go on or to start another.

    Attributes
    ----------
    velocity : (n_cells, 3) m/s. pressure : (n_cells,) Pa. flux : (n_faces,) m3/s of the reference density,
    out of the owner.
    scalars : (n_cells,) of everything carried, by name. time : s.
    """

    velocity: Floats
    pressure: Floats
    flux: Floats
    scalars: dict[str, Floats] = field(default_factory=dict)
    time: float = 0.0

    def light(self) -> FlowState:
        """Give a copy in single precision: enough to begin from, in half the memory."""
        single: Callable[[Floats], Any] = lambda values: values.astype(np.float32)  # noqa: E731
        return FlowState(
            single(self.velocity),
            single(self.pressure),
            single(self.flux),
            {name: single(values) for name, values in self.scalars.items()},
            self.time,
        )

    def copy(self) -> FlowState:
        """Give an independent copy."""
        scalars = {name: values.copy() for name, values in self.scalars.items()}
        return FlowState(
            self.velocity.copy(),
            self.pressure.copy(),
            self.flux.copy(),
            scalars,
            self.time,
        )


@dataclass(frozen=True)
class Step:
    """How one outer iteration went: scaled residuals (dimensionless) and inner iterations."""

    iteration: int
    momentum: float
    mass: float
    inner: int


@dataclass
class _Work:
    """Arrays reused in every iteration."""

    gU: Floats
    gp: Floats
    b: Floats
    # of internal faces first the interpolated flux, until the coefficients of the correction take its place
    c: Floats
    div: Floats
    Ub: Floats
    pb: Floats = field(default_factory=lambda: np.zeros(0))


@dataclass
class _TimeLevel:
    """A former time: velocity, pressure, and what face fluxes had over the interpolated velocity."""

    U: Floats
    p: Floats
    flux: Floats
    excess: Floats
    excess_b: Floats


class FlowSolver:
    """A laminar flow being solved.

    Parameters
    ----------
    mesh : any mesh. boundary : what its boundary faces demand (pressures in Pa). density : reference, kg/m3.
    viscosity : Pa s. start : where to begin, or None for rest.

    Attributes
    ----------
    companions : (n_cells,) arrays iterated along with the flow, which acceleration mixes in step with it.
    """

    def __init__(
        self,
        mesh: Mesh,
        boundary: Boundary,
        density: float,
        viscosity: float,
        settings: FlowSettings,
        start: FlowState | None = None,
    ) -> None:
        self.mesh = mesh
        self.boundary = boundary
        self.density = density
        self.nu = np.full(len(mesh.owner), viscosity / density)
        self.settings = settings
        self.relaxation = settings.relaxation
        self.links: FaceGeometry = link(mesh)
        self.iteration = 0
        inner = mesh.n_internal
        count = mesh.n_cells
        self._own = mesh.owner
        self._nei = mesh.neighbour
        self._bown = mesh.owner[inner:]
        self._at_U = stencil(mesh, boundary.code == GIVEN)
        self._curve = wall_curvature(mesh, self.links, self._at_U) * (boundary.code == GIVEN)
        self._at_p = stencil(mesh, boundary.pressed)
        self._area_b = mesh.area[inner:]
        self._normal_b = self.links.normal_b
        self._around = (
            self.links.indptr,
            self.links.indices,
            self.links.first_b,
            self.links.face_b,
            mesh.centre,
            self.links.reach_b,
        )
        # first that of the momentum, until the correction takes its place
        self.pressure_matrix: csr_matrix = self.links.matrix()
        plane = len(mesh.plane_area) > 0
        self._pressure = PressureSolver(self.pressure_matrix, direct=plane and count < DIRECT_BELOW)
        self._pinned, self._space = self._closed_spaces()
        self._anderson = Anderson(depth=8 if plane else 4) if settings.acceleration else None
        self._far = np.empty((count, 3))  # only the rims of blocks are ever used
        self.U = np.zeros((count, 3)) if start is None else start.velocity.copy()
        self.p = np.zeros(count) if start is None else start.pressure / density
        self.flux = (
            np.zeros(len(mesh.owner))
            if start is None or len(start.flux) != len(mesh.owner)
            else start.flux.copy()
        )
        self._work = _Work(
            np.zeros((count, 3, 3)),
            np.zeros((count, 3)),
            np.zeros((count, 3)),
            np.zeros(len(mesh.owner)),
            np.zeros(count),
            boundary.velocity.copy(),
            boundary.pressure / density,
        )
        self._planar = plane
        self._ways = mesh.ways
        self._drop = np.zeros(inner)
        self._drop_b = np.zeros(mesh.n_boundary)
        self._force = _NONE
        self._diagonal = np.zeros(count)
        self._still = np.zeros(count)
        self._urge = 0.0
        self._uneven: Floats | None = None  # gradient of the viscosity where it varies
        self.ratio: Floats | None = None  # density over reference density in cells, where it varies
        self._ratio_f: Floats | None = None
        self._swelling: Floats | None = None  # rate of change of the ratio, 1/s
        self.time_step: float | None = None
        self._rate: tuple[float, tuple[float, ...]] = (0.0, ())
        self._moments: list[_TimeLevel] = []
        self._lifted = 0.0  # by which openings lifted the pressure in the last step, over the density
        self.coupled_scalars: list[Floats] = []
        self.along: Callable[[], None] | None = None  # moves the companions on, within an iteration
        self._turns = bool(self.U[:, 2].any() or boundary.velocity[:, 2].any())
        self._begin(start)
        trim_heap()

    def _closed_spaces(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Give a cell of every space that hangs together and has no pressure given, whose level is therefore
        free; and the space of each cell where there are several."""
        open_ = self.boundary.pressed
        if len(self.mesh.plane_area):  # one space always
            return np.zeros(0 if open_.any() else 1, np.int64), np.zeros(0, np.int64)
        count, space = connected_components(
            csr_matrix((np.ones(len(self.links.indices), np.int8), self.links.indices, self.links.indptr)),
            directed=False,
        )
        _, first = np.unique(space, return_index=True)
        free = np.setdiff1d(np.arange(count), space[self._bown[open_]])
        return first[free], space.astype(np.int64) if count > 1 else np.zeros(0, np.int64)

    def set_viscosity(self, cells: Floats, boundary: Floats) -> None:
        """Let the dynamic viscosity vary: (n_cells,) and (n_boundary,) Pa s."""
        inner = self.mesh.n_internal
        share = self.links.share
        nu = cells / self.density
        self.nu = np.concatenate(
            [share * nu[self._own[:inner]] + (1 - share) * nu[self._nei], boundary / self.density]
        )
        at = self._at_p
        gradient = np.zeros((len(cells), 3))
        unknown = np.zeros(len(self._bown))
        self.links.each(
            kernels.scalar_gradient,
            *self._around,
            at.moments,
            unknown > 0,
            nu,
            unknown,
            gradient,
            self._ways,
        )
        self._uneven = gradient

    def set_force(self, force: Floats) -> None:
        """Set the body force over the reference density, (n_cells, 3) m/s2."""
        mesh = self.mesh
        inner = self.mesh.n_internal
        own = self._own[:inner]
        nei = self._nei
        self._force = force
        away = force - np.average(force, axis=0, weights=mesh.volume)
        uneven, whole = (float((mesh.volume[:, None] * np.abs(part)).sum()) for part in (away, force))
        self._urge = 0.1 * max(
            uneven, 1e-6 * whole
        )  # a fluid coming to rest has no other scale; of an even force only rounding would be left
        self._drop = (0.5 * (force[own] + force[nei]) * (mesh.centre[nei] - mesh.centre[own])).sum(axis=1)
        self._drop_b = (force[self._bown] * self.links.reach_b).sum(axis=1)

    def set_ratio(
        self,
        cells: Floats,
        boundary: Floats,
        rate: Floats | None,
    ) -> None:
        """Let the density vary: (n_cells,) and (n_boundary,) over the reference, ``rate`` (n_cells,) 1/s in
        time.
        """
        inner = self.mesh.n_internal
        share = self.links.share
        face = np.concatenate([share * cells[self._own[:inner]] + (1 - share) * cells[self._nei], boundary])
        self.ratio = cells
        self._ratio_f = face
        self._swelling = rate
        given = (self.boundary.code == GIVEN) & ~self.boundary.wall
        self.flux[inner:][given] = ((self.boundary.velocity * self._area_b).sum(axis=1) * boundary)[given]

    def begin_step(self, step: float) -> None:
        """Begin a time step of so many seconds: the present state becomes the former one; the guess is
        carried on evenly.
        """
        inner = self.mesh.n_internal
        self._gradients()
        bar = self._work.c[:inner]
        self._interpolate(bar)
        plain = self.flux if self._ratio_f is None else self.flux / self._ratio_f
        moment = _TimeLevel(
            self.U.copy(),
            self.p.copy(),
            self.flux.copy(),
            plain[:inner] - bar,
            plain[inner:] - self._free_flux(),
        )
        again = self.time_step is not None
        self._moments = [*self._moments[-1:], moment] if again else [moment]
        self._rate = weights(step, self.time_step)
        part = step / (self.time_step or step)
        self.time_step = step
        self._anderson, self.relaxation = None, 1.0
        if len(self._moments) == 2:
            old = self._moments[0]
            self.U += part * (self.U - old.U)
            self.p += part * (self.p - old.p)
            self._lifted *= part  # what openings lifted in the former step is carried on too
            self.flux[:inner] += part * (self.flux[:inner] - old.flux[:inner])

    def renew_boundary(self, boundary: Boundary) -> None:
        """Take boundary values of a new time; which faces are open stays."""
        given = (boundary.code == GIVEN) & ~boundary.wall
        through = (boundary.velocity * self._area_b).sum(axis=1)
        ratio = 1.0 if self._ratio_f is None else self._ratio_f[self.mesh.n_internal :]
        self.flux[self.mesh.n_internal :][given] = (through * ratio)[given]
        rise = (boundary.pressure - self.boundary.pressure)[boundary.pressed]
        lift = float(rise.mean() / self.density) if len(rise) else 0.0
        self.p += lift - self._lifted
        self._lifted = lift
        self._work.pb += (
            np.where(boundary.pressed, boundary.pressure - self.boundary.pressure, 0.0) / self.density
        )
        self.boundary = boundary
        self._turns = self._turns or bool(boundary.velocity[:, 2].any())
        self._work.Ub[:] = np.where((boundary.code == GIVEN)[:, None], boundary.velocity, self._work.Ub)

    def _begin(self, start: FlowState | None) -> None:
        """Set given fluxes; with a start on another grid, interpolate the others."""
        inner = self.mesh.n_internal
        b = self.boundary
        given = (b.code == GIVEN) & ~b.wall
        self.flux[inner:][b.wall] = 0.0
        self.flux[inner:][given] = (b.velocity * self._area_b).sum(axis=1)[given]
        self._level(0.1 * float(np.ptp(self.p)))
        if start is not None and len(start.flux) != len(self.mesh.owner):
            self._gradients()
            self._interpolate(self.flux[:inner])
            free = b.code == FREE
            self.flux[inner:][free] = (self.U[self._bown] * self._area_b).sum(axis=1)[free]

    def _level(self, least: float) -> None:
        """Shift the pressure to the level the openings give: a wrong level would first have to be blown out
        through them.
        """
        pressed = self.boundary.pressed
        if pressed.any():
            size = self.links.size_b[pressed]
            shift = float(np.average((self._work.pb - self.p[self._bown])[pressed], weights=size))
            if abs(shift) > least:
                self.p += shift

    @property
    def throughflow(self) -> float:
        """Scale of the flow through the space, m3/s as stored: what enters, is dragged by a moving wall, or
        circulates.
        """
        into = float(-np.minimum(self.flux[self.mesh.n_internal :], 0.0).sum())
        if into > 0:
            return into
        dragged = np.linalg.norm(self.boundary.velocity, axis=1) * self.links.size_b
        turned = float(np.abs(self.flux).mean()) * np.sqrt(
            self.mesh.n_cells
        )  # a closed space stirred from inside
        return float(dragged.sum()) or turned or 1e-300

    def boundary_values(self) -> tuple[Floats, Floats]:
        """Give velocity (n_boundary, 3) m/s and pressure (n_boundary,) Pa on the boundary faces."""
        self._gradients()
        code = self.boundary.code
        U = self.U[self._bown]
        Ub = self._boundary_velocity().copy()
        slip = code == SLIP
        Ub[slip] = (U - (U * self._normal_b).sum(axis=1)[:, None] * self._normal_b)[slip]
        reach = (self._work.gp[self._bown] * self.links.reach_b).sum(axis=1)
        pb = np.where(self.boundary.pressed, self._work.pb, self.p[self._bown] + reach + self._drop_b)
        return Ub, pb * self.density

    def wall_shear(self) -> Floats:
        """Give the viscous force of the fluid on each boundary face, (n_boundary, 3) N (per radian around an
        axis).
        """
        Ub, _ = self.boundary_values()
        foot = np.einsum("fij,fj->fi", self._work.gU[self._bown], self.links.shift_b)
        over = self.links.over[self.mesh.n_internal :, None]
        n = self._normal_b
        curve = self._curve[:, None]
        slope = (1 + curve) * over * (Ub - self.U[self._bown] - foot)
        slope -= curve * self.links.size_b[:, None] * np.einsum("fij,fj->fi", self._work.gU[self._bown], n)
        slope += self.links.size_b[:, None] * self._turned_along()
        if self.mesh.axisymmetric:  # the stress of a turning fluid is that of the change of w / r
            radius = np.maximum(self.mesh.face_centre[self.mesh.n_internal :, 1], 1e-300)
            slope[:, 2] -= Ub[:, 2] / radius * self._area_b[:, 1]
        force = -self.density * self.nu[self.mesh.n_internal :, None] * slope
        return np.where(self.boundary.wall[:, None], force - (force * n).sum(axis=1)[:, None] * n, 0.0)

    @property
    def body_force(self) -> Floats:
        """Body force over the reference density, (n_cells, 3) m/s2; (0, 3) where there is none."""
        return self._force

    def _turned_along(self) -> Floats:
        """Transposed part of the velocity gradient at walls that turn, on their normal, (n_boundary, 3) 1/s.

        The stress is that of the symmetric gradient; at a still wall the other half has no part along the
        wall.
        """
        return (
            np.cross(self._normal_b, self.boundary.spin)
            if self.boundary.spin.any()
            else np.zeros_like(self._normal_b)
        )

    @property
    def velocity_gradient(self) -> Floats:
        """Gradient g[cell, component, direction] of the present velocity, 1/s; do not change it."""
        self._gradients()
        return self._work.gU

    def shear_rate(self) -> tuple[Floats, Floats]:
        """Give the shear rate sqrt(2 S:S) in cells (n_cells,) and at the boundary (n_boundary,), 1/s."""
        g = self.velocity_gradient
        if self.mesh.axisymmetric:  # turning as one body shears nothing
            g = g.copy()
            g[:, 2, 1] -= self.U[:, 2] / self.mesh.radius
        S = 0.5 * (g + g.transpose(0, 2, 1))
        square = 2 * (S**2).sum(axis=(1, 2))
        if self.mesh.axisymmetric:
            square += 2 * (self.U[:, 1] / self.mesh.radius) ** 2
        cells = np.sqrt(square)
        slope = (
            self.links.over[self.mesh.n_internal :, None]
            / self.links.size_b[:, None]
            * (self._work.Ub - self.U[self._bown])
        )
        slope = (1 + self._curve[:, None]) * slope - self._curve[:, None] * np.einsum(
            "fij,fj->fi", g[self._bown], self._normal_b
        )
        slope += self._turned_along()
        walls = self.boundary.wall & (self.boundary.code == GIVEN)
        return cells, np.where(walls, np.linalg.norm(slope, axis=1), cells[self._bown])

    def state(self) -> FlowState:
        """Give a copy of the present state."""
        return FlowState(self.U.copy(), self.p * self.density, self.flux.copy())

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
        self._gradients()
        inner = mesh.n_internal
        keep = 1 - float(self.relaxation)
        extra = _NONE[:, 0]
        old_b = extra
        if self.boundary.pressed.any():
            plain = self.flux[inner:] if self._ratio_f is None else self.flux[inner:] / self._ratio_f[inner:]
            old_b = keep * (plain - self._free_flux())
        wrong = self._solve_momentum()
        D, response = self._responses()
        if self.time_step is not None:
            extra, old_b = self._former_excess(D, old_b)
        self._predict_flux(D, keep, extra, old_b)
        mass, used = self._correct(response)
        self.iteration += 1
        if self.along is not None:
            self.along()
        if self._anderson and before is not None:
            self._accelerate(before)
        return Step(self.iteration, wrong, mass, used)

    def close(self) -> float:
        """Project the fluxes onto an exact mass balance; give the largest scaled imbalance left."""
        if self._anderson is not None:
            self._anderson = Anderson(
                depth=self._anderson.depth
            )  # its history is not needed any more, its memory is
        if self.iteration == 0:  # stopped before anything was done: there is no equation to project with
            self.step()
        self._gradients()
        _, response = self._responses()
        for _ in range(2):  # what is carried multiplies what is left: hundreds of kelvins
            self._correct(response, tolerance=1e-9, most=300)
        self._imbalance()
        return float(np.abs(self._work.div).sum() / self.throughflow)

    # --- the parts of an iteration ---

    def _boundary_velocity(self) -> Floats:
        """Refresh and give the boundary velocities: free faces follow the cell, or enter square to the
        face.
        """
        work = self._work
        inner = self.mesh.n_internal
        free = self.boundary.code == FREE
        if free.any():
            flux = self.flux[inner:]
            size = self.links.size_b
            ratio = 1.0 if self._ratio_f is None else self._ratio_f[inner:]
            entering = (flux / ratio / size)[:, None] * self._normal_b
            entering[:, 2] += self.boundary.velocity[:, 2]
            work.Ub[free] = np.where((flux < 0)[:, None], entering, self.U[self._bown])[free]
            # what enters comes from still fluid at the given pressure: without this an inflow feeds on itself
            head = np.where(flux < 0, 0.5 * self.boundary.head * (flux / size) ** 2 / ratio, 0.0)
            target = self.boundary.pressure / self.density - head + self._departure()
            work.pb += 0.3 * (target - work.pb) * self.boundary.pressed
        return work.Ub

    def _departure(self) -> Floats | float:
        """Give how far the pressure inside departs from its mean along every opening whose mean alone is
        given.
        """
        group = self.boundary.group
        if group.max(initial=-1) < 0:
            return 0.0
        inside = self.p[self._bown]
        own = group >= 0
        count = int(group.max()) + 1
        size = self.links.size_b * own
        index = np.maximum(group, 0)
        mean = np.bincount(index, size * inside, count) / np.maximum(np.bincount(index, size, count), 1e-300)
        return np.where(own, inside - mean[index], 0.0)

    @property
    def _parts(self) -> tuple[int, ...]:
        """Components of the velocity in play: a plane flow has a third one only when it turns about its
        axis.
        """
        return self._ways if self._planar and not self._turns else (0, 1, 2)

    def _gradients(self) -> None:
        """Work out the gradients of velocity and pressure."""
        v = self._at_U
        p = self._at_p
        work = self._work
        Ub = self._boundary_velocity()
        self.links.each(
            kernels.gradients,
            *self._around,
            v.moments,
            v.counts,
            self.U,
            Ub,
            work.gU,
            p.moments,
            p.counts,
            self.p,
            work.pb,
            self._force,
            self._drop_b,
            work.gp,
            self._parts,
            self._ways,
        )

    def _interpolate(self, into: Floats) -> None:
        k = self.links
        k.each(
            kernels.interpolated_flux,
            self._own,
            self._nei,
            self.mesh.area,
            k.share,
            k.skew,
            k.shift_o,
            k.shift_n,
            self.U,
            self._work.gU,
            into,
            self._ways,
        )

    def _free_flux(self) -> Floats:
        """Flux of the cell velocity through boundary faces."""
        foot = np.einsum("fij,fj->fi", self._work.gU[self._bown], self.links.shift_b)
        return np.asarray(((self.U[self._bown] + foot) * self._area_b).sum(axis=1))

    def _solve_momentum(self) -> float:
        k = self.links
        work = self._work
        inner = self.mesh.n_internal
        a = self.pressure_matrix.data
        k.scatter(
            kernels.momentum,
            self._own,
            self._nei,
            self.mesh.area,
            self.flux,
            self.nu,
            k.over,
            k.share,
            k.skew,
            k.shift_o,
            k.shift_n,
            self._planar,
            k.span,
            self.mesh.volume,
            self.U,
            work.gU,
            work.gp,
            k.upper,
            k.lower,
            k.indptr,
            a,
            work.b,
            work.c,
            self._parts,
            self._ways,
        )
        kernels.momentum_boundary(
            self._bown,
            self._area_b,
            k.span[inner:],
            self.flux[inner:],
            self.nu[inner:],
            k.over[inner:],
            k.size_b,
            self._curve,
            k.shift_b,
            self._normal_b,
            self.boundary.code,
            self.U,
            work.Ub,
            work.gU,
            k.indptr,
            a,
            work.b,
        )
        diagonal = k.indptr[:-1]
        self._turned(a, diagonal)
        if self._uneven is not None:  # the transposed part of the stress, where the viscosity varies
            work.b += self.mesh.volume[:, None] * np.einsum("cj,cji->ci", self._uneven, work.gU)
        np.take(a, diagonal, out=self._still)
        scale_off = 0.0
        change = np.inf
        if self.time_step is not None:
            scale_off, change = self._in_time(a, diagonal)
        wrong, scale = np.sum(
            k.each(
                kernels.residual,
                k.indptr,
                k.indices,
                a,
                work.b,
                self.U,
            ),
            axis=0,
        )
        scale += self._urge - scale_off
        scale = min(
            scale, max(change, LEAST_CHANGE * scale)
        )  # in time an error counts against what the step changes
        k.each(
            kernels.relax,
            k.indptr,
            a,
            float(self.relaxation),
            self._diagonal,
            work.b,
            self.U,
        )
        for number in range(self.settings.sweeps):
            self._far[k.rim] = self.U[k.rim]
            k.each(
                kernels.sweep,
                k.indptr,
                k.indices,
                a,
                work.b,
                self.U,
                self._far,
                number % 2 == 0,
            )
        return float(wrong / scale) if scale > 0 else float(wrong > 0)

    def _turned(self, a: Floats, diagonal: Any) -> None:
        """Add what turning about the axis adds: hoop friction, centrifugal force, and conservation of angular
        momentum.
        """
        mesh = self.mesh
        work = self._work
        if not mesh.axisymmetric:
            return
        inner = mesh.n_internal
        total = np.bincount(self._own, self.nu, mesh.n_cells) + np.bincount(
            self._nei, self.nu[:inner], mesh.n_cells
        )
        nu = total / (
            np.bincount(self._own, minlength=mesh.n_cells) + np.bincount(self._nei, minlength=mesh.n_cells)
        )
        hoop = nu * mesh.volume / mesh.radius**2
        # of the radial and the turning component, written for all and taken back for the axial one
        a[diagonal] += hoop
        work.b[:, 0] += hoop * self.U[:, 0]
        if self.U[:, 2].any() or self.boundary.velocity[:, 2].any():
            ratio = 1.0 if self.ratio is None else self.ratio
            turning = ratio * mesh.volume * self.U[:, 2] / mesh.radius
            work.b[:, 1] += turning * self.U[:, 2]
            work.b[:, 2] -= turning * self.U[:, 1]

    def _in_time(self, a: Floats, diagonal: Any) -> tuple[float, float]:
        """Add the time derivative; give what it adds to the scale of the residual, and how much the step
        changes.
        """
        now, former = self._rate
        mass = self.mesh.volume * (1.0 if self.ratio is None else self.ratio)
        a[diagonal] += now * mass
        for weight, moment in zip(former, reversed(self._moments), strict=True):
            self._work.b += (weight * mass)[:, None] * moment.U
        change = float((now * mass[:, None] * np.abs(self.U - self._moments[-1].U)).sum())
        return float((now * mass[:, None] * np.abs(self.U)).sum()), change

    def _former_excess(self, D: Floats, old_b: Floats) -> tuple[Floats, Floats]:
        """Give what former face fluxes had over the interpolated velocity, so that the answer does not hang
        on the time step.
        """
        inner = self.mesh.n_internal
        share = self.links.share
        response = D * (1.0 if self.ratio is None else self.ratio)
        face = share * response[self._own[:inner]] + (1 - share) * response[self._nei]
        old = np.zeros(inner)
        for weight, moment in zip(self._rate[1], reversed(self._moments), strict=True):
            old += weight * face * moment.excess
            if len(old_b):
                old_b = old_b + weight * response[self._bown] * moment.excess_b
        return old, old_b

    def _responses(self) -> tuple[Floats, Floats]:
        """Response of the velocity to a pressure gradient: plain, and with the neighbours going along
        (SIMPLEC).
        """
        relaxed = self._diagonal / self.relaxation
        return self.mesh.volume / relaxed, self.mesh.volume / (relaxed - self._still * (1 - 1e-9))

    def _predict_flux(
        self,
        D: Floats,
        keep: float,
        extra: Floats,
        old_b: Floats,
    ) -> None:
        k = self.links
        work = self._work
        inner = self.mesh.n_internal
        ratio = _NONE[:, 0] if self._ratio_f is None else self._ratio_f
        k.each(  # the gradients are those before the momentum solve: they matter on skewed faces only
            kernels.predicted_flux,
            self._own,
            self._nei,
            self.mesh.area,
            k.over,
            k.share,
            k.skew,
            k.shift_o,
            k.shift_n,
            self.U,
            work.gU,
            D,
            self.p,
            self._drop,
            work.gp,
            ratio,
            work.c,
            keep,
            extra,
            self.flux,
            self._ways,
        )
        pressed = self.boundary.pressed
        if pressed.any():
            gp = work.gp[self._bown]
            across = k.over[inner:] * (
                work.pb - self.p[self._bown] - self._drop_b - (gp * k.shift_b).sum(axis=1)
            )
            mean = (gp * self._area_b).sum(axis=1)
            guess = self._free_flux() - D[self._bown] * (across - mean) + old_b
            if self._ratio_f is not None:
                guess *= self._ratio_f[inner:]
            self.flux[inner:][pressed] = guess[pressed]

    def _correct(
        self,
        response: Floats,
        tolerance: float | None = None,
        most: int = 60,
    ) -> tuple[float, int]:
        k = self.links
        work = self._work
        matrix = self.pressure_matrix
        k.each(
            kernels.correction_faces,
            self._own,
            self._nei,
            k.over,
            k.share,
            response,
            k.upper,
            k.lower,
            matrix.data,
            work.c,
        )
        pressed = self.boundary.pressed
        inner = self.mesh.n_internal
        k.each(
            kernels.correction_cells,
            k.indptr,
            k.first_b,
            k.face_b,
            k.over,
            response,
            pressed,
            inner,
            matrix.data,
            work.c,
        )
        if self._ratio_f is not None:
            self._weigh(matrix.data, work.c)
        matrix.data[k.indptr[self._pinned]] *= 2.0
        self._imbalance()
        q, used = self._pressure.solve(-work.div, tolerance or self.settings.pressure_tolerance, most)
        k.each(
            kernels.correct_flux,
            self._own,
            self._nei,
            k.first_b,
            k.face_b,
            work.c,
            q,
            self.flux,
        )
        if tolerance is None:
            at = self._at_p
            zero = np.zeros(len(self._bown))
            k.each(
                kernels.scalar_gradient,
                *self._around,
                at.moments,
                at.counts,
                q,
                zero,
                work.b,
                self._ways,
            )
            less = 0.0
            if len(self._space):  # every closed space keeps its own level
                level = np.zeros(int(self._space.max()) + 1)
                level[self._space[self._pinned]] = q[self._pinned]
                self.p -= level[self._space]
            elif len(self._pinned):
                less = float(q[self._pinned[0]])
            k.each(
                kernels.correct_cells,
                response,
                work.b,
                q,
                less,
                self.p,
                self.U,
                self._ways,
            )
        self._imbalance()
        return float(np.abs(work.div).sum() / self.throughflow), used

    def _imbalance(self) -> None:
        """Sum the fluxes out of every cell, and what it gains in mass, into the work array."""
        k = self.links
        k.scatter(
            kernels.divergence,
            self._own,
            self._nei,
            k.first_b,
            k.face_b,
            self.flux,
            self._work.div,
        )
        if self._swelling is not None:
            self._work.div += self.mesh.volume * self._swelling

    def _weigh(self, a: Floats, c: Floats) -> None:
        """Multiply the coefficients of the correction with the density ratio of their faces."""
        k = self.links
        inner = self.mesh.n_internal
        ratio = self._ratio_f
        assert ratio is not None
        c *= ratio
        a[k.upper] = a[k.lower] = -c[:inner]
        count = self.mesh.n_cells
        a[k.indptr[:-1]] = np.bincount(self._own, c, count) + np.bincount(self._nei, c[:inner], count)

    # --- acceleration ---

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

    @property
    def reference_speed(self) -> float:
        """Give the scale of speed the boundary sets, m/s: given velocities, or what the pressures could
        drive.
        """
        pressures = self.boundary.pressure[self.boundary.pressed]
        driven = np.sqrt(2 * np.ptp(pressures) / self.density) if len(pressures) else 0.0
        given = float(np.linalg.norm(self.boundary.velocity, axis=1).max(initial=0.0))
        risen = (
            0.0
            if not len(self._force)
            else np.sqrt(2 * np.ptp(self.mesh.centre, axis=0).max() * np.abs(self._force).max())
        )
        return max(given, float(driven), float(risen)) or 1.0

    def relax_more(self) -> None:
        """Go on more carefully after trouble: stronger relaxation, no acceleration."""
        self.relaxation = 0.7
        self._anderson = None
