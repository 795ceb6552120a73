"""Rooms, species, thermostatic valves, insulation, flexible ducts, wyes, relief valves that stay open."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.network_bits import AIR, RHO, at_work, marching, pipe, pushed, sea
from mop_lantern.case import parse_case, review, settle_any
from mop_lantern.case.network_review import SettledNetwork
from mop_lantern.errors import CaseError
from mop_lantern.laws import exchange, fittings
from mop_lantern.network.steady import NetworkFault
from mop_lantern.solve import NetworkSolving

CO2 = {"co2": {"title": "carbon dioxide", "inlet": "420 ppm", "start": "420 ppm"}}
BREATH = {"breath": {"species": "co2", "node": "Hall", "volume": "18 L/h", "per": "person"}}


def hall(supply: str = "100 L/s", **more: Any) -> dict[str, Any]:
    """Give an air network: a supply into a hall of 200 m3, a duct out."""
    nodes: dict[str, Any] = {
        "In": {"kind": "junction", "feed": supply, "temperature": "18 °C"},
        "Out": sea(temperature="10 °C"),
        "Hall": {
            "kind": "room",
            "volume": "200 m3",
            "occupants": "10",
            "temperature": "18 °C",
            "outside": "10 °C",
        }
        | more.pop("room", {}),
    }
    duct = {"d": {"kind": "duct", "length": "5 m", "width": "250 mm"}}
    lines = {
        "in": {"start": "In", "end": "Hall", "parts": duct},
        "out": {"start": "Hall", "end": "Out", "parts": duct},
    }
    return {
        "title": "hall",
        "media": AIR,
        "network": {"nodes": nodes, "lines": lines, "species": CO2, "releases": BREATH, **more},
    }


def solved(case: dict[str, Any]) -> dict[str, Any]:
    """Solve a case by the solver's events; give the last one."""
    settled = settle_any(parse_case(case))
    assert isinstance(settled, SettledNetwork)
    *_, last = NetworkSolving(settled, None).events()
    return last


def test_a_ventilated_room_at_rest() -> None:
    """Dilution: C - C0 = G / Q, as in ANSI/ASHRAE 62.1, informative appendix on carbon dioxide (from memory);
    heat by its balance.
    """
    case = hall(thermal=True, room={"heat": "500 W", "film": "0.4 W/m2/K", "surface": "150 m2"})
    result = review(parse_case(case))
    assert result.working is not None and not result.blocked, result.faults
    room = result.working.nodes["Hall"]
    assert room["share.co2"] == pytest.approx(420e-6 + 10 * 18e-3 / 3600 / 0.1, rel=1e-12)
    stream = 1.204 * 0.1 * 1006
    expected = (stream * 18 + 10 * 75 + 500 + 0.4 * 150 * 10) / (stream + 0.4 * 150)
    assert room["temperature"] - 273.15 == pytest.approx(expected, abs=1e-3)
    assert room["age"] == pytest.approx((200 + np.pi / 4 * 0.25**2 * 5) / 0.1, rel=1e-9), (
        "the age of mixed air is content over flow"
    )


def test_a_room_fills_as_an_exponential() -> None:
    """C(t) of a stirred volume; backward Euler is of the first order, so short steps."""
    readings = {"c": {"kind": "node_share", "node": "Hall", "species": "co2"}}
    case = hall(time={"mode": "transient", "until": "2000 s", "step": "2 s"}) | {"readings": readings}
    case["network"]["lines"]["in"]["parts"] = {"k": {"kind": "loss", "bore": "250 mm"}}
    last = solved(case)
    assert last["readings"]["c"]["value"] == pytest.approx(
        420e-6 + 500e-6 * (1 - np.exp(-2000 * 0.1 / 200)), rel=1e-3
    )
    assert {item["id"]: item["verdict"] for item in last["trust"]}["species.co2"] == "holds"


