"""A flow whose steady iterations never come to rest: a plate across a channel, coarse and turbulent."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.solve.solving import Solving

CORNERS = [("0.8 m", "0.42 m"), ("0.9 m", "0.42 m"), ("0.9 m", "0.62 m"), ("0.8 m", "0.62 m")]
CASE: dict[str, Any] = {
    "lantern": "case",
    "schema": 3,
    "title": "Plate across a channel",
    "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
    "shape": {
        "space": "plane",
        "depth": "1 m",
        "parts": {
            "duct": {"kind": "straight", "start": ["0 m", "0.5 m"], "length": "3 m", "width": "1 m"},
            "post": {"kind": "block", "points": [list(corner) for corner in CORNERS]},
        },
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "duct.start", "velocity": "1 m/s"},
            "out": {"kind": "static_pressure", "edge": "duct.end", "pressure": "0 Pa"},
        },
        "grid": {"cell": "40 mm"},
    },
    "readings": {"loss": {"kind": "drop", "edge": "duct.start", "to": "duct.end"}},
}


@pytest.fixture(scope="module")
def swung() -> dict[str, Any]:
    return [*Solving(settle(parse_case(CASE)), None, None).events()][-1]


def test_it_gives_up_long_before_the_last_iteration_and_is_not_trusted(swung: dict[str, Any]) -> None:
    assert swung["iterations"] < 1200
    assert not swung["converged"]


def test_the_mean_and_its_spread_are_told(swung: dict[str, Any]) -> None:
    item = next(item for item in swung["trust"] if item["id"] == "readings")
    assert item["verdict"] == "fails"
    assert "keep swinging: loss, by " in item["text"]
    loss = swung["readings"]["loss"]
    assert 0.01 * loss["value"] < loss["swing"] < 0.2 * loss["value"]


def test_a_state_never_reached_is_not_called_stable(swung: dict[str, Any]) -> None:
    assert not any(item["id"] == "stability" for item in swung["trust"])


def test_its_remedy_follows_it_in_time(swung: dict[str, Any], tmp_path: Path) -> None:
    item = next(item for item in swung["trust"] if item.get("remedy"))
    assert item["remedy"] == "Follow it in time"
    assert item["edits"]["field.time.until"] == "15 s"  # five times 3 m at 1 m/s
    short = {**item["edits"], "field.time.until": "0.2 s"}
    told = [*Solving(settle(apply(parse_case(CASE), short)), None, tmp_path).events()][-1]
    assert told["time"] == pytest.approx(0.2)
