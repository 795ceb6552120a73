"""Adaptation and the grid error: cells go where they pay, steps repeat, bands come out."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.grid import adapt, quality
from mop_lantern.grid.adapt import cost
from mop_lantern.judge import measure
from mop_lantern.numerics.richardson import grid_error
from mop_lantern.results import load_run, read_field
from mop_lantern.solve import Solving, prepare

DISC = {"kind": "disc", "centre": ["14 mm", "1 mm"], "diameter": "3 mm"}


def last_of(data: dict[str, Any], **edits: Any) -> tuple[Solving, dict[str, Any]]:
    """Solve and give the last event."""
    solving = Solving(settle(apply(parse_case(data), edits)), None, None)
    return solving, [event for event in solving.events() if event["event"] == "finished"][-1]


def test_cells_are_halved_where_asked_and_nowhere_else(channel: dict[str, Any]) -> None:
    settled = settle(parse_case(channel))
    mesh = prepare(settled)
    costs = np.where(mesh.centre[:, 0] > 0.03, 1.0, 0.0)
    wanted = adapt(mesh, costs, float((costs > 0).mean()), None)
    finer = prepare(settled, adapted=wanted)
    assert (finer.level[finer.centre[:, 0] > 0.0315] == mesh.level.max() + 1).all()
    assert (finer.level[finer.centre[:, 0] < 0.027] == mesh.level.max()).all()
    assert quality(finer).closure < 1e-9 and finer.volume.sum() == pytest.approx(mesh.volume.sum())


def test_a_front_of_the_pressure_costs_where_velocity_alone_sees_none(channel: dict[str, Any]) -> None:
    mesh = prepare(settle(parse_case(channel)))
    still, flow = np.zeros((mesh.n_cells, 3, 3)), np.tile([2.0, 0.0, 0.0], (mesh.n_cells, 1))
    push = np.where(mesh.centre[:, 0] > 0.03, 8.0, 0.0)[:, None] * np.array([1.0, 0.0, 0.0])
    costs = cost(mesh, still, np.zeros((mesh.n_cells, 9, 3)), flow, "gradients", push)
    assert not cost(mesh, still, np.zeros((mesh.n_cells, 9, 3)), flow, "gradient").any()
    assert costs == pytest.approx(mesh.plane_area * np.where(mesh.centre[:, 0] > 0.03, 8.0 / 2.0, 0.0))


def test_cheap_cells_grow_back_on_a_later_step(channel: dict[str, Any]) -> None:
    settled = settle(parse_case(channel))
    mesh = prepare(settled)
    first = adapt(mesh, np.where(mesh.centre[:, 0] > 0.03, 1.0, 0.0), 0.25, None)
    finer = prepare(settled, adapted=first)
    second = adapt(finer, np.where(finer.centre[:, 0] < 0.01, 1.0, 1e-6), 0.1, first)
    again = prepare(settled, adapted=second)
    assert again.level[again.centre[:, 0] > 0.033].max() == mesh.level.max()


@pytest.mark.parametrize("by", ["curvature", "gradient", "gradients", "recirculation"])
def test_adapted_solves_note_every_step_and_repeat(channel: dict[str, Any], by: str) -> None:
    edits = {
        "shape.parts.d": DISC,
        "field.adapt": {"cycles": "2", "by": by, "share": "10 %"},
        "field.grid.cell": "2 mm",
    }
    first, event = last_of(channel, **edits)
    cells = [cycle["cells"] for cycle in first.cycles]
    assert len(cells) == 3 and cells[0] < cells[1] < cells[2] and event["converged"]
    assert all(set(cycle["readings"]) == {"drop", "flow"} for cycle in first.cycles)
    again, _ = last_of(channel, **edits)
    assert [cycle["cells"] for cycle in again.cycles] == cells
    other, _ = last_of(
        channel,
        **{**edits, "shape.parts.d.diameter": "3.4 mm", "shape.parts.d": {**DISC, "diameter": "3.4 mm"}},
    )
    assert len(other.cycles) == 3


def test_the_field_of_every_step_is_kept_beside_the_run(channel: dict[str, Any], tmp_path: Path) -> None:
    settled = settle(
        apply(parse_case(channel), {"shape.parts.d": DISC, "field.adapt": {"cycles": "2", "share": "10 %"}})
    )
    solving = Solving(settled, None, tmp_path)
    event = [event for event in solving.events() if event["event"] == "finished"][-1]
    record = load_run(Path(event["run"]))
    kept = [read_field(Path(event["run"]) / f"step{number}.vtkhdf") for number in range(3)]
    assert [answer.mesh.n_cells for answer in kept] == [cycle["cells"] for cycle in record.cycles]
    taken = measure(settled.numbers.readings, kept[0])
    assert taken["drop"].value == pytest.approx(record.cycles[0]["readings"]["drop"])


def test_no_step_begins_beyond_the_most_cells(channel: dict[str, Any]) -> None:
    solving, _ = last_of(channel, **{"field.adapt": {"cycles": "5", "share": "100 %", "most": "800"}})
    assert len(solving.cycles) < 6 and solving.cycles[-2]["cells"] <= 800


def test_a_grid_error_comes_with_every_reading(channel: dict[str, Any]) -> None:
    """Friction between plates: the exact drop lies within the band. Source: plane Poiseuille flow, exact."""
    _, event = last_of(
        channel, **{"field.solver.grids": "3", "field.grid.cell": "0.8 mm", "field.grid.across": "1"}
    )
    band = event["readings"]["drop"]["grid_error"]
    exact = 12 * 1e-3 * 0.01 * 0.04 / 0.01**2
    value = event["readings"]["drop"]["value"]
    assert band["grids"] == 3 and abs(value - exact) <= max(band["index"] * value, 0.02 * exact)
    assert any(item["id"] == "grid_error" for item in event["trust"])


@given(st.floats(0.8, 3.0), st.floats(-2, 2), st.floats(0.01, 0.3))
def test_exact_powers_are_found_again(order: float, limit: float, strength: float) -> None:
    sizes = (1.0, 1.5, 2.25)
    values = [limit + 5 + strength * size**order for size in sizes]
    band = grid_error(values, sizes)
    assert band.order == pytest.approx(order, abs=1e-3)
    assert band.extrapolated == pytest.approx(limit + 5, abs=1e-4)
    assert not band.oscillating


def test_two_grids_assume_the_order_and_take_more_care() -> None:
    band = grid_error((1.01, 1.04), (1.0, 2.0))
    assert band.order == 2.0 and band.extrapolated == pytest.approx(1.0)
    assert band.index == pytest.approx(3 * 0.03 / 1.01 / 3)
    with pytest.raises(ValueError, match="grow"):
        grid_error((1.0, 2.0), (2.0, 1.0))
    assert grid_error((1.0, 1.1, 1.0), (1.0, 2.0, 4.0)).oscillating


def test_a_band_is_wider_where_the_grids_do_not_behave() -> None:
    """Second order: the band is the index. To and fro, or an order that no scheme has: three times the larger
    change.
    """
    good = grid_error((1.01, 1.04, 1.16), (1.0, 2.0, 4.0))
    assert good.band == pytest.approx(good.index) and good.order == pytest.approx(2.0)
    swinging = grid_error((1.0, 1.001, 0.9), (1.0, 1.5, 2.25))
    assert swinging.band == pytest.approx(3 * 0.101 / 1.5**2 / 1.25, rel=1e-3) and swinging.index < 0.01
    too_good = grid_error((1.0, 1.0001, 1.1), (1.0, 1.5, 2.25))
    assert too_good.band > 0.1 and np.isfinite([too_good.order, too_good.index]).all()
    assert np.isfinite(grid_error((1.0, 1.0 + 1e-14, 5.0), (1.0, 1.0001, 1.0002)).band)


@pytest.mark.parametrize("cell", ["1 mm", "0.5 mm", "2 mm", "0.999 mm"])
def test_walls_that_lie_on_lattice_lines_keep_their_faces(cell: str) -> None:
    """The header's tubes end on lattice lines at 1 mm; rounding once lost their walls."""
    from mop_lantern.case import load
    from tests.conftest import DEMOS

    mesh = prepare(
        settle(apply(load(DEMOS / "header.lantern"), {"field.grid.cell": cell, "field.grid.across": "4"}))
    )
    assert quality(mesh).closure < 1e-6
    faces = mesh.n_internal + mesh.faces_of("tank1.left")
    assert np.linalg.norm(mesh.area[faces], axis=1).sum() == pytest.approx(0.059 * 0.02, rel=0.02)
