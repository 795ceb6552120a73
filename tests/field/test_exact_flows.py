"""The field core on hand-made lattices against answers in closed form, in planes, about axes and in time.

Sources of the closed forms: White, *Viscous Fluid Flow* (3rd ed.), chapter 3 (channels, pipes, annuli,
porous passages); Taylor and Green, Proc. R. Soc. A 158 (1937) 499-521 (the decaying vortex, here between
walls without friction); Patankar, *Numerical Heat Transfer and Fluid Flow*, section 5.2 (convection and
diffusion); Carslaw and Jaeger, *Conduction of Heat in Solids* (2nd ed.), sections 3.3 and 7.2. All from
memory.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.field.boundary import FREE, GIVEN, SLIP, Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh
from tests.columns import Driven, column
from tests.lattices import lattice, points_of

Floats = NDArray[np.float64]
RHO, MU = 1000.0, 1.0


def sheet(nx: int, ny: int, long: float, high: tuple[float, float], axis: bool = False) -> Mesh:
    """Give an even lattice from x = 0 to ``long`` and between two heights."""
    return lattice(points_of(np.linspace(0, long, nx + 1), np.linspace(*high, ny + 1)), axis)


def open_ends(mesh: Mesh, west: float, east: float) -> Boundary:
    """Give pressures (Pa) to both ends, without taking the dynamic head from what enters; walls else."""
    boundary = Boundary.still(mesh.n_boundary)
    for name, pressure in (("west", west), ("east", east)):
        faces = mesh.faces_of(name)
        boundary.code[faces], boundary.pressed[faces], boundary.wall[faces] = FREE, True, False
        boundary.pressure[faces], boundary.head[faces] = pressure, 0.0
    return boundary


def solved(mesh: Mesh, boundary: Boundary, force: Any = None, resistance: float = 0.0) -> FlowSolver:
    """Iterate to rounding."""
    flow = FlowSolver(mesh, boundary, RHO, MU, FlowSettings(pressure_tolerance=1e-6))
    if force is not None:
        flow.set_force(np.tile(np.asarray(force, float), (mesh.n_cells, 1)))
    if resistance:
        flow.resistance = np.full(mesh.n_cells, resistance)
    for _ in range(1500):
        done = flow.step()
        if max(done.momentum, done.mass) < 1e-10:
            break
    return flow


# --- channels and pipes ---


@pytest.mark.parametrize("cells", [4, 8, 16])
def test_a_channel_between_plates_has_its_parabola(cells: int) -> None:
    """u = dp/dx (y2 - h2/4) / (2 mu): a parabola is exact on any even grid."""
    high, long, drop = 0.1, 0.2, 2.0
    mesh = sheet(4, cells, long, (-high / 2, high / 2))
    flow = solved(mesh, open_ends(mesh, drop, 0.0))
    exact = drop / long / (2 * MU) * (high**2 / 4 - mesh.centre[:, 1] ** 2)
    assert flow.U[:, 0] == pytest.approx(exact, rel=1e-6)
    assert np.abs(flow.U[:, 1]).max() < 1e-8
    shear = flow.wall_shear()[mesh.faces_of("south"), 0].sum()
    assert shear == pytest.approx(drop * high / 2, rel=1e-6), "half of the push, on one of two plates"


@pytest.mark.parametrize("cells", [6, 12])
def test_a_round_pipe_has_its_paraboloid(cells: int) -> None:
    radius, long, drop = 0.05, 0.2, 8.0
    mesh = sheet(3, cells, long, (0.0, radius), axis=True)
    mesh = _without_axis(mesh)
    flow = solved(mesh, open_ends(mesh, drop, 0.0))
    through = float(flow.flux[mesh.n_internal :][mesh.faces_of("east")].sum()) * 2 * np.pi
    exact = np.pi * radius**4 * drop / (8 * MU * long)
    assert through == pytest.approx(exact, rel=2.0 / cells**2)


def _without_axis(mesh: Mesh) -> Mesh:
    """Give the mesh without its faces on the axis: they have no area."""
    from dataclasses import replace

    inner = mesh.n_internal
    keep = np.linalg.norm(mesh.area[inner:], axis=1) > 0
    faces = np.concatenate([np.ones(inner, bool), keep])
    ends = mesh.face_points.reshape(-1, 2)[faces]
    return replace(
        mesh,
        owner=mesh.owner[faces],
        area=mesh.area[faces],
        face_centre=mesh.face_centre[faces],
        patch=mesh.patch[keep],
        face_points=ends.ravel(),
        face_offsets=np.arange(0, 2 * len(ends) + 1, 2, dtype=np.int32),
    )


def test_a_plate_drags_the_fluid_along_in_a_straight_line() -> None:
    mesh = sheet(3, 7, 0.1, (0.0, 0.05))
    boundary = open_ends(mesh, 0.0, 0.0)
    boundary.velocity[mesh.faces_of("north"), 0] = 0.3
    flow = solved(mesh, boundary)
    assert flow.U[:, 0] == pytest.approx(0.3 * mesh.centre[:, 1] / 0.05, abs=1e-9)
    pull = flow.wall_shear()[mesh.faces_of("south"), 0].sum()
    assert pull == pytest.approx(MU * 0.3 / 0.05 * 0.1, rel=1e-9)


def test_a_rod_drags_the_fluid_of_an_annulus_along_a_logarithm() -> None:
    inner, outer = 0.02, 0.06
    mesh = sheet(2, 24, 0.05, (inner, outer), axis=True)
    boundary = open_ends(mesh, 0.0, 0.0)
    boundary.velocity[mesh.faces_of("south"), 0] = 0.5
    flow = solved(mesh, boundary)
    exact = 0.5 * np.log(mesh.radius / outer) / np.log(inner / outer)
    assert np.abs(flow.U[:, 0] - exact).max() < 1e-3


@pytest.mark.parametrize("parting", [1.0, 5.0, 20.0])
def test_a_porous_channel_has_its_hyperbolic_cosine(parting: float) -> None:
    """u = u0 (1 - cosh(s y) / cosh(s h/2)), s2 = resistance / nu: flat in the middle, steep at the walls."""
    high, long, drop = 0.1, 0.2, 3.0
    s = parting / high
    resistance = s**2 * MU / RHO
    mesh = sheet(3, 40, long, (-high / 2, high / 2))
    flow = solved(mesh, open_ends(mesh, drop, 0.0), resistance=resistance)
    y = mesh.centre[:, 1]
    exact = drop / long / RHO / resistance * (1 - np.cosh(s * y) / np.cosh(s * high / 2))
    assert np.abs(flow.U[:, 0] - exact).max() < 0.006 * exact.max()


def test_a_body_force_drives_as_a_pressure_does() -> None:
    mesh = sheet(3, 8, 0.2, (-0.05, 0.05))
    by_pressure = solved(mesh, open_ends(mesh, 2.0, 0.0))
    by_force = solved(mesh, open_ends(mesh, 0.0, 0.0), force=(2.0 / 0.2 / RHO, 0.0, 0.0))
    assert pytest.approx(by_pressure.U, abs=1e-7) == by_force.U
    assert np.abs(by_force.p).max() * RHO < 1e-4


def test_a_jump_of_pressure_drives_as_the_same_at_an_end() -> None:
    """A fan without depth across the middle."""
    mesh = sheet(4, 8, 0.2, (-0.05, 0.05))
    inner = mesh.n_internal
    middle = np.flatnonzero(np.abs(mesh.face_centre[:inner, 0] - 0.1) < 1e-9)
    assert len(middle) == 8
    flow = FlowSolver(mesh, open_ends(mesh, 0.0, 0.0), RHO, MU, FlowSettings(pressure_tolerance=1e-6))
    flow.set_jumps(middle, np.full(8, 2.0))
    for _ in range(800):
        flow.step()
    assert pytest.approx(solved(mesh, open_ends(mesh, 2.0, 0.0)).U, abs=1e-6) == flow.U
    assert flow.jump_force * RHO == pytest.approx([2.0 * 0.1, 0.0, 0.0])
    pressure = flow.p.reshape(4, 8)[:, 4] * RHO
    assert pressure[2] > pressure[1], "higher behind it"


# --- in time ---


def decayed(cells: int, step: float) -> float:
    """Let a vortex between walls without friction die out for a while; give how far it is off."""
    nu, time = 0.02, 0.4
    side = np.pi
    mesh = sheet(cells, cells, side, (0.0, side))
    boundary = Boundary.still(mesh.n_boundary)
    boundary.code[:] = SLIP
    x, y = mesh.centre[:, 0], mesh.centre[:, 1]
    flow = FlowSolver(mesh, boundary, 1.0, nu, FlowSettings(pressure_tolerance=1e-8))
    flow.U[:, 0], flow.U[:, 1] = np.sin(x) * np.cos(y), -np.cos(x) * np.sin(y)
    flow.p[:] = 0.25 * (np.cos(2 * x) + np.cos(2 * y))
    inner = mesh.n_internal
    middle = mesh.face_centre[:inner]
    along = np.column_stack(
        [np.sin(middle[:, 0]) * np.cos(middle[:, 1]), -np.cos(middle[:, 0]) * np.sin(middle[:, 1])]
    )
    flow.flux[:inner] = (along * mesh.area[:inner, :2]).sum(axis=1)
    for _ in range(round(time / step)):
        flow.begin_step(step)
        flow.renew_boundary(boundary)
        for _ in range(30):
            done = flow.step()
            if max(done.momentum, done.mass) < 1e-8:
                break
    exact = np.sin(x) * np.cos(y) * np.exp(-2 * nu * time)
    return float(np.sqrt(np.mean((flow.U[:, 0] - exact) ** 2)))


def test_a_vortex_dies_out_at_second_order_in_space_and_time() -> None:
    coarse, fine = decayed(8, 0.1), decayed(16, 0.05)
    assert fine < 8e-3 and coarse / fine > 3.3


def test_a_plate_set_in_motion_is_felt_as_the_error_function_says() -> None:
    """Stokes' first problem, White section 3-5.1: u = U erfc(y / (2 sqrt(nu t)))."""
    from scipy.special import erfc

    nu, time, step = 1e-3, 0.5, 0.01
    mesh = sheet(1, 60, 0.1, (0.0, 0.15))
    boundary = open_ends(mesh, 0.0, 0.0)
    boundary.velocity[mesh.faces_of("south"), 0] = 1.0
    flow = FlowSolver(mesh, boundary, 1.0, nu, FlowSettings())
    for _ in range(round(time / step)):
        flow.begin_step(step)
        flow.renew_boundary(boundary)
        for _ in range(8):
            flow.step()
    exact = erfc(mesh.centre[:, 1] / (2 * np.sqrt(nu * time)))
    assert np.abs(flow.U[:, 0] - exact).max() < 4e-3


