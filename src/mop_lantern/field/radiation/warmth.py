"""Heat carried, conducted and, between surfaces, radiated: all in one set of equations."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray
from scipy.sparse import csr_matrix
from scipy.sparse.linalg import LinearOperator

from mop_lantern.field.face_geometry import FaceGeometry
from mop_lantern.field.radiation.exchange import Exchange
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh

Floats = NDArray[np.float64]
NEWTON = 12  # passes of a solution in one go
STEADY = 1e-6  # K: surfaces that change less from pass to pass are found


class Warmth(Transported):
    """Heat, with surfaces that radiate.

    Every surface that radiates stands between the fluid before it and what lies behind it (a resistance to a
    given temperature, a solid, or nothing but a given flux): (N + B + r) T = N Tf + B Tb + q + b + e H, with
    conductances N to the fluid and B behind, and r, b, H of `Exchange`. Held surfaces keep their temperature;
    openings are black at that of what passes them. Irradiation of one surface by all others enters the
    corrections too: lagged, it would take hundreds of passes.
    """

    exchange: Exchange

    def shine(self, exchange: Exchange) -> None:
        """Let surfaces radiate from now on."""
        self.exchange = exchange
        lit = exchange.faces
        self._lit = lit
        self._through = self.open[lit]  # openings
        self._held = self._walls[lit] & (self.demand.resistance[lit] <= 0)
        self._find_shells()
        self._fixed_warmth = self._held | self._through
        self._irradiation = np.zeros(len(lit))
        self._joined_row = np.zeros(0, np.int64)
        if self._joints is not None:
            row = np.full(self.mesh.n_boundary, -1)
            row[lit] = np.arange(len(lit))
            self._joined_row = row[self._joints.faces]  # (2 k,), -1 where a side does not radiate
        self._straighten()
        self._surface_now = self._first_surface()
        self._renew()

    def _find_shells(self) -> None:
        """Look up which of the thin walls' faces radiate."""
        at = np.full(self.mesh.n_boundary, -1)
        at[self._lit] = np.arange(len(self._lit))
        self._shell_faces = np.zeros(0, np.int64) if self.shells is None else self.shells.faces
        row = at[self._shell_faces]
        self._shell_lit = row >= 0
        self._shell_row = row[row >= 0]  # of the faces that radiate

    def _straighten(self) -> None:
        """Take profiles before surfaces that adjust themselves as straight, as those before given fluxes."""
        self._curve[self._lit[~self._held]] = 0.0

    def move(self, mesh: Mesh, geometry: FaceGeometry) -> None:
        """As without radiation; what surfaces see of each other is taken as it was."""
        super().move(mesh, geometry)
        self._straighten()

    def _first_surface(self) -> Floats:
        beside = self.phi[self._bown[self._lit]]
        return np.where(self._held, self.demand.value[self._lit], beside)

    def set_diffusivity(self, cells: Floats, boundary: Floats) -> None:
        """As without radiation; the net of radiosities follows the films."""
        super().set_diffusivity(cells, boundary)
        if hasattr(self, "exchange"):
            self._renew()

    def _renew(self) -> None:
        """Form the net about the present temperatures of the surfaces."""
        self.exchange.linearise(self._surface_now)
        whole, _, _ = self._pulled()
        gain = np.where(self._fixed_warmth, 0.0, self._lit_by() / whole)
        if not len(self._shell_row):
            self.exchange.tie(gain)
            return
        assert self.shells is not None
        self.shells.tie(self._shell_pull())
        gain[self._shell_row] = 0.0
        self.exchange.tie(gain, self._shell_row, self._shells_lit)

    def _lit_by(self) -> Floats:
        """Give what irradiation of 1 W/m2 brings to every face that radiates, (k,) K m3/s."""
        return np.asarray(self.exchange.emissivity * self.exchange.size / self.scale)

    def _shell_pull(self) -> Floats:
        """As without radiation, and what a kelvin more radiates."""
        pull = super()._shell_pull()
        radiant = self.exchange.slope * self.exchange.size / self.scale
        pull[self._shell_lit] += radiant[self._shell_row]
        return pull

    def _shells_at(self, brought: Floats) -> Floats:
        """Give the temperatures of thin walls at their faces by what is brought to these, (k,) or (k, n)."""
        return brought if self.shells is None else self.shells.surface(brought)

    def _brought_by(self, lit: Floats) -> Floats:
        """Give what irradiation (s,) or (s, n) W/m2 of the thin walls' faces that radiate brings to all of
        theirs, (k,) or (k, n).
        """
        brought = np.zeros((len(self._shell_lit), *lit.shape[1:]))
        brought[self._shell_lit] = (lit.T * self._lit_by()[self._shell_row]).T
        return brought

    def _shells_lit(self, lit: Floats) -> Floats:
        """Give how much warmer such irradiation makes the faces that radiate, (s, n) K."""
        return self._shells_at(self._brought_by(lit))[self._shell_lit]

    def _shell_unlit(self, feet: Floats, bend: Floats | float) -> Floats:
        """Give the temperatures of the thin walls at their faces, (k,) K, were they not irradiated."""
        if self.shells is None:
            return np.zeros(0)
        given = np.zeros(len(self._shell_lit))
        given[self._shell_lit] = (self.exchange.less * self.exchange.size)[self._shell_row] / self.scale
        return super()._shell_surface(feet, bend) + self._shells_at(given)

    def _shell_surface(self, feet: Floats, bend: Floats | float = 0.0) -> Floats:
        """As without radiation, by the irradiation last found."""
        lit = self._irradiation[self._shell_row]
        return self._shell_unlit(feet, bend) + self._shells_at(self._brought_by(lit))

    def _pulled(self) -> tuple[Floats, Floats, Floats]:
        """Give, of every face that radiates, all conductances on its surface, that to the fluid and that to
        what lies behind, (k,) m3/s each.
        """
        lit = self._lit
        near = self._near()[lit]
        behind = np.where(self._walls, self._behind(), 0.0)[lit]
        if self._joints is not None:
            j = self._joints
            one, other = np.split(j.near, 2)
            resisted = np.concatenate([1 / (j.resisted + 1 / other), 1 / (j.resisted + 1 / one)])
            mine = self._joined_row >= 0
            near[self._joined_row[mine]] = j.near[mine]
            behind[self._joined_row[mine]] = resisted[mine]
        radiant = self.exchange.slope * self.exchange.size / self.scale
        return np.where(self._held, np.inf, near + behind + radiant), near, behind

    def _behind_value(self, feet: Floats) -> Floats:
        """Give what lies behind the faces that radiate, (k,)."""
        value = self.demand.value[self._lit].copy()
        if self._joints is not None:
            mine = self._joined_row >= 0
            value[self._joined_row[mine]] = np.roll(feet[self._joints.faces], len(self._joints.faces) // 2)[
                mine
            ]
        return value

    def _lit_surface(self, feet: Floats, bend: Floats | float = 0.0) -> Floats:
        """Give the temperatures of the faces that radiate, (k,), from those before all boundary faces
        (n_boundary,), and keep the irradiation.
        """
        lit = self._lit
        exchange = self.exchange
        whole, near, behind = self._pulled()
        given = self.demand.inflow[lit] + exchange.less
        top = near * feet[lit] + np.broadcast_to(bend, len(self._bown))[lit]
        top += behind.clip(max=1e250) * self._behind_value(feet)
        unlit = (top + given * exchange.size / self.scale) / np.where(self._held, 1.0, whole)
        passing = np.where(self.F[self.mesh.n_internal :][lit] < 0, self.demand.value[lit], feet[lit])
        held = np.where(self._through, passing, self.demand.value[lit])
        unlit = np.where(self._fixed_warmth, held, unlit)
        row = self._shell_row
        unlit[row] = self._shell_unlit(feet, bend)[self._shell_lit]
        self._irradiation = exchange.irradiation(unlit)
        found = unlit + exchange.gain * self._irradiation
        found[row] = self._shell_surface(feet, bend)[self._shell_lit]
        return np.asarray(found)

    def surface(self, phi: Floats) -> Floats:
        """As without radiation, but for what radiates."""
        lit = self._lit_surface(phi[self._bown])
        found = super().surface(phi)
        walls = ~self._through
        found[self._lit[walls]] = lit[walls]
        return found

    def _into(self, here: Floats, foot: Floats) -> Floats:
        feet = here + foot
        bend = self._bend()
        surface = self._lit_surface(feet, bend)
        into = super()._into(here, foot)
        _, near, _ = self._pulled()
        into[self._lit] = near * (surface - feet[self._lit]) - bend[self._lit]
        return into

    def _joint_surface(self, feet: Floats) -> Floats:
        j = self._joints
        assert j is not None
        return np.asarray(feet[j.faces] - self._joint_leaving(feet) / j.near)

    def _joint_leaving(self, feet: Floats) -> Floats:
        """What leaves either side of the joints: both sides meet at the surface that radiates."""
        j = self._joints
        assert j is not None
        found = super()._joint_leaving(feet)
        mine = np.flatnonzero(self._joined_row >= 0)
        other = (mine + len(j.faces) // 2) % len(j.faces)
        row = self._joined_row[mine]
        surface = self._lit_surface(feet)[row]
        _, near, behind = self._pulled()
        found[mine] = near[row] * (feet[j.faces[mine]] - surface)
        found[other] = behind[row] * (feet[j.faces[other]] - surface)
        return found

    def boundary_values(self) -> Floats:
        """As without radiation, but for what radiates."""
        found = super().boundary_values()
        feet = self.phi[self._bown] + self._feet()
        walls = ~self._through
        found[self._lit[walls]] = self._lit_surface(feet, self._bend())[walls]
        return found

    # --- solving ---

    def _holding(self) -> Floats:
        found = super()._holding()
        whole, near, _ = self._pulled()
        single = np.ones(len(self._lit), bool)
        single[self._joined_row[self._joined_row >= 0]] = False
        single[self._shell_row] = False
        single &= ~self._through
        lit = self._lit[single]
        found[lit] = (near - near**2 / whole)[single]
        return found

    def _join(self) -> None:
        super()._join()
        mine = np.flatnonzero(self._joined_row >= 0)
        if not len(mine):
            return
        j = self._joints
        assert j is not None
        half = len(j.faces) // 2
        row = self._joined_row[mine]
        whole, near, behind = (each[row] for each in self._pulled())
        one, other = j.cells[mine], j.cells[(mine + half) % (2 * half)]
        plain = j.through[mine % half]
        across = near * behind / whole
        rows = np.concatenate([one, other, one, other])
        columns = np.concatenate([one, other, other, one])
        more = [
            near - near**2 / whole - plain,
            behind - behind**2 / whole - plain,
            plain - across,
            plain - across,
        ]
        data = np.concatenate(more)
        data[np.isin(rows, self._fixed)] = 0.0
        count = self.mesh.n_cells
        self._low_order = (self._low_order + csr_matrix((data, (rows, columns)), (count, count))).tocsr()

    def _pulls(self) -> Any:
        """The first-order matrix, less what surfaces radiate to each other."""
        whole, near, behind = self._pulled()
        near = np.where(self._through, 0.0, near) / whole
        cell = self._bown[self._lit]
        mine = np.flatnonzero(self._joined_row >= 0)
        row = self._joined_row[mine]
        beyond = np.zeros(0, np.int64)
        share = np.zeros(0)
        if self._joints is not None:
            beyond = self._joints.cells[(mine + len(self._joined_row) // 2) % len(self._joined_row)]
            share = behind[row] / whole[row]
        count = self.mesh.n_cells
        matrix = super()._pulls()
        lit_by = self._lit_by()
        lit_by[self._shell_row] = 0.0
        shell_near = self._near()[self._shell_faces]
        shell_cell = self._bown[self._shell_faces]

        def act(change: Floats) -> Floats:
            change = np.ravel(change)
            unlit = near * change[cell]
            unlit[row] += share * change[beyond]
            unlit[self._shell_row] = self._shells_at(shell_near * change[shell_cell])[self._shell_lit]
            lit = self.exchange.irradiation(unlit, change=True)
            heat = lit_by * lit
            warmer = self._shells_at(self._brought_by(lit[self._shell_row]))
            out = matrix @ change - np.bincount(cell, near * heat, count)
            out -= np.bincount(shell_cell, shell_near * warmer, count)
            return np.asarray(out - np.bincount(beyond, share * heat[row], count))

        return LinearOperator(matrix.shape, act)

    def correct(self, tolerance: float = 0.05, relaxation: float = 1.0) -> float:
        """As without radiation, about the present temperatures of the surfaces."""
        self._follow()
        return super().correct(tolerance, relaxation)

    def _follow(self) -> float:
        """Be linear about the present temperatures of the surfaces; give how far off it was, K."""
        now = self.boundary_values()[self._lit]
        off = float(np.abs(now - self._surface_now).max(initial=0.0))
        self._surface_now = now
        self._renew()
        return off

    def solve(self, tolerance: float | None = None, hold: bool = True) -> float:
        """As without radiation, until the surfaces' temperatures stand."""
        left = np.inf
        for _ in range(NEWTON):
            self._follow()
            left = super().solve(tolerance, hold)
            if np.abs(self.boundary_values()[self._lit] - self._surface_now).max(initial=0.0) < STEADY:
                break
        return left

    # --- what came of it ---

    def radiated(self) -> tuple[Floats, Floats, Floats]:
        """Give the net heat every boundary face takes up by radiation (n_boundary,) W of the whole body, the
        irradiation (n_boundary,) W/m2, and the radiosity of every patch, W/m2.
        """
        surface = self.boundary_values()[self._lit]
        lit = self._irradiation
        taken = np.zeros(self.mesh.n_boundary)
        taken[self._lit] = self.exchange.taken(lit, surface) * self.exchange.size * self.mesh.turn
        falling = np.zeros(self.mesh.n_boundary)
        falling[self._lit] = lit
        return taken, falling, self.exchange.sent(lit, surface)