def test_what_decays_and_what_stays_in_a_tank() -> None:
    """First-order decay: e^-kt along a pipe, 1 / (1 + k V / Q) in a stirred tank (any text on reactors)."""
    species = {"dye": {"counted": "mass", "inlet": "1 g/kg", "decay": "6 1/h"}}
    nodes = {
        "A": {"kind": "junction", "feed": "1 L/s"},
        "T": {
            "kind": "tank",
            "area": "2 m2",
            "level": "1 m",
            "steady": "finds",
            "z": "0 m",
            "height": "99 m",
        },
        "B": sea(),
    }
    lines: dict[str, Any] = {
        "p": ("A", "T", {"p": pipe("200 m", "60 mm", "0.1 mm")}),
        "q": ("T", "B", {"p": pipe("100 m", "40 mm", "0.1 mm")}),
    }
    made = at_work(nodes, lines, species=species)
    content = np.pi / 4 * 0.06**2 * 200
    arriving = 1e-3 * np.exp(-6 / 3600 * content / 1e-3)
    assert made.nodes["T"]["share.dye"] == pytest.approx(
        arriving / (1 + 6 / 3600 * 2 * made.nodes["T"]["level"] / 1e-3), rel=1e-9
    )


@settings(max_examples=25, deadline=None)
@given(st.lists(st.floats(0.5, 20), min_size=3, max_size=3), st.floats(0, 5), st.floats(0, 0.02))
def test_species_balance_whatever_happens(takes: list[float], released: float, decay: float) -> None:
    """Over time nothing of a species is lost: pipes, tanks and decay add up."""
    nodes: dict[str, Any] = {
        "S": sea("3 bar"),
        "M": {"kind": "junction"},
        "T": {"kind": "tank", "level": "1 m", "area": "0.5 m2", "height": "9 m"},
    }
    lines: dict[str, Any] = {
        "a": ("S", "M", {"p": pipe("30 m", "50 mm", "0.1 mm")}),
        "b": ("M", "T", {"p": pipe("10 m", "20 mm", "0.1 mm")}),
    }
    for k, take in enumerate(takes):
        nodes[f"D{k}"] = {"kind": "junction", "take": f"{take / 10!r} L/s"}
        lines[f"d{k}"] = ("M", f"D{k}", {"p": pipe(f"{5 + take!r} m", "30 mm", "0.1 mm")})
    species = {"dye": {"counted": "mass", "inlet": "2 g/kg", "decay": f"{decay!r} 1/s"}}
    releases = {"r": {"species": "dye", "node": "M", "rate": f"{released!r} g/s"}}
    march = marching(nodes, lines, species=species, releases=releases)
    for _ in range(20):
        made = march.step(7.0)
    assert made.species["dye"].balance < 1e-9


def test_releases_are_refused_in_words() -> None:
    wrong = hall(
        releases={
            "b": {"species": "co2", "node": "Hall", "rate": "5 mg/s"},
            "c": {"species": "so2", "node": "Attic"},
            "d": {"species": "co2", "node": "In", "per": "person"},
        }
    )
    faults = {fault.path: str(fault) for fault in review(parse_case(wrong)).faults}
    assert (
        "counted by volume" in faults["network.releases.b.rate"]
        and "Attic" in faults["network.releases.c.node"]
    )
    assert "so2" in faults["network.releases.c.species"] and "not a room" in faults["network.releases.d.per"]


def test_heat_that_cannot_leave_is_refused() -> None:
    nodes = {"T": {"kind": "tank", "level": "1 m"}, "J": {"kind": "junction"}}
    lines: dict[str, Any] = {
        "out": (
            "T",
            "J",
            {
                "p": {
                    "kind": "pump",
                    "bore": "50 mm",
                    "curve": [["0 L/s", "20 m"], ["5 L/s", "17 m"], ["10 L/s", "8 m"]],
                }
            },
        ),
        "back": ("J", "T", {"p": pipe("50 m", "40 mm", "0.1 mm")}),
    }
    with pytest.raises(NetworkFault, match="none of it leaves"):
        at_work(nodes, lines, thermal=True)
    march = marching(nodes, lines, thermal=True)
    assert march.step(10.0).balance < 1e-9


# --- thermostatic valves ---

VALVE = {
    "kind": "thermostat",
    "kv": "4 m3/h",
    "low": "40 °C",
    "high": "60 °C",
    "bore": "25 mm",
    "lag": "20 s",
}


def test_a_thermostat_stands_as_what_enters_says() -> None:
    for temperature, share in (("42 °C", 0.1), ("50 °C", 0.5), ("55 °C", 0.75), ("80 °C", 1.0)):
        made = at_work(
            {"a": sea("1 bar", temperature=temperature), "b": sea()},
            {"r": ("a", "b", {"v": VALVE})},
            thermal=True,
        )
        assert 3600 * made.lines["r"]["volume_flow"] == pytest.approx(
            4 * share * np.sqrt(1000 / RHO), rel=2e-3
        )
    shuts = at_work(
        {"a": sea("1 bar", temperature="55 °C"), "b": sea()},
        {"r": ("a", "b", {"v": VALVE | {"way": "shuts"}})},
        thermal=True,
    )
    assert 3600 * shuts.lines["r"]["volume_flow"] == pytest.approx(1.0 * np.sqrt(1000 / RHO), rel=2e-3)


