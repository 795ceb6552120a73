"""Volumes beyond a limit, figures of ventilation and comfort, on air whose answer is known."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, review, settle
from mop_lantern.laws.comfort import CLO, MET, mean_vote
from mop_lantern.solve import Solving

AIR = {
    "kind": "constant",
    "density": "1.2 kg/m3",
    "viscosity": "18 uPa s",
    "capacity": "1000 J/kg/K",
    "conductivity": "0.025 W/m/K",
}


def plug(**more: Any) -> dict[str, Any]:
    """State a plug of air, 2 m long and 0.5 m high, at 0.1 m/s."""
    return {
        "media": {"a": AIR},
        "shape": {"parts": {"p": {"kind": "straight", "length": "2 m", "width": "0.5 m"}}},
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "p.start", "velocity": "0.1 m/s", "temperature": "22 °C"},
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "physics": {"flow": "laminar"},
            "walls": {key: {"kind": "slip", "edge": f"p.{key}"} for key in ("left", "right")},
            "age": {"solve": True, "diffusivity": "0 m2/s"},
            "grid": {"cell": "50 mm"},
            **more.pop("field", {}),
        },
        **more,
    }


def readings_of(data: dict[str, Any], **readings: Any) -> dict[str, float]:
    """Solve a case and take readings."""
    solving = Solving(settle(parse_case({**data, "readings": readings})), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return {key: last["readings"][key]["value"] for key in readings}


def test_a_plug_of_air_has_the_figures_of_sandberg() -> None:
    """Age x / U: a plug's efficiency is 1, its mean age half of V / Q = 20 s (reference O-8.4)."""
    got = readings_of(
        plug(),
        nominal={"kind": "ventilation", "measure": "nominal"},
        changes={"kind": "ventilation", "measure": "changes"},
        mean={"kind": "ventilation", "measure": "mean_age"},
        efficiency={"kind": "ventilation", "measure": "efficiency"},
        local={"kind": "ventilation", "measure": "index", "at": ["1 m", "0 mm"]},
        exhaust={"kind": "edge_value", "edge": "p.end", "quantity": "age", "measure": "flow_mean"},
        old={"kind": "beyond", "quantity": "age", "limit": "15 s"},
        share={"kind": "beyond", "quantity": "age", "way": "below", "limit": "0.25 min", "measure": "share"},
        middle={"kind": "beyond", "quantity": "age", "way": "between", "limit": "5 s", "upper": "10 s"},
        boxed={
            "kind": "beyond",
            "quantity": "age",
            "limit": "15 s",
            "extent": "box",
            "low": ["0 m", "-1 m"],
            "high": ["1.75 m", "1 m"],
        },
    )
    assert got["nominal"] == pytest.approx(20) and got["changes"] == pytest.approx(180)
    assert got["exhaust"] == pytest.approx(20, rel=1e-6)
    assert got["mean"] == pytest.approx(10, rel=1e-3) and got["efficiency"] == pytest.approx(1, rel=1e-3)
    assert got["local"] == pytest.approx(2, rel=1e-2)
    assert got["old"] == pytest.approx(0.5 * 0.5) and got["share"] == pytest.approx(0.75)
    assert got["middle"] == pytest.approx(0.25) and got["boxed"] == pytest.approx(0.125)


def test_a_limit_in_another_dimension_is_refused_at_its_place() -> None:
    data = plug(readings={"old": {"kind": "beyond", "quantity": "age", "limit": "3 m"}})
    assert [fault.path for fault in review(parse_case(data)).faults] == ["readings.old.limit"]


def test_without_an_age_the_figures_of_age_have_no_value() -> None:
    got = readings_of(
        plug(field={"age": {"solve": False}}),
        efficiency={"kind": "ventilation", "measure": "efficiency"},
        changes={"kind": "ventilation"},
    )
    assert got["efficiency"] is None or np.isnan(got["efficiency"])
    assert got["changes"] == pytest.approx(180)


