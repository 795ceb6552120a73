"""The correction of fluxes and pressure that closes the mass balance of an iteration."""

from __future__ import annotations

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.csgraph import connected_components

from mop_lantern.field import flux_kernels, kernels
from mop_lantern.field.flow.fields import NONE, FlowFields
from mop_lantern.field.flow.following import laws
from mop_lantern.field.flow.leaving import balanced, eased, shaped
from mop_lantern.field.flow.state import Floats, FlowSettings
from mop_lantern.numerics.pressure import DIRECT_BELOW, PressureSolver

CALM = 0.3  # of the change of what enters, an iteration: shares of it chase each other
CLOSE = 1e-8  # of corrections with openings that follow the flow: a steep curve multiplies what is left


class PressureCorrection:
    """Mass and pressure of a flow (SIMPLEC).

    Parameters
    ----------
    matrix : of the flow's pattern, as momentum leaves it.
    """

    def __init__(
        self,
        flow: FlowFields,
        settings: FlowSettings,
        matrix: csr_matrix,
    ) -> None:
        self.flow = flow
        self.settings = settings
        self.matrix = matrix
        self._pressure = PressureSolver(matrix, direct=flow.planar and flow.mesh.n_cells < DIRECT_BELOW)
        self._pinned, self._space = self._closed_spaces()

    def _closed_spaces(self) -> tuple[NDArray[np.int64], NDArray[np.int64]]:
        """Give a cell of every space that hangs together and has no pressure given, whose level is therefore
        free; and the space of each cell where there are several."""
        flow = self.flow
        open_ = flow.boundary.pressed
        if len(flow.mesh.plane_area):  # one space always
            return np.zeros(0 if open_.any() else 1, np.int64), np.zeros(0, np.int64)
        count, space = connected_components(
            csr_matrix(
                (np.ones(len(flow.geometry.indices), np.int8), flow.geometry.indices, flow.geometry.indptr)
            ),
            directed=False,
        )
        _, first = np.unique(space, return_index=True)
        free = np.setdiff1d(np.arange(count), space[flow.bown[open_]])
        return first[free], space.astype(np.int64) if count > 1 else np.zeros(0, np.int64)

    def predict(
        self,
        D: Floats,
        keep: Floats,
        extra: Floats,
        old_b: Floats,
    ) -> None:
        """Predict the fluxes from the velocity just solved for; the gradients are those before: they matter
        on skewed faces only.

        Parameters
        ----------
        D : (n_cells,) s, response of the velocity to a pressure gradient. keep : (n_cells,) share of what the
        former fluxes had over their interpolation. extra : (n_internal,) of former times, or empty. old_b :
        (n_boundary,) the same on open faces.
        """
        flow = self.flow
        k = flow.geometry
        work = flow.work
        inner = flow.mesh.n_internal
        ratio = NONE[:, 0] if flow.face_ratio is None else flow.face_ratio
        raised, let_through = flow.braked(D)
        former = flow.flux[raised]
        k.each(
            flux_kernels.predicted_flux,
            flow.own,
            flow.nei,
            flow.mesh.area,
            k.area_per_distance,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            flow.U,
            work.gU,
            D,
            flow.p,
            flow.drop,
            work.gp,
            ratio,
            work.c,
            keep,
            extra,
            flow.flux,
            flow.ways,
        )
        flow.flux[raised] = let_through * flow.flux[raised] + (1 - let_through) * former
        level = flow.boundary.level
        if level.any():
            gp = work.gp[flow.bown]
            across = k.area_per_distance[inner:] * (
                work.pb - flow.p[flow.bown] - flow.drop_b - (gp * k.shift_b).sum(axis=1)
            )
            mean = (gp * flow.area_b).sum(axis=1)
            guess = flow.free_flux() - D[flow.bown] * (across - mean) + old_b
            self._let_out(guess, D[flow.bown] * k.area_per_distance[inner:])
            if flow.face_ratio is not None:
                guess *= flow.face_ratio[inner:]
            flow.flux[inner:][level] = guess[level]

    def _let_out(self, guess: Floats, ease: Floats) -> None:
        """Let given flows out: raise the pressure of their openings, and with it their fluxes (n_boundary,)
        m3/s.
        """
        flow = self.flow
        mine = flow.boundary.leaving >= 0
        if mine.any():
            inner = flow.mesh.n_internal
            ratio = 1.0 if flow.face_ratio is None else flow.face_ratio[inner:]
            former = shaped(flow.boundary, flow.flux[inner:] / ratio, flow.geometry.size_b)
            guess[mine], rise = balanced(flow.boundary, guess, ease, flow.geometry.size_b)
            guess[mine] = former + eased(flow.boundary, flow.planar) * (guess[mine] - former)
            flow.work.pb[mine] += rise

    def correct(
        self,
        response: Floats,
        tolerance: float | None = None,
        most: int = 60,
    ) -> tuple[float, int]:
        """Correct fluxes, and with no ``tolerance`` given velocities and pressure too; give the scaled
        imbalance of mass left and the inner iterations.
        """
        flow = self.flow
        k = flow.geometry
        work = flow.work
        matrix = self.matrix
        k.each(
            flux_kernels.correction_faces,
            flow.own,
            flow.nei,
            k.area_per_distance,
            k.weight,
            response,
            k.upper,
            k.lower,
            matrix.data,
            work.c,
        )
        raised, let_through = flow.braked(response)
        work.c[raised] *= let_through
        matrix.data[k.upper[raised]] *= let_through
        matrix.data[k.lower[raised]] *= let_through
        pressed = flow.boundary.pressed
        inner = flow.mesh.n_internal
        k.each(
            flux_kernels.correction_cells,
            k.indptr,
            k.first_b,
            k.face_b,
            k.area_per_distance,
            response,
            pressed,
            inner,
            matrix.data,
            work.c,
        )
        if flow.face_ratio is not None:
            self._weigh(matrix.data, work.c)
        matrix.data[k.indptr[self._pinned]] *= 2.0
        self.imbalance()
        wanted = tolerance or (CLOSE if flow.following else self.settings.pressure_tolerance)
        q, used = self._pressure.solve(-work.div, wanted, most)
        beyond = np.zeros(len(flow.bown))
        if flow.following:
            q, rise = self._follow(q, most, tolerance is not None)
            for one, by in zip(flow.following, rise, strict=True):
                beyond[one.faces] = by
        former = flow.flux.copy() if len(raised) else flow.flux
        k.each(
            flux_kernels.correct_flux,
            flow.own,
            flow.nei,
            k.first_b,
            k.face_b,
            work.c,
            q,
            flow.flux,
        )
        if flow.following:
            flow.flux[inner:] -= work.c[inner:] * beyond
            flow.sums = flow.through()
            if tolerance is None:
                flow.move_followed(rise)
        if tolerance is None:
            self._correct_cells(response, q, beyond, former)
        self.imbalance()
        return float(np.abs(work.div).sum() / flow.throughflow), used

    def _correct_cells(
        self,
        response: Floats,
        q: Floats,
        beyond: Floats,
        former: Floats,
    ) -> None:
        """Correct pressures by ``q`` and velocities by its gradient; ``beyond`` : (n_boundary,) of q at open
        faces. ``former`` : (n_faces,) fluxes before.
        """
        flow = self.flow
        k = flow.geometry
        at = flow.at_pressure
        k.each(
            kernels.scalar_gradient,
            *flow.around,
            at.moments,
            at.counts,
            q,
            beyond,
            flow.work.b,
            flow.ways,
        )
        flow.leave_jumps_out(flow.work.b, flow.gives_way(flow.flux - former))
        less = 0.0
        if len(self._space):  # every closed space keeps its own level
            level = np.zeros(int(self._space.max()) + 1)
            level[self._space[self._pinned]] = q[self._pinned]
            flow.p -= level[self._space]
        elif len(self._pinned):
            less = float(q[self._pinned[0]])
        k.each(
            flux_kernels.correct_cells,
            response,
            flow.work.b,
            q,
            less,
            flow.p,
            flow.U,
            flow.ways,
        )

    def imbalance(self) -> None:
        """Sum the fluxes out of every cell, and what it gains in mass, into the work array."""
        flow = self.flow
        k = flow.geometry
        k.scatter(
            flux_kernels.divergence,
            flow.own,
            flow.nei,
            k.first_b,
            k.face_b,
            flow.flux,
            flow.work.div,
        )
        if flow.swelling is not None:
            flow.work.div += flow.mesh.volume * flow.swelling

    def _follow(
        self,
        q: Floats,
        most: int,
        flux_only: bool,
    ) -> tuple[Floats, Floats]:
        """Add to a correction what openings that follow the flow answer: their pressure rises with the sum of
        the corrected fluxes, which couples all of their faces (Woodbury's formula, a solution more for each).

        Parameters
        ----------
        q : (n_cells,) the correction with their pressures as they are. flux_only : they answer the change of
        the fluxes alone.

        Returns
        -------
        q : the correction. rise : (k,) of the openings' pressures, m2/s2.
        """
        flow = self.flow
        every = flow.following
        inner = flow.mesh.n_internal
        ease = flow.work.c[inner:]
        by_volume = ease if flow.face_ratio is None else ease / flow.face_ratio[inner:]
        if not flux_only:
            flow.enters += CALM * (flow.entering() - flow.enters)
        pressure, slope = laws(every, flow.sums, flow.enters, flow.density)
        slope = np.maximum(slope, flow.stiffness)
        through = flow.through()
        before = through.copy() if flux_only else flow.sums
        answers = []
        coupling = np.zeros((len(every), len(every)))
        for k, one in enumerate(every):
            row = np.zeros(flow.mesh.n_cells)
            np.add.at(row, flow.bown[one.faces], ease[one.faces])
            answers.append(self._pressure.solve(row, CLOSE, most)[0].copy())
            coupling[k, k] = by_volume[one.faces].sum()
        for k, one in enumerate(every):
            cells = flow.bown[one.faces]
            coupling[k] -= [by_volume[one.faces] @ answer[cells] for answer in answers]
            through[k] += by_volume[one.faces] @ q[cells]
        wanted = slope * (through - before)
        if not flux_only:
            wanted += pressure - [flow.boundary.pressure[one.faces[0]] / flow.density for one in every]
        rise = np.linalg.solve(np.eye(len(every)) + slope[:, None] * coupling, wanted)
        return np.asarray(q + rise @ np.array(answers), float), np.asarray(rise, float)

    def _weigh(self, a: Floats, c: Floats) -> None:
        """Multiply the coefficients of the correction with the density ratio of their faces."""
        flow = self.flow
        k = flow.geometry
        inner = flow.mesh.n_internal
        ratio = flow.face_ratio
        assert ratio is not None
        c *= ratio
        a[k.upper] = a[k.lower] = -c[:inner]
        count = flow.mesh.n_cells
        a[k.indptr[:-1]] = np.bincount(flow.own, c, count) + np.bincount(flow.nei, c[:inner], count)
