"""The field core on blocks of bricks made by hand: no case, no window; exact answers and balances."""

from __future__ import annotations

import os
import subprocess
import sys
from collections.abc import Callable
from typing import Any

import numpy as np
import pytest

from mop_lantern.field.boundary import FREE, SLIP, Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.flow import FlowSettings, FlowSolver, Following
from mop_lantern.field.force_balance import force_balance
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh, box
from mop_lantern.grid.zones import in_box, in_cylinder

LENGTH = 0.3  # m
CONDUCTIVITY = 0.5  # W/m/K
HEAT = 1.0e6  # J/m3/K
DIFFUSIVITY = CONDUCTIVITY / HEAT


def block(counts: tuple[int, int, int] = (6, 4, 3)) -> Mesh:
    """Make a block 0.3 m long, 0.2 m deep and 0.1 m high."""
    return box(counts, (LENGTH, 0.2, 0.1))


def slab(
    mesh: Mesh,
    ends: tuple[float, float] = (300.0, 280.0),
    resistance: float = 0.0,
    source: float = 0.0,
    start: float = 290.0,
) -> Transported:
    """Make heat that passes from west to east; the other walls are insulated."""
    demand = ScalarBoundary.closed(mesh.n_boundary)
    for name, value in zip(("west", "east"), ends, strict=True):
        faces = mesh.faces_of(name)
        demand.value[faces] = value
        demand.given[faces] = True
        demand.resistance[faces] = resistance
    return Transported(
        mesh,
        link(mesh),
        Boundary.still(mesh.n_boundary),
        demand,
        DIFFUSIVITY,
        np.full(mesh.n_cells, source / HEAT),
        np.full(mesh.n_cells, start),
        scale=HEAT,
    )


def passing(scalar: Transported, mesh: Mesh, name: str) -> float:
    """Give the heat that leaves through a wall, W."""
    return float(scalar.boundary_flux()[mesh.faces_of(name)].sum())


# --- flow ---


def test_a_still_box_stays_still() -> None:
    mesh = block()
    flow = FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1000.0, 1e-3, FlowSettings())
    for _ in range(5):
        flow.step()
    assert not flow.U.any() and not flow.flux.any()


def test_weight_is_carried_by_pressure_alone() -> None:
    """A closed box under gravity: no flow, and the pressure rises evenly by rho g h."""
    mesh = block()
    flow = FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1000.0, 1.0, FlowSettings(acceleration=False))
    flow.set_force(np.tile([0.0, 0.0, -9.81], (mesh.n_cells, 1)))
    for _ in range(200):
        flow.step()
    pressure = flow.p * 1000.0
    expected = -1000.0 * 9.81 * mesh.centre[:, 2]
    assert np.abs((pressure - pressure.mean()) - (expected - expected.mean())).max() < 1e-3
    assert np.abs(flow.U).max() < 1e-7


def test_a_frictionless_stream_passes_unchanged() -> None:
    mesh = block()
    boundary = Boundary.still(mesh.n_boundary)
    for name in ("south", "north", "bottom", "top"):
        boundary.code[mesh.faces_of(name)] = SLIP
    west, east = mesh.faces_of("west"), mesh.faces_of("east")
    boundary.velocity[west] = (0.2, 0.0, 0.0)
    boundary.code[east] = FREE
    boundary.pressed[east] = True
    boundary.wall[np.concatenate([west, east])] = False
    flow = FlowSolver(mesh, boundary, 1000.0, 1e-3, FlowSettings())
    for _ in range(60):
        flow.step()
    flow.project_mass()
    assert np.abs(flow.U - [0.2, 0.0, 0.0]).max() < 1e-6
    through = flow.flux[mesh.n_internal :]
    assert through[east].sum() == pytest.approx(0.2 * 0.2 * 0.1, rel=1e-9)


def pushed(law: Callable[[float, float], tuple[float, float]]) -> tuple[float, float]:
    """Let 100 Pa of total pressure push water through a frictionless duct of 0.02 m2 whose outlet follows a
    law; give flow and pressure there.
    """
    mesh = block((4, 2, 2))
    boundary = Boundary.still(mesh.n_boundary)
    for name in ("south", "north", "bottom", "top"):
        boundary.code[mesh.faces_of(name)] = SLIP
    west, east = mesh.faces_of("west"), mesh.faces_of("east")
    both = np.concatenate([west, east])
    boundary.code[both] = FREE
    boundary.pressed[both] = True
    boundary.wall[both] = False
    boundary.pressure[west] = 100.0
    flow = FlowSolver(mesh, boundary, 1000.0, 1e-3, FlowSettings(), None, [Following(east, 1.0, law)])
    for _ in range(600):
        if flow.step().momentum < 1e-8:
            break
    return float(flow.through()[0]), float(boundary.pressure[east][0])


