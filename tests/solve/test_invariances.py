"""What must not matter does not, and what must scale scales: the same physics told in other ways, from typed
words to readings. Similarity by dimensional analysis (White, *Fluid Mechanics*, chapter 5).
"""

from __future__ import annotations

import copy
from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, settle, settle_any
from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.solve import Solving
from tests.cli.test_words import PUMPED

Readings = dict[str, float]
TIGHT = {"field.solver.residual": "1e-9", "field.grid.cell": "1.7 mm", "field.grid.across": "4"}


def readings(data: dict[str, Any], **edits: Any) -> Readings:
    """Solve a case with edits; give its readings, SI."""
    case = apply(parse_case(copy.deepcopy(data)), TIGHT | edits)
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    return {key: reading["value"] for key, reading in last["readings"].items()}


@pytest.fixture(scope="module")
def case() -> dict[str, Any]:
    """Give a channel with a step in it, as typed."""
    return {
        "title": "step",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "depth": "1 m",
            "parts": {
                "run": {
                    "kind": "straight",
                    "start": ["0 mm", "0 mm"],
                    "length": "40 mm",
                    "width": "10 mm",
                },
                "d": {"kind": "disc", "centre": ["14 mm", "1 mm"], "diameter": "3 mm"},
            },
        },
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "run.start",
                    "velocity": "10 mm/s",
                    "profile": "developed",
                },
                "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": "1.7 mm"},
            "solver": {"coarse": "0"},
        },
        "readings": {
            "drop": {"kind": "drop", "title": "Drop", "edge": "run.start", "to": "run.end"},
            "push": {"kind": "force", "title": "Push", "edge": "d.surface", "axis": "x"},
            "lift": {"kind": "force", "title": "Lift", "edge": "d.surface", "axis": "y"},
        },
    }


@pytest.fixture(scope="module")
def plain(case: dict[str, Any]) -> Readings:
    """Solve it as typed."""
    return readings(case)


def test_the_same_case_gives_the_same_answer_to_the_last_digit(case: dict[str, Any], plain: Readings) -> None:
    assert readings(case) == plain
    assert plain["drop"] > 0 and plain["push"] > 0 and plain["lift"] != 0


def test_other_units_are_the_same_case(case: dict[str, Any], plain: Readings) -> None:
    other = readings(
        case,
        **{
            "media.w.density": "1 g/cm3",
            "media.w.viscosity": "1 cP",
            "field.openings.in.velocity": "36 m/h",
            "shape.parts.run.length": "0.04 m",
            "shape.parts.run.width": "= 1 cm",
            "shape.depth": "1000 mm",
        },
    )
    assert other == pytest.approx(plain, rel=1e-9)


def test_the_level_of_pressure_moves_nothing(case: dict[str, Any], plain: Readings) -> None:
    assert readings(case, **{"field.openings.out.pressure": "3 kPa"}) == pytest.approx(plain, rel=1e-5)


def test_a_mirrored_space_has_the_mirrored_force(case: dict[str, Any], plain: Readings) -> None:
    """But for which of two neighbours takes a sliver of a cut cell."""
    other = readings(case, **{"shape.parts.d.centre": ["14 mm", "-1 mm"]})
    assert other["drop"] == pytest.approx(plain["drop"], rel=3e-4)
    assert other["push"] == pytest.approx(plain["push"], rel=5e-3)
    assert other["lift"] == pytest.approx(-plain["lift"], abs=6e-3 * plain["push"])


def test_where_the_space_lies_does_not_matter(case: dict[str, Any], plain: Readings) -> None:
    away = {"shape.parts.run.start": ["170 mm", "-340 mm"], "shape.parts.d.centre": ["184 mm", "-339 mm"]}
    assert readings(case, **away) == pytest.approx(plain, rel=1e-4)


