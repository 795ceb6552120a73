"""Values between cells: the very cell, exact for linear fields, second order on curved ones, on every kind of
grid.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.grid import Mesh, box
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.solve import prepare

SPHERE = {"kind": "disc", "centre": ["14 mm", "1 mm"], "diameter": "3 mm"}
PLANES: dict[str, dict[str, Any]] = {
    "even": {},
    "graded, flat cells": {
        "field.grid.aspect": "20",
        "field.grid.grading_y": "both",
        "field.grid.ratio": "8",
    },
    "hanging": {
        "field.grid.refine": {
            "near": {"kind": "box", "low": ["5 mm", "-5 mm"], "high": ["20 mm", "1 mm"], "levels": "2"}
        }
    },
    "cut and merged": {"shape.parts.d": SPHERE, "shape.turn": "20 deg"},
    "around the axis": {"shape.space": "axis"},
}
PIPE = {
    "kind": "cylinder",
    "length": "12 mm",
    "diameter": "10 mm",
    "heading": "20 deg",
    "rise": "10 deg",
}


def answer_of(mesh: Mesh, field: Any) -> FieldResult:
    """Put a function of places on a mesh, as x velocity, pressure and something carried."""
    inside, edge = field(mesh.centre), field(mesh.face_centre[mesh.n_internal :])
    velocity, wall = np.zeros((mesh.n_cells, 3)), np.zeros((mesh.n_boundary, 3))
    velocity[:, 0], wall[:, 0] = inside, edge
    carried = Scalar(inside, edge, np.zeros(mesh.n_boundary), "salt", "number")
    return FieldResult(
        mesh,
        velocity,
        inside,
        np.zeros(len(mesh.owner)),
        wall,
        edge,
        np.zeros((mesh.n_boundary, 3)),
        1.0,
        {"c.salt": carried},
    )


def plane(channel: dict[str, Any], edits: dict[str, Any], cell: str = "1.25 mm") -> Mesh:
    """Make the grid of the channel with edits."""
    return prepare(settle(apply(parse_case(channel), {"field.grid.cell": cell, **edits})))


def pipe(cell: str) -> Mesh:
    """Make the grid of a pipe oblique to the lattice."""
    case = {
        "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {"space": "space", "solids": {"pipe": PIPE}},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "pipe.start", "velocity": "10 mm/s"},
                "out": {"kind": "static_pressure", "edge": "pipe.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": cell},
        },
    }
    return prepare(settle(parse_case(case)))


def within(mesh: Mesh, count: int = 400) -> Any:
    """Give places in the cells: between their middles and those of their faces."""
    chance = np.random.default_rng(3)
    around = mesh.locator.around
    cell = chance.integers(0, mesh.n_cells, count)
    slot = (around.first[cell] + chance.random(count) * (around.first[cell + 1] - around.first[cell])).astype(
        int
    )
    part = 0.9 * chance.random((count, 1))
    ways = len(mesh.ways)
    return cell, (mesh.centre[cell] * (1 - part) + part * mesh.face_centre[around.face[slot]])[:, :ways]


@pytest.mark.parametrize("kind", PLANES)
def test_the_very_cell_is_found_and_linear_fields_are_exact(channel: dict[str, Any], kind: str) -> None:
    mesh = plane(channel, PLANES[kind])
    answer = answer_of(mesh, lambda x: 3 * x[:, 0] - 2 * x[:, 1] + 1)
    cell, places = within(mesh)
    found = mesh.locator.cells(places)
    assert (found == cell).mean() > 0.97, (
        "only cells that wrap a corner hold less than the way to their faces"
    )
    assert answer.inside(places).all()
    assert answer.sampler("u", places) == pytest.approx(places @ [3, -2] + 1, abs=1e-9)
    assert answer.sampler("c.salt", places) == pytest.approx(places @ [3, -2] + 1, abs=1e-9)


@pytest.mark.parametrize("kind", PLANES)
def test_curved_fields_are_second_order_or_better(channel: dict[str, Any], kind: str) -> None:
    along = 10 if kind.startswith("graded") else 200  # 1/m: cells are that much longer
    bent = lambda x: np.sin(300 * x[:, 1]) * np.cos(along * x[:, 0])  # noqa: E731
    errors = []
    for cell in ("1.25 mm", "0.625 mm"):
        mesh = plane(channel, PLANES[kind], cell)
        _, places = within(mesh)
        got = answer_of(mesh, bent).sampler("u", places)
        errors.append(np.sqrt(np.mean((got - bent(places)) ** 2)))
    assert errors[1] < errors[0] / 3.5 and errors[0] < 0.03


def test_a_space_is_sampled_alike() -> None:
    errors = []
    bent = lambda x: np.sin(300 * x[:, 1]) * np.cos(200 * x[:, 0]) + np.sin(250 * x[:, 2])  # noqa: E731
    for size in ("1.25 mm", "0.625 mm"):
        mesh = pipe(size)
        cell, places = within(mesh)
        assert (mesh.locator.cells(places) == cell).mean() > 0.95
        linear = answer_of(mesh, lambda x: 3 * x[:, 0] - 2 * x[:, 1] + x[:, 2])
        assert linear.sampler("u", places) == pytest.approx(places @ [3, -2, 1], abs=1e-9)
        errors.append(np.sqrt(np.mean((answer_of(mesh, bent).sampler("u", places) - bent(places)) ** 2)))
    assert errors[1] < errors[0] / 3.5
    assert not linear.inside(np.array([[0.006, 0.02, 0.0], [-0.01, 0.0, 0.0], [np.nan, 0.0, 0.0]])).any()


def test_blocks_of_bricks_are_located_without_a_lattice() -> None:
    mesh = box((4, 3, 2), (4.0, 3.0, 2.0))
    places = np.array([[0.5, 0.5, 0.5], [3.9, 2.9, 1.9], [4.6, 1.0, 1.0]])
    assert mesh.locator.cells(places).tolist() == [
        int(np.argmin(np.linalg.norm(mesh.centre - p, axis=1))) for p in places[:2]
    ] + [-1]


def test_points_in_flat_cells_count_and_the_peak_of_a_boundary_layer_is_seen(channel: dict[str, Any]) -> None:
    """Cells twenty times as long as high near the wall: a line through the layer must see its peak."""
    mesh = plane(channel, PLANES["graded, flat cells"], "0.4 mm")
    layer = lambda x: (0.005 + x[:, 1]) * np.exp(-(0.005 + x[:, 1]) / 4e-4)  # noqa: E731
    answer = answer_of(mesh, layer)
    line = np.column_stack([np.full(401, 0.0201), np.linspace(-0.005, 0.005, 401)])
    assert answer.inside(line).all()
    assert answer.sampler("u", line).max() == pytest.approx(4e-4 / np.e, rel=0.03)
    assert np.ptp(answer.sampler("u", line[:9])) > 0, "not constant inside a cell"


def test_outside_is_outside_and_no_value_is_made_up(channel: dict[str, Any]) -> None:
    mesh = plane(channel, PLANES["cut and merged"])
    answer = answer_of(mesh, lambda x: x[:, 0])
    turn = np.deg2rad(20)
    middle = np.array([[np.cos(turn), -np.sin(turn)], [np.sin(turn), np.cos(turn)]]) @ [0.014, 0.001]
    there = np.array([middle, [1.0, 1.0], [np.inf, 0.0]])
    assert not answer.inside(there).any()
    assert np.isnan(answer.sampler("pressure", there)).all()


def test_what_is_carried_stays_within_its_range(channel: dict[str, Any]) -> None:
    mesh = plane(channel, {})
    answer = answer_of(mesh, lambda x: (x[:, 0] > 0.02).astype(float))
    salt = answer.sampler("c.salt", np.column_stack([np.linspace(0.015, 0.025, 201), np.full(201, 1e-4)]))
    assert salt.min() >= 0 and salt.max() <= 1
