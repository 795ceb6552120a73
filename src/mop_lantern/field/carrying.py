"""What the flow carries, as an operator: heat, species, age.

d(r phi)/dt + div(F phi) = div(G grad phi) + S, with fluxes F of the reference density, G = k / (rho c) and r
the density ratio. Second order; convection may be held by a limiter.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix

from mop_lantern.field import flux_kernels, kernels, scalar_kernels
from mop_lantern.field.balance import Balance
from mop_lantern.field.bent import Bent
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import FaceGeometry, stencil, wall_curvature
from mop_lantern.field.held_in_time import HeldInTime
from mop_lantern.field.joints import Joints
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.scalar_history import ScalarHistory
from mop_lantern.field.shell_net import ShellNet
from mop_lantern.field.shells import Shells
from mop_lantern.field.wall_store import WallStore
from mop_lantern.grid import Mesh
from mop_lantern.numerics.multigrid import Multigrid

Floats = NDArray[np.float64]


class Carrying:
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
        self.thinness: Floats | None = None  # density of a gas over the reference, (n_cells,)
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
        self.shells: Shells | None = None  # thin walls that conduct along themselves
        self.stores: dict[str, WallStore] = {}  # walls that hold what is carried
        self.held: HeldInTime | None = None  # where steps in time must leave nothing below nothing
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

    def thin(self, ratio: Floats) -> None:
        """Let cells hold ``ratio`` (n_cells,) times what the reference density would: of a gas whose density
        changes, where fluxes are those of mass over the reference density.
        """
        self.thinness = ratio

    @property
    def _bulk(self) -> Floats:
        """What cells hold of fluid, (n_cells,) m3 of the reference density."""
        volume = self.mesh.volume
        return volume if self.thinness is None else volume * self.thinness

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

    def tie_shells(self, net: ShellNet) -> None:
        """Let thin walls conduct along themselves from now on."""
        self.shells = Shells(net, self.scale)

    def renew(self, demand: ScalarBoundary) -> None:
        """Take what the boundary demands in a time step that was begun; walls that hold heat answer by it."""
        for store in self.stores.values():
            mine = store.faces
            demand.hold(mine, *store.behind(demand.value[mine], demand.resistance[mine]))
        self.demand = demand

    def lay_walls(self, within: Mapping[str, Floats], fresh: bool) -> None:
        """Begin with temperatures within walls that `within_walls` gave. All others begin straight between
        the outside and their surface, which is as warm as the fluid beside it where a case begins ``fresh``,
        else as the solution it begins with has it at the first step.
        """
        for name, store in self.stores.items():
            mine = store.faces
            known = within.get(name)
            if known is not None and known.shape == (self.mesh.n_boundary, store.slices):
                store.lay(known[mine])
            elif fresh:
                beside = self.phi[self._bown[mine]]
                store.lay(store.even(beside, self.demand.value[mine], self.demand.resistance[mine]))

    def within_walls(self, surface: Floats) -> dict[str, Floats]:
        """Give the temperatures within walls that hold heat, in time, by their names: (n_boundary, slices),
        nan elsewhere; ``surface`` : (n_boundary,) on all.
        """
        found: dict[str, Floats] = {}
        if self.history.steady:
            return found
        for name, store in self.stores.items():
            found[name] = np.full((self.mesh.n_boundary, store.slices), np.nan)
            found[name][store.faces] = store.within(surface[store.faces])
        return found

    def begin_step(self, step: float) -> None:
        """Begin a time step of so many seconds; the guess is carried on evenly."""
        if self.stores:
            surface, old = self.boundary_values(), self.demand
            for store in self.stores.values():
                mine = store.faces
                store.begin_step(step, surface[mine], old.value[mine], old.resistance[mine])
        plain = self.limited == "always" and np.ndim(self.ratio) == 0 and not self.moving
        if plain and self._joints is None:
            self.held = self.held or HeldInTime(self.mesh)
            self._face_fluxes(self.phi)
            low, high = self._range(self.phi)
            self.held.begin(step, self.phi, self._passing(), self._losing(self.phi), low, high, self._bulk)
        else:
            self.held = None
        guess = self.history.begin_step(step, self.phi, self._bulk, plain=self.held is not None)
        self.phi = guess if self.held is None else np.clip(guess, low, high)

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
        self._sum(self._passing(), self._out)
        gain = self.source * self.mesh.volume - self._losing(phi) - self._out + phi * self._net
        return gain - self._storage(phi)

    def _passing(self) -> Floats:
        """Give what passes every face as `_face_fluxes` found it, in a time step on the whole, (n_faces,)."""
        return self._flux if self.held is None else self.held.passing(self._flux)

    def _losing(self, phi: Floats) -> Floats:
        """Give what cells lose by decay, in a time step on the whole, (n_cells,)."""
        now = np.broadcast_to(self.sink * phi * self._bulk, len(phi))
        return now if self.held is None else self.held.losing(now)

    def _fed(self) -> tuple[Floats, bool, bool]:
        """Give the values of what enters and what walls hold, (k,), and whether a source gives, and takes."""
        feeding = self.demand.value[(self.open & (self.F[self.mesh.n_internal :] < 0)) | self._walls]
        given = self.source, self.demand.inflow
        gains, loses = (any(bool((way * each > 0).any()) for each in given) for way in (1.0, -1.0))
        return feeding, gains, loses

    def _range(self, phi: Floats) -> tuple[float, float]:
        """Give what the quantity cannot leave by being carried: the range it has and that of what feeds it,
        without end on a side where a source takes it.
        """
        feeding, gains, loses = self._fed()
        every = np.concatenate([phi, feeding, [0.0] if np.any(self.sink) else []])
        return (-np.inf if loses else float(every.min())), (np.inf if gains else float(every.max()))

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
        found = np.where(d.resistance > 0, mixed, d.value)
        if self.shells is not None:
            found[self.shells.faces] = self._shell_surface(phi[self._bown])
        return found

    def _shell_surface(self, feet: Floats, bend: Floats | float = 0.0) -> Floats:
        """Give the temperatures of the thin walls at their faces, (k,), from those before all boundary faces
        (n_boundary,).
        """
        assert self.shells is not None
        mine = self.shells.faces
        near, behind = self._near()[mine], self._behind()[mine]
        self.shells.tie(self._shell_pull())
        heated = self.demand.inflow[mine] * self.geometry.size_b[mine] / self.scale
        bent = np.broadcast_to(bend, len(feet))[mine]
        return self.shells.surface(near * feet[mine] + bent + behind * self.demand.value[mine] + heated)

    def _shell_pull(self) -> Floats:
        """Give all conductances on the thin walls at their faces, (k,) m3/s."""
        assert self.shells is not None
        return np.asarray((self._near() + self._behind())[self.shells.faces])

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
        if self.shells is not None:
            mine = self.shells.faces
            bend = self._bend()
            feet = here + foot
            into[mine] = plain[mine] * (self._shell_surface(feet, bend) - feet[mine]) - bend[mine]
        return np.where(self._walls, into, d.inflow / self.scale * self.geometry.size_b)

    def boundary_values(self) -> Floats:
        """Give the quantity on every boundary face, (n_boundary,)."""
        self._face_fluxes(self.phi)
        k = self.geometry
        d = self.demand
        inner = self.mesh.n_internal
        foot = self._feet()
        plain = np.maximum(self.G[inner:] * k.area_per_distance[inner:], 1e-300)
        idle = self.open | (self._flux[inner:] == 0)  # what is held inside is held here as well
        foot = np.where(idle, np.minimum(self.psi[self._bown], 1.0), 1.0) * foot
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
        if self.shells is not None:
            feet = self.phi[self._bown] + self._feet()
            surface[self.shells.faces] = self._shell_surface(feet, self._bend())
        if self._joints is not None:
            surface[self._joints.faces] = self._joint_surface(self.phi[self._bown] + foot)
        return np.where(self.open & (self.F[inner:] < 0), d.value, surface)

    def boundary_flux(self) -> Floats:
        """Give what leaves through every boundary face a second, in the unit of reports, (n_boundary,) of the
        whole body.
        """
        self._face_fluxes(self.phi)
        return self._flux[self.mesh.n_internal :] * self.scale * self.mesh.turn

    def _left_in_step(self) -> Floats:
        """Give what leaves through every boundary face, in a time step on the whole, as `boundary_flux`."""
        self._face_fluxes(self.phi)
        return self._passing()[self.mesh.n_internal :] * self.scale * self.mesh.turn

    def balance(self) -> Balance:
        """Give the balance of the whole space; convection is counted against a value of zero."""
        leaving = self._left_in_step()
        out = leaving[self.open]
        walls = leaving[~self.open]
        entering = self.F[self.mesh.n_internal :][self.open] < 0
        factor = self.scale * self.mesh.turn
        stored = float(np.sum(self._storage(self.phi))) * factor
        if self._swells:
            stored -= float((self.phi * self._net).sum()) * factor
        made = float((self.source * self.mesh.volume - self._losing(self.phi)).sum()) * factor
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
        dense = np.ndim(self.ratio) > 0 or self.thinness is not None
        return not self.history.steady and (dense or self.moving)

    def came_by_region(self) -> dict[str, tuple[float, float]]:
        """Give, of every region, what came in through all its boundary and was made in it less what it
        stored, and the most of these: reports' unit a second.
        """
        mesh = self.mesh
        cell_of = mesh.owner[mesh.n_internal :]
        leaving = self._left_in_step()
        factor = self.scale * mesh.turn
        made = (self.source * mesh.volume - self._losing(self.phi)) * factor
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
