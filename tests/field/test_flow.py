"""The field core: exactness, conservation, symmetry, independence of relaxation."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.field import kernels
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import gradients_of, link, stencil, wall_curvature
from mop_lantern.field.flow import FlowSettings, FlowSolver
from mop_lantern.field.force_balance import force_balance
from mop_lantern.grid import Mesh, box
from mop_lantern.numerics import spread
from mop_lantern.solve import FlowRun, boundary_of, prepare

DISC = {"kind": "disc", "centre": ["14 mm", "1 mm"], "diameter": "3 mm"}


def mesh_of(data: dict[str, Any], **edits: Any) -> tuple[Any, Mesh]:
    """Settle a case with edits and make its grid."""
    settled = settle(apply(parse_case(data), edits))
    return settled, prepare(settled)


def converge(run: FlowRun, residual: float = 1e-8) -> None:
    """Step until the residual is low."""
    for _ in range(800):
        run.last = run.flow.step()
        if run.last.momentum < residual and run.last.mass < residual:
            return
    raise AssertionError(run.last)


def test_gradients_of_linear_fields_are_exact_on_cut_cells(channel: dict[str, Any]) -> None:
    _, mesh = mesh_of(channel, **{"shape.parts.d": DISC, "shape.turn": "20 deg"})
    geometry, every = link(mesh), np.ones(mesh.n_boundary, bool)
    slope = np.array([3.0, -2.0, 0.0])
    value, edge = mesh.centre @ slope, mesh.face_centre[mesh.n_internal :] @ slope
    gradient, unforced = np.zeros((mesh.n_cells, 3)), np.zeros((0, 3))
    around = (
        geometry.indptr,
        geometry.indices,
        geometry.first_b,
        geometry.face_b,
        mesh.centre,
        geometry.reach_b,
        stencil(mesh, every).moments,
        every,
    )
    geometry.each(kernels.scalar_gradient, *around, value, edge, gradient, mesh.ways)
    assert np.abs(gradient - slope).max() < 1e-9
    several, both = np.zeros((mesh.n_cells, 3, 3)), np.array([[1.0], [2.0], [0.0]])
    pressure = np.zeros((mesh.n_cells, 3))
    geometry.each(
        kernels.gradients,
        *around,
        value[:, None] * both.T,
        edge[:, None] * both.T,
        several,
        *around[-2:],
        value,
        edge,
        unforced,
        edge,
        pressure,
        (0, 1),
        mesh.ways,
    )
    assert np.abs(several - both[None] * slope).max() < 1e-9
    assert np.abs(pressure - slope).max() < 1e-9
    force = np.tile(slope, (mesh.n_cells, 1))  # a body force that balances the pressure leaves no gradient
    drop = geometry.reach_b @ slope
    geometry.each(
        kernels.gradients,
        *around,
        value[:, None] * both.T,
        edge[:, None] * both.T,
        several,
        *around[-2:],
        value,
        edge,
        force,
        drop,
        pressure,
        (0, 1),
        mesh.ways,
    )
    assert np.abs(pressure).max() < 1e-9
    inside = np.setdiff1d(np.arange(mesh.n_cells), mesh.owner[mesh.n_internal :])
    assert np.abs(gradients_of(mesh, value[:, None])[inside, 0] - slope).max() < 1e-9


def test_two_blocks_give_the_flow_of_one(monkeypatch: pytest.MonkeyPatch) -> None:
    """The threads' share of the work must not show in the converged answer, nor in mass balance."""
    mesh = box((12, 12, 12), (1.0, 1.0, 1.0))
    found = []
    for count in ("1", "2"):
        monkeypatch.setenv("MOP_LANTERN_THREADS", count)
        monkeypatch.setattr(spread, "WORTH", 200)
        boundary = Boundary.still(mesh.n_boundary)
        boundary.velocity[mesh.faces_of("top")] = (1.0, 0.0, 0.0)
        flow = FlowSolver(mesh, boundary, 1.0, 0.05, FlowSettings(pressure_tolerance=0.01))
        assert len(flow.geometry.blocks) == int(count)
        assert (len(flow.geometry.rim) > 0) == (count == "2")
        for _ in range(80):
            step = flow.step()
        assert step.momentum < 1e-9 and flow.project_mass() < 1e-9
        found.append(flow.U)
    assert np.abs(found[1] - found[0]).max() < 1e-7