def test_a_thermostat_finds_its_balance_with_the_heat_it_governs() -> None:
    """More flow cools what it feels: opening and temperature must agree in the end."""
    nodes = {"a": sea("1 bar", temperature="20 °C"), "m": {"kind": "junction"}, "b": sea()}
    heater = {"kind": "heater", "power": "40 kW", "on": "200 °C", "off": "210 °C", "bore": "25 mm"}
    made = at_work(nodes, {"r": ("a", "m", {"h": heater}), "s": ("m", "b", {"v": VALVE})}, thermal=True)
    warm, flow = made.nodes["m"]["temperature"] - 273.15, made.lines["s"]["mass_flow"]
    assert 20 + 40e3 / (4186 * flow) == pytest.approx(warm, abs=0.02)
    share = (warm - 40) / 20
    assert 0.02 < share < 0.98
    dp = made.parts["s.v"]["loss"]
    assert made.lines["s"]["volume_flow"] * 3600 == pytest.approx(
        4 * share * np.sqrt(dp / 1e5 * 1000 / RHO), rel=5e-3
    )


def test_a_thermostat_lags() -> None:
    nodes = {"a": sea("1 bar", temperature="= 40 °C + step(t, 1 s) * 20 K"), "b": sea()}
    march = marching(nodes, {"r": ("a", "b", {"v": VALVE})}, thermal=True)
    flows = {round(march.time): float(march.step(1.0).flow[0]) * 3600 for _ in range(80)}
    assert flows[0] < 0.1 and flows[79] > 3.7
    reached = np.sqrt(RHO / 1000) * flows[20] / 4
    assert reached == pytest.approx(1 - np.exp(-1), abs=0.05), "63 % after one lag"


# --- heat through layers, slack ducts, wyes, relief ---


def test_insulation_of_a_pipe() -> None:
    """Steam pipe under insulation, the round-layer formula of any text on conduction, worked by hand: U on
    the bore.
    """
    radius, thick = 0.05, 0.04
    resistance = np.log((radius + thick) / radius) / (2 * np.pi * 0.04) + 1 / (
        2 * np.pi * (radius + thick) * 10
    )
    hot = {"a": {"kind": "junction", "feed": "0.5 L/s", "temperature": "80 °C"}, "b": sea()}
    wrapped = pipe("100 m", "100 mm", "0.1 mm", film="10 W/m2/K", insulation="40 mm", outside="15 °C")
    made = at_work(hot, {"r": ("a", "b", {"p": wrapped})}, thermal=True)
    share = np.exp(-100 / resistance / (RHO * 5e-4 * 4186))
    assert made.parts["r.p"]["outlet"] - 273.15 == pytest.approx(15 + 65 * share, abs=0.02)
    assert float(exchange.round_layers(0.1, np.inf, [(0.0, 0.04)], 10.0)) == pytest.approx(10.0), (
        "a bare pipe loses by its film"
    )


def test_a_casing_loses_what_its_area_says() -> None:
    made = at_work(
        {"a": {"kind": "junction", "feed": "0.1 L/s", "temperature": "80 °C"}, "b": sea()},
        {"r": ("a", "b", {"c": {"kind": "casing", "surface": "2 m2", "film": "8 W/m2/K"}})},
        thermal=True,
    )
    assert made.parts["r.c"]["heat"] == pytest.approx(
        -RHO * 1e-4 * 4186 * 65 * (1 - np.exp(-16 / (RHO * 1e-4 * 4186))), rel=1e-3
    )


def test_slack_makes_a_flexible_duct_worse() -> None:
    """ASHRAE Handbook, Fundamentals, Duct design: factor 1 + 0.58 r exp(-0.00496 D) (from memory)."""
    flow = "0.1 m3/s"
    taut = pushed({"f": {"kind": "flexible", "length": "4 m", "width": "200 mm", "slack": "0 %"}}, flow, AIR)
    slack = pushed(
        {"f": {"kind": "flexible", "length": "4 m", "width": "200 mm", "slack": "15 %"}}, flow, AIR
    )
    plain = pushed({"f": {"kind": "duct", "length": "4 m", "width": "200 mm", "rough": "1.5 mm"}}, flow, AIR)
    assert taut == pytest.approx(plain) and slack / taut == pytest.approx(
        1 + 0.58 * 15 * np.exp(-0.00496 * 200)
    )