def test_comfort_is_that_of_the_air_and_of_what_shines_on_it() -> None:
    comfort = {"solve": True, "activity": "1.2", "clothing": "0.5", "humidity": "60 %", "radiant": "24 °C"}
    got = readings_of(
        plug(field={"heat": {"solve": True, "start": "22 °C"}, "comfort": comfort}),
        vote={"kind": "point", "at": ["1 m", "0 mm"], "quantity": "vote"},
        felt={"kind": "point", "at": ["1 m", "0 mm"], "quantity": "operative"},
        draught={"kind": "point", "at": ["1 m", "0 mm"], "quantity": "draught"},
    )
    assert got["vote"] == pytest.approx(float(mean_vote(22, 24, 0.1, 0.6, 1.2 * MET, 0.5 * CLO)), abs=1e-3)
    assert got["felt"] == pytest.approx(296.15, abs=0.01)
    assert 100 * got["draught"] == pytest.approx(12 * 0.05**0.62 * (0.37 * 0.1 * 40 + 3.14), rel=1e-3)


def test_comfort_without_a_temperature_is_refused() -> None:
    faults = review(parse_case(plug(field={"comfort": {"solve": True}}))).faults
    assert [fault.path for fault in faults] == ["field.comfort.solve"]


def test_comfort_needs_temperature() -> None:
    data = plug(readings={"vote": {"kind": "region", "quantity": "vote"}})
    faults = review(parse_case(data)).faults
    assert faults[0].path == "readings.vote.quantity" and "comfort" in faults[0].remedy


def test_a_solve_waits_for_the_age_and_does_not_call_it_unsteady() -> None:
    data = plug(readings={"mean": {"kind": "ventilation", "measure": "mean_age"}})
    events = Solving(settle(parse_case(data)), None, None).events()
    last = [event for event in events if event["event"] == "finished"][-1]
    items = {item["id"]: item for item in last["trust"]}
    assert last["converged"] and items["readings"]["verdict"] == "holds"


def tainted(measure: str = "fraction") -> dict[str, Any]:
    """State the plug with a source in its first tenth; what it gives off is carried straight out."""
    amount = {"volume": "1e-4 m3/s"} if measure == "fraction" else {"mass": "1e-4 kg/s"}
    box = {"low": ["0 m", "-1 m"], "high": ["0.2 m", "1 m"]}
    start = "0" if measure == "fraction" else "0 kg/m3"
    species = {"gas": {"measure": measure, "diffusivity": "0 m2/s", "start": start}}
    sources = {"leak": {"kind": "species", "species": "gas", **amount, **box}}
    return plug(field={"species": species, "sources": sources})


def test_what_a_plug_carries_away_by_the_definitions() -> None:
    """All of 1e-4 in 0.05 m3/s leaves; behind the box it is everywhere, in it half in the mean."""
    got = readings_of(
        tainted(),
        effect={"kind": "removal", "species": "gas"},
        purging={"kind": "removal", "species": "gas", "measure": "purging"},
    )
    assert got["effect"] == pytest.approx(1 / 0.95, rel=2e-3)
    assert got["purging"] == pytest.approx(0.05 / 0.95, rel=2e-3)


def test_the_share_infected_is_that_of_wells_and_riley() -> None:
    """2 g/m3 breathed at 10 L/min for half an hour are 0.6 g: 0.6 of a dose of 1 g."""
    place = {"species": "gas", "at": ["1 m", "0 mm"], "breathing": "10 L/min", "time": "30 min"}
    got = readings_of(tainted("density"), ill={"kind": "infection", **place})
    assert got["ill"] == pytest.approx(1 - np.exp(-0.6), rel=1e-3)
    share = readings_of(tainted(), ill={"kind": "infection", **place})
    assert share["ill"] is None or np.isnan(share["ill"])


def test_a_reading_of_a_species_there_is_not_is_refused() -> None:
    data = plug(readings={"r": {"kind": "removal", "species": "smoke"}})
    assert [fault.path for fault in review(parse_case(data)).faults] == ["readings.r.species"]
