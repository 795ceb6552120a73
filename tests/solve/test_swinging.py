"""A flow whose steady iterations never come to rest: a plate across a channel, coarse and turbulent."""

from __future__ import annotations

from pathlib import Path
from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.field.flow import Step
from mop_lantern.judge import Measured, Trust
from mop_lantern.solve import flow_run, prepare, swinging
from mop_lantern.solve.flow_run import FlowRun, Traces
from mop_lantern.solve.solving import Solving
from mop_lantern.solve.swinging import REMEDY, averaged, gives_up, going_on, swing_trust, swings_of

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
    """Solve it without damping its swings."""
    with pytest.MonkeyPatch.context() as patch:
        patch.setattr(flow_run, "calm_down", lambda run: None)
        return [*Solving(settle(parse_case(CASE)), None, None).events()][-1]


def test_damped_it_comes_to_a_state_that_is_told_not_to_last() -> None:
    last = [*Solving(settle(parse_case(CASE)), None, None).events()][-1]
    trust = {item["id"]: item for item in last["trust"]}
    assert trust["momentum"]["verdict"] == "holds" and trust["calmed"]["verdict"] == "caution"
    assert trust["stability"]["verdict"] == "fails" and not last["converged"]


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
    assert "field.start.solution" not in item["edits"], "it was not stored"
    assert item["remedy"] == "Follow it in time"
    assert item["edits"]["field.time.until"] == "15 s"  # five times 3 m at 1 m/s
    assert item["edits"]["field.time.shows"] == "mean"
    assert item["edits"]["field.time.mean_from"] == "6 s"  # over the last three of them
    short = {**item["edits"], "field.time.until": "0.2 s", "field.time.mean_from": "0.02 s"}
    told = [*Solving(settle(apply(parse_case(CASE), short)), None, tmp_path).events()][-1]
    assert told["time"] == pytest.approx(0.2)


def test_what_is_followed_for_its_means_begins_from_the_answer(tmp_path: Path) -> None:
    mean = Trust("readings", "fails", 1.0, 0.1, "It swings.", REMEDY, {"field.time.shows": "mean"})
    plain = [Trust("stability", "fails", 1.0, 0.1, "A vortex.", REMEDY, {"field.time.mode": "transient"})]
    asked: list[int] = []

    def folder() -> Path:
        asked.append(1)
        return tmp_path

    assert going_on(plain, folder) == plain and not asked, "a state that no flow keeps is no start"
    item = going_on([mean], folder)[0]
    assert item.edits == {"field.time.shows": "mean", "field.start.solution": str(tmp_path)}
    assert "field.start.solution" not in mean.edits


def course(half: float, momentum: float) -> Any:
    """A run whose only reading swings about 2 Pa by ``half``, with a residual under or over its limit."""
    run = Solving(settle(parse_case(CASE)), None, None)
    traces = Traces()
    for k in range(0, 800, 5):
        traces.add(Step(k, momentum, 1e-9, 1), {"loss": 2.0 + half * np.sin(k / 11)})
    told = {"loss": Measured(2.0, "pressure", "Loss")}
    last = Step(800, momentum, 1e-9, 1)
    made = SimpleNamespace(
        traces=traces, last=last, residual=1e-4, readings=told, watched={}, settled=run.settled
    )
    made.shown = lambda key: key
    made.spread = 4.0
    return made


def test_a_little_swing_of_a_flow_at_rest_is_a_caution() -> None:
    run = course(0.03, 1e-5)
    swings = swings_of(run.traces, ["loss"])
    item = swing_trust(run, 0.03, "loss", swings)
    assert item.verdict == "caution" and not item.remedy
    assert "but for a little swing: loss, by 1.5% to either side" in item.text
    read = averaged(run.readings, swings)["loss"]
    assert (read.value, read.swing) == (pytest.approx(2.0, abs=0.003), pytest.approx(0.03, rel=0.05))


