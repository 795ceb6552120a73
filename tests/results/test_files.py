"""Files of results: whole or not at all, states by their time, tables with their units, fits that undo."""

from __future__ import annotations

import csv
import os
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.errors import FileError
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.results.comparison import deviation, fit, write_comparison
from mop_lantern.results.profile import profile
from mop_lantern.results.states import keep_state, open_state, state_times
from mop_lantern.results.table import write_profile, write_readings
from mop_lantern.results.whole import SUM, check_sum, write_whole
from tests.grid.test_hand_made import sheared


def answer_at(time: float = 0.0) -> FieldResult:
    """Give a field on a lattice of 6 x 4 cells whose pressure is x + 10 y."""
    mesh = sheared(6, 4, 0.0)
    wall = mesh.face_centre[mesh.n_internal :]
    still = np.zeros((mesh.n_boundary, 3))
    law = lambda places: places[:, 0] + 10 * places[:, 1]  # noqa: E731
    return FieldResult(
        mesh,
        np.tile([1.0 + time, 0.0, 0.0], (mesh.n_cells, 1)),
        law(mesh.centre),
        np.zeros(len(mesh.owner)),
        still,
        law(wall),
        still,
        1000.0,
        {
            "T": Scalar(
                np.full(mesh.n_cells, 300.0),
                np.full(len(wall), 300.0),
                np.zeros(len(wall)),
                "temperature",
                "temperature",
            )
        },
        time,
    )


# --- whole files ---


def test_a_file_is_written_whole_with_its_sum(tmp_path: Path) -> None:
    path = tmp_path / "a.bin"
    write_whole(path, b"lantern", "the answer", summed=True)
    assert path.read_bytes() == b"lantern" and (tmp_path / f"a.bin{SUM}").exists()
    check_sum(path)
    assert sorted(each.name for each in tmp_path.iterdir()) == ["a.bin", f"a.bin{SUM}"], "nothing left over"


@pytest.mark.parametrize("damage", [b"lanterN", b"lanter", b"lanterns", b""])
def test_any_change_is_told(tmp_path: Path, damage: bytes) -> None:
    path = tmp_path / "a.bin"
    write_whole(path, b"lantern", "the answer", summed=True)
    path.write_bytes(damage)
    with pytest.raises(FileError, match="damaged"):
        check_sum(path)


def test_a_file_without_a_sum_passes_and_a_spoilt_sum_does_not(tmp_path: Path) -> None:
    path = tmp_path / "a.bin"
    write_whole(path, b"lantern", "the answer")
    check_sum(path)
    (tmp_path / f"a.bin{SUM}").write_bytes(b"\xff\xfe nonsense")
    with pytest.raises(FileError):
        check_sum(path)


def test_what_was_there_stays_when_the_new_cannot_be_written(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "a.bin"
    write_whole(path, b"old", "the answer")

    def full(*_: Any) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileError, match="the answer cannot be written"):
        write_whole(path, b"new", "the answer")
    assert path.read_bytes() == b"old" and [each.name for each in tmp_path.iterdir()] == ["a.bin"]


# --- states ---


def test_states_are_kept_by_their_time_and_the_oldest_go(tmp_path: Path) -> None:
    for time in (0.5, 1.0, 10.0, 2.0):
        keep_state(tmp_path, answer_at(time), 3)
    assert state_times(tmp_path) == [1.0, 2.0, 10.0]
    mesh = answer_at().mesh
    for asked, got in ((1.0, 1.0), (1.4, 1.0), (9.0, 10.0), (-5.0, 1.0), (1e9, 10.0)):
        found = open_state(tmp_path, asked, mesh)
        assert found.time == got and found.velocity[0, 0] == pytest.approx(1.0 + got)
        assert found.scalars["T"].cells == pytest.approx(np.full(mesh.n_cells, 300.0))


def test_states_a_nanosecond_apart_do_not_write_over_each_other(tmp_path: Path) -> None:
    times = [1e-9, 2e-9, 1e-6, 3.5e4]
    for time in times:
        keep_state(tmp_path, answer_at(time), 10)
    assert state_times(tmp_path) == pytest.approx(times)
    assert open_state(tmp_path, 2e-9, answer_at().mesh).time == pytest.approx(2e-9)


def test_states_of_earlier_runs_are_still_found(tmp_path: Path) -> None:
    """Their names had six decimals."""
    keep_state(tmp_path, answer_at(0.25), 5)
    (only,) = (tmp_path / "states").glob("*.npz")
    only.rename(only.with_name("0000000.250000.npz"))
    assert state_times(tmp_path) == [0.25]
    assert open_state(tmp_path, 0.2, answer_at().mesh).time == 0.25


def test_no_states_and_odd_files_among_them(tmp_path: Path) -> None:
    with pytest.raises(FileError, match="no states"):
        open_state(tmp_path, 0.0, answer_at().mesh)
    keep_state(tmp_path, answer_at(1.0), 5)
    (tmp_path / "states" / "notes.npz").write_bytes(b"odd")
    assert state_times(tmp_path) == [1.0]
    (tmp_path / "states" / "2.0.npz").write_bytes(b"no state")
    with pytest.raises(FileError, match="cannot be read"):
        open_state(tmp_path, 2.0, answer_at().mesh)


