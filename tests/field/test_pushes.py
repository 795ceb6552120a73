"""Forces on the fluid in a box, and heat that nobody asked for."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.errors import RunError
from tests.field.test_devices import AIR, DRAWN, duct, solved

STILL = {"kind": "total_pressure", "edge": "p.start", "pressure": "0 Pa"}
PUSH = {"kind": "push", "force": "0.12 N", "low": ["200 mm", "-100 mm"], "high": ["600 mm", "100 mm"]}


def test_a_push_drives_what_bernoulli_says() -> None:
    """0.12 N on 0.2 m2 are 0.6 Pa, the dynamic pressure of 1 m/s, which is lost behind."""
    run, last = solved(duct({}, STILL, sources={"f": PUSH}))
    assert float(run.flow.U[:, 0].mean()) == pytest.approx(1.0, rel=2e-3)
    assert last["converged"] and last["trust"]["forces"]["verdict"] == "holds"


def test_a_push_askew_and_against_does_the_same() -> None:
    """Turned by 180 degrees it holds a flow back: the inlet needs 0.6 Pa more to drive it."""
    back = {**PUSH, "heading": "180 deg"}
    _, last = solved(duct({}, DRAWN, sources={"f": back}))
    assert last["readings"]["drop"]["value"] == pytest.approx(0.6, rel=1e-3)


def test_a_push_around_an_axis_counts_for_the_whole_body() -> None:
    """On the pipe of 200 mm: 0.6 Pa times its bore of 0.0314 m2."""
    data = duct({}, STILL, sources={"f": {**PUSH, "force": f"{0.6 * np.pi * 0.01} N"}})
    data["shape"]["space"] = "axis"
    del data["field"]["walls"]["right"]
    run, _ = solved(data)
    assert float(run.flow.U[:, 0].mean()) == pytest.approx(1.0, rel=5e-3)


def test_a_push_that_ends_lets_the_fluid_come_to_rest() -> None:
    """In time, on a shut box: pushed for 0.4 s, then left alone."""
    data: dict[str, Any] = {
        "media": {"a": {**AIR["a"], "viscosity": "0.1 Pa s"}},
        "shape": {"parts": {"p": {"kind": "straight", "length": "400 mm", "width": "400 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "sources": {"f": {**PUSH, "force": "= 1 N * (t < 0.4 s)", "low": ["50 mm", "0 mm"]}},
            "grid": {"cell": "50 mm", "across": "2"},
            "time": {"mode": "transient", "until": "0.4 s", "step": "0.02 s", "courant": "0"},
        },
    }
    run, _ = solved(data)
    moving = float(np.abs(run.flow.U).max())
    data["field"]["time"]["until"] = "1.2 s"
    later, _ = solved(data)
    assert moving > 0.05 and np.abs(later.flow.U).max() < 0.1 * moving


def test_a_push_beside_the_fluid_is_refused_with_its_place() -> None:
    away = {**PUSH, "low": ["5 m", "5 m"], "high": ["6 m", "6 m"]}
    with pytest.raises(RunError, match="no cell lies where this source is") as told:
        solved(duct({}, STILL, sources={"f": away}))
    assert told.value.where == "field.sources.f"


def test_a_push_counts_in_the_reynolds_number() -> None:
    data = duct({}, STILL, sources={"f": PUSH}, physics={"flow": "reynolds"})
    del data["field"]["openings"], data["readings"]
    regime = settle(parse_case(data)).regime
    speed, size = np.sqrt(0.12 / 1.2 / 0.4), 0.4
    assert regime.reynolds == pytest.approx(speed * size * 1.2 / 1e-3, rel=1e-3)


def test_heat_that_nobody_asked_for_is_told_with_its_remedy() -> None:
    heater = {"kind": "heater", "centre": ["300 mm", "0 mm"], "width": "300 mm"}
    lamp = {"kind": "heat", "low": ["0 m", "-1 m"], "high": ["1 m", "1 m"]}
    case = parse_case(duct({"h": heater}, DRAWN, sources={"l": lamp, "f": PUSH}))
    found = [note for note in review(case).notes if note.kind == "heat_unused"]
    assert [note.path for note in found] == ["field.sources.l", "field.devices.h"]
    mended = review(apply(case, found[0].edits)).notes
    assert not [note for note in mended if note.kind == "heat_unused"]
