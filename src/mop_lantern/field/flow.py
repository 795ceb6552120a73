"""Steady laminar flow of a constant-property fluid: SIMPLEC on any mesh, one outer iteration a step.

Method: collocated finite volumes; SIMPLEC (Van Doormaal and Raithby, Numer. Heat Transfer 7 (1984) 147-163); face
fluxes after Rhie and Chow, independent of relaxation; Anderson acceleration; all as measured in our feasibility study.
The solver steps and does not call back: `SteadyFlow.step()` does one outer iteration and says how it went.
"""

from __future__ import annotations

from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.field import kernels
from mop_lantern.field.boundary import FREE, GIVEN, SLIP, Boundary
from mop_lantern.field.links import Links, link, stencil, wall_curvature
from mop_lantern.grid import Mesh
from mop_lantern.numerics.anderson import Anderson
from mop_lantern.numerics.pressure import DIRECT_BELOW, PressureSolver

Floats = NDArray[np.float64]


@dataclass(frozen=True)
class FlowSettings:
    """How a flow is iterated.

    Attributes
    ----------
    relaxation : of momentum, 0 to 1. sweeps : Gauss-Seidel sweeps an iteration. pressure_tolerance : of the inner solve.
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
    velocity : (n_cells, 3) m/s. pressure : (n_cells,) Pa. flux : (n_faces,) m3/s out of the owner.
    """

    velocity: Floats
    pressure: Floats
    flux: Floats

    def copy(self) -> FlowState:
        """Give an independent copy."""
        return FlowState(self.velocity.copy(), self.pressure.copy(), self.flux.copy())


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
    bar: Floats
    c: Floats
    div: Floats
    Ub: Floats
    pb: Floats = field(default_factory=lambda: np.zeros(0))


