"""One way to solve for everything the flow carries: heat, species, age.

A linear quantity on a fixed flow is solved in one go: Krylov iterations on the second-order operator itself,
with the factorised first-order matrix as preconditioner.
"""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix, csr_matrix
from scipy.sparse.linalg import LinearOperator, bicgstab, gcrotmk, gmres, spilu, splu

from mop_lantern.field import scalar_kernels
from mop_lantern.field.carrying import Carrying
from mop_lantern.numerics.multigrid import Multigrid
from mop_lantern.numerics.pressure import DIRECT_BELOW

Floats = NDArray[np.float64]
ROUNDING = 1e-8  # of what a field is in all: one that is even to this has rounding for a residual
SETTLED = 1e-2  # scaled residual: earlier overshoots are those of a first guess
LIMITER_PASSES = 8
LIMITER_TOLERANCE = 1e-5  # of the passes: the answer itself is solved to the end after the last
IN_LARGE = 1e-4  # the same in large spaces
# changes, of the whole range, that the limiter lets pass: on the way to a steady state it must not jitter; in
# time what passes adds up to shares below nothing, ahead of fronts and behind them
UNHELD, UNHELD_IN_TIME = 1e-3, 1e-6
STALE = 8
CLEARLY = 1e-3  # of the range: it is left by more than what is still unsolved
LARGE = 30_000  # cells of a space
CYCLE, LEARNT, MOST_CYCLES = 20, 10, 24  # steps of a Krylov space, what is kept of it, and spaces


