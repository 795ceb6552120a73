"""Grids in motion: what faces sweep closes with the volumes, an even flow stays even, a piston pushes as it
must, and what is carried is neither made nor lost.
"""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.field.boundary import GIVEN, SLIP, Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh, box
from mop_lantern.grid.moved import Moved
from mop_lantern.numerics.backward import swept_rate, weights
from tests.lattices import lattice, points_of

Floats = NDArray[np.float64]


def wobble(time: float, cells: int = 8, axis: bool = False) -> Mesh:
    """Give a unit square whose inner points swing about their places; about an axis, off it."""
    points = points_of(np.linspace(0, 1, cells + 1), np.linspace(0, 1, cells + 1))
    x, y = points[..., 0].copy(), points[..., 1].copy()
    bell = np.sin(np.pi * x) * np.sin(np.pi * y)
    points[..., 0] += 0.06 * np.sin(5 * time) * bell * np.sin(2 * np.pi * y)
    points[..., 1] += 0.05 * np.sin(3 * time) * bell
    points[..., 1] += 0.5 * axis
    return lattice(points, axis)


@pytest.mark.parametrize("axis", [False, True])
def test_what_faces_sweep_is_what_cells_gain(axis: bool) -> None:
    before, after = wobble(0.1, axis=axis), wobble(0.4, axis=axis)
    moved = Moved.of(before, after)
    assert np.abs(after.volume - before.volume).max() > 1e-3 * before.volume.max()
    assert moved.change == pytest.approx(after.volume - before.volume, abs=1e-15)


def test_what_faces_of_bricks_sweep_is_what_they_gain() -> None:
    before, after = box((3, 2, 4), (1.0, 1.0, 1.0)), box((3, 2, 4), (1.2, 0.7, 1.1))
    moved = Moved.of(before, after)
    assert moved.change == pytest.approx(after.volume - before.volume, abs=1e-15)
    east = moved.swept[before.n_internal :][before.faces_of("east")].sum()
    assert east == pytest.approx(0.2 * (1 + 0.7 * 1.1 + (0.7 + 1.1) / 2) / 3, rel=1e-12)  # a growing frustum


def test_swept_rates_are_the_differences_of_the_volumes() -> None:
    """The same weights as those of the time derivative, with steps of changing length; a still step too."""
    volumes = np.array([1.0, 1.3, 1.2])
    for former in (0.2, 0.05):
        now, (last, before) = rate = weights(0.1, former)
        swept = [volumes[1:2] - volumes[:1], volumes[2:] - volumes[1:2]]
        expected = now * volumes[2] - last * volumes[1] - before * volumes[0]
        assert swept_rate(rate, swept) == pytest.approx([expected], rel=1e-14)
        assert swept_rate(rate, [swept[0], np.zeros(0)]) == pytest.approx(before * swept[0], rel=1e-14)
    assert not len(swept_rate(rate, [np.zeros(0), np.zeros(0)]))


def test_an_even_flow_stays_even_while_the_grid_swings() -> None:
    mesh = wobble(0.0)
    boundary = Boundary.still(mesh.n_boundary)
    boundary.wall[:] = False
    boundary.velocity[:] = (1.0, 0.5, 0.0)
    flow = FlowSolver(mesh, boundary, 1000.0, 1.0, FlowSettings(acceleration=False))
    flow.U[:] = (1.0, 0.5, 0.0)
    flow.flux[:] = mesh.area @ (1.0, 0.5, 0.0)
    for number in range(1, 5):
        after = wobble(0.05 * number)
        flow.begin_step(0.05, Moved.of(flow.mesh, after))
        flow.renew_boundary(boundary)
        for _ in range(6):
            flow.step()
        assert np.abs(flow.U - (1.0, 0.5, 0.0)).max() < 1e-9
        assert flow.flux == pytest.approx(after.area @ (1.0, 0.5, 0.0), abs=1e-9)