@pytest.mark.parametrize("resistance", [0.0, 1e5, 1e7, 1e10])
def test_an_outlet_that_resists_by_the_square_of_the_flow(resistance: float) -> None:
    """100 Pa = R Q2 + rho/2 (Q/A)2, from a thousandth of the dynamic pressure to ten thousand times it, where
    taking the pressure from the last iteration would run away. Source: Bernoulli's equation.
    """
    flow, pressure = pushed(lambda q, _: (resistance * q * abs(q), 2 * resistance * abs(q)))
    assert flow == pytest.approx(np.sqrt(100.0 / (resistance + 500.0 / 0.02**2)), rel=1e-6)
    assert pressure == pytest.approx(resistance * flow**2, rel=1e-6, abs=1e-9)


def test_an_outlet_against_a_head_lets_fluid_back() -> None:
    """120 Pa behind it, 20 Pa a litre a second: it flows backwards, and what enters loses its dynamic
    pressure.
    """
    slope = 20.0 / 1e-3
    flow, pressure = pushed(lambda q, _: (120.0 + slope * q, slope))
    back = (-slope + np.sqrt(slope**2 + 4 * 500.0 / 0.02**2 * 20.0)) / (2 * 500.0 / 0.02**2)
    assert flow == pytest.approx(-back, rel=1e-6)
    assert pressure == pytest.approx(120.0 - slope * back, rel=1e-6)


def stirred(mesh: Mesh, steps: int = 120) -> FlowSolver:
    """Stir a closed box by its lid until it hardly changes, Reynolds number 20."""
    boundary = Boundary.still(mesh.n_boundary)
    boundary.velocity[mesh.faces_of("top")] = (0.01, 0.0, 0.0)
    flow = FlowSolver(mesh, boundary, 1000.0, 0.05, FlowSettings())
    for _ in range(steps):
        made = flow.step()
        if made.momentum < 1e-9:
            break
    flow.project_mass()
    return flow


def test_a_stirred_box_loses_no_mass_and_its_forces_add_up() -> None:
    mesh = block((8, 6, 6))
    flow = stirred(mesh)
    leaving = np.bincount(mesh.owner, flow.flux, mesh.n_cells)
    leaving -= np.bincount(mesh.neighbour, flow.flux[: mesh.n_internal], mesh.n_cells)
    assert np.abs(leaving).max() < 1e-12 * np.abs(flow.flux).max()
    left, scale = force_balance(flow)
    assert np.linalg.norm(left) < 0.02 * scale, "the limit of the trust list"


def test_a_box_stirred_the_other_way_flows_the_other_way() -> None:
    """Mirror symmetry in x, of the whole field."""
    mesh = block((6, 4, 4))
    one = stirred(mesh)
    boundary = Boundary.still(mesh.n_boundary)
    boundary.velocity[mesh.faces_of("top")] = (-0.01, 0.0, 0.0)
    other = FlowSolver(mesh, boundary, 1000.0, 0.05, FlowSettings())
    for _ in range(120):
        if other.step().momentum < 1e-9:
            break
    mirrored = mesh.centre * [-1.0, 1.0, 1.0] + [LENGTH, 0.0, 0.0]
    partner = [int(((mesh.centre - place) ** 2).sum(axis=1).argmin()) for place in mirrored]
    assert np.abs(other.U[partner] * [-1.0, 1.0, 1.0] - one.U).max() < 1e-6 * 0.01


# --- what is carried ---


@pytest.mark.parametrize("counts", [(3, 1, 1), (6, 4, 3), (17, 2, 2)])
def test_heat_through_a_slab_is_exact_on_any_number_of_cells(counts: tuple[int, int, int]) -> None:
    mesh = block(counts)
    scalar = slab(mesh)
    scalar.solve()
    assert np.abs(scalar.phi - (300.0 - 20.0 * mesh.centre[:, 0] / LENGTH)).max() < 1e-8
    exact = CONDUCTIVITY * 20.0 / LENGTH * 0.02
    assert passing(scalar, mesh, "east") == pytest.approx(exact, rel=1e-9)
    assert passing(scalar, mesh, "west") == pytest.approx(-exact, rel=1e-9)


def test_a_field_that_is_even_already_is_told_to_be_done() -> None:
    """Nothing is wrong but rounding: a residual of rounding over rounding never came to rest."""
    mesh = block()
    heat = slab(mesh, ends=(353.15, 353.15), start=353.15)
    heat.phi += 1e-13 * np.arange(mesh.n_cells)
    assert heat.correct() < 1e-6
    warmer = slab(mesh, ends=(353.15, 353.15 + 1e-3), start=353.15)
    assert warmer.correct() > 0.1, "a thousandth of a kelvin still counts"