class Transported(Carrying):
    """Something carried, and how it is solved for; parameters as of `Carrying`."""

    # --- solving ---

    def _assemble(self) -> None:
        k = self.geometry
        inner = self.mesh.n_internal
        a = self.matrix.data
        flux, diffusivity, holding, sink = self.F, self.G, self._holding(), self.sink
        if self.held is not None:  # the former step counts for the rest
            now = 1 - self.held.share
            flux, diffusivity, holding = now * flux, now * diffusivity, now[inner:] * holding
            sink = (1 - self.held.cell_share) * sink
        scalar_kernels.upwind_matrix(
            self._own,
            self._nei,
            flux,
            diffusivity,
            k.area_per_distance,
            k.upper,
            k.lower,
            k.indptr,
            a,
        )
        opening = np.where(self.open, np.maximum(-flux[inner:], 0.0), 0.0)
        a[k.indptr[:-1]] += np.bincount(self._bown, holding + opening, self.mesh.n_cells)
        a[k.indptr[:-1]] += sink * self._bulk
        if not self.history.steady:
            a[k.indptr[:-1]] += self.ratio * self.history.weight
        floor = 1e-12 * float(a[k.indptr[:-1]].max(initial=1e-300))
        a[k.indptr[:-1]] = np.maximum(a[k.indptr[:-1]], floor)
        for row, cell in enumerate(self._fixed):
            here = slice(k.indptr[cell], k.indptr[cell + 1])
            self._fixed_weight[row] = a[k.indptr[cell]]
            a[here] = 0.0
            a[k.indptr[cell]] = self._fixed_weight[row]
        self._low_order = self.matrix

    def _holding(self) -> Floats:
        """Give the conductance between every cell and what its walls hold, (n_boundary,) m3/s."""
        plain = self._near()
        behind = self._behind()
        share = np.where(self.demand.resistance > 0, behind / (behind + plain), 1.0)
        if self.shells is not None:  # what is left where all the fluid beside is warmer by the same
            mine = self.shells.faces
            self.shells.tie(self._shell_pull())
            share[mine] = (1.0 - self.shells.surface(plain[mine])).clip(0.0, 1.0)
        return np.where(self._walls, plain * share, 0.0)

    def _join(self) -> None:
        """Add what passes from region to region to the first-order matrix."""
        if self._joints is not None:
            joints = self._joints.matrix(self.mesh.n_cells)
            joints.data[np.isin(joints.row, self._fixed)] = 0.0
            self._low_order = (self.matrix + joints).tocsr()

    def _factorise(self) -> None:
        planar = bool(len(self.mesh.plane_area))
        if not planar:
            # five cycles whatever the grid; incomplete factors need ever more passes, the finer it is
            self._grids = self._renewed(self._low_order)
            self._solve_low = self._grids.cycle
            return
        matrix = csc_matrix(self._low_order)
        matrix.sum_duplicates()
        if self.mesh.n_cells < DIRECT_BELOW * 4:
            self._solve_low = splu(
                matrix,
                permc_spec="MMD_AT_PLUS_A",
                diag_pivot_thresh=0.0,
                options={"SymmetricMode": True},
            ).solve
        elif self._joints is not None:  # conductivities that differ a thousandfold fill incomplete factors
            self._solve_low = Multigrid(matrix.tocsr()).cycle
        else:
            self._solve_low = spilu(matrix, drop_tol=1e-4, fill_factor=8).solve

    def _renewed(self, matrix: csr_matrix) -> Multigrid:
        """Give the coarse matrices of a matrix: the former ones with new values, where its entries are in the
        same places.
        """
        if self._grids is None:
            return Multigrid(matrix)
        kept = self._grids.levels[0].matrix
        if kept is not matrix:
            if kept.nnz != matrix.nnz or not np.array_equal(kept.indices, matrix.indices):
                return Multigrid(matrix)
            kept.data[:] = matrix.data
        self._grids.refresh()
        return self._grids

    def correct(self, tolerance: float = 0.05, relaxation: float = 1.0) -> float:
        """Do one correction towards the second-order answer; give the scaled residual before it."""
        if self.limited == "always" or (self.limited == "needed" and not self.history.steady):
            self._limit(self.phi)
        elif self.limited == "needed" and self._left < SETTLED and self._overshoots():
            # on the way to a steady state the limiter may only tighten: it comes to rest
            held = self.psi.copy()
            self._limit(self.phi)
            np.minimum(held, self.psi, out=self.psi)
        self._assemble()
        self.matrix.data[self.geometry.indptr[:-1]] /= relaxation
        self._join()
        wrong = self.residual(self.phi)
        pull = self.matrix.data[self.geometry.indptr[:-1]]
        scale = float((pull * np.abs(self.phi - self.phi.mean())).sum())
        scale = max(scale, ROUNDING * float(pull @ np.abs(self.phi)))
        if self._solve_low is None or self._grids is not None:
            self._factorise()
        step, used = self._low(wrong, tolerance)
        if used > STALE and self._grids is None:
            self._factorise()
            step, _ = self._low(wrong, tolerance)
        if relaxation < 1.0 and self.history.steady:
            step += self._level(step, pull * (1.0 - relaxation))
        self.phi += step
        self.keep_above_floor()
        total = float(np.abs(wrong).sum())
        self._left = total / scale if scale > 0 else float(total > 0)
        return self._left

    def _level(self, step: Floats, kept: Floats) -> float:
        """Give what all values have to change by after a relaxed step for the balance of the whole to hold:
        under relaxation alone the level of a tight room creeps. ``kept`` : (n_cells,) what relaxation added.
        """
        held = float((self._pulls() @ np.ones_like(step)).sum() - kept.sum())
        return float(kept @ step) / held if held > 1e-9 * float(kept.sum()) else 0.0

    def keep_above_floor(self) -> None:
        """Let nothing be under the floor, where there is one."""
        if self.floor is not None:
            np.maximum(self.phi, self.floor, out=self.phi)

    def _low(self, right: Floats, tolerance: float) -> tuple[Floats, int]:
        count = [0]

        def counted(_: Floats) -> None:
            count[0] += 1

        assert self._solve_low is not None
        operator = LinearOperator(self.matrix.shape, self._solve_low)
        step, _ = bicgstab(
            self._pulls(),
            right,
            rtol=tolerance,
            maxiter=4 * STALE,
            M=operator,
            callback=counted,
        )
        return (step if np.isfinite(step).all() else self._solve_low(right)), count[0]

    def _pulls(self) -> csr_matrix | LinearOperator:
        """Give what a correction is solved with: the first-order matrix, thin walls in it as they are."""
        if self.shells is None:
            return self._low_order
        shells = self.shells
        near = self._near()[shells.faces]
        beside = self._bown[shells.faces]
        lumped = near - self._holding()[shells.faces]
        matrix = self._low_order

        def act(change: Floats) -> Floats:
            change = np.ravel(change)
            here = change[beside]
            passed = lumped * here - near * shells.surface(near * here)
            return np.asarray(matrix @ change + np.bincount(beside, passed, len(change)))

        return LinearOperator(matrix.shape, act)

    @property
    def _large(self) -> bool:
        return not len(self.mesh.plane_area) and self.mesh.n_cells > LARGE

    def solve(self, tolerance: float | None = None, hold: bool = True) -> float:
        """Solve on the present flow in one go; give the scaled residual left.

        A limited quantity is solved with the limiter fixed, a few times, until the limiter has settled;
        ``hold`` False: the limiter stays as it is. ``tolerance`` : of the scaled residual; by default 1e-10,
        in large spaces 1e-7: results differ by less than 1e-5 of themselves from there on.
        """
        large = self._large
        rough = IN_LARGE if large else LIMITER_TOLERANCE
        if tolerance is None:
            tolerance = 1e-7 if large else 1e-10
        if hold:
            self.psi[:] = 1.0
            self.psi[self.jumping] = 0.0
        self._assemble()
        self._join()
        self._factorise()
        bounded = hold and self.limited != "never"
        # what clearly leaves its range is limited before it is solved to the end
        left = self._krylov(tolerance, astray_from=rough if bounded and large else 0.0)
        if bounded and self._overshoots():
            held = self.psi.copy()
            for _ in range(LIMITER_PASSES):
                self._limit(self.phi)
                np.minimum(held, np.where(self.psi < 0.999, self.psi, 1.0), out=held)
                self.psi[:] = held
                before = self.phi.copy()
                left = self._krylov(max(tolerance, rough))
                if np.abs(self.phi - before).max() < 1e-4 * (np.ptp(self.phi) or 1.0):
                    break
            if tolerance < rough:
                left = self._krylov(tolerance)
        self.keep_above_floor()
        return left

    def _overshoots(self, share: float = 1e-6) -> bool:
        """Whether a quantity leaves the range of what feeds it by a share of it, on the side where no source
        takes it.
        """
        feeding, gains, loses = self._fed()
        if not len(feeding) or (gains and loses):
            return self.limited == "always"
        low = -np.inf if loses else float(feeding.min())
        high = np.inf if gains else float(feeding.max())
        low, high = (min(low, 0.0), max(high, 0.0)) if np.any(self.sink) else (low, high)
        span = high - low if np.isfinite(high - low) else float(np.ptp(self.phi))
        room = share * (span or 1.0)
        return bool(self.phi.min() < low - room or self.phi.max() > high + room)

    def _limit(self, phi: Floats) -> None:
        k = self.geometry
        surface = self.boundary_values()
        entering = self.open & (self.F[self.mesh.n_internal :] < 0)
        free = UNHELD if self.history.steady else UNHELD_IN_TIME
        small = (free * float(np.ptp(phi))) ** 2 + 1e-300
        scalar_kernels.limiter(
            self._own,
            self._nei,
            self._bown,
            self.mesh.area,
            k.area_per_distance,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            k.reach_b,
            phi,
            surface,
            entering | self._at.counts,
            self._g,
            small,
            self.psi,
        )
        self.psi[self.jumping] = 0.0

    def _krylov(self, tolerance: float, astray_from: float = 0.0) -> float:
        """Solve with the limiter as it is; give the residual left. ``astray_from`` : residual from which on a
        quantity that clearly leaves its range is solved no further; before, it may come back.
        """
        rest = self.residual(np.zeros_like(self.phi))
        assert self._solve_low is not None

        def act(change: Floats) -> Floats:
            return rest - self.residual(np.ravel(change))

        shape = self.matrix.shape
        wrong = self.residual(self.phi)
        even = self.residual(
            np.full_like(self.phi, self.phi.mean())
        )  # differences matter, not kelvins above nothing
        scale = max(float(np.linalg.norm(even)), 1e-3 * float(np.linalg.norm(rest)), 1e-300)
        aim = tolerance * scale
        learnt: list[Any] = []  # of one space for the next, which a plain restart would forget
        for number in range(MOST_CYCLES):
            left = float(np.linalg.norm(wrong))
            if left <= aim or (number and left <= astray_from * scale and self._overshoots(CLEARLY)):
                break
            step = self._towards(wrong, 0.5 * aim, LinearOperator(shape, act), learnt)
            self.phi += step
            wrong = self.residual(self.phi)
        return float(np.linalg.norm(wrong) / scale)

    def _towards(self, wrong: Floats, aim: float, operator: LinearOperator, learnt: list[Any]) -> Floats:
        """Give a step that takes what is ``wrong`` towards ``aim``. In large spaces, where steps are dear,
        what a Krylov space has ``learnt`` serves the next one.
        """
        assert self._solve_low is not None
        ahead = LinearOperator(operator.shape, self._solve_low)
        if self._large:
            step, _ = gcrotmk(
                operator,
                wrong,
                rtol=0.0,
                atol=aim,
                m=CYCLE,
                k=LEARNT,
                maxiter=1,
                M=ahead,
                CU=learnt,
            )
        else:
            step, _ = gmres(operator, wrong, rtol=0.0, atol=aim, restart=2 * CYCLE, maxiter=1, M=ahead)
        return np.asarray(step)

    def spreading(self) -> float:
        """Estimate the numerical diffusivity, m2/s: what the convection scheme destroys of the variance, over
        what a unit diffusivity would (own derivation: face by face, the scheme's value against the central
        one).
        """
        k = self.geometry
        inner = self.mesh.n_internal
        self._face_fluxes(self.phi)
        o = self._own[:inner]
        n = self._nei
        step = self.phi[n] - self.phi[o]
        foot_o = np.zeros(inner)
        foot_n = np.zeros(inner)
        off = k.skew >= 0
        foot_o[off], foot_n[off] = (
            (self._g[o[off]] * k.shift_o).sum(axis=1),
            (self._g[n[off]] * k.shift_n).sum(axis=1),
        )
        central = k.weight * (self.phi[o] + foot_o) + (1 - k.weight) * (self.phi[n] + foot_n)
        convected = self._flux[:inner] + self.G[:inner] * k.area_per_distance[:inner] * (
            step + foot_n - foot_o
        )
        lost = float(-((convected - self.F[:inner] * central) * step).sum())
        unit = float((k.area_per_distance[:inner] * step**2).sum())
        return max(lost / unit, 0.0) if unit > 0 else 0.0
