"""Turbulence of a flow, moved on once an outer iteration: two carried quantities, walls, eddy viscosity."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field import flux_kernels
from mop_lantern.field import kernels as field_kernels
from mop_lantern.field.bent import Bent
from mop_lantern.field.boundary import GIVEN
from mop_lantern.field.closure import C_MU, Closure, Floats, Present, Terms
from mop_lantern.field.face_geometry import stencil
from mop_lantern.field.flow.fields import FlowFields
from mop_lantern.field.scalar_history import ScalarHistory
from mop_lantern.field.turbulence import buoyancy
from mop_lantern.field.turbulence import closure_kernels as kernels
from mop_lantern.field.turbulence.profile import PRANDTL, friction, temperature
from mop_lantern.field.turbulence.wall_geometry import WallGeometry, wall_geometry

SWEEPS = 3
LEAST_ENERGY = 1e-8  # of the square of the reference speed: less is no turbulence
LEAST_INTENSITY = 1e-3  # of what enters
START = 0.05  # intensity of the start
LONGEST = 0.5  # of the size: no mixing length is longer
START_LENGTH = 0.07  # of the size: mixing length of the start
NEAREST = 0.1  # of the height of a wall cell: a cut one's middle counts as not nearer to the wall
MOST_PRANDTL = 1e5
BEYOND, GATE = 0.9, 0.2  # of the speed at the probe: that of the wall cell from where on it leads
# of the speed that an even shear up to the probe would have in the wall cell: a slower one is held by a share
# of the friction, or a cell that friction brings to rest is thrown from one side to the other for ever
STEADY_WALL = 0.25


@dataclass(frozen=True)
class Inflow:
    """What turbulence enters with, by boundary face: (n_boundary,) each; it counts on open faces only.

    Attributes
    ----------
    intensity : root mean square of one component over the speed through the face. length : mixing length, m.
    energy : m2/s2, of faces that give it; not a number where the intensity counts.
    """

    intensity: Floats
    length: Floats
    energy: Floats


class Turbulence:
    """Turbulence of a flow.

    Parameters
    ----------
    flow : the flow, whose viscosity this keeps up with. closure : its kind. inflow : what enters. start :
    former values by name.

    Attributes
    ----------
    k, second : (n_cells,) m2/s2 and 1/s or m2/s3. tau : (w,) m2/s2, friction on ``walls.faces`` over the
    density. residual : the larger scaled residual of the last step.
    """

    def __init__(
        self,
        flow: FlowFields,
        closure: type[Closure],
        inflow: Inflow,
        start: Mapping[str, Floats],
    ) -> None:
        self.flow = flow
        self.closure = closure
        self.inflow = inflow
        mesh = flow.mesh
        sticks = flow.boundary.wall & (flow.boundary.code == GIVEN)
        self.walls: WallGeometry = wall_geometry(mesh, flow.geometry, sticks)
        self._rough = flow.boundary.roughness[self.walls.faces]
        none = np.zeros(mesh.n_boundary, bool)
        self._at = stencil(mesh, none)
        self._bent = Bent(mesh, none)
        count = mesh.n_cells
        self.terms = Terms.empty(count)
        self._matrix = flow.geometry.matrix().data
        self._face = np.zeros(len(mesh.owner))
        self._r, self._d, self._far = (np.zeros(count) for _ in range(3))
        self._gk, self._g2 = np.zeros((count, 3)), np.zeros((count, 3))
        self._shear = np.zeros(count)
        self.residual = 1.0
        self.rising: Floats | None = None  # (n_cells,) 1/s2, made by buoyancy per eddy viscosity
        self._up = np.zeros(3)
        self.naturally = np.zeros(len(self.walls.faces), bool)  # heated or cooled by natural convection more
        self.history: dict[str, ScalarHistory] = {}
        self.tau = np.zeros(len(self.walls.faces))
        self._wall_nu = np.zeros(len(self.walls.faces))
        speed = max(flow.reference_speed, 1e-12)
        self.least = LEAST_ENERGY * speed**2
        self._begin(start, speed)
        flow.model_walls(self.walls.faces)
        flow.form_gradients()
        self.look()

    def _begin(self, start: Mapping[str, Floats], speed: float) -> None:
        """Take former values, or those of a flow of a usual intensity."""
        mesh = self.flow.mesh
        size = float(np.ptp(mesh.centre[:, : len(mesh.ways)], axis=0).min()) or float(np.ptp(mesh.centre))
        self.longest = LONGEST * max(size, 1e-9)
        length = np.minimum(0.41 * self.walls.distance, START_LENGTH * max(size, 1e-9))
        name = self.closure.second
        energy = start.get("k")
        self.k = np.full(mesh.n_cells, 1.5 * (START * speed) ** 2) if energy is None else energy.copy()
        np.maximum(self.k, self.least, out=self.k)
        self.second = np.ones(mesh.n_cells)
        if name:
            fresh = np.asarray(self.closure.of_length(self.k, length), float)
            other = next((each for each in ("omega", "epsilon") if each in start), "")
            if name in start:
                fresh = start[name].copy()
            elif other:  # of another closure
                frequency = start[other] if other == "omega" else start[other] / (C_MU * self.k)
                fresh = frequency if name == "omega" else frequency * C_MU * self.k
            self.second = np.maximum(fresh, 1e-12)
        self._log_k = np.log(self.k)
        self._log_2 = np.log(self.second)

    # --- iterating ---

    def stratify(self, lightness: Floats, gravity: Floats) -> None:
        """Take how dense the fluid is, (n_cells,) over the reference and less one, and gravity (3,) m/s2."""
        k = self.flow.geometry
        mesh = self.flow.mesh
        slope = np.zeros((mesh.n_cells, 3))
        surface = np.zeros(mesh.n_boundary)  # walls do not count: densities there are not of this side
        k.each(
            field_kernels.scalar_gradient,
            *(k.indptr, k.indices, k.first_b, k.face_b, mesh.centre, k.reach_b),
            self._at.moments,
            self._at.counts,
            lightness,
            surface,
            slope,
            mesh.ways,
        )
        self._bent.mend(slope, lightness)
        self.rising = buoyancy.stratification(slope, gravity)
        self._up = -gravity / max(float(np.linalg.norm(gravity)), 1e-300)

    def step(self) -> None:
        """Move turbulence on by one correction on the present flow, and let the viscosity of the flow
        follow.
        """
        if self.closure.second:
            entering = self._entering()
            t = self.terms
            free = np.zeros(len(self.k), bool)
            left = [
                self._carry(
                    "k", self.k, self._log_k, self._gk, t.spread, t.make, t.lose, t.pull, entering[0], free
                ),
                self._carry(
                    "second",
                    self.second,
                    self._log_2,
                    self._g2,
                    t.spread2,
                    t.make2,
                    t.lose2,
                    t.pull2,
                    entering[1],
                    self._held,
                ),
            ]
            self.residual = max(left)
            low = self.k < self.least
            if low.any():
                self.k[low] = self.least
                self._log_k[low] = np.log(self.least)
            floor = np.asarray(self.closure.of_length(self.k, self.longest))
            vast = np.flatnonzero(self.second < floor)  # on the way it may lag behind what is carried in
            self.second[vast] = floor[vast]
            self._log_2[vast] = np.log(floor[vast])
        self.look()

    def look(self) -> None:
        """Work out friction, eddy viscosity and sources for the present values."""
        flow = self.flow
        k = flow.geometry
        k.each(kernels.shear, flow.work.gU, flow.U, flow.mesh.radius, self._shear)
        self._rub()
        nu = flow.molecular
        walls = self.walls
        if self.closure.second:
            held = walls.band | self.closure.also_held(self.k, walls.distance, nu)
            self._held = held
            self.second[held] = self.closure.held(self.k[held], walls.distance[held], nu[held])
            self._log_2[held] = np.log(self.second[held])
            k.each(
                kernels.pair_gradients,
                k.indptr,
                k.indices,
                flow.mesh.centre,
                self._at.moments,
                self._log_k,
                self._log_2,
                self._gk,
                self._g2,
                flow.ways,
            )
            self._bent.mend(self._gk, self._log_k)
            self._bent.mend(self._g2, self._log_2)
        now = Present(
            self.k, self.second, self._gk, self._g2, walls.distance, nu, flow.U, self._shear, flow.work.gU
        )
        k.each(self.closure.terms, now, self.terms)
        band = np.flatnonzero(walls.band)
        if len(walls.faces) and self.closure.second:
            eddy = self.terms.eddy[band]
            self.terms.make[band] = eddy * (self.tau[walls.nearest[band]] / (nu[band] + eddy)) ** 2
        if self.rising is not None and self.closure.second:
            buoyancy.stir(self.closure, self.rising, self._up, now, self.terms)
        self._thicken()

    def _carry(  # noqa: PLR0913 - an equation has as many terms
        self,
        name: str,
        phi: Floats,
        logs: Floats,
        slope: Floats,
        spread: Floats,
        make: Floats,
        lose: Floats,
        pull: Floats,
        entering: Floats,
        held: NDArray[np.bool_],
    ) -> float:
        """Correct one quantity; give its scaled residual before."""
        k = self.flow.geometry
        self._assemble(phi, logs, slope, spread, entering)
        past = self.history.get(name)
        none = np.zeros(0)
        sums = k.each(
            kernels.settle,
            k.indptr,
            self.flow.mesh.volume,
            phi,
            make,
            lose,
            pull,
            none if past is None else past.weight,
            none if past is None else past.gain(phi),
            held,
            self.closure.relaxation if past is None else 1.0,
            self._matrix,
            self._r,
            self._d,
        )
        for number in range(SWEEPS):
            self._far[k.rim] = self._d[k.rim]
            k.each(
                kernels.sweep_one,
                k.indptr,
                k.indices,
                self._matrix,
                self._r,
                held,
                self._d,
                self._far,
                number % 2 == 0,
            )
        k.each(kernels.correct_one, self._d, phi, logs)
        wrong, scale = np.sum(sums, axis=0)
        return float(wrong / scale) if scale > 0 else 0.0

    def _assemble(
        self,
        phi: Floats,
        logs: Floats,
        slope: Floats,
        spread: Floats,
        entering: Floats,
    ) -> None:
        """Write the matrix and what every cell gains by convection and diffusion."""
        flow = self.flow
        k = flow.geometry
        mesh = flow.mesh
        flux = flow.carrying
        k.each(flux_kernels.log_mean, flow.own, flow.nei, spread, self._face)
        k.scatter(
            kernels.carry,
            flow.own,
            flow.nei,
            mesh.area,
            flux,
            self._face,
            k.area_per_distance,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            phi,
            logs,
            slope,
            k.upper,
            k.lower,
            k.indptr,
            self._matrix,
            self._r,
        )
        kernels.carry_open(
            flow.bown,
            flux[mesh.n_internal :],
            ~flow.boundary.wall,
            phi,
            entering,
            k.indptr,
            self._matrix,
            self._r,
        )

    def _entering(self) -> tuple[Floats, Floats]:
        """Give what enters of both quantities, (n_boundary,)."""
        flow = self.flow
        inner = flow.mesh.n_internal
        speed = np.abs(flow.flux[inner:]) / np.maximum(flow.geometry.size_b, 1e-300)
        if flow.boundary.velocity.any():
            speed = np.maximum(speed, np.linalg.norm(flow.boundary.velocity, axis=1))
        energy = 1.5 * (np.maximum(self.inflow.intensity, LEAST_INTENSITY) * speed) ** 2
        energy = np.where(np.isfinite(self.inflow.energy), self.inflow.energy, energy)
        energy = np.maximum(energy, self.least)
        return energy, np.asarray(
            self.closure.of_length(energy, np.minimum(self.inflow.length, self.longest)), float
        )

    # --- walls ---

    def _rub(self) -> None:
        """Work out the friction on walls from the flow at the probes, and what the flow is to feel and see of
        it.
        """
        flow = self.flow
        walls = self.walls
        if not len(walls.faces):
            return
        normal = flow.geometry.normal_b[walls.faces]
        there = flow.boundary.velocity[walls.faces]
        slope = flow.work.gU
        moving = flow.U[walls.probe] + np.einsum("fij,fj->fi", slope[walls.probe], walls.off) - there
        moving -= (moving * normal).sum(axis=1)[:, None] * normal
        speed = np.linalg.norm(moving, axis=1)
        nu = flow.molecular[flow.bown[walls.faces]]
        energy = self.k[walls.probe] if self.closure.second else None
        self.tau = friction(speed, walls.probed, nu, self._rough, energy, self.tau)
        cell = flow.bown[walls.faces]
        own = flow.U[cell] + np.einsum("fij,fj->fi", slope[cell], flow.geometry.shift_b[walls.faces]) - there
        own -= (own * normal).sum(axis=1)[:, None] * normal
        depth = walls.depth[walls.faces]
        sheared = speed * np.minimum(depth / walls.probed, 1.0)
        pulled = np.maximum(np.linalg.norm(own, axis=1), STEADY_WALL * sheared)
        if self.rising is not None:  # a thin layer that rises along the wall may end before the probe
            beside = nu * pulled / np.maximum(depth, NEAREST * walls.height)
            share = np.clip((pulled / np.maximum(speed, 1e-300) - BEYOND) / GATE, 0.0, 1.0)
            self.tau = self.tau + share * np.maximum(beside - self.tau, 0.0)
        self._wall_nu = np.where(pulled > 0, self.tau * depth / np.maximum(pulled, 1e-300), nu)

    def _thicken(self) -> None:
        """Give the flow the eddy viscosity, and walls the viscosity that makes their friction."""
        self.flow.set_eddy(self.terms.eddy, self._wall_nu)

    def mixing(self, diffusivity: Floats, warmth: buoyancy.Warmth | None = None) -> tuple[Floats, Floats]:
        """Give what turbulence does to something carried of a molecular diffusivity (n_cells,) m2/s: the eddy
        diffusivity (n_cells,), and that between ``walls.faces`` and the middle of their cells (w,) by the law
        of the wall, m2/s. ``warmth`` : how walls differ from the fluid, where that makes it rise or sink.
        """
        flow = self.flow
        walls = self.walls
        cell = flow.bown[walls.faces]
        away = (flow.geometry.normal_b * flow.geometry.reach_b).sum(axis=1)[walls.faces]
        away = np.maximum(away, NEAREST * walls.height)
        nu = flow.molecular[cell]
        pull = np.sqrt(self.tau)
        prandtl = np.clip(nu / np.maximum(diffusivity[cell], 1e-300), 1e-3, MOST_PRANDTL)
        coefficient = pull / temperature(away * pull / nu, prandtl, self._rough * pull / nu)
        still = pull <= 0
        coefficient[still] = (diffusivity[cell] / away)[still]
        if warmth is not None:
            normal = flow.geometry.normal_b[walls.faces]
            whole, rises = buoyancy.natural(warmth, normal, away, nu, diffusivity[cell])
            self.naturally = whole > coefficient
            coefficient = np.cbrt(coefficient**3 + rises**3)
        return self.terms.eddy / PRANDTL, np.asarray(coefficient * walls.depth[walls.faces])

    # --- in time ---

    def begin_step(self, step: float) -> None:
        """Begin a time step of so many seconds."""
        if not self.closure.second:
            return
        volume = self.flow.mesh.volume
        for name, phi, logs in (("k", self.k, self._log_k), ("second", self.second, self._log_2)):
            past = self.history.setdefault(name, ScalarHistory())
            guess = past.begin_step(step, phi, volume)
            phi[:] = np.clip(guess, 0.5 * phi, 2.0 * phi)
            logs[:] = np.log(phi)

    # --- what came of it ---

    def state(self) -> dict[str, Floats]:
        """Give a copy of what is carried, by name."""
        if not self.closure.second:
            return {}
        return {"k": self.k.copy(), self.closure.second: self.second.copy()}

    def restore(self, values: Mapping[str, Floats]) -> None:
        """Go back to former values."""
        for name, phi, logs in (
            ("k", self.k, self._log_k),
            (self.closure.second, self.second, self._log_2),
        ):
            if name in values:
                phi[:] = np.maximum(values[name], 1e-300)
                logs[:] = np.log(phi)
        self.look()

    @property
    def y_plus(self) -> Floats:
        """Distance of the cells on walls in wall units, (w,): half an uncut cell, as cut ones vary."""
        nu = self.flow.molecular[self.flow.bown[self.walls.faces]]
        return np.asarray(0.5 * self.walls.height * np.sqrt(self.tau) / nu)

    def field(self, name: str) -> tuple[Floats, Floats]:
        """Give something of it in cells (n_cells,) and on the boundary (n_boundary,), SI.

        Parameters
        ----------
        name : "k", "omega", "epsilon", "eddy" (Pa s), "intensity" (over the reference speed) or "y_plus",
        which is zero off walls.
        """
        flow = self.flow
        if name == "y_plus":
            boundary = np.zeros(flow.mesh.n_boundary)
            boundary[self.walls.faces] = self.y_plus
            cells = np.zeros(flow.mesh.n_cells)
            np.maximum.at(cells, flow.bown[self.walls.faces], self.y_plus)
            return cells, boundary
        if name == "k":
            cells = self.k.copy()
        elif name == "intensity":
            cells = np.sqrt(2 / 3 * self.k) / max(flow.reference_speed, 1e-300)
        elif name == "eddy":
            cells = self.terms.eddy * flow.density
        else:
            cells = self.second.copy() if name == self.closure.second else np.zeros(len(self.k))
        boundary = cells[flow.bown]
        if name in ("k", "intensity", "eddy"):
            boundary = np.where(flow.boundary.wall, 0.0, boundary)
        return cells, boundary
