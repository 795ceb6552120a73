"""Grids of a space: exact volumes and closed cells, names on their faces, merging, levels; flow through them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.field.boundary import FREE, GIVEN, Boundary
from mop_lantern.field.flow import FlowSettings, FlowSolver, FlowState
from mop_lantern.grid import Mesh, quality
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface, join
from tests.shape.test_solids import part

OBLIQUE = np.linalg.qr(np.array([[1, 0.5, 0.3], [0.2, 1, 0.4], [0.1, 0.3, 1]]))[0]
OBLIQUE = OBLIQUE * np.sign(np.linalg.det(OBLIQUE))


def turned(surface: Surface, turn: NDArray[np.float64]) -> Surface:
    """Turn a surface about the origin."""
    return Surface(surface.points @ turn.T, surface.triangles, surface.labels, surface.names)


@pytest.mark.parametrize("turn", [np.eye(3), OBLIQUE], ids=["straight", "oblique"])
@pytest.mark.parametrize("levels", [0, 2])
def test_volume_areas_and_closure_are_exact(turn: Any, levels: int) -> None:
    """The grid fills what the triangles enclose to rounding, every face keeps its area, every cell is closed."""
    made = join({"room": part("brick", length=0.3, width=0.2, height=0.1), "bump": part("ball", role="solid", x=0.15, y=0.1, diameter=0.11), "pipe": part("cylinder", x=0.3, y=0.1, z=0.05, length=0.1, diameter=0.04)})
    surface = turned(made, turn)
    mesh = make_in_space(surface, 0.011, levels)
    assert mesh.volume.sum() == pytest.approx(surface.volume, rel=1e-12)
    assert quality(mesh).closure < 1e-12
    for name in ("room.west", "pipe.end", "room.top"):
        faces = mesh.faces_of(name) + mesh.n_internal
        assert np.linalg.norm(mesh.area[faces].sum(axis=0)) == pytest.approx(surface.edge_lengths[name], rel=1e-9)
    centre = (mesh.volume[:, None] * mesh.centre).sum(axis=0) / mesh.volume.sum()
    moments = (surface.points[surface.triangles] ** 2).sum(axis=1) + np.prod(surface.points[surface.triangles][:, [0, 1]], axis=1)
    moments += np.prod(surface.points[surface.triangles][:, [1, 2]], axis=1) + np.prod(surface.points[surface.triangles][:, [2, 0]], axis=1)
    assert centre == pytest.approx((surface.area_vectors * moments / 12).sum(axis=0) / surface.volume, abs=1e-9), "Gauss's theorem on the surface"
    assert (mesh.owner[: mesh.n_internal] < mesh.neighbour).all() and mesh.volume.min() > 0.2 * 0.011**3 * 0.9


def test_a_grid_of_nothing_or_of_too_much_is_refused() -> None:
    ball = join({"a": part("ball", diameter=0.1)})
    with pytest.raises(RunError, match="larger"):
        make_in_space(ball, 1e-5)
    with pytest.raises(RunError, match="above zero"):
        make_in_space(ball, 0.0)


def driven(mesh: Mesh, start: str, end: str, along: NDArray[np.float64], speed: NDArray[np.float64] | float) -> tuple[FlowState, int]:
    """Push water-like fluid through a passage; give the state and the iterations to 1e-6."""
    boundary = Boundary.still(mesh.n_boundary)
    first, last = mesh.faces_of(start), mesh.faces_of(end)
    boundary.code[first], boundary.wall[first] = GIVEN, False
    boundary.velocity[first] = np.asarray(speed).reshape(-1, 1) * along
    boundary.code[last], boundary.wall[last], boundary.pressed[last] = FREE, False, True
    solver = FlowSolver(mesh, boundary, 1000.0, 1e-3, FlowSettings(), FlowState(np.zeros((mesh.n_cells, 3)), np.zeros(mesh.n_cells), np.zeros(0)))
    for count in range(1, 300):
        made = solver.step()
        if count > 20 and made.momentum < 1e-6 and made.mass < 1e-6:
            return solver.state(), count
    raise AssertionError("the flow did not converge")


def slope(mesh: Mesh, state: FlowState, along: NDArray[np.float64], low: float, high: float) -> float:
    """Give the pressure gradient between two places along a passage, Pa/m."""
    x = mesh.centre @ along
    chosen = (x > low) & (x < high)
    return float(np.polyfit(x[chosen], state.pressure[chosen], 1)[0])


@pytest.mark.parametrize("turn", [np.eye(3), OBLIQUE], ids=["straight", "oblique"])
def test_a_square_duct_loses_what_it_should(turn: Any) -> None:
    """Shah and London (1978), reference O-5.2: 28.4997 Pa/m at 0.1 m/s in 10 x 10 mm, laminar, so in proportion to the velocity."""
    surface = turned(join({"d": part("brick", length=0.03, width=0.01, height=0.01)}), turn)
    mesh = make_in_space(surface, 0.001, 0)
    along = turn @ np.array([1.0, 0, 0])
    state, _ = driven(mesh, "d.west", "d.east", along, 1e-3)
    assert slope(mesh, state, along, 0.018, 0.027) == pytest.approx(-0.284997, rel=0.02)


def test_a_pipe_laid_obliquely_at_twenty_cells_across() -> None:
    """Hagen and Poiseuille, exact: 32 mu U / D^2, within 1.5 %."""
    surface = turned(join({"p": part("cylinder", length=0.025, diameter=0.01)}), OBLIQUE)
    mesh = make_in_space(surface, 0.0005, 1)
    along = OBLIQUE @ np.array([1.0, 0, 0])
    faces = mesh.faces_of("p.start") + mesh.n_internal
    centre = mesh.face_centre[faces]
    off = np.linalg.norm(centre - np.outer(centre @ along, along), axis=1)
    state, _ = driven(mesh, "p.start", "p.end", along, 2e-3 * (1 - (off / 0.005) ** 2))
    flow = abs(float(state.flux[faces].sum())) / (np.pi * 0.005**2)
    assert slope(mesh, state, along, 0.01, 0.022) == pytest.approx(-32e-3 * flow / 0.01**2, rel=0.015)
