"""Readings nobody asked for: they agree with those asked for, and with what went in."""

from __future__ import annotations

import json
from typing import Any

import pytest

from mop_lantern.case import Case, apply, load, parse_case, settle, settle_any
from mop_lantern.judge import standard
from mop_lantern.judge.standard import standard_readings
from mop_lantern.results import RunRecord
from mop_lantern.solve import NetworkSolving, Solving
from mop_lantern.solve.storing import both
from mop_lantern.units import DIMENSIONS
from tests.conftest import DEMOS


def solved(case: Case) -> dict[str, Any]:
    """Solve a case, as sent to the window and the shell, and give its end."""
    settled = settle_any(case)
    solving = NetworkSolving(settled, None) if case.network.lines else Solving(settled, None, None)
    last = list(solving.events())[-1]
    return json.loads(json.dumps(last))


def test_an_opening_tells_its_flow_and_its_pressure(channel: dict[str, Any]) -> None:
    del channel["variants"]
    last = solved(parse_case(channel))
    values = {key: reading["value"] for key, reading in last["standard"].items()}
    assert set(values) == {"in.flow", "in.pressure", "out.flow", "out.pressure"}
    assert values["in.flow"] == pytest.approx(1e-4, rel=1e-9), "10 mm/s through 10 mm by 1 m"
    assert values["out.flow"] == pytest.approx(-1e-4, rel=1e-6), "one sign for all: into the space"
    drop = last["readings"]["drop"]["value"]
    assert values["in.pressure"] - values["out.pressure"] == pytest.approx(drop)
    assert all(DIMENSIONS[item["dimension"]].si == item["unit"] for item in last["standard"].values())


def test_what_is_asked_for_changes_nothing_of_what_is_not(channel: dict[str, Any]) -> None:
    asked = solved(parse_case(channel))
    unasked = solved(parse_case(channel | {"readings": {}, "variants": {}}))
    assert unasked["readings"] == {} and unasked["trust"]
    values = [{key: item["value"] for key, item in last["standard"].items()} for last in (asked, unasked)]
    assert values[0] == pytest.approx(values[1], rel=1e-5)
    steady = next(item for item in unasked["trust"] if item["id"] == "readings")
    assert 0 < steady["value"] < steady["limit"], "nothing asked for is no excuse not to look"
    assert unasked["iterations"] >= 50 and "mean static pressure" in steady["text"]


def test_heat_and_species_are_told_where_they_are_solved(channel: dict[str, Any]) -> None:
    edits = {
        "media.water.capacity": "4000 J/kg/K",
        "media.water.conductivity": "0.6 W/m/K",
        "field.heat": {"solve": True, "start": "10 °C"},
        "field.species.salt": {"title": "salt", "diffusivity": "1e-6 m2/s"},
        "field.openings.in.temperature": "10 °C",
        "field.openings.in.carries.salt": "0.02",
        "field.warm.plate": {"kind": "flux", "edge": "run.left", "flux": "5 kW/m2"},
    }
    last = solved(apply(parse_case(channel), edits))
    values = {key: reading["value"] for key, reading in last["standard"].items()}
    assert values["plate.heat"] == pytest.approx(5000 * 0.04 * 1.0)
    warmer = values["out.T"] - values["in.T"]
    assert warmer == pytest.approx(values["plate.heat"] / (1000 * 4000 * 1e-4), rel=1e-3)
    assert values["out.c.salt"] == pytest.approx(0.02, rel=1e-6)
    assert "salt" in last["standard"]["out.c.salt"]["title"]


def test_a_network_tells_the_flow_and_both_pressures_of_every_line() -> None:
    case = load(DEMOS / "rearing-loop.lantern")
    last = solved(case)
    for key in case.network.lines:
        assert {f"{key}.flow", f"{key}.start", f"{key}.end"} <= set(last["standard"])
    values = {key: reading["value"] for key, reading in last["standard"].items()}
    into = sum(values[f"{key}.flow"] for key, run in case.network.lines.items() if run.end == "manifold")
    away = sum(values[f"{key}.flow"] for key, run in case.network.lines.items() if run.start == "manifold")
    assert into == pytest.approx(away, rel=1e-6)
    assert values["duty.end"] == values["treatment.start"], "they meet at one node"


def test_of_very_many_places_there_is_no_list(
    channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(standard, "MOST", 1)
    assert solved(parse_case(channel))["standard"] == {}


def test_an_opening_closed_by_a_variant_is_left_out(channel: dict[str, Any]) -> None:
    case = parse_case(channel)
    solving = Solving(settle(case), None, None)
    list(solving.events())
    numbers = solving.settled.numbers
    numbers.openings["in"].edge = "run.gone"
    assert {key.partition(".")[0] for key in standard_readings(numbers, solving.answer)} == {"out"}


def test_a_space_and_a_network_with_lines_named_alike_keep_both() -> None:
    def record(value: float) -> RunRecord:
        reading = {"value": value, "unit": "m3/s", "title": "t", "dimension": "volume_flow"}
        return RunRecord({}, "", {}, [], True, 1, 1, 0.0, {}, {}, standard={"main.flow": reading})

    joined = both(record(1.0), record(2.0)).standard
    assert {key: item["value"] for key, item in joined.items()} == {
        "main.flow": 1.0,
        "main.flow.network": 2.0,
    }


def test_fluid_at_rest_is_no_minus_nothing(channel: dict[str, Any]) -> None:
    last = solved(apply(parse_case(channel), {"field.openings.in.velocity": "0 m/s"}))
    values = [item["value"] for item in (*last["standard"].values(), *last["readings"].values())]
    assert values and not any(str(value).startswith("-") for value in values), values


def test_a_drop_that_is_nothing_by_nature_counts_as_steady(channel: dict[str, Any]) -> None:
    edits = {
        "field.openings.in.profile": "uniform",
        "field.walls.a": {"kind": "slip", "edge": "run.left"},
        "field.walls.b": {"kind": "slip", "edge": "run.right"},
    }
    last = solved(apply(parse_case(channel), edits))
    assert abs(last["readings"]["drop"]["value"]) < 1e-6
    assert next(item for item in last["trust"] if item["id"] == "readings")["verdict"] == "holds"