# --- what is carried ---


def carried(mesh: Mesh, speed: float, spread: float, **more: Any) -> Transported:
    """Carry something from 1 in the west to 0 in the east by an even stream."""
    boundary = Boundary.still(mesh.n_boundary)
    demand = ScalarBoundary.closed(mesh.n_boundary)
    west, east = mesh.faces_of("west"), mesh.faces_of("east")
    demand.value[west] = 1.0
    if speed:
        boundary.wall[west] = False
    demand.given[np.concatenate([west, east])] = True
    if more.pop("open", False):
        boundary.wall[east], boundary.code[east] = False, GIVEN
    made = Transported(
        mesh, link(mesh), boundary, demand, spread, np.zeros(mesh.n_cells), np.zeros(mesh.n_cells), **more
    )
    made.set_flow(mesh.area @ np.array([speed, 0.0, 0.0]))
    return made


@pytest.mark.parametrize("peclet", [0.0, 0.5, 3.0, -3.0, 10.0])
def test_conduction_and_a_stream_along_it_have_their_exponential(peclet: float) -> None:
    """phi = (exp(Pe) - exp(Pe x)) / (exp(Pe) - 1), held at both ends."""
    errors = []
    for cells in (20, 40):
        mesh = sheet(cells, 1, 1.0, (0.0, 0.1))
        scalar = carried(mesh, 0.0, 1.0)
        flux = mesh.area @ np.array([peclet, 0.0, 0.0])
        flux[mesh.n_internal :] = 0.0  # the ends hold their value, whatever comes through
        scalar.set_flow(flux)
        scalar.solve(1e-12)
        x = mesh.centre[:, 0]
        exact = 1 - x if not peclet else np.expm1(peclet * (1 - x)) / np.expm1(peclet) * np.exp(peclet * x)
        errors.append(float(np.abs(scalar.phi - exact).max()))
    assert errors[1] < 2e-4 * (1 + peclet**2)
    assert peclet == 0.0 or errors[0] / errors[1] > 3.0


