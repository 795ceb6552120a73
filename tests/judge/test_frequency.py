"""How often readings swing: by courses made by hand, and in a run."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.errors import LanternError
from mop_lantern.judge.readings.frequency import frequency_of
from mop_lantern.solve import Solving


@pytest.mark.parametrize("frequency", [0.3, 3.02, 7.7])
def test_the_frequency_of_a_sine_is_found_between_steps(frequency: float) -> None:
    times = np.cumsum(np.random.default_rng(1).uniform(0.5, 1.5, 900)) / (60 * frequency)
    values = 4.0 + 0.3 * np.sin(2 * np.pi * frequency * times + 0.7)
    assert frequency_of(times, values) == pytest.approx(frequency, rel=1e-3)


def test_growth_noise_and_overtones_do_not_lead_astray() -> None:
    times = np.linspace(0.0, 20.0, 4000)
    swing = np.tanh(times / 6) * (np.sin(2 * np.pi * times) + 0.3 * np.sin(4 * np.pi * times))
    noise = 0.02 * np.random.default_rng(2).standard_normal(len(times))
    assert frequency_of(times, swing + noise) == pytest.approx(1.0, rel=5e-3)


@pytest.mark.parametrize(
    "values",
    [
        np.zeros(100),
        np.linspace(0, 1, 100),
        np.sin(np.linspace(0, 9, 100)),
        np.exp(-np.linspace(0, 9, 100)),
        np.zeros(2),
    ],
)
def test_what_does_not_swing_twice_has_no_frequency(values: Any) -> None:
    assert np.isnan(frequency_of(np.linspace(0.0, 1.0, len(values)), values))


def test_swings_of_very_different_length_are_no_frequency() -> None:
    times = np.linspace(0.0, 4.0, 4000)
    assert np.isnan(frequency_of(times, np.sin(2 * np.pi * 2 ** (times / 2))))


PULSED = {
    "field.openings.in.velocity": "= 10 mm/s * (1 + 0.5 * sin(2 * pi * t / 0.4 s))",
    "field.openings.in.profile": "uniform",
    "field.time.mode": "transient",
    "field.time.until": "1.6 s",
    "field.time.step": "20 ms",
    "readings.beat": {"kind": "frequency", "swings": "drop"},
    "readings.strouhal": {
        "kind": "frequency",
        "swings": "drop",
        "measure": "strouhal",
        "length": "10 mm",
        "speed": "10 mm/s",
    },
}


def solved(case: Any) -> dict[str, Any]:
    """Solve a case and give its last event."""
    return list(Solving(settle(case), None, None).events())[-1]


def test_a_pulsed_channel_tells_its_frequency_and_strouhal_number(channel: dict[str, Any]) -> None:
    last = solved(apply(parse_case(channel), {**PULSED, "field.grid.cell": "2.5 mm"}))
    assert last["readings"]["beat"]["value"] == pytest.approx(2.5, rel=0.01)
    assert last["readings"]["beat"]["unit"] == "Hz"
    assert last["readings"]["strouhal"]["value"] == pytest.approx(2.5, rel=0.01)


def test_a_steady_run_says_why_there_is_no_frequency(channel: dict[str, Any]) -> None:
    last = solved(
        apply(
            parse_case(channel),
            {"readings.beat": {"kind": "frequency", "swings": "drop"}, "field.grid.cell": "2.5 mm"},
        )
    )
    assert last["readings"]["beat"]["value"] is None
    words = next(item["text"] for item in last["trust"] if item["id"] == "reading.beat")
    assert "solution in time" in words


@pytest.mark.parametrize("of", ["nothing", "beat", ""])
def test_a_reading_that_cannot_swing_is_refused_with_its_place(channel: dict[str, Any], of: str) -> None:
    case = apply(parse_case(channel), {"readings.beat": {"kind": "frequency", "swings": of}})
    assert review(case).faults[0].path == "readings.beat.swings"
    with pytest.raises(LanternError):
        settle(case)


def test_the_sheet_shows_only_what_is_used(channel: dict[str, Any]) -> None:
    readings = {
        "beat": {"kind": "frequency", "swings": "drop"},
        "st": {"kind": "frequency", "swings": "drop", "measure": "strouhal"},
        "q": {"kind": "cross_section", "at": ["20 mm", "0 mm"], "measure": "flow"},
        "p": {"kind": "cross_section", "at": ["20 mm", "0 mm"]},
    }
    case = apply(parse_case(channel), {f"readings.{key}": value for key, value in readings.items()})
    shown = {key: case.readings[key].template() for key in readings}
    assert "speed" in shown["st"] and "speed" not in shown["beat"]
    assert "quantity" in shown["p"] and "quantity" not in shown["q"]
