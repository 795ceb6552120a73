"""The momentum equations of one outer iteration: assembled, relaxed, swept."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.field import kernels
from mop_lantern.field.boundary import SLIP
from mop_lantern.field.flow.fields import NONE, FlowFields
from mop_lantern.field.flow.history import History
from mop_lantern.field.flow.state import Floats, FlowSettings

CALM = 0.02  # of the diagonal: how hard swings are pulled to the mean of the iterations, at first
CALM_LENGTH = 30.0  # iterations, over which that mean forgets
LEAST_CHANGE = 2e-3  # of the forces at work: a step that changes less is judged as if it changed so much


class Momentum:
    """The momentum equations of a flow.

    Parameters
    ----------
    matrix : of the flow's pattern, shared with the pressure correction, which takes it over when momentum is
    done.
    """

    def __init__(
        self,
        flow: FlowFields,
        history: History,
        settings: FlowSettings,
        matrix: csr_matrix,
    ) -> None:
        self.flow = flow
        self.history = history
        self.settings = settings
        self.matrix = matrix
        self.relaxation = settings.relaxation
        count = flow.mesh.n_cells
        self._far = np.empty((count, 3))  # only the rims of blocks are ever used
        self._diagonal = np.zeros(count)
        self._still = np.zeros(count)
        self.mean = NONE  # (n_cells, 3) m/s: of the iterations, towards which swings are calmed, or empty
        self.calm = 0.0  # how hard
        self.calm_length = CALM_LENGTH  # iterations
        self.hold = NONE[:, 0]  # (n_cells,) m3/s: what a velocity is held back by where it was, or empty
        self.ease = NONE[:, 0]  # (n_cells,) m3/s: the same in the first iterations from rest, or empty

    def solve(self) -> float:
        """Assemble the equations for the present velocity, relax them and sweep over them; give their scaled
        residual before.
        """
        self._assemble()
        left = self._residual(*self._hold_back())
        self._relax_and_sweep()
        return left

    def _assemble(self) -> None:
        """Write convection, friction and the pressure gradient into matrix and right side."""
        flow = self.flow
        k = flow.geometry
        work = flow.work
        inner = flow.mesh.n_internal
        a = self.matrix.data
        flux = flow.carrying
        k.scatter(
            kernels.momentum,
            flow.own,
            flow.nei,
            flow.mesh.area,
            flux,
            flow.nu,
            k.area_per_distance,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            flow.planar,
            k.span,
            flow.mesh.volume,
            flow.U,
            work.gU,
            work.gp,
            k.upper,
            k.lower,
            k.indptr,
            a,
            work.b,
            work.c,
            flow.parts,
            flow.ways,
        )
        kernels.momentum_boundary(
            flow.bown,
            flow.area_b,
            k.span[inner:],
            flux[inner:],
            flow.walls.conductance(flow.nu[inner:]),
            flow.walls.bend(flow.nu[inner:]),
            k.shift_b,
            k.normal_b,
            flow.boundary.code,
            flow.U,
            work.Ub,
            work.gU,
            k.indptr,
            a,
            work.b,
        )
        if len(flow.stirred):
            work.b += flow.mesh.volume[:, None] * flow.stirred
        self._turned(a, k.indptr[:-1])
        if flow.uneven is not None:  # the transposed part of the stress, where the viscosity varies
            work.b += flow.mesh.volume[:, None] * np.einsum("cj,cji->ci", flow.uneven, work.gU)

    def _hold_back(self) -> tuple[float, float]:
        """Add what holds a cell back and is no neighbour of it: a resistance, its own past. Give what the
        past adds to the scale of the residual, and how much the step changes.
        """
        flow = self.flow
        a = self.matrix.data
        diagonal = flow.geometry.indptr[:-1]
        np.take(a, diagonal, out=self._still)
        if len(flow.resistance):
            a[diagonal] += flow.mesh.volume * flow.resistance
        if self.history.step is None:
            return 0.0, np.inf
        return self.history.add_to(a, diagonal)

    def _residual(self, scale_off: float, change: float) -> float:
        """Give the scaled residual; in time an error counts against what the step changes."""
        flow = self.flow
        k = flow.geometry
        wrong, scale = np.sum(
            k.each(kernels.residual, k.indptr, k.indices, self.matrix.data, flow.work.b, flow.U), axis=0
        )
        scale += flow.force_scale - scale_off
        scale = min(scale, max(change, LEAST_CHANGE * scale))
        return float(wrong / scale) if scale > 0 else float(wrong > 0)

    def _relax_and_sweep(self) -> None:
        flow = self.flow
        k = flow.geometry
        a = self.matrix.data
        b = flow.work.b
        k.each(kernels.relax, k.indptr, a, float(self.relaxation), self._diagonal, b, flow.U)
        for held in (self.hold, self.ease):
            if len(held):
                a[k.indptr[:-1]] += held
                b += held[:, None] * flow.U
        if len(self.mean):
            self.mean += (flow.U - self.mean) / self.calm_length
            pull = self.calm * self._diagonal
            a[k.indptr[:-1]] += pull
            b += pull[:, None] * self.mean
        for number in range(self.settings.sweeps):
            self._far[k.rim] = flow.U[k.rim]
            forward = number % 2 == 0
            k.each(kernels.sweep, k.indptr, k.indices, a, b, flow.U, self._far, forward)

    def _turned(self, a: Floats, diagonal: NDArray[np.int32]) -> None:
        """Add what turning about the axis adds: hoop friction, centrifugal force, and conservation of angular
        momentum.
        """
        flow = self.flow
        mesh = flow.mesh
        work = flow.work
        if not mesh.axisymmetric:
            return
        inner = mesh.n_internal
        total = np.bincount(flow.own, flow.nu, mesh.n_cells) + np.bincount(
            flow.nei, flow.nu[:inner], mesh.n_cells
        )
        nu = total / (
            np.bincount(flow.own, minlength=mesh.n_cells) + np.bincount(flow.nei, minlength=mesh.n_cells)
        )
        hoop = nu * mesh.volume / mesh.radius**2
        # of the radial and the turning component, written for all and taken back for the axial one
        a[diagonal] += hoop
        work.b[:, 0] += hoop * flow.U[:, 0]
        if flow.U[:, 2].any() or flow.boundary.velocity[:, 2].any():
            slips = np.flatnonzero(flow.boundary.code == SLIP)
            at = flow.bown[slips]  # fluid that turns as a solid strains at no radius, nor at a slippery wall
            carried = flow.nu[inner + slips] * flow.area_b[slips, 1] * flow.U[at, 2] / mesh.radius[at]
            work.b[:, 2] += np.bincount(at, carried, mesh.n_cells)
            ratio = 1.0 if flow.ratio is None else flow.ratio
            turning = ratio * mesh.volume * flow.U[:, 2] / mesh.radius
            work.b[:, 1] += turning * flow.U[:, 2]
            work.b[:, 2] -= turning * flow.U[:, 1]

    def responses(self) -> tuple[Floats, Floats]:
        """Response of the velocity to a pressure gradient: plain, and with the neighbours going along
        (SIMPLEC).
        """
        volume = self.flow.mesh.volume
        relaxed = self._relaxed()
        return volume / relaxed, volume / (relaxed - self._still * (1 - 1e-9))

    def _relaxed(self) -> Floats:
        relaxed = self._diagonal * (1 / self.relaxation + (self.calm if len(self.mean) else 0.0))
        for held in (self.hold, self.ease):
            relaxed = relaxed + held if len(held) else relaxed
        return relaxed

    def kept(self) -> Floats:
        """Give what share of a velocity relaxation keeps, (n_cells,)."""
        if not (len(self.hold) or len(self.ease) or len(self.mean)) or not self._diagonal.any():
            return np.full(len(self._diagonal), 1 - float(self.relaxation))
        return 1 - self._diagonal / self._relaxed()
