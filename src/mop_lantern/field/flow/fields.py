"""The flow as it is: its arrays on a mesh, what drives it, and what is formed from them anew."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, field

import numpy as np
from numpy.typing import NDArray

from mop_lantern.field import flux_kernels, kernels
from mop_lantern.field.bent import Bent
from mop_lantern.field.boundary import FREE, GIVEN, Boundary
from mop_lantern.field.face_geometry import FaceGeometry, full, link, stencil
from mop_lantern.field.flow.following import Following, laws, move_local
from mop_lantern.field.flow.leaving import shaped, weighted
from mop_lantern.field.flow.state import Floats, FlowState
from mop_lantern.field.flow.walls import WallFriction
from mop_lantern.grid import Mesh

NONE = np.zeros((0, 3))


@dataclass
class Work:
    """Arrays reused in every iteration: gradients of velocity (n_cells, 3, 3) and pressure (n_cells, 3), the
    right side b (n_cells, 3), fluxes c (n_faces,), imbalance div (n_cells,), velocity and pressure on the
    boundary.
    """

    gU: Floats
    gp: Floats
    b: Floats
    # of internal faces first the interpolated flux, until the coefficients of the correction take its place
    c: Floats
    div: Floats
    Ub: Floats
    pb: Floats = field(default_factory=lambda: np.zeros(0))


class FlowFields:
    """A flow on a mesh, before anything is solved.

    Parameters
    ----------
    mesh : any mesh. boundary : what its boundary faces demand (pressures in Pa). density : reference, kg/m3.
    viscosity : Pa s. start : where to begin, or None for rest. following : the openings whose pressure
    follows the flow.

    Attributes
    ----------
    U, p, flux : velocity (n_cells, 3) m/s, pressure over the reference density (n_cells,) m2/s2, and fluxes
    of the reference density (n_faces,) m3/s out of the owner. nu : (n_faces,) m2/s. ratio : density over the
    reference in cells, where it varies. resistance : (n_cells,) 1/s, implicit: what holds the fluid back in
    proportion to its velocity, over its density; zero length for none. sweeping : (n_faces,) m3/s that faces
    of a grid in motion sweep out of their owner; zero length where it stands still. molecular : (n_cells,)
    m2/s, of the fluid alone, where ``nu`` has what turbulence adds.
    """

    def __init__(
        self,
        mesh: Mesh,
        boundary: Boundary,
        density: float,
        viscosity: float,
        start: FlowState | None = None,
        following: Sequence[Following] = (),
    ) -> None:
        self._eddy_walls = np.zeros(0, np.int64)  # boundary faces whose friction is by a wall law
        self.boundary = boundary
        self.density = density
        self.nu = np.full(len(mesh.owner), viscosity / density)
        self.molecular = np.full(mesh.n_cells, viscosity / density)
        self._molecular_b = self.nu[mesh.n_internal :].copy()
        self._eddy: Floats | None = None
        self._wall_nu = NONE[:, 0]
        inner = mesh.n_internal
        count = mesh.n_cells
        self.own = mesh.owner
        self.nei = mesh.neighbour
        self.bown = mesh.owner[inner:]
        self._lay_out(mesh)
        self.sweeping = NONE[:, 0]
        self.U = np.zeros((count, 3)) if start is None else start.velocity.copy()
        self.p = np.zeros(count) if start is None else start.pressure / density
        self.flux = (
            np.zeros(len(mesh.owner))
            if start is None or len(start.flux) != len(mesh.owner)
            else start.flux.copy()
        )
        self.work = Work(
            np.zeros((count, 3, 3)),
            np.zeros((count, 3)),
            np.zeros((count, 3)),
            np.zeros(len(mesh.owner)),
            np.zeros(count),
            boundary.velocity.copy(),
            boundary.pressure / density,
        )
        self.planar = len(mesh.plane_area) > 0
        self.ways = mesh.ways
        self.force = NONE
        self.force_scale = 0.0
        self.stirred = NONE  # a force no pressure holds against, (n_cells, 3) m/s2
        self.resistance = np.zeros(0)
        self._weight_drop = np.zeros(inner)  # of the body force, from cell to cell
        self.drop_b = np.zeros(mesh.n_boundary)
        self._raised = np.zeros(0, np.int64)  # internal faces across which the pressure jumps
        self._rise = np.zeros(0)
        self._brake = np.zeros(0)
        self.drop = self._weight_drop
        self.uneven: Floats | None = None  # gradient of the viscosity where it varies
        self.ratio: Floats | None = None
        self.face_ratio: Floats | None = None
        self.swelling: Floats | None = None  # rate of change of the ratio, 1/s
        self.turns = bool(self.U[:, 2].any() or boundary.velocity[:, 2].any())
        self.following = following
        self.local = np.zeros(mesh.n_boundary)  # what faces lose more than their openings, m2/s2
        self.stiffness = self.sums = NONE[:, 0]  # of openings that follow the flow
        self._begin(start)

    def _lay_out(self, mesh: Mesh) -> None:
        """Form what hangs on where the grid is."""
        self.mesh = mesh
        self.geometry: FaceGeometry = link(mesh)
        self.at_pressure = stencil(mesh, self.boundary.pressed)
        self._see_walls()
        self.area_b = mesh.area[mesh.n_internal :]
        self.around = (
            self.geometry.indptr,
            self.geometry.indices,
            self.geometry.first_b,
            self.geometry.face_b,
            mesh.centre,
            self.geometry.reach_b,
        )

    def _see_walls(self) -> None:
        """Form what hangs on which boundary faces gradients of the velocity count."""
        given = self.boundary.code == GIVEN
        given[self._eddy_walls] = False
        self.at_velocity = stencil(self.mesh, given)
        self.bent = Bent(self.mesh, given)
        self.walls = WallFriction(self.mesh, self.geometry, self.at_velocity, given)
        self.walls.by_law(self._eddy_walls)

    def move(self, mesh: Mesh, sweeping: Floats) -> None:
        """Go on with the same cells and faces at other places.

        Parameters
        ----------
        mesh : the grid as it is now. sweeping : (n_faces,) m3/s that its faces sweep out of their owner;
        walls take the fluid with them.

        Raises
        ------
        ValueError : its cells or faces are others, or the density varies.
        """
        if not np.array_equal(mesh.owner, self.own) or not np.array_equal(mesh.neighbour, self.nei):
            raise ValueError("a grid that moves keeps its cells and faces")
        if self.ratio is not None:
            raise ValueError("a grid moves through fluids of one density only")
        self._lay_out(mesh)
        self.sweeping = sweeping
        inner = mesh.n_internal
        wall = self.boundary.wall
        self.flux[inner:][wall] = sweeping[inner:][wall]
        if len(self.force):
            self.set_force(self.force)

    @property
    def carrying(self) -> Floats:
        """Fluxes through faces less what the faces sweep, (n_faces,) m3/s: what carries things from cell to
        cell.
        """
        return self.flux - self.sweeping if len(self.sweeping) else self.flux

    # --- what drives it ---

    def set_viscosity(self, cells: Floats, boundary: Floats) -> None:
        """Let the dynamic viscosity vary: (n_cells,) and (n_boundary,) Pa s."""
        self.molecular = nu = cells / self.density
        self._molecular_b = boundary / self.density
        if self._eddy is not None:
            self._thicken()
            return
        inner = self.mesh.n_internal
        share = self.geometry.weight
        self.nu = np.concatenate(
            [share * nu[self.own[:inner]] + (1 - share) * nu[self.nei], boundary / self.density]
        )
        self._unevenness(nu)

    def model_walls(self, faces: NDArray[np.int64]) -> None:
        """Let a wall law give the friction of boundary faces (w,). Gradients then do not see these walls, as
        no straight line leads from a wall through a turbulent profile: with them friction in an oblique pipe
        was 10 % high, without 1 %.
        """
        self._eddy_walls = faces
        self._see_walls()

    def set_eddy(self, cells: Floats, walls: Floats) -> None:
        """Add what turbulence does.

        Parameters
        ----------
        cells : (n_cells,) eddy viscosity, m2/s. walls : (w,) viscosity of the faces of `model_walls` that
        makes their friction, m2/s.
        """
        self._eddy = cells
        self._wall_nu = walls
        self._thicken()

    def _thicken(self) -> None:
        """Form the viscosity of faces from that of the fluid and what turbulence adds."""
        assert self._eddy is not None
        inner = self.mesh.n_internal
        nu = self.molecular + self._eddy
        if len(self.nu) != len(self.own):
            self.nu = np.empty(len(self.own))
        self.geometry.each(flux_kernels.log_mean, self.own, self.nei, nu, self.nu)
        self.nu[inner:] = np.where(
            self.boundary.wall & (self.boundary.code == GIVEN), self._molecular_b, nu[self.bown]
        )
        self.nu[inner:][self._eddy_walls] = self._wall_nu
        self._unevenness(nu)

    def _unevenness(self, nu: Floats) -> None:
        """Form the gradient of the viscosity (n_cells,)."""
        at = self.at_pressure
        gradient = np.zeros((len(nu), 3))
        unknown = np.zeros(len(self.bown))
        self.geometry.each(
            kernels.scalar_gradient,
            *self.around,
            at.moments,
            unknown > 0,
            nu,
            unknown,
            gradient,
            self.ways,
        )
        self.uneven = gradient

    def set_force(self, force: Floats) -> None:
        """Set the body force over the reference density, (n_cells, 3) m/s2."""
        mesh = self.mesh
        inner = self.mesh.n_internal
        own = self.own[:inner]
        nei = self.nei
        self.force = force
        away = force - np.average(force, axis=0, weights=mesh.volume)
        uneven, whole = (float((mesh.volume[:, None] * np.abs(part)).sum()) for part in (away, force))
        self.force_scale = 0.1 * max(
            uneven, 1e-6 * whole
        )  # a fluid coming to rest has no other scale; of an even force only rounding would be left
        between = mesh.centre[nei] - mesh.centre[own]
        self._weight_drop = (0.5 * (force[own] + force[nei]) * between).sum(axis=1)
        self.drop_b = (force[self.bown] * self.geometry.reach_b).sum(axis=1)
        self._sum_drops()

    def stir(self, force: Floats) -> None:
        """Set a force that turns the fluid, (n_cells, 3) m/s2 or (0, 3): it is left to the momentum whole,
        as no pressure can hold against it.
        """
        self.stirred = force
        if self.mesh.axisymmetric and force[:, 2].any():
            self.turns = True

    def set_jumps(self, faces: NDArray[np.int64], rise: Floats, brake: Floats | None = None) -> None:
        """Let the pressure jump up by ``rise`` (k,) Pa across internal faces (k,), from the owner to the
        neighbour: a fan without depth. ``brake`` : (k,) Pa s/m3, how much less it rises as the flux through
        the face grows; none is zero.
        """
        self._raised = np.asarray(faces, np.int64)
        self._rise = np.asarray(rise, float) / self.density
        self._brake = np.zeros(len(self._rise)) if brake is None else np.asarray(brake, float) / self.density
        self._sum_drops()

    def _sum_drops(self) -> None:
        self.drop = self._weight_drop
        if len(self._raised):
            self.drop = self._weight_drop.copy()
            self.drop[self._raised] += self._rise

    def braked(self, response: Floats) -> tuple[NDArray[np.int64], Floats]:
        """Give the faces across which the pressure jumps, and how much of a change of their flux their brake
        lets through, 0 to 1. ``response`` : (n_cells,) s, of the velocity to a pressure gradient.
        """
        at = self._raised
        share = self.geometry.weight[at]
        mean = share * response[self.own[at]] + (1 - share) * response[self.nei[at]]
        return at, 1 / (1 + mean * self.geometry.area_per_distance[at] * self._brake)

    def gives_way(self, change: Floats) -> Floats:
        """Give how the jumps change with the flux through their faces, (k,) m2/s2."""
        return -self._brake * change[self._raised]

    @property
    def jump_force(self) -> Floats:
        """Force of the jumps on the fluid over the reference density, (3,) m4/s2."""
        return np.asarray((self._rise[:, None] * self.mesh.area[self._raised]).sum(axis=0))

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
        share = self.geometry.weight
        face = np.concatenate([share * cells[self.own[:inner]] + (1 - share) * cells[self.nei], boundary])
        self.ratio = cells
        self.face_ratio = face
        self.swelling = rate
        given = (self.boundary.code == GIVEN) & ~self.boundary.wall
        self.flux[inner:][given] = ((self.boundary.velocity * self.area_b).sum(axis=1) * boundary)[given]

    @property
    def body_force(self) -> Floats:
        """Body force over the reference density, (n_cells, 3) m/s2; (0, 3) where there is none."""
        return self.force

    # --- scales ---

    def level_pressure(self, least: float) -> None:
        """Shift the pressure to the level the openings give: a wrong level would first have to be blown out
        through them.
        """
        pressed = self.boundary.pressed
        if pressed.any():
            size = self.geometry.size_b[pressed]
            shift = float(np.average((self.work.pb - self.p[self.bown])[pressed], weights=size))
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
        dragged = np.linalg.norm(self.boundary.velocity, axis=1) * self.geometry.size_b
        turned = float(np.abs(self.flux).mean()) * np.sqrt(
            self.mesh.n_cells
        )  # a closed space stirred from inside
        return float(dragged.sum()) or turned or 1e-300

    @property
    def reference_speed(self) -> float:
        """Give the scale of speed the boundary sets, m/s: given velocities, or what the pressures could
        drive.
        """
        pressures = self.boundary.pressure[self.boundary.pressed]
        driven = np.sqrt(2 * np.ptp(pressures) / self.density) if len(pressures) else 0.0
        given = float(np.linalg.norm(self.boundary.velocity, axis=1).max(initial=0.0))
        given = max(given, float(self.boundary.outward.max(initial=0.0)))
        risen = (
            0.0
            if not len(self.force)
            else np.sqrt(2 * np.ptp(self.mesh.centre, axis=0).max() * np.abs(self.force).max())
        )
        pushed = np.sqrt(2 * np.abs(self._rise).max(initial=0.0))
        return max(given, float(driven), float(risen), float(pushed)) or 1.0

    def _begin(self, start: FlowState | None) -> None:
        """Set given fluxes; with a start on another grid, interpolate the others."""
        inner = self.mesh.n_internal
        b = self.boundary
        given = (b.code == GIVEN) & ~b.wall
        self.flux[inner:][b.wall] = 0.0
        self.flux[inner:][given] = (b.velocity * self.area_b).sum(axis=1)[given]
        self.let_leave()
        self.level_pressure(0.1 * float(np.ptp(self.p)))
        if start is not None and len(start.flux) != len(self.mesh.owner):
            self.form_gradients()
            self.interpolate(self.flux[:inner])
            free = (b.code == FREE) & b.pressed
            self.flux[inner:][free] = (self.U[self.bown] * self.area_b).sum(axis=1)[free]
        if self.following:
            self._begin_following()
            self.level_pressure(0.1 * float(np.ptp(self.p)))

    def let_leave(self) -> None:
        """Let given flows leave as they did before, against the pressure inside."""
        b = self.boundary
        mine = b.leaving >= 0
        if mine.any():
            flux = self.flux[self.mesh.n_internal :]
            size = self.geometry.size_b
            ratio = np.ones(len(flux)) if self.face_ratio is None else self.face_ratio[self.mesh.n_internal :]
            flux[mine] = shaped(b, flux / ratio, size) * ratio[mine]
            self.work.pb[mine] = weighted(b, self.p[self.bown], size)

    def _begin_following(self) -> None:
        """Let openings that follow the flow begin with what the first flow makes.

        Their slopes begin as where the fluid runs as fast as what drives it could make it: from rest the
        first flow overshoots, and a curve is flat at rest.
        """
        every = self.following
        size = self.geometry.size_b
        fast = self.reference_speed * np.array([size[one.faces].sum() for one in every])
        self.stiffness = laws(every, fast, float(fast.sum()), self.density)[1]
        self.sums = self.through()
        self.enters = self.entering()
        now = [self.boundary.pressure[one.faces[0]] / self.density for one in every]
        rise = laws(every, self.sums, self.enters, self.density)[0] - now
        held = np.array([one.holds_flow for one in every])
        self.move_followed(np.where(held, 0.0, rise))

    # --- formed anew ---

    def boundary_velocity(self) -> Floats:
        """Refresh and give the boundary velocities: free faces follow the cell, or enter square to the
        face.
        """
        work = self.work
        inner = self.mesh.n_internal
        free = self.boundary.code == FREE
        if free.any():
            flux = self.flux[inner:]
            size = self.geometry.size_b
            ratio = 1.0 if self.face_ratio is None else self.face_ratio[inner:]
            entering = (flux / ratio / size)[:, None] * self.geometry.normal_b
            entering[:, 2] += self.boundary.velocity[:, 2]
            work.Ub[free] = np.where((flux < 0)[:, None], entering, self.U[self.bown])[free]
            # what enters comes from still fluid at the given pressure: without this an inflow feeds on itself
            head = np.where(flux < 0, 0.5 * self.boundary.head * (flux / size) ** 2 / ratio, 0.0)
            move_local(
                self.local,
                self.following,
                self.boundary.loss,
                flux / ratio,
                size,
                ratio,
                work.c[inner:],
            )
            target = self.boundary.pressure / self.density - head + self.local + self._departure()
            work.pb += 0.3 * (target - work.pb) * self.boundary.pressed
        return work.Ub

    def entering(self) -> float:
        """Give the volume flow into the space, m3/s as stored: what is given to enter, else what openings
        bring on the whole that do not follow it.
        """
        inner = self.mesh.n_internal
        flux = self.flux[inner:] if self.face_ratio is None else self.flux[inner:] / self.face_ratio[inner:]
        given = float(np.maximum(-flux[self.boundary.code == GIVEN], 0.0).sum())
        if given > 0:
            return given
        net = np.bincount(self.mesh.patch, flux)
        return float(np.maximum(-net, 0.0).sum())

    def through(self) -> Floats:
        """Give the volume flow out through every opening that follows the flow, m3/s as stored."""
        inner = self.mesh.n_internal
        flux = self.flux[inner:] if self.face_ratio is None else self.flux[inner:] / self.face_ratio[inner:]
        return np.array([flux[one.faces].sum() for one in self.following])

    def move_followed(self, rise: Floats) -> None:
        """Raise the pressure of the openings that follow the flow, by (k,) m2/s2."""
        for one, by in zip(self.following, rise, strict=True):
            self.boundary.pressure[one.faces] += by * self.density
            self.work.pb[one.faces] += by

    def _departure(self) -> Floats | float:
        """Give how far the pressure inside departs from its mean along every opening whose mean alone is
        given.
        """
        group = self.boundary.group
        if group.max(initial=-1) < 0:
            return 0.0
        inside = self.p[self.bown]
        own = group >= 0
        count = int(group.max()) + 1
        size = self.geometry.size_b * own
        index = np.maximum(group, 0)
        mean = np.bincount(index, size * inside, count) / np.maximum(np.bincount(index, size, count), 1e-300)
        return np.where(own, inside - mean[index], 0.0)

    @property
    def parts(self) -> tuple[int, ...]:
        """Components of the velocity in play: a plane flow has a third one only when it turns about its
        axis.
        """
        return self.ways if self.planar and not self.turns else (0, 1, 2)

    def form_gradients(self) -> None:
        """Work out the gradients of velocity and pressure."""
        v = self.at_velocity
        p = self.at_pressure
        work = self.work
        Ub = self.boundary_velocity()
        self.geometry.each(
            kernels.gradients,
            *self.around,
            v.moments,
            v.counts,
            self.U,
            Ub,
            work.gU,
            p.moments,
            p.counts,
            self.p,
            work.pb,
            self.force,
            self.drop_b,
            work.gp,
            self.parts,
            self.ways,
        )
        self.bent.mend(work.gU, self.U, Ub)
        self.leave_jumps_out(work.gp, self._rise)
        if self._eddy is not None and not (len(self.force) or len(self._raised) or self.mesh.axisymmetric):
            self._balance_pressure()

    def _balance_pressure(self) -> None:
        """Replace the gradient of the pressure by one that is a sum of forces on faces: at high Reynolds
        numbers a channel falls by little, and forces that do not cancel between cells count (5 to 11 % of the
        fall along turned channels, measured).
        """
        work = self.work
        k = self.geometry
        conserving = np.empty_like(work.gp)
        k.scatter(
            flux_kernels.gauss_gradient,
            self.own,
            self.nei,
            self.mesh.area,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            self.mesh.volume,
            k.first_b,
            k.face_b,
            k.reach_b,
            work.pb,
            self.boundary.level,
            self.p,
            work.gp,
            conserving,
            self.mesh.n_internal,
        )
        work.gp[:] = conserving

    def leave_jumps_out(self, gradient: Floats, rise: Floats) -> None:
        """Take jumps (k,) m2/s2 out of pressure gradients (n_cells, 3) beside them: least-squares sums
        are linear.
        """
        if not len(self._raised):
            return
        owner = self.own[self._raised]
        neighbour = self.nei[self._raised]
        apart = self.mesh.centre[neighbour] - self.mesh.centre[owner]
        share = (rise / (apart**2).sum(axis=1))[:, None] * apart
        for cells in (owner, neighbour):
            less = np.einsum("fij,fj->fi", full(self.at_pressure.moments[cells]), share)
            np.subtract.at(gradient, cells, less)

    def interpolate(self, into: Floats) -> None:
        """Write the fluxes of the interpolated velocity through internal faces, (n_internal,) m3/s."""
        k = self.geometry
        k.each(
            flux_kernels.interpolated_flux,
            self.own,
            self.nei,
            self.mesh.area,
            k.weight,
            k.skew,
            k.shift_o,
            k.shift_n,
            self.U,
            self.work.gU,
            into,
            self.ways,
        )

    def free_flux(self) -> Floats:
        """Flux of the cell velocity through boundary faces."""
        foot = np.einsum("fij,fj->fi", self.work.gU[self.bown], self.geometry.shift_b)
        return np.asarray(((self.U[self.bown] + foot) * self.area_b).sum(axis=1))

    @property
    def velocity_gradient(self) -> Floats:
        """Gradient g[cell, component, direction] of the present velocity, 1/s; do not change it."""
        self.form_gradients()
        return self.work.gU

    def state(self) -> FlowState:
        """Give a copy of the present state."""
        return FlowState(self.U.copy(), self.p * self.density, self.flux.copy())