def test_a_sink_lets_what_is_carried_decay_on_its_way() -> None:
    """phi = exp(-k x / U): 1/e after a length U / k."""
    mesh = sheet(80, 1, 1.0, (0.0, 0.1))
    scalar = carried(mesh, 2.0, 0.0, open=True)
    scalar.sink = 4.0
    scalar.solve(1e-12)
    assert np.abs(scalar.phi - np.exp(-2.0 * mesh.centre[:, 0])).max() < 2e-3
    balance = scalar.balance()
    assert abs(balance.open) < 1e-9 * balance.carried_in
    assert balance.made == pytest.approx(-2.0 * 0.1 * (1 - np.exp(-2.0)), rel=2e-3)


def test_a_front_stays_between_what_comes_and_what_is_there() -> None:
    mesh = sheet(50, 1, 1.0, (0.0, 0.1))
    scalar = carried(mesh, 1.0, 0.0, open=True, limited="always")
    for _ in range(50):  # half a cell a step: at a whole one the time differences themselves overshoot
        scalar.begin_step(0.01)
        for _ in range(12):
            scalar.correct()
    assert scalar.phi.min() > -1e-2 and scalar.phi.max() < 1 + 1e-2
    assert scalar.phi.sum() / 50 == pytest.approx(0.5, abs=0.01), "as much as has come in"
    steep = np.flatnonzero((scalar.phi > 0.1) & (scalar.phi < 0.9))
    assert len(steep) < 14, "the front is not smeared over the whole"