def test_films_on_both_sides_add_up_with_the_slab() -> None:
    """Resistances in series: 2 R + L / k. Exact."""
    mesh = block()
    scalar = slab(mesh, resistance=0.125)
    scalar.solve()
    exact = 20.0 / (2 * 0.125 + LENGTH / CONDUCTIVITY) * 0.02
    assert passing(scalar, mesh, "east") == pytest.approx(exact, rel=1e-9)
    skin = scalar.boundary_values()[mesh.faces_of("west")]
    assert np.abs(skin - (300.0 - exact / 0.02 * 0.125)).max() < 1e-7


def test_what_is_made_inside_leaves_through_the_walls() -> None:
    """A parabola between equal walls, q L2 / 8 k high; second order, and the balance closes."""
    mesh = block((24, 2, 2))
    scalar = slab(mesh, ends=(290.0, 290.0), source=1000.0)
    scalar.solve()
    height = 1000.0 * LENGTH**2 / (8 * CONDUCTIVITY)
    middle = np.abs(mesh.centre[:, 0] - LENGTH / 2) < 0.01
    assert (scalar.phi[middle] - 290.0).mean() == pytest.approx(height, rel=5e-3)
    balance = scalar.balance()
    assert balance.made == pytest.approx(1000.0 * LENGTH * 0.02, rel=1e-9)
    assert abs(balance.open) < 1e-8 * balance.made


def test_a_slab_cools_as_its_series_says() -> None:
    """Both ends are cooled at once. Source: Carslaw and Jaeger, Conduction of Heat in Solids, 3.3."""
    mesh = block((40, 1, 1))
    scalar = slab(mesh, ends=(280.0, 280.0), start=300.0)
    until = 0.05 * LENGTH**2 / DIFFUSIVITY
    for _ in range(80):
        scalar.begin_step(until / 80)
        for _ in range(4):
            scalar.correct(1e-6)
    x = mesh.centre[:, 0] / LENGTH
    odd = 2 * np.arange(40)[:, None] + 1
    decay = np.exp(-((odd * np.pi) ** 2) * 0.05)
    series = (4 / (odd * np.pi) * np.sin(odd * np.pi * x) * decay).sum(axis=0)
    assert np.abs((scalar.phi - 280.0) / 20.0 - series).max() < 2e-3


def test_a_stream_carries_what_enters_to_its_end() -> None:
    """A frictionless stream with a concentration: after a while it is everywhere, and what enters leaves."""
    mesh = block()
    boundary = Boundary.still(mesh.n_boundary)
    west, east = mesh.faces_of("west"), mesh.faces_of("east")
    boundary.wall[np.concatenate([west, east])] = False
    demand = ScalarBoundary.closed(mesh.n_boundary)
    demand.value[west] = 0.4
    none = np.zeros(mesh.n_cells)
    scalar = Transported(mesh, link(mesh), boundary, demand, 1e-9, none, none, limited="always")
    scalar.set_flow(mesh.area[:, 0] * 0.01)
    scalar.solve()
    assert np.abs(scalar.phi - 0.4).max() < 1e-9
    balance = scalar.balance()
    assert balance.carried_in == pytest.approx(0.4 * 0.01 * 0.02, rel=1e-9)
    assert balance.carried_out == pytest.approx(balance.carried_in, rel=1e-9)


def test_decay_takes_its_share_of_a_stream() -> None:
    """First-order decay in one cell: c = c0 / (1 + k V / Q). Exact for a stirred cell."""
    mesh = block((1, 1, 1))
    boundary = Boundary.still(mesh.n_boundary)
    west, east = mesh.faces_of("west"), mesh.faces_of("east")
    boundary.wall[np.concatenate([west, east])] = False
    demand = ScalarBoundary.closed(mesh.n_boundary)
    demand.value[west] = 1.0
    none = np.zeros(mesh.n_cells)
    scalar = Transported(mesh, link(mesh), boundary, demand, 0.0, none, none)
    scalar.sink = 0.05
    scalar.set_flow(mesh.area[:, 0] * 0.01)
    scalar.solve()
    assert scalar.phi[0] == pytest.approx(1 / (1 + 0.05 * LENGTH / 0.01), rel=1e-9)


# --- without the compiler ---

