"""The steady solver: exactness, independence of numbering and direction, shut and missing ways, refusals in
words.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from bench.network_bits import WATER, at_work, pipe, sea
from mop_lantern.case import apply, parse_case, review
from mop_lantern.declare import Numbers
from mop_lantern.network.components.pipe import Pipe
from mop_lantern.network.net import Group, Net
from mop_lantern.network.steady import solve

RHO, MU = 998.2, 1.0016e-3
Lines = dict[str, tuple[str, str, dict[str, dict[str, Any]]]]


def net_of(start: Any, end: Any, length: Any, bore: Any, z: Any, demand: Any, held: Any) -> Net:
    """Make a network of pipes; held nodes have the pressure of 40 m over the datum."""
    count, nodes = len(start), len(z)
    stack = Numbers(
        length=np.asarray(length, float), bore=np.asarray(bore, float), rough=np.full(count, 1e-4)
    )
    names = [f"p{k}.p" for k in range(count)]
    pressure = np.where(held, RHO * 9.80665 * (40 - np.asarray(z)), 0.0)
    return Net(
        np.asarray(start),
        np.asarray(end),
        np.asarray(z, float),
        np.asarray(held),
        pressure,
        np.asarray(demand, float),
        np.full(count, RHO),
        np.full(count, MU),
        np.zeros(count),
        [Group(Pipe, stack, np.arange(count), np.zeros(count, int), names)],
        [f"n{k}" for k in range(nodes)],
        [f"p{k}" for k in range(count)],
    )


@st.composite
def networks(draw: st.DrawFn) -> Net:
    """Draw a random connected network of pipes with loops, demands and one or two held nodes."""
    nodes = draw(st.integers(3, 14))
    seed = np.random.default_rng(draw(st.integers(0, 2**31)))
    start = [int(seed.integers(0, k)) for k in range(1, nodes)]
    end = list(range(1, nodes))
    for _ in range(draw(st.integers(0, 10))):
        a, b = (int(k) for k in seed.choice(nodes, 2, replace=False))
        start.append(a)
        end.append(b)
    count = len(start)
    held = np.zeros(nodes, bool)
    held[seed.choice(nodes, draw(st.integers(1, 2)), replace=False)] = True
    demand = np.where(held, 0.0, seed.uniform(0, 3, nodes) * (seed.random(nodes) < 0.6))
    return net_of(
        start,
        end,
        seed.uniform(5, 300, count),
        seed.uniform(0.03, 0.25, count),
        seed.uniform(0, 15, nodes),
        demand,
        held,
    )


@settings(max_examples=60, deadline=None)
@given(net=networks())
def test_mass_balances_and_energy_closes(net: Net) -> None:
    flows = solve(net)
    gained = (
        np.bincount(net.end, flows.mass, net.n_nodes)
        - np.bincount(net.start, flows.mass, net.n_nodes)
        - net.demand
    )
    assert np.abs(gained[~net.held]).max() <= max(
        1e-9 * np.abs(flows.mass).max(), 1e-12
    )  # kg/s: rounding at rest
    assert flows.imbalance <= 1e-9
    drop, _ = net.drops(flows.mass)
    unmet = flows.pressure[net.start] - flows.pressure[net.end] + net.lift() - drop
    assert np.abs(unmet).max() <= 1e-6 * np.abs(flows.pressure).max()


@pytest.mark.parametrize("seed", range(12))
def test_nothing_flows_and_nothing_is_lost_in_dead_ends(seed: int) -> None:
    """At rest what rounding moves is no imbalance: it failed the trust list of a network without demand."""
    rng = np.random.default_rng(seed)
    lengths = rng.uniform(5, 300, 2)
    bores = rng.uniform(0.03, 0.25, 2)
    net = net_of(
        [0, 0], [1, 2], lengths, bores, rng.uniform(0, 15, 3), np.zeros(3), np.array([True, False, False])
    )
    flows = solve(net)
    assert np.abs(flows.mass).max() < 1e-12 and flows.imbalance == 0.0


@settings(max_examples=30, deadline=None)
@given(net=networks(), seed=st.integers(0, 2**31))
def test_numbering_and_direction_do_not_matter(net: Net, seed: int) -> None:
    before = solve(net)
    rng = np.random.default_rng(seed)
    nodes, lines = rng.permutation(net.n_nodes), rng.permutation(net.n_lines)
    turned = rng.random(net.n_lines) < 0.5
    number = np.argsort(nodes)
    start, end = (
        number[np.where(turned, net.end, net.start)][lines],
        number[np.where(turned, net.start, net.end)][lines],
    )
    stack = net.groups[0].stack
    other = net_of(
        start, end, stack.length[lines], stack.bore[lines], net.z[nodes], net.demand[nodes], net.held[nodes]
    )
    after = solve(other)
    size = max(np.abs(before.mass).max(), 1e-3)
    assert after.mass == pytest.approx(np.where(turned, -1, 1)[lines] * before.mass[lines], abs=1e-7 * size)
    assert after.pressure == pytest.approx(before.pressure[nodes], rel=1e-7)


def test_ten_thousand_pipes_take_few_steps() -> None:
    from bench.network_speed import grid_of_pipes

    flows = solve(grid_of_pipes(2000))
    assert flows.steps <= 12 and flows.imbalance < 1e-9


def test_nothing_flows_without_a_difference() -> None:
    made = at_work({"a": sea(), "b": sea()}, {"r": ("a", "b", {"p": pipe("10 m", "50 mm", "0.1 mm")})})
    assert abs(made.lines["r"]["mass_flow"]) < 1e-9


def test_a_shut_valve_stops_its_run_only() -> None:
    def valve(opening: str) -> dict[str, Any]:
        return {"kind": "valve", "opening": opening, "kv": "20 m3/h", "bore": "50 mm"}

    nodes = {"a": sea("1 bar"), "j": {"kind": "junction"}, "b": sea()}
    lines: Lines = {
        "in": ("a", "j", {"p": pipe("10 m", "50 mm", "0.1 mm")}),
        "one": ("j", "b", {"v": valve("100 %")}),
        "two": ("j", "b", {"v": valve("0 %")}),
    }
    made = at_work(nodes, lines)
    assert made.lines["two"]["mass_flow"] == 0.0 and made.lines["one"]["mass_flow"] == pytest.approx(
        made.lines["in"]["mass_flow"], rel=1e-9
    )


def test_a_check_valve_holds_and_a_standby_pump_does_not_leak() -> None:
    machine = {
        "kind": "pump",
        "curve": [["0 L/s", "20 m"], ["5 L/s", "16 m"], ["10 L/s", "4 m"]],
        "bore": "50 mm",
    }
    check = {"kind": "check", "bore": "50 mm"}
    lines: Lines = {
        "duty": ("a", "j", {"p": machine, "c": check}),
        "standby": ("a", "j", {"p": {**machine, "speed": "0 %", "backflow": True}, "c": check}),
        "out": ("j", "b", {"p": pipe("20 m", "50 mm", "0.1 mm")}),
    }
    made = at_work({"a": sea(), "j": {"kind": "junction"}, "b": sea("0.5 bar")}, lines)
    assert made.lines["duty"]["volume_flow"] > 1e-3 and abs(made.lines["standby"]["volume_flow"]) < 1e-9


@pytest.mark.parametrize(("upstream", "expected"), [("6 bar", 3e5), ("2 bar", None)])
def test_a_reducing_valve_holds_what_it_can(upstream: str, expected: float | None) -> None:
    nodes = {"a": sea(upstream), "j": {"kind": "junction"}, "b": {"kind": "junction", "take": "2 L/s"}}
    lines: Lines = {
        "r": ("a", "j", {"v": {"kind": "reducing", "set": "3 bar", "kv": "30 m3/h", "bore": "50 mm"}}),
        "p": ("j", "b", {"p": pipe("30 m", "50 mm", "0.1 mm")}),
    }
    made = at_work(nodes, lines)
    assert made.lines["r"]["volume_flow"] == pytest.approx(2e-3, rel=1e-9)
    if expected is not None:
        assert made.nodes["j"]["pressure"] == pytest.approx(expected, rel=1e-9)
    else:
        assert 1.9e5 < made.nodes["j"]["pressure"] < 2e5, "wide open it loses little"


def test_a_reducing_valve_lets_nothing_back() -> None:
    nodes = {"a": sea("1 bar"), "j": {"kind": "junction"}, "b": sea("4 bar")}
    lines: Lines = {
        "r": ("a", "j", {"v": {"kind": "reducing", "set": "3 bar", "bore": "50 mm"}}),
        "p": ("j", "b", {"p": pipe("30 m", "50 mm", "0.1 mm")}),
    }
    made = at_work(nodes, lines)
    assert abs(made.lines["r"]["volume_flow"]) < 1e-9 and made.nodes["j"]["pressure"] == pytest.approx(
        4e5, rel=1e-6
    )


def test_a_relief_valve_opens_between_its_pressures() -> None:
    relief = {"kind": "relief", "set": "5 bar", "full": "6 bar", "kv": "4 m3/h", "bore": "25 mm"}
    for flow, low, high in (("0.1 L/min", 5.0, 5.02), ("30 L/min", 5.05, 5.6), ("20 m3/h", 6.0, 40.0)):
        made = at_work(
            {"a": {"kind": "junction", "feed": flow}, "b": sea()}, {"r": ("a", "b", {"v": relief})}
        )
        assert low * 1e5 <= made.nodes["a"]["pressure"] <= high * 1e5, flow
    shut = at_work({"a": sea("4 bar"), "b": sea()}, {"r": ("a", "b", {"v": relief})})
    assert abs(shut.lines["r"]["volume_flow"]) < 1e-8


def test_a_flow_limiting_valve_limits() -> None:
    for pressure in ("2 bar", "20 bar"):
        made = at_work(
            {"a": sea(pressure), "b": sea()},
            {"r": ("a", "b", {"v": {"kind": "flow_limit", "limit": "10 L/min", "bore": "15 mm"}})},
        )
        assert made.lines["r"]["volume_flow"] == pytest.approx(10e-3 / 60, rel=0.01)


def test_warm_air_rises_in_a_chimney() -> None:
    """Draught = (rho outside - rho inside) g H: any text on chimneys."""
    hot = {"gas": {"kind": "constant", "density": "0.9 kg/m3", "viscosity": "0.02 mPa s"}}
    nodes = {"hearth": sea(), "top": sea(z="10 m")}
    made = at_work(
        nodes,
        {
            "flue": (
                "hearth",
                "top",
                {
                    "d": {"kind": "duct", "length": "10 m", "width": "200 mm"},
                    "e": {"kind": "loss", "k": "1.5", "bore": "200 mm"},
                },
            )
        },
        hot,
    )
    draught = (101325 / (287.05 * 288.15) - 0.9) * 9.80665 * 10
    assert (
        made.lines["flue"]["loss"] == pytest.approx(draught, rel=1e-6)
        and made.lines["flue"]["volume_flow"] > 0
    )


def network(**edits: Any) -> dict[str, Any]:
    """Give a small sound network case, edited."""
    data = {
        "title": "n",
        "media": WATER,
        "network": {
            "nodes": {"a": sea("1 bar"), "j": {"kind": "junction", "take": "1 L/s"}, "b": sea()},
            "lines": {
                "in": {
                    "start": "a",
                    "end": "j",
                    "parts": {"p": pipe("10 m", "50 mm", "0.1 mm"), "v": {"kind": "valve"}},
                },
                "out": {
                    "start": "j",
                    "end": "b",
                    "parts": {"p": pipe("10 m", "40 mm", "0.1 mm"), "v": {"kind": "valve"}},
                },
            },
        },
    }
    return apply(parse_case(data), edits).as_data()


@pytest.mark.parametrize(
    ("edits", "path", "words"),
    [
        ({"network.lines.in.start": "z"}, "network.lines.in.start", "no node “z”"),
        ({"network.lines.in.end": "a"}, "network.lines.in", "ends where it begins"),
        ({"network.lines.in.parts": {}}, "network.lines.in", "nothing that resists"),
        ({"network.lines.in.fluid": "oil"}, "network.lines.in.fluid", "no fluid “oil”"),
        (
            {"network.nodes.a": {"kind": "junction"}, "network.nodes.b": {"kind": "junction"}},
            "network.nodes",
            "nothing sets the pressure",
        ),
        (
            {"network.lines.in.parts.v.opening": "0 %", "network.lines.out.parts.v.opening": "0 %"},
            "network.nodes.j",
            "nothing feeds",
        ),
        (
            {"network.lines.in.parts.p": {"kind": "pipe", "size": "DN51"}},
            "network.lines.in.parts.p.size",
            "not a nominal size",
        ),
        (
            {"network.lines.in.parts.p": {"kind": "pump", "curve": [["0 L/s", "9 m"], ["1 L/s", "8 m"]]}},
            "network.lines.in.parts.p.curve",
            "too few points",
        ),
        (
            {
                "network.lines.in.parts.p": {
                    "kind": "pump",
                    "curve": [["0 L/s", "9 m"], ["1 L/s", "8 m"], ["1e300 L/s", "1 m"]],
                }
            },
            "network.lines.in.parts.p.curve",
            "beyond all reason",
        ),
        (
            {
                "network.lines.in.parts.p": {
                    "kind": "pump",
                    "curve": [["0 L/s", "9 m"], ["1 L/s", "10 m"], ["2 L/s", "12 m"]],
                }
            },
            "network.lines.in.parts.p.curve",
            "does not fall",
        ),
        (
            {"network.lines.in.parts.x": {"kind": "exchanger", "partner": "in.p"}},
            "network.lines.in.parts.x.partner",
            "not the other side",
        ),
        (
            {"network.lines.in.parts.r": {"kind": "relief", "set": "7 bar", "full": "6 bar"}},
            "network.lines.in.parts.r.full",
            "above the set",
        ),
        (
            {"network.lines.in.parts.o": {"kind": "orifice", "bore": "50 mm", "hole": "60 mm"}},
            "network.lines.in.parts.o.hole",
            "smaller than the bore",
        ),
        (
            {"media.oil": {"kind": "oil"}, "network.lines.out.fluid": "oil"},
            "network.lines.out",
            "two fluids meet",
        ),
        ({"readings.r": {"kind": "line_value", "line": "x"}}, "readings.r.line", "no “x”"),
    ],
)
def test_wrong_networks_are_refused_at_their_line(edits: dict[str, Any], path: str, words: str) -> None:
    result = review(parse_case(network(**edits)))
    assert result.blocked
    assert any(fault.path == path and words in fault.says for fault in result.faults), result.faults


def test_a_sound_network_is_at_work_while_it_is_written() -> None:
    result = review(parse_case(network()))
    assert (
        not result.blocked and result.working is not None and result.working.lines["in"]["volume_flow"] > 1e-3
    )


def test_notes_on_what_happens() -> None:
    curve = [["0 L/s", "30 m"], ["3 L/s", "25 m"], ["6 L/s", "8 m"]]
    edits = {
        "network.lines.in.parts.pump": {"kind": "pump", "curve": curve, "npsh": "30 m"},
        "network.lines.in.parts.p.bore": "20 mm",
        "media.water": {"kind": "water", "temperature": "20 °C"},
        "network.nodes.t": {"kind": "tank"},
        "network.lines.side": {
            "start": "j",
            "end": "t",
            "parts": {
                "p": pipe("50 m", "6 mm", "0.1 mm"),
                "pump": {"kind": "pump", "curve": [["0 L/s", "1 m"], ["1 L/s", "0.8 m"], ["2 L/s", "0.2 m"]]},
                "v": {"kind": "valve", "opening": "0 %"},
            },
        },
    }
    found = {(note.kind, note.path) for note in review(parse_case(network(**edits))).notes}
    assert ("usual_velocity", "network.lines.in.parts.p") in found
    assert ("suction_head", "network.lines.in.parts.pump") in found
    assert ("against_shut", "network.lines.side.parts.pump") in found
