"""Heat through hand-made cells of several materials: what passes a joint is one flux, exact for layers."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from mop_lantern.grid import Mesh


def row(ends: list[list[float]]) -> Mesh:
    """Give cells in a row along x, one square metre across: a list of cell ends (m) for every region."""
    first = np.cumsum([0, *(len(end) - 1 for end in ends)])
    owner: list[int] = []
    neighbour: list[int] = []
    middle: list[float] = []
    walls: list[tuple[int, float, float, int]] = []
    for start, end in zip(first, ends, strict=False):
        count = len(end) - 1
        owner += range(start, start + count - 1)
        neighbour += range(start + 1, start + count)
        middle += end[1:-1]
        walls += [(start, end[0], -1.0, 0), (start + count - 1, end[-1], 1.0, 0)]
    inner = len(owner)
    area = np.zeros((inner + len(walls), 3))
    area[:inner, 0] = 1.0
    area[inner:, 0] = [wall[2] for wall in walls]
    place = np.zeros_like(area)
    place[:, 0] = [*middle, *(wall[1] for wall in walls)]
    width = np.concatenate([np.diff(end) for end in ends])
    centre = np.zeros((len(width), 3))
    centre[:, 0] = np.concatenate([(np.array(end[:-1]) + np.array(end[1:])) / 2 for end in ends])
    joints = np.array([[2 * k + 1, 2 * k + 2] for k in range(len(ends) - 1)], np.int32).reshape(-1, 2)
    return Mesh(
        owner=np.array([*owner, *(wall[0] for wall in walls)], np.int32),
        neighbour=np.array(neighbour, np.int32),
        area=area,
        face_centre=place,
        volume=width,
        centre=centre,
        patch=np.arange(len(walls), dtype=np.int32),
        patch_names=tuple(f"p{k}" for k in range(len(walls))),
        points=np.zeros((0, 3)),
        face_points=np.zeros(0, np.int32),
        face_offsets=np.zeros(1, np.int32),
        region=np.repeat(np.arange(1, len(ends) + 1), np.diff(first)).astype(np.int32),
        region_names=("", *(f"s{k}" for k in range(len(ends)))),
        joints=joints,
    )


def held(mesh: Mesh, hot: float, cold: float, resistance: float = 0.0) -> ScalarBoundary:
    """Hold both ends; ``resistance`` lies in the first joint."""
    demand = ScalarBoundary.closed(mesh.n_boundary)
    demand.given[[0, -1]] = True
    demand.value[[0, -1]] = hot, cold
    demand.resistance[1] = resistance
    return demand


def carried(mesh: Mesh, demand: ScalarBoundary, conductivity: Any, **more: Any) -> Transported:
    """Conduction alone."""
    cells = np.array([conductivity[k - 1] for k in mesh.region])
    still = Boundary.still(mesh.n_boundary)
    source = more.get("source", np.zeros(mesh.n_cells))
    return Transported(mesh, link(mesh), still, demand, cells, source, np.zeros(mesh.n_cells))


UNEVEN = [[0.0, 0.01, 0.05, 0.06], [0.06, 0.09, 0.1], [0.1, 0.4]]
CONDUCTIVITY = (50.0, 0.04, 1.0)
SERIES = 0.06 / 50 + 0.04 / 0.04 + 0.3 / 1.0


@pytest.mark.parametrize("resistance", [0.0, 0.5])
def test_layers_of_uneven_cells_are_exact(resistance: float) -> None:
    mesh = row(UNEVEN)
    scalar = carried(mesh, held(mesh, 100.0, 0.0, resistance), CONDUCTIVITY)
    assert scalar.solve() < 1e-9
    flux = 100.0 / (SERIES + resistance)
    leaving = scalar.boundary_flux()
    assert leaving == pytest.approx([-flux, flux, -flux, flux, -flux, flux], rel=1e-9)
    walls = scalar.boundary_values()
    hot = 100.0 - flux * 0.06 / 50
    assert walls[1:3] == pytest.approx([hot, hot - flux * resistance], abs=1e-9)
    assert walls[1] - walls[2] == pytest.approx(flux * resistance, abs=1e-9)
    for left, most in scalar.came_by_region().values():
        assert abs(left) < 1e-9 * most


def test_heat_made_in_one_layer_leaves_it_both_ways() -> None:
    mesh = row(UNEVEN)
    source = np.where(mesh.region == 2, 1000.0, 0.0)
    scalar = carried(mesh, held(mesh, 0.0, 0.0), CONDUCTIVITY, source=source)
    scalar.solve()
    balance = scalar.balance()
    assert balance.made == pytest.approx(40.0) and abs(balance.open) < 1e-9
    left, most = scalar.came_by_region()["s1"]
    assert most == pytest.approx(40.0) and abs(left) < 1e-9
    assert scalar.boundary_flux()[2] > 0 and scalar.boundary_flux()[3] > 0


def test_what_a_joint_lets_through_in_time_is_stored_behind_it() -> None:
    """Two halves of one closed bar: the warm one cools by what the other gains, to their mean by capacity."""
    mesh = row([[0.0, 0.05, 0.1], [0.1, 0.15, 0.2]])
    scalar = carried(mesh, ScalarBoundary.closed(4), (1.0, 1.0))
    scalar.ratio = np.where(mesh.region == 1, 1.0, 3.0)
    scalar.phi[:] = np.where(mesh.region == 1, 80.0, 0.0)
    held_ = float((scalar.ratio * mesh.volume * scalar.phi).sum())
    for step in (1e-3,) * 3 + (1.0,) * 20:
        scalar.begin_step(step)
        for _ in range(30):
            if scalar.correct(1e-8) < 1e-12:
                break
        assert abs(scalar.balance().open) < 1e-8
        assert (scalar.ratio * mesh.volume * scalar.phi).sum() == pytest.approx(held_, rel=1e-9)
    assert scalar.phi == pytest.approx([20.0] * 4, rel=1e-6)


def test_a_joint_of_cells_askew_keeps_a_linear_field() -> None:
    """With one conductivity everywhere the joint must not be seen, however the wall lies to the cells."""
    from mop_lantern.grid import make
    from tests.grid.test_regions import GRID, LAYERED, plane

    mesh = make(plane(LAYERED, ("slab", "foam"), 0.4), GRID, frozenset())
    slope = np.array([3.0, -2.0, 0.0])
    demand = ScalarBoundary.closed(mesh.n_boundary)
    demand.given[:] = ~mesh.joined
    demand.value[:] = mesh.face_centre[mesh.n_internal :] @ slope
    scalar = carried(mesh, demand, {-1: 0.7, 0: 0.7, 1: 0.7})
    scalar.solve()
    off = np.abs(scalar.phi - mesh.centre @ slope) / np.ptp(scalar.phi)
    # cells that wrap a corner hold their feet, joint or not
    assert off.max() < 2e-3 and np.sqrt((off**2).mean()) < 2e-4