class SteadyFlow:
    """A steady laminar flow being solved.

    Parameters
    ----------
    mesh : any mesh. boundary : what its boundary faces demand (pressures in Pa). density : kg/m3. viscosity : Pa s.
    start : where to begin, or None for rest.
    """

    def __init__(
        self, mesh: Mesh, boundary: Boundary, density: float, viscosity: float, settings: FlowSettings, start: FlowState | None = None
    ) -> None:
        self.mesh, self.boundary, self.density, self.nu = mesh, boundary, density, viscosity / density
        self.settings = settings
        self.relaxation = settings.relaxation
        self.links: Links = link(mesh)
        self.iteration = 0
        inner, count = mesh.n_internal, mesh.n_cells
        self._own, self._nei = mesh.owner, mesh.neighbour
        self._bown = mesh.owner[inner:]
        self._at_U = stencil(mesh, boundary.code == GIVEN)
        self._curve = wall_curvature(mesh, self.links, self._at_U) * (boundary.code == GIVEN)
        self._at_p = stencil(mesh, boundary.pressed)
        self._area_b = mesh.area[inner:]
        self._normal_b = np.ascontiguousarray(self.links.normal[inner:])
        self.momentum_matrix: csr_matrix = self.links.matrix()
        self.pressure_matrix: csr_matrix = self.links.matrix()
        plane = len(mesh.plane_area) > 0
        self._pressure = PressureSolver(self.pressure_matrix, direct=plane and count < DIRECT_BELOW)
        self._pinned = not boundary.pressed.any()
        self._anderson = Anderson() if settings.acceleration else None
        self.U = np.zeros((count, 3)) if start is None else start.velocity.copy()
        self.p = np.zeros(count) if start is None else start.pressure / density
        self.flux = np.zeros(len(mesh.owner)) if start is None or len(start.flux) != len(mesh.owner) else start.flux.copy()
        self._work = _Work(
            np.zeros((count, 3, 3)), np.zeros((count, 3)), np.zeros((count, 3)), np.zeros(inner), np.zeros(len(mesh.owner)),
            np.zeros(count), boundary.velocity.copy(), boundary.pressure / density,
        )  # fmt: skip
        self._planar = plane
        self._hoop = self.nu * mesh.volume / mesh.radius**2 if mesh.axisymmetric else None
        self._begin(start)

    def _begin(self, start: FlowState | None) -> None:
        """Set given fluxes; with a start on another grid, interpolate the others."""
        inner, b = self.mesh.n_internal, self.boundary
        given = (b.code == GIVEN) & ~b.wall
        self.flux[inner:][b.wall] = 0.0
        self.flux[inner:][given] = (b.velocity * self._area_b).sum(axis=1)[given]
        if start is not None and len(start.flux) != len(self.mesh.owner):
            self._velocity_gradient()
            self._interpolate(self.flux[:inner])
            free = b.code == FREE
            self.flux[inner:][free] = (self.U[self._bown] * self._area_b).sum(axis=1)[free]

    @property
    def throughflow(self) -> float:
        """Scale of the flow through the space, m3/s as stored: what enters, or what a moving wall drags along."""
        into = float(-np.minimum(self.flux[self.mesh.n_internal :], 0.0).sum())
        if into > 0:
            return into
        dragged = np.linalg.norm(self.boundary.velocity, axis=1) * self.links.size[self.mesh.n_internal :]
        return float(dragged.sum()) or 1e-300

    def boundary_values(self) -> tuple[Floats, Floats]:
        """Give velocity (n_boundary, 3) m/s and pressure (n_boundary,) Pa on the boundary faces."""
        self._velocity_gradient()
        self._pressure_gradient()
        code, U = self.boundary.code, self.U[self._bown]
        Ub = self._boundary_velocity().copy()
        slip = code == SLIP
        Ub[slip] = (U - (U * self._normal_b).sum(axis=1)[:, None] * self._normal_b)[slip]
        reach = (self._work.gp[self._bown] * self.links.reach_b).sum(axis=1)
        pb = np.where(self.boundary.pressed, self._work.pb, self.p[self._bown] + reach)
        return Ub, pb * self.density

    def wall_shear(self) -> Floats:
        """Give the viscous force of the fluid on each boundary face, (n_boundary, 3) N (per radian around an axis)."""
        Ub, _ = self.boundary_values()
        foot = np.einsum("fij,fj->fi", self._work.gU[self._bown], self.links.shift_b)
        over = self.links.over[self.mesh.n_internal :, None]
        n, curve = self._normal_b, self._curve[:, None]
        slope = (1 + curve) * over * (Ub - self.U[self._bown] - foot)
        slope -= curve * self.links.size[self.mesh.n_internal :, None] * np.einsum("fij,fj->fi", self._work.gU[self._bown], n)
        force = -self.density * self.nu * slope
        return np.where(self.boundary.wall[:, None], force - (force * n).sum(axis=1)[:, None] * n, 0.0)

    def state(self) -> FlowState:
        """Give a copy of the present state."""
        return FlowState(self.U.copy(), self.p * self.density, self.flux.copy())

    def step(self) -> Step:
        """Do one outer iteration.

        Returns
        -------
        Step : scaled residuals before the iteration's own correction; not finite when the flow has diverged.
        """
        mesh, work = self.mesh, self._work
        before = self._pack() if self._anderson else None
        self._velocity_gradient()
        self._pressure_gradient()
        self._interpolate(work.bar)
        inner = mesh.n_internal
        old = self.flux[:inner] - work.bar
        old_b = self.flux[inner:] - self._free_flux() if self.boundary.pressed.any() else self._work.div[:0]
        wrong = self._solve_momentum()
        D, response = self._responses()
        self._predict_flux(D, old, old_b)
        mass, used = self._correct(response)
        self.iteration += 1
        if self._anderson and before is not None:
            self._accelerate(before)
        return Step(self.iteration, wrong, mass, used)

    def close(self) -> float:
        """Project the fluxes onto an exact mass balance; give the largest scaled imbalance left."""
        self._velocity_gradient()
        _, response = self._responses()
        self._correct(response, tolerance=1e-9, most=300)
        kernels.divergence(self._own, self._nei, self.flux, self._work.div)
        return float(np.abs(self._work.div).sum() / self.throughflow)

    # --- the parts of an iteration -------------------------------------------------------------------------------

    def _boundary_velocity(self) -> Floats:
        """Refresh and give the boundary velocities: free faces follow the cell, or enter square to the face."""
        work, inner = self._work, self.mesh.n_internal
        free = self.boundary.code == FREE
        if free.any():
            flux = self.flux[inner:]
            size = self.links.size[inner:]
            entering = (flux / size)[:, None] * self._normal_b
            work.Ub[free] = np.where((flux < 0)[:, None], entering, self.U[self._bown])[free]
            # what enters comes from still fluid at the given pressure: without this an inflow feeds on itself
            head = np.where(flux < 0, 0.5 * (flux / size) ** 2, 0.0)
            target = self.boundary.pressure / self.density - head
            work.pb += 0.3 * (target - work.pb) * self.boundary.pressed
        return work.Ub

    def _velocity_gradient(self) -> None:
        at, Ub = self._at_U, self._boundary_velocity()
        kernels.vector_gradient(self._own, self._nei, self._bown, at.at_o, at.at_n, at.at_b, self.U, Ub, self._work.gU)

    def _pressure_gradient(self) -> None:
        at, work = self._at_p, self._work
        kernels.scalar_gradient(self._own, self._nei, self._bown, at.at_o, at.at_n, at.at_b, self.p, work.pb, work.gp)

    def _interpolate(self, into: Floats) -> None:
        k = self.links
        kernels.interpolated_flux(self._own, self._nei, self.mesh.area, k.share, k.shift_o, k.shift_n, self.U, self._work.gU, into)

    def _free_flux(self) -> Floats:
        """Flux of the cell velocity through boundary faces."""
        foot = np.einsum("fij,fj->fi", self._work.gU[self._bown], self.links.shift_b)
        return np.asarray(((self.U[self._bown] + foot) * self._area_b).sum(axis=1))

    def _solve_momentum(self) -> float:
        k, work, inner, a = self.links, self._work, self.mesh.n_internal, self.momentum_matrix.data
        np.multiply(work.gp, -self.mesh.volume[:, None], out=work.b)
        kernels.momentum(
            self._own, self._nei, self.mesh.area, self.flux, self.nu, k.over, k.share, k.shift_o, k.shift_n, k.reach_o, k.reach_n,
            self._planar, k.span, self.U, work.gU, k.upper, k.lower, k.indptr, a, work.b,
        )  # fmt: skip
        kernels.momentum_boundary(
            self._bown, self._area_b, k.span[inner:], self.flux[inner:], self.nu, k.over[inner:], k.size[inner:], self._curve, k.shift_b, self._normal_b, self.boundary.code,
            self.U, work.Ub, work.gU, k.indptr, a, work.b,
        )  # fmt: skip
        diagonal = k.indptr[:-1]
        if self._hoop is not None:  # the radial component's own term, written for all and taken back for the others
            a[diagonal] += self._hoop
            work.b[:, 0] += self._hoop * self.U[:, 0]
            work.b[:, 2] += self._hoop * self.U[:, 2]
        wrong, scale = kernels.residual(k.indptr, k.indices, a, work.b, self.U)
        self._diagonal = a[diagonal]
        a[diagonal] = self._diagonal / self.relaxation
        kernels.relax(work.b, self._diagonal, (1 - self.relaxation) / self.relaxation, self.U)
        kernels.sweeps(k.indptr, k.indices, a, work.b, self.U, self.settings.sweeps)
        return float(wrong / scale) if scale > 0 else float(wrong > 0)

    def _responses(self) -> tuple[Floats, Floats]:
        """Response of the velocity to a pressure gradient: plain, and with the neighbours going along (SIMPLEC)."""
        relaxed = self._diagonal / self.relaxation
        return self.mesh.volume / relaxed, self.mesh.volume / (relaxed - self._diagonal * (1 - 1e-9))

    def _predict_flux(self, D: Floats, old: Floats, old_b: Floats) -> None:
        k, work, inner = self.links, self._work, self.mesh.n_internal
        flux = self.flux[:inner]  # the gradients are those before the momentum solve: they matter on skewed faces only
        self._interpolate(flux)
        kernels.pressure_flux(
            self._own, self._nei, self.mesh.area, k.over, k.share, k.shift_o, k.shift_n, D, self.p, work.gp, flux
        )
        flux += (1 - self.relaxation) * old
        pressed = self.boundary.pressed
        if pressed.any():
            gp = work.gp[self._bown]
            across = k.over[inner:] * (work.pb - self.p[self._bown] - (gp * k.shift_b).sum(axis=1))
            mean = (gp * self._area_b).sum(axis=1)
            guess = self._free_flux() - D[self._bown] * (across - mean) + (1 - self.relaxation) * old_b
            self.flux[inner:][pressed] = guess[pressed]

    def _correct(self, response: Floats, tolerance: float | None = None, most: int = 60) -> tuple[float, int]:
        k, work, matrix = self.links, self._work, self.pressure_matrix
        kernels.correction_matrix(
            self._own, self._nei, self._bown, k.over, k.share, response, self.boundary.pressed,
            k.upper, k.lower, k.indptr, matrix.data, work.c,
        )  # fmt: skip
        if self._pinned:
            matrix.data[k.indptr[0]] *= 2.0
        kernels.divergence(self._own, self._nei, self.flux, work.div)
        q, used = self._pressure.solve(-work.div, tolerance or self.settings.pressure_tolerance, most)
        kernels.correct_flux(self._own, self._nei, work.c, q, self.flux)
        at = self._at_p
        gq = np.zeros_like(work.gp)
        zero = np.zeros(len(self._bown))
        kernels.scalar_gradient(self._own, self._nei, self._bown, at.at_o, at.at_n, at.at_b, q, zero, gq)
        if tolerance is None:
            self.p += q - (q[0] if self._pinned else 0.0)
            self.U -= response[:, None] * gq
        kernels.divergence(self._own, self._nei, self.flux, work.div)
        return float(np.abs(work.div).sum() / self.throughflow), used

    # --- acceleration --------------------------------------------------------------------------------------------

    def _pack(self) -> Floats:
        return np.concatenate([self.U.ravel(), self.p, self.flux])

    def _accelerate(self, before: Floats) -> None:
        assert self._anderson is not None
        count = self.mesh.n_cells
        speed = float(np.abs(self.U).max()) or 1.0
        weight = np.concatenate([np.full(3 * count, 1 / speed), np.full(count, 1 / speed**2)])
        mixed = self._anderson.propose(before, self._pack(), weight, 4 * count)
        if mixed is not None:
            self.U[:] = mixed[: 3 * count].reshape(-1, 3)
            self.p[:] = mixed[3 * count : 4 * count]
            self.flux[:] = mixed[4 * count :]

    @property
    def reference_speed(self) -> float:
        """Give the scale of speed the boundary sets, m/s: given velocities, or what the pressures could drive."""
        pressures = self.boundary.pressure[self.boundary.pressed]
        driven = np.sqrt(2 * np.ptp(pressures) / self.density) if len(pressures) else 0.0
        given = float(np.linalg.norm(self.boundary.velocity, axis=1).max(initial=0.0))
        return max(given, float(driven)) or 1.0

    def relax_more(self) -> None:
        """Go on more carefully after trouble: stronger relaxation, no acceleration."""
        self.relaxation = 0.7
        self._anderson = None
