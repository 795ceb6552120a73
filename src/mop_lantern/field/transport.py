"""One operator for everything the flow carries: heat, species, age.

d(r phi)/dt + div(F phi) = div(G grad phi) + S, with fluxes F of the reference density, G = k / (rho c) and r
the density ratio. Second order; convection may be held by a limiter. A linear quantity on a fixed flow is
solved in one go: Krylov iterations on the second-order operator itself, with the factorised first-order
matrix as preconditioner.
"""

from __future__ import annotations

from collections.abc import Callable

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csc_matrix, csr_matrix
from scipy.sparse.linalg import LinearOperator, bicgstab, gmres, spilu, splu

from mop_lantern.field import flux_kernels, kernels, scalar_kernels
from mop_lantern.field.balance import Balance
from mop_lantern.field.bent import Bent
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import FaceGeometry, stencil, wall_curvature
from mop_lantern.field.joints import Joints
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.scalar_history import ScalarHistory
from mop_lantern.grid import Mesh
from mop_lantern.numerics.multigrid import Multigrid
from mop_lantern.numerics.pressure import DIRECT_BELOW

Floats = NDArray[np.float64]
ROUNDING = 1e-8  # of what a field is in all: one that is even to this has rounding for a residual
SETTLED = 1e-2  # scaled residual: earlier overshoots are those of a first guess
LIMITER_PASSES = 8
LIMITER_TOLERANCE = 1e-5  # of the passes: the answer itself is solved to the end after the last
STALE = 8
LARGE = 30_000  # cells of a space