def pushed(step: float) -> tuple[float, float]:
    """Push fluid out of a bore by a piston for half a second; give the errors of velocity and pressure."""
    stroke, pace, length = 0.1, 6.0, 1.0

    def grid(time: float) -> Mesh:
        end = length + stroke * (1 - np.cos(pace * time))
        return lattice(points_of(np.linspace(0, end, 9), np.linspace(0, 0.2, 3)))

    mesh = grid(0.0)
    boundary = Boundary.still(mesh.n_boundary)
    boundary.code[:] = SLIP
    east, west = mesh.faces_of("east"), mesh.faces_of("west")
    boundary.code[east] = GIVEN
    boundary.code[west], boundary.wall[west], boundary.pressed[west], boundary.head[west] = (
        1,
        False,
        True,
        0.0,
    )
    flow = FlowSolver(mesh, boundary, 1000.0, 1e-3, FlowSettings(pressure_tolerance=1e-8))
    steps = round(0.5 / step)
    for number in range(1, steps + 1):
        time = step * number
        flow.begin_step(step, Moved.of(flow.mesh, grid(time)))
        boundary = replace(boundary, velocity=boundary.velocity.copy())
        boundary.velocity[east, 0] = stroke * pace * np.sin(pace * time)
        flow.renew_boundary(boundary)
        for _ in range(40):
            done = flow.step()
            if max(done.momentum, done.mass) < 1e-9:
                break
    speed = stroke * pace * np.sin(pace * 0.5)
    rise = -1000.0 * stroke * pace**2 * np.cos(pace * 0.5) * flow.mesh.centre[:, 0]
    assert np.abs(flow.U[:, 1]).max() < 1e-9
    return (
        float(np.abs(flow.U[:, 0] - speed).max() / (stroke * pace)),
        float(np.abs(flow.p * 1000.0 - rise).max() / (1000.0 * stroke * pace**2)),
    )


def test_a_piston_pushes_the_fluid_before_it() -> None:
    """Exact: u is the piston's speed everywhere, p falls from it by its acceleration; order two in time."""
    coarse, fine = pushed(0.025), pushed(0.0125)
    assert fine[0] < 2e-3 and fine[1] < 1e-2
    assert coarse[0] / fine[0] > 3.4 and coarse[1] / fine[1] > 1.8


def spread_in(mesh: Mesh) -> Transported:
    """Prepare something that spreads in a closed unit square of still fluid."""
    boundary = Boundary.still(mesh.n_boundary)
    demand = ScalarBoundary.closed(mesh.n_boundary)
    phi = np.cos(np.pi * mesh.centre[:, 0])
    return Transported(mesh, link(mesh), boundary, demand, 0.1, np.zeros(mesh.n_cells), phi)


@pytest.mark.parametrize("axis", [False, True])
def test_what_spreads_on_a_swinging_grid_is_kept_and_spreads_as_it_must(axis: bool) -> None:
    """Exact: cos(pi x) exp(-pi2 D t); the whole stays to rounding though every cell swells and shrinks."""
    errors = []
    for cells, step in ((8, 0.05), (16, 0.025)):
        mesh = wobble(0.0, cells, axis)
        scalar = spread_in(mesh)
        still = np.zeros(mesh.n_cells)
        flow = FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1.0, 1.0, FlowSettings())
        for number in range(1, round(0.5 / step) + 1):
            after = wobble(step * number, cells, axis)
            whole = scalar.phi @ scalar.mesh.volume
            flow.begin_step(step, Moved.of(flow.mesh, after))
            scalar.begin_step(step)
            scalar.move(after, flow.geometry)
            scalar.set_diffusivity(still + 0.1, np.full(mesh.n_boundary, 0.1))
            scalar.set_flow(flow.carrying)
            scalar.solve(1e-13)
            balance = scalar.balance()
            assert abs(balance.open) < 1e-9
            assert balance.stored == pytest.approx(0.0, abs=1e-9)
        assert scalar.phi @ scalar.mesh.volume == pytest.approx(whole, abs=1e-12)
        exact = np.cos(np.pi * scalar.mesh.centre[:, 0]) * np.exp(-(np.pi**2) * 0.1 * 0.5)
        errors.append(float(np.sqrt(np.mean((scalar.phi - exact) ** 2))))
    assert errors[1] < 5e-3 and errors[0] / errors[1] > 2.8


def test_a_grid_that_is_another_is_refused() -> None:
    mesh = wobble(0.0)
    flow = FlowSolver(mesh, Boundary.still(mesh.n_boundary), 1000.0, 1.0, FlowSettings())
    with pytest.raises(ValueError, match="keeps its cells"):
        flow.begin_step(0.1, Moved(wobble(0.0, 6), np.zeros(1)))
    flow.set_ratio(np.ones(mesh.n_cells), np.ones(mesh.n_boundary), None)
    with pytest.raises(ValueError, match="one density"):
        flow.begin_step(0.1, Moved.of(mesh, wobble(0.1)))