PLAIN = """
import sys
import numpy as np
sys.path.insert(0, sys.argv[1])
from tests.field.test_core_blocks import block, slab, stirred
flow = stirred(block((3, 2, 2)), 6)
heat = slab(block((3, 2, 1)), source=500.0)
heat.solve()
np.savez(sys.argv[2], U=flow.U, p=flow.p, flux=flow.flux, T=heat.phi)
"""


def test_kernels_give_the_same_without_the_compiler(tmp_path: Any) -> None:
    """What Numba makes of the kernels is what Python makes of them: nothing is read beyond an array."""
    root = str(os.path.dirname(os.path.dirname(os.path.dirname(os.path.abspath(__file__)))))
    made = {}
    for name, off in (("plain", "1"), ("compiled", "0")):
        out = tmp_path / f"{name}.npz"
        environment = {**os.environ, "NUMBA_DISABLE_JIT": off}
        done = subprocess.run(
            [sys.executable, "-c", PLAIN, root, str(out)],
            env=environment,
            capture_output=True,
            text=True,
            check=False,
        )
        assert done.returncode == 0, done.stderr[-2000:]
        made[name] = np.load(out)
    for key in ("U", "p", "flux", "T"):
        one, other = made["plain"][key], made["compiled"][key]
        assert np.abs(one - other).max() <= 1e-9 * (np.abs(one).max() or 1.0), key


def test_a_sink_by_cell_is_implicit_and_balances() -> None:
    """A fin: d2 theta/dx2 = m2 theta, the far end held at nothing: theta = sinh(m (L - x)) / sinh(m L)."""
    mesh = block((60, 1, 1))
    scalar = slab(mesh, (1.0, 0.0), start=0.0)
    m = 20.0
    scalar.sink = np.full(mesh.n_cells, m**2 * DIFFUSIVITY)
    scalar.solve()
    x = mesh.centre[:, 0]
    exact = np.sinh(m * (LENGTH - x)) / np.sinh(m * LENGTH)
    assert np.abs(scalar.phi - exact).max() < 2e-3
    assert abs(scalar.balance().open) < 1e-9 * abs(scalar.balance().made)
    scalar.sink = np.where(x < 0.15, 0.0, 1e6)
    scalar.solve()
    assert scalar.phi.min() > -1e-6 and scalar.phi[x > 0.2].max() < 1e-3, (
        "a huge sink takes all and stays stable"
    )


def test_cells_held_at_a_value_stay_there_and_their_heat_is_told() -> None:
    mesh = block((30, 2, 2))
    scalar = slab(mesh, (280.0, 280.0), start=280.0)
    middle = np.flatnonzero(np.abs(mesh.centre[:, 0] - LENGTH / 2) < 0.006)
    scalar.hold_cells(middle, 300.0)
    scalar.solve()
    assert scalar.phi[middle] == pytest.approx(300.0, abs=1e-9)
    way = LENGTH / 2 - 0.005
    each = CONDUCTIVITY * 0.02 * 20.0 / way
    assert passing(scalar, mesh, "west") == pytest.approx(each, rel=1e-6)
    balance = scalar.balance()
    assert balance.made == pytest.approx(2 * each, rel=1e-6) and abs(balance.open) < 1e-9 * balance.made
    for _ in range(3):
        scalar.begin_step(1e3)
        for _ in range(12):
            scalar.correct(1e-6)
        assert scalar.phi[middle] == pytest.approx(300.0, abs=1e-6)
    scalar.hold_cells(np.zeros(0, int), 0.0)
    scalar.solve()


def test_a_floor_holds_whatever_is_taken() -> None:
    mesh = block()
    scalar = slab(mesh, (10.0, 10.0), source=-1e9, start=10.0)
    scalar.floor = 1.0
    scalar.solve()
    assert scalar.phi.min() == 1.0
    scalar.correct()
    assert scalar.phi.min() >= 1.0


def test_zones_are_boxes_and_cylinders_whichever_way_their_corners_come() -> None:
    places = np.array([[0.1, 0.1, 0.0], [0.5, 0.1, 0.0], [0.5, 0.3, 0.1], [1.2, 0.0, 0.0]])
    assert in_box(places, (1.0, 0.2, 0.05), (0.0, 0.0, -0.05)).tolist() == [True, True, False, False]
    assert in_box(places, (0.0, 0.0, 0.0), (1.0, 0.2, 0.0), 0.11).tolist() == [True, True, True, False]
    assert in_cylinder(places, (0, 0, 0), (1, 0, 0), 0.2).tolist() == [True, True, False, False]
    assert in_cylinder(places[:, :2], (0, 0.1), (1, 0.1), 0.05).tolist() == [True, True, False, False]
    assert not in_cylinder(places, (0, 0, 0), (0, 0, 0), 1.0).any()