@pytest.mark.parametrize("turn", ["90 deg", "180 deg", "-90 deg"])
def test_a_quarter_turn_of_all_changes_nothing(case: dict[str, Any], plain: Readings, turn: str) -> None:
    other = readings(case, **{"shape.turn": turn})
    assert other["drop"] == pytest.approx(plain["drop"], rel=3e-4)


def test_twice_the_speed_in_a_fluid_twice_as_viscous_is_four_times_the_pressure(
    case: dict[str, Any], plain: Readings
) -> None:
    """The same Reynolds number: pressures go with the square of the speed."""
    other = readings(case, **{"field.openings.in.velocity": "20 mm/s", "media.w.viscosity": "2 mPa s"})
    assert other == pytest.approx({key: 4 * value for key, value in plain.items()}, rel=1e-6)


def test_a_space_ten_times_as_large_at_the_same_reynolds_number(
    case: dict[str, Any], plain: Readings
) -> None:
    other = readings(
        case,
        **{
            "shape.parts.run.length": "400 mm",
            "shape.parts.run.width": "100 mm",
            "shape.parts.d": {"kind": "disc", "centre": ["140 mm", "10 mm"], "diameter": "30 mm"},
            "field.openings.in.velocity": "1 mm/s",
            "field.grid.cell": "17 mm",
        },
    )
    assert other["drop"] == pytest.approx(plain["drop"] / 100, rel=1e-6)
    assert other["push"] == pytest.approx(plain["push"] / 10, rel=1e-6), "an area ten times as large a metre"


def test_a_denser_fluid_of_the_same_kinematic_viscosity(case: dict[str, Any], plain: Readings) -> None:
    other = readings(case, **{"media.w.density": "3000 kg/m3", "media.w.viscosity": "3 mPa s"})
    assert other == pytest.approx({key: 3 * value for key, value in plain.items()}, rel=1e-6)


def test_a_deeper_slice_has_more_force_and_the_same_drop(case: dict[str, Any], plain: Readings) -> None:
    other = readings(case, **{"shape.depth": "2 m"})
    assert other["drop"] == pytest.approx(plain["drop"], rel=1e-9)
    assert other["push"] == pytest.approx(2 * plain["push"], rel=1e-9)


def test_names_and_order_of_parts_do_not_matter(case: dict[str, Any], plain: Readings) -> None:
    other = copy.deepcopy(case)
    other["shape"]["parts"] = {
        "pebble": case["shape"]["parts"]["d"],
        "run": case["shape"]["parts"]["run"],
    }
    for name in ("push", "lift"):
        other["readings"][name]["edge"] = "pebble.surface"
    assert readings(other) == pytest.approx(plain, rel=1e-9)


# --- what is carried ---

WARM: dict[str, Any] = {
    "field.heat.solve": True,
    "field.openings.in.temperature": "20 °C",
    "field.warm.w": {"kind": "temperature", "edge": "d.surface", "temperature": "40 °C"},
    "readings.out": {"kind": "edge_value", "edge": "run.end", "quantity": "T", "title": "Out"},
}


def test_heat_is_linear_in_what_drives_it(case: dict[str, Any]) -> None:
    """Without buoyancy: twice the difference is twice the rise, another level moves all by the same."""
    one = readings(case, **WARM)["out"] - 293.15
    other = readings(case, **WARM | {"field.warm.w.temperature": "60 °C"})["out"] - 293.15
    moved = {"field.openings.in.temperature": "50 °C", "field.warm.w.temperature": "70 °C"}
    level = readings(case, **WARM | moved)["out"] - 323.15
    assert one > 0.05
    assert other == pytest.approx(2 * one, rel=1e-6) and level == pytest.approx(one, rel=1e-6)