def test_a_state_on_another_mesh_is_refused(tmp_path: Path) -> None:
    keep_state(tmp_path, answer_at(1.0), 5)
    with pytest.raises(FileError, match="cannot be read"):
        open_state(tmp_path, 1.0, sheared(3, 3, 0.0))


# --- tables ---


def test_readings_stand_in_columns_and_gaps_stay_empty(tmp_path: Path) -> None:
    one = {"q": {"title": "Flow", "unit": "m3/s", "value": 1.5}}
    other = {
        "q": {"title": "Flow", "unit": "m3/s", "value": 2.5},
        "p": {"title": "Drop", "unit": "Pa", "value": 7},
    }
    path = tmp_path / "r.csv"
    write_readings(path, {"as drawn": one, "B": other})
    rows = list(csv.reader(path.open(encoding="utf-8")))
    assert rows == [
        ["id", "title", "unit", "as drawn", "B"],
        ["q", "Flow", "m3/s", "1.5", "2.5"],
        ["p", "Drop", "Pa", "", "7"],
    ]
    with pytest.raises(FileError, match="Choose another folder"):
        write_readings(Path("/nowhere/at/all.csv"), {"a": one})


def test_a_profile_says_units_and_leaves_the_outside_empty(tmp_path: Path) -> None:
    path = tmp_path / "p.csv"
    write_profile(path, answer_at(), [-1.0, 2.0], [7.0, 2.0], ["pressure", "T"], 17)
    head, *rows = csv.reader(path.open(encoding="utf-8"))
    assert head == ["distance [m]", "x [m]", "y [m]", "pressure [Pa]", "T [K]"]
    assert len(rows) == 17 and rows[0][3] == "" and rows[-1][3] == ""
    for row in rows:
        if row[3]:
            assert float(row[3]) == pytest.approx(float(row[1]) + 20, abs=1e-6)
    with pytest.raises(FileError, match="wings"):
        write_profile(path, answer_at(), [0, 0], [1, 1], ["wings"])


def test_profiles_of_a_linear_field_are_lines() -> None:
    along, values = profile(answer_at(), "pressure", np.array([1.0, 1.0]), np.array([4.0, 3.0]), 31)
    assert along[-1] == pytest.approx(np.hypot(3, 2))
    assert values == pytest.approx(np.linspace(11.0, 34.0, 31), abs=1e-6)


# --- comparison ---


@pytest.mark.parametrize("seed", range(5))
def test_scale_and_shift_are_found_together(seed: int) -> None:
    rng = np.random.default_rng(seed)
    x = np.linspace(0, 1, 200)
    curve = np.sin(4 * x) + x
    at = np.sort(rng.uniform(0, 1, 25))
    scale, shift = rng.uniform(0.5, 2.0), rng.uniform(-1, 1)
    measured = (np.interp(at, x, curve) - shift) / scale
    assert fit(at, measured, x, curve, "both") == pytest.approx((scale, shift, 0.0), abs=1e-9)
    found = fit(at, measured, x, curve, "both")
    left = deviation(at, found[0] * measured + found[1], x, curve)
    assert left is not None and left.rms < 1e-9 and left.count == 25


def test_curves_with_gaps_and_in_any_order() -> None:
    x = np.array([3.0, 1.0, 2.0, 0.0])
    y = np.array([30.0, 10.0, np.nan, 0.0])
    found = deviation(np.array([0.5, 2.0, 9.0]), np.array([5.0, 19.0, 0.0]), x, y)
    assert found is not None
    assert (found.count, found.worst, found.at) == (2, pytest.approx(1.0), 2.0)
    assert found.bias == pytest.approx(0.5) and found.rms == pytest.approx(np.sqrt(0.5))
    assert deviation(np.array([9.0]), np.array([1.0]), x, y) is None
    assert deviation(np.array([1.0]), np.array([1.0]), x, np.full(4, np.nan)) is None
    with pytest.raises(ValueError, match="fewer than two"):
        fit(np.array([1.0, 9.0]), np.array([1.0, 1.0]), x, y, "scale")


def test_curves_and_points_share_a_file_and_it_may_fail(tmp_path: Path) -> None:
    path = tmp_path / "c.csv"
    curves = {"model": (np.array([0.0, 1.0]), np.array([1.0, 2.0]))}
    points = {"probe": (np.array([0.5]), np.array([1.4]))}
    write_comparison(path, ("x", "y"), curves, points)
    text = path.read_text("utf-8")
    assert "model" in text and "probe" in text and "1.4" in text
    with pytest.raises(FileError):
        write_comparison(Path("/nowhere/at/all.csv"), ("x", "y"), curves, points)


def test_quantities_of_a_field_are_made_from_its_arrays() -> None:
    answer = answer_at()
    assert answer.cells("speed") == pytest.approx(np.ones(24))
    assert answer.cells("total") == pytest.approx(answer.cells("pressure") + 500.0)
    assert answer.has("T") and not answer.has("wings")
    faster = replace(answer, velocity=2 * answer.velocity)
    assert faster.cells("u") == pytest.approx(np.full(24, 2.0))
    assert answer.covers("T").all() and answer.parts == {"": answer}