class Transported:
    """Something carried.

    Parameters
    ----------
    mesh, geometry : the grid. flow_boundary : which faces are open. demand : what the boundary demands.
    diffusivity : m2/s, one for all or (n_cells,). source : (n_cells,) a second, over rho c for heat. limited
    : hold convection between its neighbours, always ("always", for what has no diffusion to speak of), where
    the answer leaves its
    range ("needed"), or not ("never").
    scale : what a kinematic flux is multiplied with for reports (rho c for heat). phi : (n_cells,) start.
    """

    def __init__(  # noqa: PLR0913 - an equation has as many terms
        self,
        mesh: Mesh,
        geometry: FaceGeometry,
        flow_boundary: Boundary,
        demand: ScalarBoundary,
        diffusivity: float | Floats,
        source: Floats,
        phi: Floats,
        limited: str = "never",
        scale: float = 1.0,
    ) -> None:
        self.open = ~flow_boundary.wall
        self.demand = demand
        self.source = source
        self.scale = scale
        self.limited = limited
        self._left = 1.0
        self.sink: Floats | float = (
            0.0  # 1/s, share of the quantity that is lost in time, everywhere or by cell
        )
        self.floor: float | None = None  # the quantity is never less
        self.jumping = np.zeros(0, np.int64)  # cells that convection takes as even: it jumps beside them
        self._fixed = np.zeros(0, np.int64)  # cells whose value is held
        self._fixed_value = np.zeros(0)
        self._fixed_weight = np.ones(0)
        self.phi = np.array(phi, float)
        self.G = np.zeros(len(mesh.owner))
        self._eddy: Floats | None = None  # what turbulence adds to the diffusivity of cells
        self._eddy_walls = np.zeros(0, np.int64)
        self._wall_diffusivity = np.zeros(0)
        self.ratio: Floats | float = 1.0
        inner = mesh.n_internal
        self._own = mesh.owner
        self._nei = mesh.neighbour
        self._bown = mesh.owner[inner:]
        self._walls = demand.given & ~self.open
        self._lay_out(mesh, geometry)
        every = np.broadcast_to(np.asarray(diffusivity, float), mesh.n_cells)
        self.set_diffusivity(every, every[self._bown])
        self.F = np.zeros(len(mesh.owner))
        self.psi = np.full(mesh.n_cells, 1.0)
        self.matrix: csr_matrix = geometry.matrix()
        self._low_order = self.matrix
        self._solve_low: Callable[[Floats], Floats] | None = None
        self._grids: Multigrid | None = None  # of spaces; planes are factorised
        self._flux = np.zeros(len(mesh.owner))
        self._out = np.zeros(mesh.n_cells)
        self._g = np.zeros((mesh.n_cells, 3))
        self._tilt = np.zeros(inner)
        self._net = np.zeros(mesh.n_cells)
        self.history = ScalarHistory()
        self.moving = False

    def _lay_out(self, mesh: Mesh, geometry: FaceGeometry) -> None:
        """Form what hangs on where the grid is."""
        walls = self._walls
        self.mesh = mesh
        self.geometry = geometry
        self._joints = (
            Joints.of(mesh, geometry, self.demand.resistance * self.scale) if len(mesh.joints) else None
        )
        given = walls if self._joints is None else walls | mesh.joined
        self._at = stencil(mesh, given)
        self._bent = Bent(mesh, given)
        self._curve = wall_curvature(mesh, geometry, self._at) * walls

    # --- setting up ---

    def move(self, mesh: Mesh, geometry: FaceGeometry) -> None:
        """Go on with the same cells and faces at other places; `set_flow` then takes fluxes less what the
        faces sweep, `set_diffusivity` what conducts.
        """
        self.moving = True
        self._lay_out(mesh, geometry)

    def set_flow(self, flux: Floats, velocity_gradient: Floats | None = None) -> None:
        """Take the fluxes (n_faces,) m3/s; the gradient of the velocity tells how they change along faces."""
        self.F = flux
        self._sum(flux, self._net)
        if velocity_gradient is not None and len(self.mesh.plane_area):
            inner = self.mesh.n_internal
            scalar_kernels.face_tilt(
                self._own,
                self._nei,
                self.mesh.area,
                self.geometry.span,
                velocity_gradient,
                self._tilt,
            )
            # corners, where the change is no small one
            self._tilt[np.abs(self._tilt) > 2 * np.abs(flux[:inner])] *= 0.5

    def _sum(self, flux: Floats, into: Floats) -> None:
        k = self.geometry
        k.scatter(
            flux_kernels.divergence,
            self._own,
            self._nei,
            k.first_b,
            k.face_b,
            flux,
            into,
        )

    def set_diffusivity(self, cells: Floats, boundary: Floats) -> None:
        """Let the diffusivity vary smoothly within every region: (n_cells,) and (n_boundary,) m2/s."""
        inner = self.mesh.n_internal
        self.molecular = np.asarray(cells, float), np.asarray(boundary, float)
        if self._eddy is None:
            share = self.geometry.weight
            own, nei = self._own[:inner], self._nei
            self.G = np.concatenate([share * cells[own] + (1 - share) * cells[nei], boundary])
        else:
            every = np.maximum(cells + self._eddy, 1e-30)
            self.geometry.each(flux_kernels.log_mean, self._own, self._nei, every, self.G)
            self.G[inner:] = np.where(self.open, every[self._bown], boundary)
            self.G[inner:][self._eddy_walls] = self._wall_diffusivity
        if self._joints is not None:
            self._joints.conduct(self.G[inner:] * self.geometry.area_per_distance[inner:])

    def set_eddy(self, cells: Floats, faces: NDArray[np.int64], walls: Floats) -> None:
        """Add what turbulence does.

        Parameters
        ----------
        cells : (n_cells,) m2/s, added. faces, walls : boundary faces (w,) beside which a wall law holds, and
        the diffusivity (w,) m2/s between them and the middle of their cells.
        """
        self._eddy = cells
        self._eddy_walls = faces
        self._wall_diffusivity = walls
        self._curve[faces] = 0.0
        self.set_diffusivity(*self.molecular)

    def begin_step(self, step: float) -> None:
        """Begin a time step of so many seconds; the guess is carried on evenly."""
        self.phi = self.history.begin_step(step, self.phi, self.mesh.volume)

    # --- the operator ---

    def residual(self, phi: Floats) -> Floats:
        """Give what every cell gains a second, (n_cells,) m3 times the quantity; of cells that are held, how
        far they are from what they are held at.
        """
        gain = self._gain(phi)
        if len(self._fixed):
            gain[self._fixed] = self._fixed_weight * (self._fixed_value - phi[self._fixed])
        return gain

    def _gain(self, phi: Floats) -> Floats:
        self._face_fluxes(phi)
        self._sum(self._flux, self._out)
        gain = (self.source - self.sink * phi) * self.mesh.volume - self._out + phi * self._net
        return gain - self._storage(phi)

    def hold_cells(self, cells: NDArray[np.int64], value: Floats | float) -> None:
        """Hold the quantity in some cells (k,) at a value."""
        self._fixed = np.asarray(cells, np.int64)
        self._fixed_value = np.broadcast_to(np.asarray(value, float), len(self._fixed)).copy()
        self._fixed_weight = np.ones(len(self._fixed))

    def _storage(self, phi: Floats) -> Floats | float:
        return 0.0 if self.history.steady else self.ratio * self.history.gain(phi)

    def surface(self, phi: Floats) -> Floats:
        """Give the values on the boundary the gradient is formed with: walls only, nan elsewhere is not
        used.
        """
        d = self.demand
        k = self.geometry
        inner = self.mesh.n_internal
        behind = np.where(d.resistance > 0, k.size_b / np.maximum(d.resistance * self.scale, 1e-300), 0.0)
        near = self.G[inner:] * k.area_per_distance[inner:]
        mixed = (behind * d.value + near * phi[self._bown]) / np.maximum(behind + near, 1e-300)
        return np.where(d.resistance > 0, mixed, d.value)

    def _slopes(self, phi: Floats, surface: Floats) -> None:
        """Work out the gradient in every cell; values on walls count, and on the sides of joints."""
        k = self.geometry
        k.each(
            kernels.scalar_gradient,
            *(k.indptr, k.indices, k.first_b, k.face_b, self.mesh.centre, k.reach_b),
            self._at.moments,
            self._at.counts,
            phi,
            surface,
            self._g,
            self.mesh.ways,
        )
        self._bent.mend(self._g, phi, surface)

    def _feet(self) -> Floats:
        """Change from the cell centre to the foot of every boundary face, (n_boundary,)."""
        return np.asarray((self._g[self._bown] * self.geometry.shift_b).sum(axis=1))

    def _face_fluxes(self, phi: Floats) -> None:
        k = self.geometry
        g = self._g
        inner = self.mesh.n_internal
        surface = self.surface(phi)
        joints = self._joints
        if joints is not None:  # twice, so that the feet of cells askew to a joint are known on either side
            surface[joints.faces] = self._joint_surface(phi[self._bown])
            self._slopes(phi, surface)
            surface[joints.faces] = self._joint_surface(phi[self._bown] + self._feet())
        self._slopes(phi, surface)
        k.each(
            scalar_kernels.face_flux,
            self._own,
            self._nei,
            self.mesh.area,
            self.F,
            self.G,
            k.area_per_distance,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            self._tilt,
            k.span,
            phi,
            g,
            self.psi,
            self._flux,
        )
        F = self.F[inner:]
        here = phi[self._bown]
        foot = self._feet()
        leaving = here + np.minimum(self.psi[self._bown], 1.0) * foot
        crossing = np.where(F < 0, F * self.demand.value, F * leaving)
        self._flux[inner:] = np.where(self.open, crossing, -self._into(here, foot))
        if joints is not None:
            self._flux[inner:][joints.faces] = self._joint_leaving(here + foot)

    def _joint_surface(self, feet: Floats) -> Floats:
        """Give the quantity on either side of the joints, (2 k,), from that before all boundary faces."""
        assert self._joints is not None
        return self._joints.surface(feet)

    def _joint_leaving(self, feet: Floats) -> Floats:
        """Give what leaves through either side of the joints, (2 k,)."""
        assert self._joints is not None
        return self._joints.leaving(feet)

    def _near(self) -> Floats:
        """Conductance between the middle of its cell and every boundary face, (n_boundary,) m3/s."""
        inner = self.mesh.n_internal
        return np.asarray(self.G[inner:] * self.geometry.area_per_distance[inner:] * (1 + self._curve))

    def _behind(self) -> Floats:
        """Conductance between the surface and what is given behind it, (n_boundary,) m3/s; endless where
        nothing resists.
        """
        return np.asarray(self.geometry.size_b / np.maximum(self.demand.resistance * self.scale, 1e-300))

    def _bend(self) -> Floats:
        """What the bend of the profile at round walls adds to what leaves the fluid, (n_boundary,)."""
        k = self.geometry
        along = (self._g[self._bown] * k.normal_b).sum(axis=1)
        return np.asarray(self.G[self.mesh.n_internal :] * k.size_b * self._curve * along)

    def _into(self, here: Floats, foot: Floats) -> Floats:
        """Give what enters through every wall, (n_boundary,); ``here`` and ``foot`` are cell values and what
        is more at the feet of the faces.
        """
        d = self.demand
        plain = self._near()
        behind = self._behind()
        into = plain * (d.value - here - foot) - self._bend()
        into *= np.where(d.resistance > 0, behind / (behind + plain), 1.0)
        return np.where(self._walls, into, d.inflow / self.scale * self.geometry.size_b)

    def boundary_values(self) -> Floats:
        """Give the quantity on every boundary face, (n_boundary,)."""
        self._face_fluxes(self.phi)
        k = self.geometry
        d = self.demand
        inner = self.mesh.n_internal
        foot = self._feet()
        plain = np.maximum(self.G[inner:] * k.area_per_distance[inner:], 1e-300)
        surface = (
            self.phi[self._bown]
            + foot
            - np.where(self.open, 0.0, self._flux[inner:]) / plain * (self._flux[inner:] != 0)
        )
        surface = np.where(
            self._walls & (d.resistance > 0),
            d.value + self._flux[inner:] * d.resistance * self.scale / k.size_b,
            surface,
        )
        surface = np.where(self._walls & (d.resistance == 0), d.value, surface)
        if self._joints is not None:
            surface[self._joints.faces] = self._joint_surface(self.phi[self._bown] + foot)
        return np.where(self.open & (self.F[inner:] < 0), d.value, surface)

    def boundary_flux(self) -> Floats:
        """Give what leaves through every boundary face a second, in the unit of reports, (n_boundary,) of the
        whole body.
        """
        self._face_fluxes(self.phi)
        return self._flux[self.mesh.n_internal :] * self.scale * self.mesh.turn

    def balance(self) -> Balance:
        """Give the balance of the whole space; convection is counted against a value of zero."""
        leaving = self.boundary_flux()
        out = leaving[self.open]
        walls = leaving[~self.open]
        entering = self.F[self.mesh.n_internal :][self.open] < 0
        factor = self.scale * self.mesh.turn
        stored = float(np.sum(self._storage(self.phi))) * factor
        if self._swells:
            stored -= float((self.phi * self._net).sum()) * factor
        made = float(((self.source - self.sink * self.phi) * self.mesh.volume).sum()) * factor
        if len(self._fixed):  # what holds them gives or takes what they would gain
            made -= float(self._gain(self.phi)[self._fixed].sum()) * factor
        return Balance(
            float(-out[entering].sum()),
            float(out[~entering].sum()),
            float(-walls.sum()),
            made,
            stored,
        )

    @property
    def _swells(self) -> bool:
        """Whether cells push a share out as they swell: d(r V phi) = r V dphi + phi d(r V)."""
        return not self.history.steady and (np.ndim(self.ratio) > 0 or self.moving)

    def came_by_region(self) -> dict[str, tuple[float, float]]:
        """Give, of every region, what came in through all its boundary and was made in it less what it
        stored, and the most of these: reports' unit a second.
        """
        mesh = self.mesh
        cell_of = mesh.owner[mesh.n_internal :]
        leaving = self.boundary_flux()
        factor = self.scale * mesh.turn
        made = (self.source - self.sink * self.phi) * mesh.volume * factor
        made[self._fixed] -= self._gain(self.phi)[self._fixed] * factor
        stored = np.broadcast_to(self._storage(self.phi) * factor, mesh.n_cells)
        found = {}
        for name in mesh.region_names:
            mine = mesh.cells_of(name)
            if mine.any():
                through = leaving[mine[cell_of]]
                terms = float(-through.sum()), float(made[mine].sum()), float(-stored[mine].sum())
                most = max(float(np.abs(through).sum()) / 2, *(abs(term) for term in terms[1:]))
                found[name] = sum(terms), most
        return found

    # --- solving ---

    def _assemble(self) -> None:
        k = self.geometry
        inner = self.mesh.n_internal
        a = self.matrix.data
        scalar_kernels.upwind_matrix(
            self._own,
            self._nei,
            self.F,
            self.G,
            k.area_per_distance,
            k.upper,
            k.lower,
            k.indptr,
            a,
        )
        opening = np.where(self.open, np.maximum(-self.F[inner:], 0.0), 0.0)
        a[k.indptr[:-1]] += np.bincount(self._bown, self._holding() + opening, self.mesh.n_cells)
        a[k.indptr[:-1]] += self.sink * self.mesh.volume
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
        self.phi += step
        self.keep_above_floor()
        total = float(np.abs(wrong).sum())
        self._left = total / scale if scale > 0 else float(total > 0)
        return self._left

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
        """Give what a correction is solved with: the first-order matrix."""
        return self._low_order

    def solve(self, tolerance: float | None = None, hold: bool = True) -> float:
        """Solve on the present flow in one go; give the scaled residual left.

        A limited quantity is solved with the limiter fixed, a few times, until the limiter has settled;
        ``hold`` False: the limiter stays as it is. ``tolerance`` : of the scaled residual; by default 1e-10,
        in large spaces 1e-7: results differ by less than 1e-5 of themselves from there on.
        """
        if tolerance is None:
            large = not len(self.mesh.plane_area) and self.mesh.n_cells > LARGE
            tolerance = 1e-7 if large else 1e-10
        if hold:
            self.psi[:] = 1.0
            self.psi[self.jumping] = 0.0
        self._assemble()
        self._join()
        self._factorise()
        left = self._krylov(tolerance)
        if hold and self.limited != "never" and self._overshoots():
            held = self.psi.copy()
            for _ in range(LIMITER_PASSES):
                self._limit(self.phi)
                np.minimum(held, np.where(self.psi < 0.999, self.psi, 1.0), out=held)
                self.psi[:] = held
                before = self.phi.copy()
                left = self._krylov(max(tolerance, LIMITER_TOLERANCE))
                if np.abs(self.phi - before).max() < 1e-4 * (np.ptp(self.phi) or 1.0):
                    break
            if tolerance < LIMITER_TOLERANCE:
                left = self._krylov(tolerance)
        self.keep_above_floor()
        return left

    def _overshoots(self) -> bool:
        """Whether a quantity leaves the range of what feeds it, on the side where no source takes it."""
        feeding = self.demand.value[(self.open & (self.F[self.mesh.n_internal :] < 0)) | self._walls]
        given = self.source, self.demand.inflow
        gains, loses = (any(bool((way * each > 0).any()) for each in given) for way in (1.0, -1.0))
        if not len(feeding) or (gains and loses):
            return self.limited == "always"
        low = -np.inf if loses else float(feeding.min())
        high = np.inf if gains else float(feeding.max())
        low, high = (min(low, 0.0), max(high, 0.0)) if np.any(self.sink) else (low, high)
        span = high - low if np.isfinite(high - low) else float(np.ptp(self.phi))
        room = 1e-6 * (span or 1.0)
        return bool(self.phi.min() < low - room or self.phi.max() > high + room)

    def _limit(self, phi: Floats) -> None:
        k = self.geometry
        surface = self.boundary_values()
        entering = self.open & (self.F[self.mesh.n_internal :] < 0)
        small = (1e-3 * float(np.ptp(phi))) ** 2 + 1e-300
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

    def _krylov(self, tolerance: float) -> float:
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
        for _ in range(4):
            if np.linalg.norm(wrong) <= aim:
                break
            step, _ = gmres(
                LinearOperator(shape, act),
                wrong,
                rtol=0.0,
                atol=0.5 * aim,
                restart=40,
                maxiter=4,
                M=LinearOperator(shape, self._solve_low),
            )
            self.phi += step
            wrong = self.residual(self.phi)
        return float(np.linalg.norm(wrong) / scale)

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