def test_species_do_not_mind_each_other(case: dict[str, Any]) -> None:
    species = {
        "field.species.salt": {"start": "0"},
        "field.openings.in.carries.salt": "= 0.2 + 10 * y / 1 m",
        "readings.salt": {"kind": "point", "at": ["35 mm", "2 mm"], "quantity": "c.salt", "title": "Salt"},
    }
    alone = readings(case, **species)["salt"]
    beside = species | {"field.species.dye": {"start": "0"}, "field.openings.in.carries.dye": "1"}
    assert readings(case, **beside)["salt"] == pytest.approx(alone, rel=1e-9)
    half = species | {"field.openings.in.carries.salt": "= 0.1 + 5 * y / 1 m"}
    assert readings(case, **half)["salt"] == pytest.approx(alone / 2, rel=1e-6)


# --- networks ---


def flows(data: dict[str, Any], **edits: Any) -> dict[str, float]:
    """Give the volume flow of every run, m3/s."""
    settled = settle_any(apply(parse_case(copy.deepcopy(data)), edits))
    assert isinstance(settled, SettledNetwork)
    working = working_of(settled.operate(), settled)
    return {run: figures["volume_flow"] for run, figures in working.lines.items()}


def test_a_run_told_from_its_other_end_flows_the_other_way() -> None:
    plain = flows(PUMPED)
    turned = copy.deepcopy(PUMPED)
    near = turned["network"]["lines"]["near"]
    near["start"], near["end"] = near["end"], near["start"]
    near["parts"] = dict(reversed(near["parts"].items()))
    found = flows(turned)
    assert found.pop("near") == pytest.approx(-plain.pop("near"), rel=1e-6)
    assert found == pytest.approx(plain, rel=1e-6)


def test_a_pipe_in_two_halves_is_the_same_pipe() -> None:
    plain = flows(PUMPED)
    halves = {
        "network.lines.far.parts.p.length": "12.5 m",
        "network.lines.far.parts.q": {"kind": "pipe", "length": "12.5 m"},
    }
    assert flows(PUMPED, **halves) == pytest.approx(plain, rel=1e-7)
    between = copy.deepcopy(PUMPED)
    network = between["network"]
    network["nodes"]["mid"] = {"kind": "junction"}
    parts = network["lines"]["far"]["parts"]
    network["lines"]["far"] = {
        "start": "mid",
        "end": "b",
        "parts": {"p": parts["p"] | {"length": "15 m"}, "v": parts["v"]},
    }
    network["lines"]["first"] = {"start": "m", "end": "mid", "parts": {"p": parts["p"] | {"length": "10 m"}}}
    found = flows(between)
    assert found.pop("first") == pytest.approx(plain["far"], rel=1e-6)
    assert found == pytest.approx(plain, rel=1e-6)


def test_the_level_of_all_pressures_and_heights_moves_no_flow() -> None:
    plain = flows(PUMPED)
    raised = {
        f"network.nodes.{node}.over": over
        for node, over in (("sea", "130 kPa"), ("a", "100 kPa"), ("b", "100 kPa"))
    }
    assert flows(PUMPED, **raised) == pytest.approx(plain, rel=1e-7)
    lifted = {f"network.nodes.{node}.z": "7 m" for node in ("sea", "m", "a", "b")}
    assert flows(PUMPED, **lifted) == pytest.approx(plain, rel=1e-6)


def test_what_flows_in_flows_out_and_equal_taps_share_evenly() -> None:
    plain = flows(PUMPED)
    assert plain["main"] == pytest.approx(plain["near"] + plain["far"], rel=1e-9)
    assert plain["near"] > plain["far"] > 0
    same = flows(PUMPED, **{"network.lines.near.parts.p.length": "25 m"})
    assert same["near"] == pytest.approx(same["far"], rel=1e-9)


def test_four_times_the_pressure_is_about_twice_the_flow() -> None:
    """Fully rough, the loss goes with the square; smooth walls give a little more."""
    ratio = flows(PUMPED, **{"network.nodes.sea.over": "120 kPa"})["main"] / flows(PUMPED)["main"]
    assert 2.0 < ratio < 2.2