def test_a_temperature_swings_by_kelvins_of_what_differs_in_the_room(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(swinging, "in_time", lambda run, mean: {})
    run = course(0.1, 1e-5)
    run.traces.columns["loss"] = [value + 293.0 for value in run.traces.columns["loss"]]
    run.readings["loss"] = Measured(295.0, "temperature", "Air")
    item = swing_trust(run, 0.03, "loss", swings_of(run.traces, ["loss"]))
    assert item.verdict == "caution" and "loss, by 2.5% to either side" in item.text, "0.1 K of 4 K"
    run.last = Step(800, 1e-2, 1e-9, 1)
    item = swing_trust(run, 0.03, "loss", swings_of(run.traces, ["loss"]))
    assert "loss, by 0.1 K to either side" in item.text


def test_a_flow_that_damping_did_not_calm_is_offered_in_time_too(monkeypatch: pytest.MonkeyPatch) -> None:
    """Its readings neither stand nor swing evenly: a room whose jets wander."""
    settled = settle(parse_case(CASE))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(5.0, 3)
    run.last = Step(800, 6e-4, 1e-9, 1)
    monkeypatch.setattr(run, "changes", lambda: {"loss": 0.07})
    assert not swing_trust(run, 0.07, "loss", {}).remedy, "it may need no more than iterations"
    run.flow.calm()
    item = swing_trust(run, 0.07, "loss", {})
    assert item.verdict == "fails" and item.remedy == "Follow it in time" and "no steady state" in item.text
    assert item.edits["field.time.shows"] == "mean"
    assert not swing_trust(run, 0.005, "loss", {}).remedy, "nearly steady is a caution"


@pytest.mark.parametrize(
    ("half", "momentum", "closure", "heat", "ends"),
    [
        (1e-5, 3e-4, True, 0.0, True),  # steady, three times over the limit
        (1e-5, 3e-4, False, 0.0, False),  # laminar flow can do better
        (1e-5, 8e-4, True, 0.0, False),  # too far over it
        (1e-5, 3e-4, True, 1.0, False),  # heat that drives the flow is not found yet
        (0.006, 3e-4, True, 0.0, False),  # not steady to 0.1 %, and too little to be called swinging
    ],
)
def test_a_turbulent_flow_whose_readings_stand_goes_on_no_longer(
    half: float, momentum: float, closure: bool, heat: float, ends: bool
) -> None:
    run = course(half, momentum)
    run.physics = SimpleNamespace(
        turbulence=object() if closure else None, driving=["T"] if heat else [], driving_residual=heat
    )
    run.changes = lambda: run.traces.changes({"loss": "pressure"})
    assert gives_up(run) == ends


def test_readings_of_what_waits_for_the_flow_do_not_tell_whether_it_stands(channel: dict[str, Any]) -> None:
    """The age is solved in the end: before, flows, pressures and the mean speed are watched in its place."""
    edits = {
        "field.age": {"solve": True},
        "readings": {"mean": {"kind": "ventilation", "measure": "mean_age"}},
    }
    settled = settle(apply(parse_case(channel), edits))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(60.0, 60)
    assert {"in.pressure", "fluid.speed"} <= set(run.changes()) and "mean" not in run.changes()
    assert run.change()[0] > 0
    asked = settle(
        apply(settled.case, {"readings.drop": {"kind": "drop", "edge": "run.start", "to": "run.end"}})
    )
    run = FlowRun(asked, prepare(asked), None)
    run.advance(60.0, 60)
    assert set(run.changes()) == {"drop"} and not run.watched


def test_what_is_given_is_no_sign_that_a_flow_stands(channel: dict[str, Any]) -> None:
    """Only the outflow is read, which is given: pressures and the mean speed are watched beside it."""
    only = {"q": {"kind": "flow", "edge": "run.end"}}
    settled = settle(apply(parse_case(channel), {"readings": only}))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(60.0, 120)
    assert {"q", "fluid.speed", "in.pressure"} <= set(run.changes())
    columns = run.traces.columns
    assert len({len(column) for column in columns.values()}) == 1, "rows stay in step"
    assert np.isnan(columns["fluid.speed"][0]) and np.isfinite(columns["fluid.speed"][-1])


def test_a_pressure_nobody_asked_for_counts_by_what_drives_the_flow(channel: dict[str, Any]) -> None:
    """A tremble of a thousandth of the dynamic pressure, about a pressure near nothing."""
    asked = {
        "q": {"kind": "flow", "edge": "run.end"},
        "p": {"kind": "edge_value", "edge": "run.start", "quantity": "pressure", "measure": "mean"},
    }
    changes = {}
    for watched in (True, False):
        readings = {"q": asked["q"]} if watched else asked
        settled = settle(apply(parse_case(channel), {"readings": readings}))
        run = FlowRun(settled, prepare(settled), None)
        run.advance(60.0, 120)
        name = "in.pressure" if watched else "p"
        column = run.traces.columns[name]
        dynamic = 0.5 * run.flow.density * run.flow.reference_speed**2
        column[:] = [1e-3 * dynamic * (-1.0) ** row for row in range(len(column))]
        changes[watched] = run.changes()[name]
    assert changes[True] == pytest.approx(2e-3, rel=1e-6)
    assert changes[False] == pytest.approx(2.0, rel=1e-6)