@pytest.mark.parametrize("angle", [30, 45, 60])
def test_a_wye_is_kinder_than_a_tee(angle: float) -> None:
    """Idelchik, chapter 7: at half the flow, equal areas; the formulas joined to the tee's at right
    angles.
    """
    alpha = np.radians(angle)
    assert float(fittings.dividing_side(0.5, 1.0, alpha)) == pytest.approx(1.25 - np.cos(alpha))
    assert float(fittings.joining_side(0.5, 1.0, alpha)) == pytest.approx(0.55 * (0.75 - 0.5 * np.cos(alpha)))
    nodes: dict[str, Any] = {
        "t": {"kind": "wye", "side": "s", "angle": f"{angle} deg"},
        "a": {"kind": "junction", "feed": "20 L/s"},
        "b": {"kind": "junction", "take": "10 L/s"},
        "c": sea(),
    }
    lines: dict[str, Any] = {
        key: (a, b, {"p": pipe("1 mm", "100 mm", "0 mm")})
        for key, a, b in (("w", "a", "t"), ("s", "t", "b"), ("m", "t", "c"))
    }
    made = at_work(nodes, lines)
    pressure = 0.5 * RHO * (0.02 / (np.pi / 4 * 0.1**2)) ** 2
    assert made.lines["s"]["loss"] / pressure == pytest.approx(1.25 - np.cos(alpha), abs=0.01)


def test_a_relief_valve_stays_open_until_it_reseats() -> None:
    relief = {
        "kind": "relief",
        "set": "6 bar",
        "full": "7 bar",
        "reseat": "5 bar",
        "kv": "4 m3/h",
        "bore": "25 mm",
    }
    march = marching(
        {"a": sea("= 5.5 bar + pulse(t, 10 s, 20 s) * 1 bar - step(t, 40 s) * 1 bar"), "b": sea()},
        {"r": ("a", "b", {"v": relief})},
    )
    flows = {round(march.time): float(march.step(1.0).flow[0]) for _ in range(60)}
    assert flows[5] < 1e-8, "5.5 bar do not lift it"
    assert flows[15] > flows[30] > 1e-4, "it stays open at 5.5 bar"
    assert flows[55] < 1e-8, "and shuts under 5 bar"


# --- what is told of wrong or odd networks ---

CURVE = [["0 L/s", "20 m"], ["5 L/s", "17 m"], ["10 L/s", "8 m"]]


def test_a_check_valve_against_the_pump_is_named() -> None:
    lines = {
        "out": {
            "start": "T",
            "end": "J",
            "parts": {"pump": {"kind": "pump", "curve": CURVE}, "p": pipe("5 m", "50 mm", "0.1 mm")},
        },
        "back": {
            "start": "T",
            "end": "J",
            "parts": {"flap": {"kind": "check"}, "p": pipe("5 m", "50 mm", "0.1 mm")},
        },
    }
    result = review(
        parse_case(
            {
                "title": "n",
                "media": {"w": {"kind": "water"}},
                "network": {"nodes": {"T": {"kind": "tank"}, "J": {"kind": "junction"}}, "lines": lines},
            }
        )
    )
    note = next(note for note in result.notes if note.kind == "against_shut")
    assert note.path == "network.lines.out.parts.pump" and "back.flap lies against it" in note.text
    lines["back"]["parts"] = {"v": {"kind": "valve", "opening": "0 %", "bore": "50 mm"}}
    result = review(
        parse_case(
            {
                "title": "n",
                "media": {"w": {"kind": "water"}},
                "network": {"nodes": {"T": {"kind": "tank"}, "J": {"kind": "junction"}}, "lines": lines},
            }
        )
    )
    assert any("back.v is shut" in note.text for note in result.notes)


def test_a_pump_without_its_curve_and_circles_of_controls_are_refused() -> None:
    lines = {
        "r": {
            "start": "A",
            "end": "B",
            "parts": {
                "pump": {"kind": "pump", "curve": []},
                "v": {"kind": "valve", "opening": "= a"},
                "p": pipe("5 m", "50 mm", "0.1 mm"),
            },
        }
    }
    parameters = {"a": {"value": "= b / 2"}, "b": {"value": "= a * 2"}}
    faults = review(
        parse_case(
            {
                "title": "n",
                "media": {"w": {"kind": "water"}},
                "parameters": parameters,
                "network": {"nodes": {"A": sea(), "B": sea()}, "lines": lines},
            }
        )
    ).faults
    assert any(fault.path == "network.lines.r.parts.pump.curve" for fault in faults), faults
    assert any("circle" in fault.says and "a → b" in fault.says for fault in faults)