def test_matrix_pattern_has_the_diagonal_first_and_both_slots() -> None:
    mesh = box((4, 3, 2), (1.0, 1.0, 1.0))
    geometry = link(mesh)
    assert (geometry.indices[geometry.indptr[:-1]] == np.arange(mesh.n_cells)).all()
    assert (geometry.indices[geometry.upper] == mesh.neighbour).all()
    assert (geometry.indices[geometry.lower] == mesh.owner[: mesh.n_internal]).all()
    assert geometry.indptr[-1] == mesh.n_cells + 2 * mesh.n_internal


def test_wall_slope_factor_is_two_thirds_on_even_cells() -> None:
    mesh = box((8, 8, 8), (1.0, 1.0, 1.0))
    factor = wall_curvature(mesh, link(mesh), stencil(mesh, np.ones(mesh.n_boundary, bool)))
    assert factor == pytest.approx(np.full(mesh.n_boundary, 2 / 3))


def test_developed_flow_is_exact_to_the_grid(channel: dict[str, Any]) -> None:
    settled, mesh = mesh_of(channel)
    run = FlowRun(settled, mesh, None)
    converge(run)
    y = mesh.centre[:, 1]
    middle = np.abs(mesh.centre[:, 0] - 0.02) < 0.01
    exact = 0.015 * (1 - (y / 0.005) ** 2)
    assert np.abs(run.flow.U[middle, 0] - exact[middle]).max() < 0.02 * 0.015
    assert np.abs(run.flow.U[:, 2]).max() == 0


@pytest.mark.parametrize("turn", ["0 deg", "37 deg"])
def test_mass_closes_in_every_cell(channel: dict[str, Any], turn: str) -> None:
    settled, mesh = mesh_of(channel, **{"shape.parts.d": DISC, "shape.turn": turn})
    run = FlowRun(settled, mesh, None)
    converge(run, 1e-6)
    assert run.flow.project_mass() < 1e-9
    assert run.answer().outflow.sum() == pytest.approx(0, abs=1e-12 * 1e-4)


def test_forces_balance_the_momentum(channel: dict[str, Any]) -> None:
    """Pressure at the ends, momentum through them and friction add up (conservation of momentum)."""
    settled, mesh = mesh_of(channel, **{"field.grid.cell": "0.625 mm"})
    run = FlowRun(settled, mesh, None)
    converge(run)
    answer = run.answer()
    ends = np.concatenate([mesh.faces_of("run.start"), mesh.faces_of("run.end")])
    walls = np.concatenate([mesh.faces_of("run.left"), mesh.faces_of("run.right")])
    push = -(answer.wall_pressure[ends] * mesh.area[mesh.n_internal + ends, 0]).sum()
    carried = (answer.outflow[ends] * answer.wall_velocity[ends, 0]).sum() * 1000
    friction = answer.shear[walls, 0].sum()
    assert push == pytest.approx(friction + carried, rel=0.02)


def test_answer_does_not_depend_on_relaxation(channel: dict[str, Any]) -> None:
    settled, mesh = mesh_of(channel, **{"shape.parts.d": DISC})
    fields = []
    for settings in (FlowSettings(relaxation=0.7, acceleration=False), FlowSettings(relaxation=0.95)):
        run = FlowRun(settled, mesh, None, settings)
        converge(run, 1e-9)
        fields.append(run.flow.U)
    assert np.abs(fields[0] - fields[1]).max() < 1e-5 * np.abs(fields[0]).max()


def test_a_mirrored_case_gives_the_mirrored_answer(channel: dict[str, Any]) -> None:
    fields = []
    for sign in (1, -1):
        settled, mesh = mesh_of(channel, **{"shape.parts.d": {**DISC, "centre": ["14 mm", f"{sign} mm"]}})
        run = FlowRun(settled, mesh, None)
        converge(run, 1e-9)
        order = np.lexsort((np.round(mesh.centre[:, 0], 9), np.round(sign * mesh.centre[:, 1], 9)))
        fields.append(run.flow.U[order] * [1, sign, 1])
    assert fields[0].shape == fields[1].shape
    assert np.abs(fields[0] - fields[1]).max() < 1e-3 * np.abs(fields[0]).max()


