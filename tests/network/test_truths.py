"""What networks once got wrong without a word: bores beside ducts, heat capacities, coolers, Reynolds
numbers, two things at once.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle_any
from mop_lantern.case.network_review import SettledNetwork
from mop_lantern.judge import NetworkResult
from mop_lantern.solve import NetworkSolving

DUCT = {"kind": "duct", "length": "10 m", "section": "rectangular", "width": "400 mm", "height": "100 mm"}
AIR = {"air": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "0.0181 mPa s"}}


def network(
    parts: dict[str, Any], media: dict[str, Any] | None = None, head: str = "10 m", **more: Any
) -> dict[str, Any]:
    """State one line between two reservoirs."""
    ends = {
        "a": {"kind": "reservoir", "level": head, "temperature": more.pop("warm", "20 °C")},
        "b": {"kind": "reservoir"},
    }
    line = {"start": "a", "end": "b", "parts": parts}
    return {
        "title": "n",
        "media": media or {"water": {"kind": "water"}},
        "network": {"nodes": ends, "lines": {"r": line}, **more},
    }


def working(data: dict[str, Any], **edits: Any) -> NetworkResult:
    """Review a network and give its figures."""
    result = review(apply(parse_case(data), edits))
    assert not result.blocked and result.working is not None, result.faults
    return result.working


def solved(data: dict[str, Any]) -> dict[str, Any]:
    """Solve a network as the worker does; trust by id."""
    settled = settle_any(parse_case(data))
    assert isinstance(settled, SettledNetwork)
    last = [event for event in NetworkSolving(settled, None).events() if event["event"] == "finished"][-1]
    return {**last, "trust": {item["id"]: item for item in last["trust"]}}


def test_a_fitting_beside_a_duct_takes_the_area_of_the_duct() -> None:
    """A loss of K on the duct's own velocity; its bore of equal area gives the same flow as a bore typed by
    hand.
    """
    left_open = working(network({"d": DUCT, "k": {"kind": "loss", "k": "2"}}, AIR))
    typed = working(
        network(
            {
                "d": DUCT,
                "k": {"kind": "loss", "k": "2", "bore": f"{float(1e3 * np.sqrt(4 * 0.04 / np.pi))!r} mm"},
            },
            AIR,
        )
    )
    assert left_open.lines["r"]["volume_flow"] == pytest.approx(typed.lines["r"]["volume_flow"], rel=1e-9)
    assert left_open.parts["r.k"]["velocity"] == pytest.approx(left_open.parts["r.d"]["velocity"], rel=1e-9)


def test_bores_come_from_the_side_of_a_reducer_from_the_next_run_or_are_asked_for() -> None:
    pipe, step = (
        {"kind": "pipe", "length": "5 m", "bore": "80 mm"},
        {"kind": "reducer", "bore": "80 mm", "to": "40 mm"},
    )
    after = working(network({"p": pipe, "s": step, "k": {"kind": "loss", "k": "1"}}))
    assert after.parts["r.k"]["velocity"] == pytest.approx(4 * after.parts["r.p"]["velocity"], rel=1e-6)
    alone = network({"k": {"kind": "loss", "k": "1"}})
    faults = review(parse_case(alone)).faults
    assert [fault.path for fault in faults] == ["network.lines.r.parts.k.bore"]
    alone["network"]["nodes"]["m"] = {"kind": "junction"}
    alone["network"]["lines"]["r"]["end"] = "m"
    alone["network"]["lines"]["next"] = {"start": "m", "end": "b", "parts": {"p": pipe}}
    beside = working(alone)
    assert beside.parts["r.k"]["velocity"] == pytest.approx(beside.parts["next.p"]["velocity"], rel=1e-6)


def test_a_typed_bore_against_the_nominal_size_is_a_fault() -> None:
    wrong = network({"p": {"kind": "pipe", "length": "5 m", "size": "DN50", "bore": "40 mm"}})
    faults = review(parse_case(wrong)).faults
    assert faults[0].path == "network.lines.r.parts.p.bore" and "DN50" in faults[0].says
    working(network({"p": {"kind": "pipe", "length": "5 m", "size": "DN50", "bore": "52.5 mm"}}))


def test_throttling_heats_by_the_specific_heat_at_its_own_temperature() -> None:
    """Oil throttled adiabatically: temperature rises by loss / (rho cp) with both taken where the oil is.
    Energy balance, exact.
    """
    media = {"oil": {"kind": "oil", "temperature": "20 °C", "follow": True}}
    pipe = {"kind": "pipe", "length": "2 m", "bore": "20 mm"}
    data = network(
        {"p": pipe, "k": {"kind": "loss", "k": "50"}}, media, "2000 m", warm="104 °C", thermal=True
    )
    found = working(data)
    fluid = settle_any(parse_case(data)).fluids["oil"]  # type: ignore[union-attr]
    assert fluid.at("capacity", 377.15) > 1.1 * fluid.capacity
    lost = found.parts["r.p"]["loss"] + found.parts["r.k"]["loss"]
    middle = 0.5 * (377.15 + found.parts["r.k"]["outlet"])
    rise = lost / float(fluid.at("density", middle) * fluid.at("capacity", middle))
    assert found.parts["r.k"]["outlet"] - 377.15 == pytest.approx(rise, rel=0.01)


def test_a_cooler_takes_no_more_than_its_power() -> None:
    cooler = {
        "kind": "cooler",
        "power": "15 kW",
        "difference": "40",
        "air": "10 °C",
        "on": "40 °C",
        "off": "30 °C",
    }
    parts = {"p": {"kind": "pipe", "length": "20 m", "bore": "20 mm"}, "c": cooler}
    hot = working(network(parts, warm="95 °C", thermal=True, head="3 m"))
    assert -hot.parts["r.c"]["heat"] == pytest.approx(15e3, rel=1e-6)
    lukewarm = working(network(parts, warm="36 °C", thermal=True, head="3 m"))
    assert -lukewarm.parts["r.c"]["heat"] <= 15e3 * 26 / 40 * 1.001
    data = network(
        parts,
        warm="95 °C",
        thermal=True,
        head="3 m",
        time={"mode": "transient", "until": "60 s", "step": "1 s"},
    )
    data["readings"] = {"heat": {"kind": "part_value", "part": "r.c", "figure": "heat"}}
    assert -solved(data)["readings"]["heat"]["value"] == pytest.approx(15e3, rel=1e-3)


def test_reynolds_numbers_of_flat_ducts_are_on_the_hydraulic_diameter() -> None:
    found = working(network({"d": DUCT}, AIR, "5 m")).parts["r.d"]
    assert found["reynolds"] == pytest.approx(1.2 * found["velocity"] * 4 * 0.04 / 1.0 / 0.0181e-3, rel=1e-6)


def test_a_given_flow_is_given() -> None:
    parts = {
        "p": {"kind": "pipe", "length": "10 m", "bore": "50 mm"},
        "q": {"kind": "given_flow", "flow": "3 L/s"},
    }
    for head in ("10 m", "0 m", "-5 m"):
        found = solved(network(parts, head=head) | {"readings": {"q": {"kind": "line_value", "line": "r"}}})
        assert found["readings"]["q"]["value"] == pytest.approx(3e-3, rel=1e-4) and found["converged"], head


def test_static_pressure_stands_beside_total_pressure() -> None:
    """Bernoulli: static is total less rho v2 / 2."""
    found = working(network({"p": {"kind": "pipe", "length": "10 m", "bore": "50 mm"}}))
    speed = found.parts["r.p"]["velocity"]
    assert found.nodes["a"]["pressure"] - found.lines["r"]["static_start"] == pytest.approx(
        0.5 * 998.2 * speed**2, rel=1e-3
    )


def test_suction_head_counts_the_air_of_the_place() -> None:
    pump = {"kind": "pump", "curve": [["0 L/s", "20 m"], ["5 L/s", "17 m"], ["10 L/s", "8 m"]]}
    parts = {"p": {"kind": "pipe", "length": "10 m", "bore": "50 mm"}, "m": pump}
    low, high = (
        working(network(parts, head="1 m", air_pressure=air)).parts["r.m"]["npsh"]
        for air in ("1013.25 hPa", "700 hPa")
    )
    assert low - high == pytest.approx(31325 / (998.2 * 9.80665), rel=1e-3)


def test_pressure_below_nothing_is_no_answer() -> None:
    pump = {"kind": "given_flow", "flow": "9 L/s"}
    data = network({"p": {"kind": "pipe", "length": "60 m", "bore": "40 mm"}}, head="0 m")
    data["network"]["nodes"]["m"] = {"kind": "junction"}
    data["network"]["lines"]["r"]["end"] = "m"
    data["network"]["lines"]["out"] = {"start": "m", "end": "b", "parts": {"q": pump}}
    last = solved(data)
    assert last["trust"]["note.absolute_pressure"]["verdict"] == "fails" and not last["converged"]


def test_two_operations_at_the_same_time_are_both_done() -> None:
    valve = {"kind": "valve", "kv": "10 m3/h"}
    data = network({"v": valve, "w": valve}, time={"mode": "transient", "until": "20 s", "step": "5 s"})
    at = {"path": "network.lines.r.parts.v.opening", "value": "50 %", "at": "10 s"}
    data["network"]["operations"] = {"one": at, "two": {**at, "path": "network.lines.r.parts.w.opening"}}
    assert solved(data)["converged"]


def test_a_tank_that_warms_rises() -> None:
    """Expansion of water from 20 to about 60 °C: 1.5 %. Densities of the medium itself, mass kept."""
    data = {
        "title": "n",
        "media": {"water": {"kind": "water", "follow": True}},
        "network": {
            "thermal": True,
            "time": {"mode": "transient", "until": "3 h", "step": "60 s"},
            "nodes": {
                "t": {
                    "kind": "tank",
                    "area": "1 m2",
                    "level": "1 m",
                    "height": "2 m",
                    "temperature": "20 °C",
                },
                "j": {"kind": "junction"},
            },
            "lines": {
                "go": {
                    "start": "t",
                    "end": "j",
                    "parts": {
                        "q": {"kind": "given_flow", "flow": "1 L/s"},
                        "p": {"kind": "pipe", "length": "5 m", "bore": "40 mm"},
                    },
                },
                "back": {
                    "start": "j",
                    "end": "t",
                    "parts": {
                        "h": {
                            "kind": "heater",
                            "power": "20 kW",
                            "on": "80 °C",
                            "off": "85 °C",
                            "bore": "40 mm",
                        }
                    },
                },
            },
        },
        "readings": {
            "level": {"kind": "node_value", "node": "t", "figure": "level"},
            "warm": {"kind": "node_value", "node": "t", "figure": "temperature"},
        },
    }
    last = solved(data)
    fluid = settle_any(parse_case(data)).fluids["water"]  # type: ignore[union-attr]
    warm = last["readings"]["warm"]["value"]
    assert warm > 330
    grown = float(fluid.at("density", 293.15) / fluid.at("density", warm))
    assert (
        last["readings"]["level"]["value"] == pytest.approx(grown, abs=2e-3)
        and last["trust"]["heat_ledger"]["verdict"] == "holds"
    )


def test_a_tank_that_gains_fluid_balances_its_heat() -> None:
    """A tank that keeps its level takes in more than leaves: no false alarm, and its temperature is that of
    what comes.
    """
    data = network(
        {"p": {"kind": "pipe", "length": "40 m", "bore": "80 mm"}},
        {"water": {"kind": "water", "follow": True}},
        "20 m",
        warm="40 °C",
        thermal=True,
    )
    data["network"]["nodes"]["b"] = {"kind": "tank", "level": "1 m"}
    last = solved(data | {"readings": {"t": {"kind": "node_value", "node": "b", "figure": "temperature"}}})
    assert last["converged"] and last["trust"]["heat"]["verdict"] == "holds"
    assert last["readings"]["t"]["value"] == pytest.approx(313.15, abs=0.2)


def test_a_bore_no_fluid_can_pass_so_fast_is_told() -> None:
    data = network(
        {"p": {"kind": "pipe", "length": "5 m", "bore": "50 mm"}, "c": {"kind": "check", "bore": "2 mm"}}
    )
    last = solved(data)
    assert last["trust"]["note.absolute_pressure"]["verdict"] == "fails" and not last["converged"]
