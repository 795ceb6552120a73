"""Openings whose pressure follows the flow, through the program: planes, axes, spaces, in time, warm air."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.errors import RunError
from mop_lantern.solve import Solving
from mop_lantern.solve.check import Evidence
from mop_lantern.solve.checks.follows import Follows

BEHIND = {"kind": "system_resistance", "edge": "run.end", "loss": "1 kPa", "rated": "0.1 L/s"}
READINGS = {
    "q": {"kind": "flow", "edge": "run.end"},
    "p": {"kind": "edge_value", "edge": "run.end"},
}


def solved(channel: dict[str, Any], edits: dict[str, Any], readings: dict[str, Any]) -> dict[str, float]:
    """Solve a channel whose outlet leads to the rest of a system; give its readings and iterations."""
    channel["readings"] = readings
    case = apply(parse_case(channel), {"field.openings.out": BEHIND, "field.openings.in.velocity": "1 mm/s"})
    *_, last = Solving(settle(apply(case, edits)), None, None).events()
    assert last["converged"], last
    got = {key: reading["value"] for key, reading in last["readings"].items()}
    return {**got, "iterations": last["iterations"]}


def test_a_given_flow_finds_its_pressure(channel: dict[str, Any]) -> None:
    """10 mL/s of the 100 mL/s at which 1 kPa are lost: a hundredth of it, though water moves at 1 mm/s."""
    got = solved(channel, {}, READINGS)
    assert got["q"] == pytest.approx(1e-5, rel=1e-9)
    assert got["p"] == pytest.approx(10.0, rel=1e-6)


@pytest.mark.parametrize("way", ["in", "out"])
def test_a_machine_works_where_its_curve_meets_the_space(channel: dict[str, Any], way: str) -> None:
    """A curve of 40 Pa shut and none at 40 mL/s, against a system that loses 10 Pa at 10 mL/s: by hand
    40 - 1 Q = 0.1 Q2 at 15.6 mL/s, less what the channel itself loses (under 1 Pa).
    """
    other = "run.start" if way == "in" else "run.end"
    machine = {
        "kind": "machine",
        "edge": other,
        "way": way,
        "curve": [["0 L/s", "40 Pa"], ["40 mL/s", "0 Pa"]],
    }
    rest = {**BEHIND, "edge": "run.end" if way == "in" else "run.start"}
    first, second = (machine, rest) if way == "in" else (rest, machine)
    openings = {"field.openings.in": first, "field.openings.out": second}
    channel["readings"] = READINGS
    case = apply(parse_case(channel), openings | {"field.physics.flow": "laminar"})
    *_, last = Solving(settle(case), None, None).events()
    flow = last["readings"]["q"]["value"]
    assert 1e6 * flow == pytest.approx(15.6, rel=0.03)
    trust = {item["id"]: item["verdict"] for item in last["trust"]}
    assert trust["follows"] == trust["readings"] == "holds"


def test_a_curve_that_rises_is_refused(channel: dict[str, Any]) -> None:
    rising = {"kind": "machine", "edge": "run.start", "curve": [["0 L/s", "40 Pa"], ["1 mL/s", "50 Pa"]]}
    solving = Solving(settle(apply(parse_case(channel), {"field.openings.in": rising})), None, None)
    with pytest.raises(RunError, match="no rise of pressure"):
        list(solving.events())


def test_a_grille_loses_its_coefficient_of_the_mean_velocity(channel: dict[str, Any]) -> None:
    """The channel is 10 mm wide and 1 m deep: 5 mm/s and K 400 are 400 of 0.0125 Pa."""
    grille = {"kind": "grille", "edge": "run.end", "loss": "400", "pressure": "2 Pa"}
    got = solved(channel, {"field.openings.in.velocity": "5 mm/s", "field.openings.out": grille}, READINGS)
    density = 998.2
    assert got["p"] == pytest.approx(2 + 400 * 0.5 * density * 0.005**2, rel=2e-3)


def test_the_trust_list_tells_whether_the_curve_is_met(channel: dict[str, Any]) -> None:
    """Finished it holds; stopped after a few iterations, or with its pressure spoilt, it does not."""
    supply = {"kind": "total_pressure", "edge": "run.start", "pressure": "2 Pa"}
    case = apply(parse_case(channel), {"field.openings.out": BEHIND, "field.openings.in": supply})
    solving = Solving(settle(case), None, None)
    *_, last = solving.events()
    assert {item["id"]: item["verdict"] for item in last["trust"]}["follows"] == "holds"
    run = solving.run
    assert run is not None
    run.physics.flow.boundary.pressure += 1.0
    evidence = Evidence(settle(case), run.physics, run.physics.answer(), True, False)
    assert [item.verdict for item in Follows.judge(evidence)] == ["caution"]


def test_two_ways_out_share_the_flow_by_the_roots_of_their_resistances(channel: dict[str, Any]) -> None:
    """Sources: parallel resistances, any text on pipe networks."""
    arm = {
        "kind": "straight",
        "start": ["20 mm", "0 mm"],
        "direction": "90 deg",
        "length": "25 mm",
        "width": "10 mm",
    }
    edits = {
        "shape.parts.arm": arm,
        "field.openings.up": BEHIND | {"edge": "arm.end", "loss": "4 kPa"},
        "field.grid.cell": "1.25 mm",
    }
    readings = {"q": READINGS["q"], "up": {"kind": "flow", "edge": "arm.end"}}
    got = solved(channel, edits, readings)
    assert got["q"] / got["up"] == pytest.approx(2.0, rel=1e-3)


def test_in_time_the_pressure_keeps_pace(channel: dict[str, Any]) -> None:
    edits = {
        "field.openings.in.velocity": "= 1 mm/s + 0.5 mm/s * sin(3 * t / 1 s)",
        "field.time": {"mode": "transient", "until": "1 s", "step": "0.1 s"},
    }
    got = solved(channel, edits, READINGS)
    flow = 1e-5 * (1 + 0.5 * np.sin(3.0))
    assert got["q"] == pytest.approx(flow, rel=1e-9)
    assert got["p"] == pytest.approx(1000 * (flow / 1e-4) ** 2, rel=1e-5)


def test_around_an_axis_the_whole_flow_counts(channel: dict[str, Any]) -> None:
    """The law is that of the whole opening, not of a radian of it."""
    got = solved(channel, {"shape.space": "axis", "field.openings.out.loss": "100 kPa"}, READINGS)
    assert got["q"] == pytest.approx(np.pi * 0.005**2 * 1e-3, rel=1e-6)
    assert got["p"] == pytest.approx(1e5 * (got["q"] / 1e-4) ** 2, rel=1e-5)


def test_in_a_space_two_ends_of_a_box_share_what_enters_between() -> None:
    """Water enters from below and leaves at both ends, one of four times the resistance."""
    out = {"kind": "system_resistance", "loss": "1 MPa", "rated": "0.1 L/s"}
    case = {
        "title": "box",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "space": "space",
            "solids": {"a": {"kind": "brick", "length": "60 mm", "width": "20 mm", "height": "10 mm"}},
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "a.bottom", "velocity": "5 mm/s"},
                "l": {**out, "edge": "a.west"},
                "r": {**out, "edge": "a.east", "loss": "4 MPa"},
            },
            "grid": {"cell": "2.5 mm", "doublings": "0"},
        },
        "readings": {
            "l": {"kind": "flow", "edge": "a.west"},
            "r": {"kind": "flow", "edge": "a.east"},
            "p": {"kind": "edge_value", "edge": "a.west"},
        },
    }
    *_, last = Solving(settle(parse_case(case)), None, None).events()
    got = {key: reading["value"] for key, reading in last["readings"].items()}
    assert last["converged"]
    assert got["l"] + got["r"] == pytest.approx(5e-3 * 0.06 * 0.02, rel=1e-6)
    assert got["l"] / got["r"] == pytest.approx(2.0, rel=1e-3)
    assert got["p"] == pytest.approx(1e14 * got["l"] ** 2, rel=1e-4)


def test_warm_air_counts_by_its_own_volume(channel: dict[str, Any]) -> None:
    """By the gas law warm air needs more room than the reference; its volume meets the resistance."""
    edits = {
        "media.water": {"kind": "air", "temperature": "20 °C"},
        "field.heat": {"solve": True, "start": "80 °C"},
        "field.physics": {"buoyancy": "gas", "gravity": "0 m/s2"},
        "field.openings.in.temperature": "80 °C",
        "field.openings.in.velocity": "50 mm/s",
        "field.openings.out.loss": "10 Pa",
        "field.openings.out.rated": "10 L/s",
        "field.grid.level": "sketch",
    }
    got = solved(channel, edits, READINGS)
    assert got["p"] == pytest.approx(10.0 * (0.05 * 0.01 / 0.01) ** 2, rel=1e-5)
    assert got["iterations"] < 300, "evenly warm air is no reason to go on"


@pytest.mark.parametrize(("field", "value"), [("loss", "-1 Pa"), ("rated", "0 L/s"), ("rated", "1 m/s")])
def test_what_cannot_be_is_refused_by_its_place(channel: dict[str, Any], field: str, value: str) -> None:
    case = apply(parse_case(channel), {"field.openings.out": BEHIND, f"field.openings.out.{field}": value})
    faults = review(case).faults
    assert any(fault.path == f"field.openings.out.{field}" for fault in faults), faults


ARM = {
    "kind": "straight",
    "start": ["20 mm", "0 mm"],
    "direction": "90 deg",
    "length": "25 mm",
    "width": "10 mm",
}
FREE = {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"}
PUSHED = {"kind": "total_pressure", "edge": "run.start", "pressure": "0.3 Pa"}


@pytest.mark.parametrize(
    ("supply", "share"), [(None, 0.0), (None, 0.3), (None, 1.0), (PUSHED, 0.25)], ids=str
)
def test_an_outlet_takes_its_share(
    channel: dict[str, Any], supply: dict[str, Any] | None, share: float
) -> None:
    """Of a flow that is given, and of one that is an answer."""
    channel["readings"] = {
        "all": {"kind": "flow", "edge": "run.start"},
        "arm": {"kind": "flow", "edge": "arm.end"},
    }
    taking = {"kind": "share", "edge": "arm.end", "share": f"{100 * share} %"}
    edits = {"shape.parts.arm": ARM, "field.openings.out": FREE, "field.openings.arm": taking}
    edits |= {"field.openings.in": supply} if supply else {}
    edits["field.physics.flow"] = "laminar"
    *_, last = Solving(settle(apply(parse_case(channel), edits)), None, None).events()
    got = {key: reading["value"] for key, reading in last["readings"].items()}
    assert got["arm"] == pytest.approx(-share * got["all"], rel=2e-4, abs=1e-6 * abs(got["all"]))
    assert {item["id"]: item["verdict"] for item in last["trust"]}["follows"] == "holds"


@pytest.mark.parametrize(
    ("others", "says"),
    [
        ({"out": {"kind": "share", "edge": "run.end", "share": "60 %"}}, "add up to 120 %"),
        ({"out": {"kind": "share", "edge": "run.end", "share": "40 %"}}, "free to take the rest"),
    ],
)
def test_shares_that_cannot_be_had_are_told(
    channel: dict[str, Any], others: dict[str, Any], says: str
) -> None:
    taking = {"kind": "share", "edge": "arm.end", "share": "60 %"}
    edits = {"shape.parts.arm": ARM, "field.openings.arm": taking}
    edits |= {f"field.openings.{key}": item for key, item in others.items()}
    [note] = [note for note in review(apply(parse_case(channel), edits)).notes if note.kind == "shares"]
    assert note.level == "blocked"
    assert says in note.text
    if note.edits:
        mended = apply(parse_case(channel), edits | note.edits)
        assert not [note for note in review(mended).notes if note.kind == "shares"]


def test_shares_in_several_spaces_are_refused() -> None:
    """Two pipes apart from each other: a share of one would be of what enters both."""
    pipes = {
        name: {"kind": "cylinder", "y": place, "length": "60 mm", "diameter": "20 mm"}
        for name, place in (("a", "0 mm"), ("b", "50 mm"))
    }
    openings: dict[str, Any] = {}
    for name in pipes:
        openings[f"in_{name}"] = {"kind": "volume_flow", "edge": f"{name}.start", "flow": "1 mL/s"}
        openings[f"out_{name}"] = {"kind": "static_pressure", "edge": f"{name}.end"}
    openings["out_b"] = {"kind": "share", "edge": "b.end", "share": "50 %"}
    data = {
        "title": "two pipes",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "space": "space",
            "solids": pipes,
            "wet": [["30 mm", "0 mm", "0 mm"], ["30 mm", "50 mm", "0 mm"]],
        },
        "field": {"openings": openings, "grid": {"cell": "4 mm"}},
    }
    [note] = [note for note in review(parse_case(data)).notes if note.kind == "shares"]
    assert note.level == "blocked" and "several spaces" in note.text