def test_supply_and_extract_that_do_not_match_are_told() -> None:
    """A fan brings more than another takes: the rest goes through the door."""
    nodes = {"Out": sea(), "Roof": sea(), "Door": sea(), "Hall": {"kind": "room"}}
    fan = {"kind": "fan", "curve": [["0 L/s", "300 Pa"], ["200 L/s", "250 Pa"], ["400 L/s", "50 Pa"]]}
    duct = {"kind": "duct", "length": "5 m", "width": "200 mm"}
    lines = {
        "in": {"start": "Out", "end": "Hall", "parts": {"fan": fan, "d": duct}},
        "out": {
            "start": "Hall",
            "end": "Roof",
            "parts": {"d": duct | {"width": "150 mm"}, "fan": fan | {"speed": "60 %"}},
        },
        "gap": {
            "start": "Hall",
            "end": "Door",
            "parts": {"k": {"kind": "loss", "k": "2.7", "bore": "120 mm"}},
        },
    }
    result = review(parse_case({"title": "n", "media": AIR, "network": {"nodes": nodes, "lines": lines}}))
    note = next(note for note in result.notes if note.kind == "supply_extract" and note.path == "network")
    flows = {key: line["volume_flow"] for key, line in result.working.lines.items()}  # type: ignore[union-attr]
    assert (
        note.level == "caution"
        and "gap" in note.text
        and f"{1e3 * flows['in']:.4g} L/s" in note.text
        and f"{1e3 * flows['out']:.4g} L/s" in note.text
    )
    gains = {key: node["gain"] for key, node in result.working.nodes.items()}  # type: ignore[union-attr]
    assert abs(gains["Hall"]) < 1e-9 and gains["Out"] == pytest.approx(-1.204 * flows["in"])


def test_the_suction_head_counts_where_the_pump_stands() -> None:
    """NPSH available = (p + p_air - p_vapour) / (rho g) at the suction: a pump two metres up has two metres
    less.
    """
    got = {}
    for height in ("auto", "2 m"):
        lines: dict[str, Any] = {
            "r": (
                "A",
                "B",
                {
                    "p": pipe("5 m", "80 mm", "0.1 mm"),
                    "pump": {"kind": "pump", "curve": CURVE, "height": height, "bore": "80 mm"},
                    "q": pipe("9 m", "60 mm", "0.1 mm"),
                },
            )
        }
        made = at_work({"A": sea(), "B": sea()}, lines, {"w": {"kind": "water", "temperature": "20 °C"}})
        got[height] = made.parts["r.pump"]["npsh"]
    assert got["auto"] - got["2 m"] == pytest.approx(2.0) and 9.0 < got["auto"] < 10.1


def test_a_component_named_like_its_kind_keeps_its_name_in_faults() -> None:
    data = network_of({"damper": {"kind": "damper", "bore": "25 mm"}})
    with pytest.raises(CaseError, match=r"network\.lines\.r\.parts\.damper\.bore"):
        parse_case(data)


def network_of(parts: dict[str, Any]) -> dict[str, Any]:
    """Give a case of one line between two reservoirs."""
    return {
        "title": "n",
        "media": {"w": {"kind": "water"}},
        "network": {
            "nodes": {"A": sea("1 bar"), "B": sea()},
            "lines": {"r": {"start": "A", "end": "B", "parts": parts}},
        },
    }


def test_age_in_time_comes_to_that_at_rest() -> None:
    case = parse_case(hall())
    settled = settle_any(case)
    assert isinstance(settled, SettledNetwork)
    rest = settled.operate().age
    march = marching(
        case.as_data()["network"]["nodes"],
        {
            key: (line.start, line.end, {name: part.model_dump() for name, part in line.parts.items()})
            for key, line in case.network.lines.items()
        },
        media=AIR,
    )
    ages = [march.step(20.0).age for _ in range(900)]
    assert ages[0][2] == pytest.approx(20, rel=0.1) and ages[-1] == pytest.approx(rest, rel=0.02, abs=25)
