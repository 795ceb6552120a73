"""Means over time of other readings: by courses made by hand, and in runs."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.judge.readings.over_time import OverTime, mean_over
from mop_lantern.solve import Solving


def asked(measure: str = "mean", begin: float = 0.0, followed: str = "pressure") -> Any:
    return SimpleNamespace(measure=measure, begin=begin, followed=followed)


def test_the_mean_of_a_sine_is_that_of_whole_periods() -> None:
    """Cut off within a period, with steps of uneven length, and with the way from the start before it."""
    times = np.cumsum(np.random.default_rng(3).uniform(0.5, 1.5, 600)) / 60
    values = 4.0 + 0.3 * np.sin(2 * np.pi * 1.37 * times + 0.7)
    assert mean_over(times, values) == pytest.approx(4.0, abs=0.002)
    start = times < 2.0
    values[start] += 5 * (2.0 - times[start])
    assert OverTime.follow(asked(begin=2.0), times, values) == pytest.approx(4.0, abs=0.003)
    assert OverTime.swing(asked(begin=2.0), times, values) == pytest.approx(0.3, rel=0.01)
    assert OverTime.follow(asked("max", 2.0), times, values) == pytest.approx(4.3, abs=0.003)
    assert OverTime.follow(asked("min", 2.0), times, values) == pytest.approx(3.7, abs=0.003)


def test_what_does_not_swing_is_averaged_over_all_of_it() -> None:
    times = np.array([0.0, 1.0, 4.0])
    assert mean_over(times, np.array([2.0, 2.0, 2.0])) == pytest.approx(2.0)
    assert mean_over(times, times) == pytest.approx(2.0), "by time, not by steps"


def test_nothing_is_said_before_it_begins() -> None:
    times = np.array([0.0, 1.0, 2.0])
    assert np.isnan(OverTime.follow(asked(begin=1.5), times, times))
    assert OverTime.swing(asked(begin=1.5), times, times) == 0.0
    twice = np.array([0.0, 1.0, 2.0, 2.0])  # the last value is taken once more at the end
    assert OverTime.follow(asked(), twice, twice) == pytest.approx(1.0)


def test_a_mean_that_still_moves_is_known_by_its_halves() -> None:
    times = np.linspace(0, 10, 500)
    swing = np.sin(2 * np.pi * times)
    assert OverTime.drift(asked(), times, 5 + swing) < 1e-3
    assert OverTime.drift(asked(), times, 5 + 0.1 * times + swing) == pytest.approx(0.5 / 6, rel=0.1)
    warm = OverTime.drift(asked(followed="temperature"), times, 293 + 0.1 * times + swing)
    assert warm == pytest.approx(0.5 / 6, rel=0.1), "of four times the swing, not of kelvins above nothing"
    assert OverTime.drift(asked("max"), times, times) == OverTime.drift(asked(), times[:3], times[:3]) == 0.0


PULSED = {
    "field.openings.in": {
        "kind": "velocity",
        "edge": "run.start",
        "velocity": "= 10 mm/s * (1 + 0.5 * sin(2 * pi * t / 0.5 s))",
    },
    "field.time": {"mode": "transient", "until": "3.4 s", "step": "0.025 s", "courant": "0", "every": "1 s"},
    "field.grid.cell": "2.5 mm",
    "readings": {
        "in": {"kind": "flow", "edge": "run.start", "way": "in"},
        "mean": {"kind": "over_time", "swings": "in", "begin": "0.1 s"},
        "most": {"kind": "over_time", "swings": "in", "measure": "max"},
    },
}


def test_the_mean_flow_of_a_pulsed_channel(channel: dict[str, Any]) -> None:
    case = apply(parse_case(channel), PULSED)
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    readings = last["readings"]
    even = 0.010 * settle(case).shape.edge_lengths["run.start"] * settle(case).shape.depth
    assert readings["mean"]["value"] == pytest.approx(even, rel=0.01)
    assert readings["mean"]["swing"] == pytest.approx(0.5 * even, rel=0.02)
    assert readings["most"]["value"] == pytest.approx(1.5 * even, rel=0.01)
    assert readings["mean"]["dimension"] == "volume_flow"
    item = next(item for item in last["trust"] if item["id"] == "means")
    assert item["verdict"] == "holds" and "later half of mean differ" in item["text"]


def test_a_mean_that_has_not_come_to_rest_is_a_caution(channel: dict[str, Any]) -> None:
    """A flow that doubles while it is followed."""
    rising = {**PULSED["field.openings.in"], "velocity": "= 10 mm/s * (1 + t / 1.8 s)"}
    short = {**PULSED["field.time"], "until": "1 s", "step": "0.05 s"}
    case = apply(parse_case(channel), {**PULSED, "field.openings.in": rising, "field.time": short})
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    item = next(item for item in last["trust"] if item["id"] == "means")
    assert item["verdict"] == "caution" and "Follow it longer" in item["text"]


def test_a_steady_run_says_why_there_is_no_mean(channel: dict[str, Any]) -> None:
    edits = {"readings.calm": {"kind": "over_time", "swings": "drop"}, "field.grid.cell": "2.5 mm"}
    case = apply(parse_case(channel), edits)
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    assert last["readings"]["calm"]["value"] is None
    assert any("calm" in item["text"] and "in time" in item["text"] for item in last["trust"])


def test_only_readings_of_the_field_are_followed_and_their_faults_are_told_once(
    channel: dict[str, Any],
) -> None:
    case = parse_case(channel)
    lost = apply(case, {"readings.m": {"kind": "over_time", "swings": "nothing"}})
    assert [fault.path for fault in review(lost).faults] == ["readings.m.swings"]
    wrong = {"readings.p": {"kind": "point", "at": ["1 mm", "0 mm"], "quantity": "T"}}
    both = apply(case, {**wrong, "readings.m": {"kind": "over_time", "swings": "p"}})
    assert [fault.path for fault in review(both).faults] == ["readings.p.quantity"]
