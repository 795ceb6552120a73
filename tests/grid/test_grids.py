"""Grids: nothing lost, every cell closed, as fine as wanted."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import assume, given, settings
from hypothesis import strategies as st

from mop_lantern.case import parse_case, settle
from mop_lantern.grid import Mesh, box, make, quality
from mop_lantern.grid.tree import refine
from tests.conftest import DEMOS  # noqa: F401  keeps the test package importable from anywhere


def mesh_of(grid: dict[str, Any], turn: float = 0.0, space: str = "plane", **parts: Any) -> tuple[Mesh, Any]:
    """Make the grid of a channel with extra parts."""
    run = {"kind": "straight", "length": "40 mm", "width": "10 mm"}
    data = {
        "media": {"w": {"kind": "constant"}},
        "shape": {"depth": "2 m", "turn": f"{turn!r} deg", "space": space, "parts": {"run": run, **parts}},
        "field": {
            "openings": {
                "a": {"kind": "velocity", "edge": "run.start"},
                "b": {"kind": "static_pressure", "edge": "run.end"},
            },
            "grid": {"cell": "1 mm", "across": "1", **grid},
        },
    }
    settled = settle(parse_case(data))
    settled.numbers.grid.scale = 1.0
    return make(settled.shape, settled.numbers.grid, settled.open_edges), settled


DISC = {"kind": "disc", "centre": ["15 mm", "1 mm"], "diameter": "4 mm"}
FIN = {"kind": "fin", "start": ["25 mm", "-5 mm"], "end": ["28 mm", "1 mm"], "thickness": "0.2 mm"}


@pytest.mark.parametrize("turn", [0.0, 30.0, 77.7])
@pytest.mark.parametrize(
    "refine",
    [
        {},
        {"w": {"kind": "walls", "levels": "1"}},
        {"e": {"kind": "edge", "edge": "d.surface", "levels": "2", "distance": "1 mm"}},
    ],
)
def test_nothing_is_lost_and_cells_close(turn: float, refine: dict[str, Any]) -> None:
    mesh, settled = mesh_of({"refine": refine}, turn, d=DISC, f=FIN)
    report = quality(mesh)
    assert mesh.volume.sum() == pytest.approx(2.0 * settled.shape.polygon.area, rel=1e-9)
    assert report.closure < 1e-7
    assert report.worst_angle < 90
    assert (mesh.volume > 0).all()
    for name, length in settled.shape.edge_lengths.items():
        area = np.linalg.norm(mesh.area[mesh.n_internal + mesh.faces_of(name)], axis=1).sum() / 2.0
        assert area == pytest.approx(length, rel=0.03), name  # arcs are joined to chords inside a cell


def test_a_plate_thinner_than_a_cell_still_divides() -> None:
    wall = {
        "kind": "block",
        "points": [["19.9 mm", "-6 mm"], ["20.0 mm", "-6 mm"], ["20.0 mm", "4 mm"], ["19.9 mm", "4 mm"]],
    }
    mesh, _ = mesh_of({"cell": "1.3 mm"}, w=wall)
    inner = mesh.n_internal
    x, y = mesh.face_centre[:inner, 0], mesh.face_centre[:inner, 1]
    crossing = (mesh.centre[mesh.owner[:inner], 0] - 0.01995) * (mesh.centre[mesh.neighbour, 0] - 0.01995) < 0
    assert y[crossing].min() > 0.0039 and np.abs(x[crossing] - 0.01995).max() < 0.0014


def test_around_an_axis_volumes_are_those_of_the_body() -> None:
    mesh, _ = mesh_of({}, space="axis")
    assert mesh.turn * mesh.volume.sum() == pytest.approx(np.pi * 0.005**2 * 0.04)
    assert mesh.turn * np.linalg.norm(
        mesh.area[mesh.n_internal + mesh.faces_of("run.start")], axis=1
    ).sum() == pytest.approx(np.pi * 0.005**2)
    assert "axis" not in mesh.patch_names


def test_levels_and_count_before_cutting() -> None:
    counts = {}
    for level in ("sketch", "working", "fine"):
        mesh, settled = mesh_of({"level": level})
        counts[level] = mesh.n_cells
        assert len(refine(settled.shape, settled.numbers.grid, settled.open_edges).level) >= mesh.n_cells
    assert counts["working"] == pytest.approx(4 * counts["sketch"], rel=0.1)
    assert counts["fine"] == pytest.approx(4 * counts["working"], rel=0.1)


def test_gaps_get_the_cells_wanted() -> None:
    mesh, _ = mesh_of({"across": "8"}, d={"kind": "disc", "centre": ["20 mm", "2 mm"], "diameter": "4 mm"})
    gap = (np.abs(mesh.centre[:, 0] - 0.02) < 3e-4) & (mesh.centre[:, 1] > 0.004)
    assert (
        np.median(np.sqrt(mesh.plane_area[gap])) <= 1.01e-3 / 8
    )  # a cell merged with a sliver is a little larger


def test_neighbours_differ_by_one_halving() -> None:
    mesh, _ = mesh_of(
        {
            "refine": {
                "b": {"kind": "box", "low": ["10 mm", "-1 mm"], "high": ["12 mm", "1 mm"], "levels": "3"}
            }
        }
    )
    assert quality(mesh).volume_ratio <= 4.0001
    assert np.sqrt(mesh.plane_area.min()) == pytest.approx(1e-3 / 8)


def test_graded_lines_reach_their_ratio() -> None:
    mesh, _ = mesh_of({"grading_y": "both", "ratio": "5"})
    bottom = mesh.centre[:, 1] < mesh.centre[:, 1].min() + 1e-9
    assert mesh.plane_area.max() / mesh.plane_area[bottom].max() == pytest.approx(5, rel=0.25)


@settings(max_examples=15, deadline=None)
@given(
    x=st.floats(3, 30),
    y=st.floats(-6, 6),
    size=st.floats(0.3, 7),
    turn=st.floats(0, 90),
    cell=st.floats(0.6, 2),
)
def test_any_obstacle_anywhere(x: float, y: float, size: float, turn: float, cell: float) -> None:
    disc = {"kind": "disc", "centre": [f"{x!r} mm", f"{y!r} mm"], "diameter": f"{size!r} mm"}
    assume(
        x - size / 2 > 0 or abs(y) + size / 2 < 5 or abs(y) - size / 2 > 5
    )  # from inlet to wall it shuts a corner off, and is refused
    mesh, settled = mesh_of({"cell": f"{cell!r} mm"}, turn, d=disc)
    assert mesh.volume.sum() == pytest.approx(2 * settled.shape.polygon.area, rel=2e-3)  # cut-off dust may go
    assert quality(mesh).closure < 1e-6
    assert set(np.concatenate([mesh.owner, mesh.neighbour])) == set(range(mesh.n_cells))


def test_a_block_of_bricks_is_closed() -> None:
    mesh = box((4, 5, 6), (1.0, 2.0, 3.0))
    assert quality(mesh).closure < 1e-14
    assert mesh.volume.sum() == pytest.approx(6.0)
    keys = mesh.owner[: mesh.n_internal].astype(np.int64) * mesh.n_cells + mesh.neighbour
    assert (np.diff(keys) > 0).all()
    assert np.linalg.norm(mesh.area[mesh.n_internal + mesh.faces_of("top")], axis=1).sum() == pytest.approx(
        2.0
    )
