"""When readings pass a limit: by courses made by hand, and for a detector in a run."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.judge.readings.reaches import passed
from mop_lantern.solve import Solving

TIMES = np.array([0.0, 1.0, 2.0, 3.0, 4.0, 5.0])
PUFF = np.array([0.0, 0.0, 4.0, 1.0, 3.0, 0.0])


@pytest.mark.parametrize(
    ("when", "limit", "expected"),
    [("rises", 2.0, 1.5), ("rises", 9.0, np.nan), ("stays", 2.0, 4 + 1 / 3), ("falls", 2.0, 0.0)],
)
def test_a_puff_passes_its_limits_between_steps(when: str, limit: float, expected: float) -> None:
    assert passed(TIMES, PUFF, limit, when) == pytest.approx(expected, nan_ok=True)


def test_what_never_was_above_is_not_cleared_and_what_still_is_neither() -> None:
    assert np.isnan(passed(TIMES, 0 * PUFF, 2.0, "stays"))
    assert np.isnan(passed(TIMES[:3], PUFF[:3], 2.0, "stays"))
    assert np.isnan(passed(TIMES[:1], PUFF[:1], 2.0, "rises"))


def test_a_decay_falls_below_once() -> None:
    times = np.linspace(0, 5, 2000)
    assert passed(times, np.exp(-times), np.exp(-2), "falls") == pytest.approx(2, rel=1e-4)


DETECTED = {
    "field.walls": {key: {"kind": "slip", "edge": f"run.{key}"} for key in ("left", "right")},
    "field.openings.in": {
        "kind": "velocity",
        "edge": "run.start",
        "velocity": "10 mm/s",
        "carries": {"dye": "= pulse(t, 0 s, 1 s)"},
    },
    "field.start.u": "10 mm/s",
    "field.species": {"dye": {"diffusivity": "1e-9 m2/s"}},
    "field.time": {"mode": "transient", "until": "4 s", "step": "0.05 s", "courant": "0", "every": "4 s"},
    "readings": {
        "dye": {"kind": "point", "at": ["20 mm", "0 mm"], "quantity": "c.dye"},
        "found": {"kind": "reaches", "swings": "dye", "limit": "50 %"},
        "clear": {"kind": "reaches", "swings": "dye", "limit": "50 %", "when": "stays"},
    },
}


def test_a_detector_responds_when_the_front_comes_by_and_clears_after_it(channel: dict[str, Any]) -> None:
    settled = settle(apply(parse_case(channel), DETECTED))
    last = [event for event in Solving(settled, None, None).events() if event["event"] == "finished"][-1]
    assert last["readings"]["found"]["value"] == pytest.approx(2.0, abs=0.1)
    assert last["readings"]["clear"]["value"] == pytest.approx(3.0, abs=0.15)


def test_a_limit_has_the_unit_of_the_reading_followed(channel: dict[str, Any]) -> None:
    readings = {"late": {"kind": "reaches", "swings": "drop", "limit": "3 m"}}
    faults = review(apply(parse_case(channel), {"readings.late": readings["late"]})).faults
    assert [fault.path for fault in faults] == ["readings.late.limit"]
    lost = {**readings["late"], "swings": "nothing", "limit": "3 Pa"}
    faults = review(apply(parse_case(channel), {"readings.late": lost})).faults
    assert [fault.path for fault in faults] == ["readings.late.swings"]