def test_a_closed_box_of_bricks_stays_balanced() -> None:
    mesh = box((10, 10, 10), (1.0, 1.0, 1.0))
    boundary = Boundary.still(mesh.n_boundary)
    boundary.velocity[mesh.faces_of("top")] = (1.0, 0.0, 0.0)
    flow = FlowSolver(mesh, boundary, 1.0, 0.01, FlowSettings())
    for _ in range(60):
        last = flow.step()
    assert last.momentum < 1e-4
    assert flow.project_mass() < 1e-9
    assert flow.U[:, 0].min() < -0.05  # fluid comes back along the floor
    middle = flow.U.reshape(10, 10, 10, 3)
    assert middle[..., 0] == pytest.approx(middle[:, ::-1, :, 0], abs=1e-4)  # symmetric across


def test_openings_carry_what_they_say(channel: dict[str, Any]) -> None:
    base = {"kind": "volume_flow", "edge": "run.start", "flow": "50 mL/s", "profile": "uniform"}
    for opening in (
        base,
        {**base, "profile": "developed"},
        {"kind": "mass_flow", "edge": "run.start", "flow": "0.05 kg/s", "profile": "developed"},
    ):
        settled, mesh = mesh_of(channel, **{"field.openings.in": opening})
        boundary = boundary_of(settled, mesh)
        faces = mesh.faces_of("run.start")
        flow = -(boundary.velocity[faces] * mesh.area[mesh.n_internal + faces]).sum()
        assert flow == pytest.approx(5e-5, rel=1e-12)
        shape = boundary.velocity[faces, 0]
        # mean over the middle face of eight
        expected = 1.5 * (1 - (1 / 8) ** 2 - 1 / 192) if opening["profile"] == "developed" else 1.0
        assert shape.max() / shape.mean() == pytest.approx(expected, rel=0.01)


def test_walls_that_slip_or_mirror_feel_no_friction(channel: dict[str, Any]) -> None:
    walls = {
        "field.walls.a": {"kind": "slip", "edge": "run.left"},
        "field.walls.b": {"kind": "symmetry", "edge": "run.right"},
    }
    settled, mesh = mesh_of(channel, **walls, **{"field.openings.in.profile": "uniform"})
    run = FlowRun(settled, mesh, None)
    converge(run, 1e-9)
    assert run.flow.U[:, 0] == pytest.approx(np.full(mesh.n_cells, 0.01), rel=1e-6)
    assert np.abs(run.flow.p).max() < 1e-10


def test_viscosity_that_rises_towards_walls_gives_the_exact_pressure_drop(channel: dict[str, Any]) -> None:
    """Plane channel with mu = mu0 (1 + 8 (2 y / H)^2): shear stress G y, so mean velocity is the integral of
    G y^2 / mu. Exact.
    """
    settled, mesh = mesh_of(
        channel,
        **{
            "field.grid.cell": "0.625 mm",
            "field.openings.in.profile": "uniform",
            "field.openings.in.velocity": "1 mm/s",
        },
    )
    run = FlowRun(settled, mesh, None)
    law = lambda y: 1e-3 * (1 + 8 * (y / 5e-3) ** 2)  # noqa: E731
    run.flow.set_viscosity(law(mesh.centre[:, 1]), law(mesh.face_centre[mesh.n_internal :, 1]))
    converge(run)
    y = (np.arange(20000) + 0.5) / 20000 * 5e-3
    gradient = 1e-3 / float((y**2 / law(y)).mean())
    answer = run.answer()
    first, last = answer.sampler("pressure", np.array([[0.02, 0.0], [0.035, 0.0]]))
    assert (first - last) / 0.015 == pytest.approx(gradient, rel=0.012)
    left, scale = force_balance(run.flow)
    assert np.linalg.norm(left) < 0.005 * scale, "the pressure drop is what the walls take"


def test_forces_on_the_whole_fluid_balance_on_cut_grids_and_around_an_axis(channel: dict[str, Any]) -> None:
    for edits in ({"shape.turn": "20 deg"}, {"shape.space": "axis"}, {"shape.parts.d": DISC}):
        settled, mesh = mesh_of(channel, **{"field.grid.cell": "0.625 mm", **edits})
        run = FlowRun(settled, mesh, None)
        converge(run)
        left, scale = force_balance(run.flow)
        assert np.linalg.norm(left) < 0.01 * scale, edits
