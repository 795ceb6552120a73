"""Measured data against curves: figures, fits, export; packing of answers."""

from __future__ import annotations

import csv
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.errors import FileError
from mop_lantern.judge.packing import pack, unpack
from mop_lantern.results import deviation, fit, open_answer, write_comparison
from mop_lantern.solve import Solving

X = np.linspace(0.0, 1.0, 101)
CURVE = np.sin(3 * X)


def test_figures_of_a_constant_difference() -> None:
    found = deviation(np.array([0.1, 0.5, 0.9]), np.interp([0.1, 0.5, 0.9], X, CURVE) - 0.2, X, CURVE)
    assert found is not None
    assert (found.bias, found.rms, found.worst, found.count) == pytest.approx((0.2, 0.2, 0.2, 3))


def test_points_beyond_the_curve_do_not_count() -> None:
    found = deviation(np.array([0.5, 7.0]), np.array([0.0, 0.0]), X, CURVE)
    assert found is not None and found.count == 1
    assert deviation(np.array([7.0]), np.array([0.0]), X, CURVE) is None


@given(st.floats(0.2, 5.0), st.floats(-3.0, 3.0))
def test_fits_undo_what_was_done_to_the_points(scale: float, shift: float) -> None:
    x = np.linspace(0.05, 0.95, 20)
    y = (np.interp(x, X, CURVE) - shift) / scale
    found = fit(x, y, X, CURVE, "both")
    assert found[:2] == pytest.approx((scale, shift), rel=1e-6, abs=1e-6)


def test_a_shift_along_is_found() -> None:
    x = np.linspace(0.2, 0.7, 30)
    _, _, along = fit(x - 0.1, np.interp(x, X, CURVE), X, CURVE, "along")
    assert along == pytest.approx(0.1, abs=2e-3)
    with pytest.raises(ValueError, match="fewer than two"):
        fit(np.array([5.0]), np.array([1.0]), X, CURVE, "scale")


def test_curves_and_points_go_into_one_file(tmp_path: Path) -> None:
    path = tmp_path / "c.csv"
    write_comparison(
        path, ("x", "y"), {"model": (X[:3], CURVE[:3])}, {"lab": (np.array([0.5]), np.array([np.nan]))}
    )
    rows = list(csv.reader(path.open()))
    assert (
        rows[0] == ["name", "kind", "x", "y"]
        and rows[1][:2] == ["model", "model"]
        and rows[-1] == ["lab", "measured", "0.5", ""]
    )
    with pytest.raises(FileError):
        write_comparison(tmp_path / "no" / "c.csv", ("x", "y"), {}, {})


def test_answers_with_scalars_survive_storage(channel: dict[str, Any], tmp_path: Path) -> None:
    edits = {
        "field.heat.solve": True,
        "field.species.salt": {"title": "salt"},
        "field.openings.in.carries.salt": "0.03",
        "field.age.solve": True,
    }
    solving = Solving(settle(apply(parse_case(channel), edits)), None, tmp_path)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    made, stored = solving.run.physics.answer(True), open_answer(Path(last["run"]))
    assert set(stored.scalars) == {"T", "c.salt", "age"} and stored.quantities["c.salt"] == (
        "salt",
        "fraction",
    )
    for name, scalar in made.scalars.items():
        assert np.array_equal(scalar.cells, stored.scalars[name].cells) and np.array_equal(
            scalar.leaving, stored.scalars[name].leaving
        )
    again = unpack(made.mesh, pack(made))
    assert again.density == made.density and np.array_equal(again.cells("age"), made.cells("age"))