def test_heat_through_a_round_wall_follows_the_logarithm() -> None:
    inner, outer = 0.02, 0.05
    errors = []
    for cells in (24, 48):
        mesh = sheet(1, cells, 0.3, (inner, outer), axis=True)
        boundary = Boundary.still(mesh.n_boundary)
        demand = ScalarBoundary.closed(mesh.n_boundary)
        for name, value in (("south", 80.0), ("north", 20.0)):
            demand.value[mesh.faces_of(name)], demand.given[mesh.faces_of(name)] = value, True
        k = 0.4
        scalar = Transported(
            mesh, link(mesh), boundary, demand, k, np.zeros(mesh.n_cells), np.full(mesh.n_cells, 50.0)
        )
        scalar.solve(1e-12)
        through = float(scalar.boundary_flux()[mesh.faces_of("north")].sum())
        exact = 2 * np.pi * k * 0.3 * 60.0 / np.log(outer / inner)
        assert through == pytest.approx(
            -float(scalar.boundary_flux()[mesh.faces_of("south")].sum()), rel=1e-10
        )
        errors.append(abs(through / exact - 1))
    assert errors[1] < 1e-4 and errors[0] / errors[1] > 3


def test_a_source_in_a_slab_bends_it_to_a_parabola() -> None:
    mesh = sheet(12, 1, 0.2, (0.0, 0.1))
    scalar = carried(mesh, 0.0, 0.5)
    scalar.demand.value[:] = 0.0
    scalar.source = np.full(mesh.n_cells, 30.0)
    scalar.solve(1e-12)
    x = mesh.centre[:, 0]
    step = 0.2 / 12
    exact = 30.0 / (2 * 0.5) * (x * (0.2 - x) + step**2 / 12 * 2)
    assert scalar.phi == pytest.approx(exact, abs=0.02 * exact.max())
    assert scalar.balance().through_walls == pytest.approx(-30.0 * 0.2 * 0.1, rel=1e-10)


def test_a_floor_and_held_cells_hold() -> None:
    mesh = sheet(10, 1, 1.0, (0.0, 0.1))
    scalar = carried(mesh, 0.0, 1.0)
    scalar.source = np.full(mesh.n_cells, -50.0)
    scalar.floor = 0.0
    scalar.solve(1e-10)
    assert scalar.phi.min() == 0.0
    other = carried(mesh, 0.0, 1.0)
    other.hold_cells(np.array([4, 5]), 3.0)
    other.solve(1e-12)
    assert other.phi[4:6] == pytest.approx([3.0, 3.0], abs=1e-9)
    assert (np.diff(other.phi[:5]) > 0).all() and (np.diff(other.phi[5:]) < 0).all()
    assert abs(other.balance().open) < 1e-9


@pytest.mark.parametrize("count", [12, 24])
def test_a_channel_of_uneven_viscosity_flows_as_integrated(count: int) -> None:
    """mu = mu0 (1 + 8 y2) from the middle, y 0, to the wall, 1: u = push / (16 mu0) ln(9 / (1 + 8 y2)). Walls
    take their own viscosity, nine times that of the middle.
    """
    mesh = column(np.linspace(0, 1, count + 1), axis=False)
    boundary = Boundary.still(mesh.n_boundary)
    boundary.code[:-1] = SLIP
    settings = FlowSettings(relaxation=0.99, sweeps=60, acceleration=False)
    flow = Driven(mesh, boundary, 1.0, 0.1, settings)
    flow.push = 1.0
    flow.set_viscosity(0.1 * (1 + 8 * mesh.centre[:, 1] ** 2), np.array([0.1, 0.9]))
    for _ in range(600):
        flow.step()
    y = np.linspace(0, 1, 20001)
    exact = np.trapezoid(np.log(9 / (1 + 8 * y**2)) / 1.6, y)
    assert np.average(flow.U[:, 0], weights=mesh.volume) == pytest.approx(exact, rel=0.01)