# --- what devices need: jumps, and what holds the fluid back ---


def between_plates(pressures: tuple[float, float] = (0.0, 0.0)) -> tuple[FlowSolver, Mesh]:
    """Make a short duct between plates, 0.1 m high and 0.3 m long, open to given pressures (Pa) at both ends;
    the other two sides are slippery.
    """
    mesh = block((12, 1, 16))
    boundary = Boundary.still(mesh.n_boundary)
    for name in ("south", "north"):
        boundary.code[mesh.faces_of(name)] = SLIP
    for name, pressure in zip(("west", "east"), pressures, strict=True):
        faces = mesh.faces_of(name)
        boundary.code[faces] = FREE
        boundary.wall[faces] = False
        boundary.pressed[faces] = True
        boundary.pressure[faces] = pressure
        boundary.head[faces] = 0.0
    return FlowSolver(mesh, boundary, 1000.0, 1.0, FlowSettings()), mesh


def settled(flow: FlowSolver, steps: int = 400) -> FlowSolver:
    """Iterate until nothing changes."""
    for _ in range(steps):
        if flow.step().momentum < 1e-10:
            break
    flow.project_mass()
    return flow


def across(mesh: Mesh, x: float) -> Any:
    """Give the internal faces square to x at a place."""
    inner = mesh.area[: mesh.n_internal]
    return np.flatnonzero((inner[:, 0] > 0) & (np.abs(mesh.face_centre[: mesh.n_internal, 0] - x) < 1e-9))


def test_a_jump_of_pressure_drives_as_much_as_the_same_pressure_at_the_ends() -> None:
    driven, mesh = between_plates((0.2, 0.0))
    settled(driven)
    fan, _ = between_plates()
    faces = across(mesh, 0.15)
    fan.set_jumps(faces, np.full(len(faces), 0.2))
    settled(fan)
    assert np.abs(fan.U - driven.U).max() < 1e-6 * np.abs(driven.U).max()
    exact = 0.2 / LENGTH * 0.1**2 / 12.0
    through = fan.flux[faces].sum() / (0.2 * 0.1)
    assert through == pytest.approx(exact, rel=0.005)
    before = fan.p[np.abs(mesh.centre[:, 0] - 0.1375) < 1e-6].mean()
    behind = fan.p[np.abs(mesh.centre[:, 0] - 0.1625) < 1e-6].mean()
    fall = 0.2 / LENGTH * 0.025
    assert 1000.0 * (behind - before) == pytest.approx(0.2 - fall, rel=0.01), "sharp, on the face itself"
    left, scale = force_balance(fan)
    assert np.linalg.norm(left) < 1e-3 * scale


def test_what_holds_the_fluid_back_flattens_the_profile() -> None:
    """Brinkman's layer between plates: U = G / (rho r) (1 - cosh(k y) / cosh(k h)), k = sqrt(r / nu), h half
    the gap (Brinkman, Appl. Sci. Res. A1 (1949) 27-34)."""
    flow, mesh = between_plates((0.2, 0.0))
    rate = 4.0
    flow.resistance = np.full(mesh.n_cells, rate)
    settled(flow)
    k = np.sqrt(rate / 1e-3)
    y = mesh.centre[:, 2] - 0.05
    exact = 0.2 / LENGTH / (1000.0 * rate) * (1 - np.cosh(k * y) / np.cosh(k * 0.05))
    assert np.abs(flow.U[:, 0] - exact).max() < 0.01 * exact.max()
    left, scale = force_balance(flow)
    assert np.linalg.norm(left) < 0.01 * scale


def test_resistance_in_time_lets_a_stream_die_as_it_should() -> None:
    """Without walls dU/dt = -r U."""
    mesh = block((4, 4, 4))
    boundary = Boundary.still(mesh.n_boundary)
    boundary.code[:] = SLIP
    flow = FlowSolver(mesh, boundary, 1000.0, 1e-3, FlowSettings(acceleration=False))
    flow.set_force(np.zeros((mesh.n_cells, 3)))
    flow.resistance = np.full(mesh.n_cells, 2.0)
    flow.U[:, 0] = 0.1
    kept = flow.U[:, 0].copy()
    flow.history.begin_step(0.01)
    a = np.zeros(flow.pressure_matrix.nnz)
    diagonal = flow.geometry.indptr[:-1]
    flow.work.b[:] = 0.0
    flow.history.add_to(a, diagonal)
    now = a[diagonal] + mesh.volume * flow.resistance
    assert flow.work.b[:, 0] / now == pytest.approx(kept / (1 + 2.0 * 0.01), rel=1e-12)
