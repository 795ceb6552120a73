"""Pressure waves in whole networks, tees and sizes."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from bench.network_bits import RHO, WATER, at_work, pipe, sea
from mop_lantern.case import apply, load, parse_case, review, settle_any, sized
from mop_lantern.case.network_review import SettledNetwork
from mop_lantern.laws import fittings
from mop_lantern.network.sizing import diameter_by_velocity, nominal_for, width_for
from mop_lantern.network.surge import Surge
from mop_lantern.solve import NetworkSolving

DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"
G = 9.80665


def surging(nodes: dict[str, Any], lines: dict[str, Any], step: float) -> Surge:
    """Begin to follow waves."""
    network = {
        "nodes": nodes,
        "lines": {key: {"start": a, "end": b, "parts": parts} for key, (a, b, parts) in lines.items()},
    }
    settled = settle_any(parse_case({"title": "w", "media": WATER, "network": network}))
    assert isinstance(settled, SettledNetwork)
    return Surge(settled.numbers.network, settled.fluids, 288.15, step)


def closing(step: float, opening: str = "= 1 - step(t - 0.1 s)") -> Surge:
    """Give 600 m of smooth line from a reservoir to a valve."""
    line = pipe("600 m", "100 mm", "0 mm", wave="1339.05 m/s")
    valve = {
        "kind": "valve",
        "kv": "60 m3/h",
        "bore": "100 mm",
        "characteristic": "linear",
        "opening": opening,
    }
    return surging(
        {"up": sea("6 bar"), "end": {"kind": "junction"}, "out": sea()},
        {"line": ("up", "end", {"p": line}), "valve": ("end", "out", {"v": valve})},
        step,
    )


def test_nothing_happens_until_something_is_worked() -> None:
    surge = closing(0.01, "100 %")
    before = surge.heads.copy()
    for _ in range(300):
        surge.step(0.01)
    assert surge.heads == pytest.approx(before, abs=1e-6)


def test_a_sudden_closure_in_a_network_has_joukowsky_s_rise() -> None:
    """O-3.13: dp = rho a dV, a little less the friction that the line had."""
    surge = closing(0.005, "= 1 - step(t, 0.1 s)")
    assert surge.made is not None
    velocity = float(surge.made.flow[0]) / (np.pi / 4 * 0.1**2)
    before = float(surge.made.flows.pressure[1])
    pressures, times = [], []
    while surge.time < 2.2:
        made = surge.step(0.005)
        pressures.append(float(made.flows.pressure[1]))
        times.append(surge.time)
    first = pressures[int(0.15 / 0.005)]
    assert first - before == pytest.approx(RHO * 1339.05 * velocity, rel=0.01)
    fell = next(
        time for time, pressure in zip(times, pressures, strict=True) if time > 0.2 and pressure < before
    )
    assert fell - 0.1 == pytest.approx(2 * 600 / 1339.05, rel=0.02)
    assert surge.highest[0] >= first and surge.adjusted < 0.01


def test_a_branch_takes_its_part_of_a_wave() -> None:
    """At a branch of three like pipes two thirds of a wave pass on: Wylie and Streeter, chapter 3."""
    line = pipe("300 m", "100 mm", "0 mm", wave="1200 m/s")
    nodes = {
        "a": sea("4 bar"),
        "j": {"kind": "junction"},
        "b": {"kind": "junction"},
        "c": sea("3.9 bar"),
        "out": sea(),
    }
    valve = {
        "kind": "valve",
        "kv": "20 m3/h",
        "bore": "100 mm",
        "characteristic": "linear",
        "opening": "= 1 - step(t, 0.05 s)",
    }
    surge = surging(
        nodes,
        {
            "one": ("a", "j", {"p": line}),
            "two": ("j", "b", {"p": line}),
            "three": ("j", "c", {"p": line}),
            "v": ("b", "out", {"v": valve}),
        },
        0.01,
    )
    start = surge.heads.copy()
    peak_b, peak_j = 0.0, 0.0
    while surge.time < 0.05 + 0.25 + 0.15:
        surge.step(0.01)
        peak_b, peak_j = (
            max(peak_b, float(surge.heads[2] - start[2])),
            max(peak_j, float(surge.heads[1] - start[1])),
        )
    assert peak_j == pytest.approx(2 / 3 * peak_b, rel=0.03)


def test_a_check_valve_and_a_pump_that_trips() -> None:
    curve = [["0 L/s", "60 m"], ["10 L/s", "50 m"], ["20 L/s", "20 m"]]
    machine = {"kind": "pump", "curve": curve, "speed": "= 1 - ramp(t, 0.2 s, 1 s)", "bore": "100 mm"}
    nodes = {"well": sea(), "head": {"kind": "junction"}, "tank": sea(z="30 m")}
    lines = {
        "pump": ("well", "head", {"p": machine, "c": {"kind": "check", "bore": "100 mm"}}),
        "main": ("head", "tank", {"p": pipe("500 m", "100 mm", "0.1 mm", wave="1100 m/s")}),
    }
    surge = surging(nodes, lines, 0.02)
    assert surge.made is not None
    begun, least = float(surge.made.flow[0]), 1.0
    while surge.time < 8:
        made = surge.step(0.02)
        least = min(least, float(made.flow[0]))
    assert begun > 5e-3 and least > -1e-6, "the check valve lets nothing back"
    assert surge.lowest[1] < 2.5e5 < surge.highest[1]


@pytest.mark.parametrize(("variant", "gentle"), [("", False), ("B", True)])
def test_the_gravity_intake(variant: str, gentle: bool) -> None:
    case = load(DEMOS / "gravity-intake.lantern")
    settled = settle_any(apply(case, {"network.time.until": "33 s" if gentle else "6 s"}), variant)
    assert isinstance(settled, SettledNetwork)
    solving = NetworkSolving(settled, None)
    end = [event for event in solving.events() if event["event"] == "finished"][-1]
    highest = end["readings"]["highest"]["value"]
    assert end["converged"] and (highest < 5e5 if gentle else highest > 2e6)
    assert any(item["id"] == "wave_speed" for item in end["trust"])


def test_gas_and_short_lines_are_refused_in_words() -> None:
    from mop_lantern.network.steady import NetworkFault

    with pytest.raises(NetworkFault, match="long enough"):
        surging(
            {"a": sea("1 bar"), "b": sea()}, {"r": ("a", "b", {"p": pipe("1 m", "50 mm", "0.1 mm")})}, 0.1
        )


# --- tees ---


def tee_of(feeds: dict[str, str], side: str) -> Any:
    """Make three short lines meet at a tee; what is fed or taken at each end."""
    nodes: dict[str, Any] = {"t": {"kind": "tee", "side": side}}
    lines: dict[str, Any] = {}
    for key, flow in feeds.items():
        nodes[f"n{key}"] = (
            sea()
            if flow == "free"
            else {"kind": "junction", ("take" if flow.startswith("-") else "feed"): flow.lstrip("-")}
        )
        lines[key] = (f"n{key}", "t", {"p": pipe("1 mm", "100 mm", "0 mm")})
    return at_work(nodes, lines)


def test_a_joining_tee_loses_what_the_handbook_says() -> None:
    made = tee_of({"straight": "14 L/s", "side": "6 L/s", "whole": "free"}, "side")
    pressure = 0.5 * RHO * (0.02 / (np.pi / 4 * 0.1**2)) ** 2
    assert made.lines["straight"]["loss"] / pressure == pytest.approx(
        float(fittings.joining_straight(0.3)), rel=0.01
    )
    assert made.lines["side"]["loss"] / pressure == pytest.approx(
        float(fittings.joining_side(0.3, 1.0)), abs=0.01
    )


def test_a_dividing_tee_loses_what_the_handbook_says() -> None:
    made = tee_of({"whole": "20 L/s", "side": "-8 L/s", "straight": "free"}, "side")
    pressure = 0.5 * RHO * (0.02 / (np.pi / 4 * 0.1**2)) ** 2
    assert made.lines["straight"]["loss"] / pressure == pytest.approx(
        float(fittings.dividing_straight(0.4)), rel=0.01
    )
    assert made.lines["side"]["loss"] / pressure == pytest.approx(
        float(fittings.dividing_side(0.4, 1.0)), rel=0.01
    )


def test_a_tee_needs_three_lines() -> None:
    lines = {
        "r": {"start": "a", "end": "t", "parts": {"p": pipe("1 m", "50 mm", "0 mm")}},
        "s": {"start": "t", "end": "b", "parts": {"p": pipe("1 m", "50 mm", "0 mm")}},
    }
    data = {
        "title": "t",
        "media": WATER,
        "network": {"nodes": {"a": sea(), "b": sea(), "t": {"kind": "tee", "side": "r"}}, "lines": lines},
    }
    assert any(
        fault.path == "network.nodes.t.side" and "three lines" in fault.says
        for fault in review(parse_case(data)).faults
    )


# --- sizes ---


def test_sizes_by_friction_and_velocity() -> None:
    case = load(DEMOS / "duct-tree.lantern")
    edits, faults = sized(case, "B", ["main", "hall"], "0.8 Pa/m")
    assert not faults and set(edits) == {
        "network.lines.main.parts.duct.width",
        "network.lines.hall.parts.duct.width",
    }
    result = review(apply(case, edits))
    assert result.working is not None
    loop = load(DEMOS / "rearing-loop.lantern")
    edits, faults = sized(loop, "", ["treatment"], "1.5 m/s")
    assert edits == {"network.lines.treatment.parts.rise.size": "DN125"} and not faults
    for lines, rule, words in (
        (["x"], "1 m/s", "no line"),
        ([], "1 kg", "unit"),
        ([], "0 m/s", "above zero"),
    ):
        edits, faults = sized(loop, "", lines, rule)
        assert not edits and words in faults[0].says


def test_size_helpers_are_inverse() -> None:
    from mop_lantern.laws.sections import bore, round_equivalent

    assert float(round_equivalent(width_for(0.3, 0.2), 0.2)) == pytest.approx(0.3, rel=1e-9)
    diameter = diameter_by_velocity(0.01, 2.0)
    assert 0.01 / (np.pi / 4 * diameter**2) == pytest.approx(2.0)
    size = nominal_for(diameter)
    assert size is not None and bore(size) >= diameter and nominal_for(9.0) is None


def test_the_duct_tree_is_balanced_in_its_variants() -> None:
    case = load(DEMOS / "duct-tree.lantern")
    for variant in ("B", "C"):
        working = review(case, variant).working
        assert working is not None
        flows = [working.lines[key]["volume_flow"] for key in ("hall", "nursery", "ozone", "office")]
        assert max(flows) / min(flows) == pytest.approx(1.0, abs=0.01)
    drawn = review(case).working
    assert (
        drawn is not None and drawn.lines["office"]["volume_flow"] > 1.1 * drawn.lines["hall"]["volume_flow"]
    )
