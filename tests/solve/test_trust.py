"""The trust list speaks of the cells, of what the review warned of, and of forces; wrong answers are not
called trusted.
"""

from __future__ import annotations

from typing import Any

import pytest

from bench.cases import cavity_document
from bench.trust_cases import couette, duct, heated, passage
from mop_lantern.case import apply, parse_case, settle
from mop_lantern.solve import Solving


def solved(data: Any, **edits: Any) -> dict[str, Any]:
    """Solve a document with edits and give what the solve says at its end, trust by id."""
    case = apply(parse_case(data), edits)
    last = [event for event in Solving(settle(case), None, None).events() if event["event"] == "finished"][-1]
    return {**last, "trust": {item["id"]: item for item in last["trust"]}}


def off(known: Any, cells: float) -> tuple[dict[str, Any], dict[str, float]]:
    """Solve a case with known values and tell how far its readings are off."""
    last = solved(known.state(cells))
    return last, {key: abs(last["readings"][key]["value"] / value - 1) for key, value in known.truth.items()}


@pytest.mark.parametrize(("known", "cells"), [(passage("plane", 12.0), 4), (heated(1e4), 10)])
def test_a_coarse_grid_is_cautioned_with_its_figure(known: Any, cells: float) -> None:
    last, errors = off(known, cells)
    item = last["trust"]["grid_guess"]
    assert max(errors.values()) > 0.03
    assert item["verdict"] == "caution" and item["value"] > item["limit"]
    assert "coarse" in item["text"] and "%" in item["text"]
    worst = max(errors, key=lambda key: errors[key])
    assert last["readings"][worst]["grid_guess"] > 0.0225


def test_few_cells_that_do_are_no_false_alarm() -> None:
    """Three cells between a still and a sliding wall are right to 0.5 %: a finer grid shows it, and the count
    of cells holds.
    """
    last, errors = off(couette(), 3)
    assert max(errors.values()) < 0.01
    assert last["trust"]["grid_guess"]["verdict"] == "holds" and "fine" in last["trust"]["grid_guess"]["text"]
    assert last["trust"]["gap"]["verdict"] == "holds" and "3 cells" in last["trust"]["gap"]["text"]


def test_two_errors_that_cancel_on_a_coarser_grid_are_seen_from_a_finer_one() -> None:
    """A pipe on four and on two cells has nearly the same fall of pressure, 9 % off."""
    last, errors = off(passage("axis", 32.0), 4)
    assert errors["drop"] > 0.05
    assert last["readings"]["drop"]["grid_guess"] == pytest.approx(errors["drop"], rel=0.3)
    assert last["trust"]["gap"]["verdict"] == "caution"


def test_a_good_answer_of_a_warm_box_is_told_with_a_fair_figure() -> None:
    """Rayleigh number 1e6 on 32 x 32 cells drawn to the walls is right to 1.2 %; half as many show 2.6."""
    last, errors = off(heated(1e6, 4.0), 32)
    assert 0.005 < max(errors.values()) < 0.02
    guess = last["trust"]["grid_guess"]
    assert guess["verdict"] != "fails" and max(errors.values()) < guess["value"] < 3 * max(errors.values())


def test_a_fine_grid_holds_and_says_how_far_it_may_be_off() -> None:
    last, errors = off(passage("plane", 12.0), 12)
    assert max(errors.values()) < 0.02
    assert last["trust"]["grid_guess"]["verdict"] == "holds"
    assert "guessed" in last["trust"]["grid_guess"]["text"]


def test_a_cavity_on_32_cells_is_not_called_right() -> None:
    """Re 400 on 32 x 32 is off by 4 to 5 %. Source: own Richardson extrapolation."""
    data = cavity_document(400.0, 32)
    data["readings"] = {
        "low": {
            "kind": "line",
            "start": ["0.5 m", "0 m"],
            "end": ["0.5 m", "1 m"],
            "quantity": "u",
            "measure": "min",
        }
    }
    last = solved(data)
    assert abs(last["readings"]["low"]["value"] / -0.3287 - 1) > 0.03
    assert last["trust"]["grid_guess"]["verdict"] == "caution"


def test_a_duct_of_three_cells_is_told_in_space() -> None:
    last = solved(duct().state(2.5))
    assert last["trust"]["gap"]["verdict"] == "caution" and "guess" in last["trust"]["gap"]["text"]
    assert last["trust"]["grid_guess"]["verdict"] == "caution"


def test_without_readings_steep_changes_from_cell_to_cell_are_told() -> None:
    coarse = solved(cavity_document(100.0, 10))["trust"]["grid_guess"]
    fine = solved(cavity_document(100.0, 64))["trust"]["grid_guess"]
    assert (
        coarse["value"] > 4 * fine["value"] and coarse["verdict"] == "caution" and fine["verdict"] == "holds"
    )


def test_laminar_far_above_its_critical_number_fails(channel: dict[str, Any]) -> None:
    """A laminar answer at Re 10,000 is no answer, whether the flow is given or follows from pressures."""
    channel["field"]["physics"] = {"flow": "laminar"}
    last = solved(channel, **{"field.openings.in.velocity": "0.5 m/s"})
    assert last["trust"]["note.laminar_limit"]["verdict"] == "fails" and not last["converged"]
    assert "turbulent" in last["trust"]["note.laminar_limit"]["text"]
    thin = {"media.water.viscosity": "0.15 mPa s", "field.openings.in.velocity": "22 mm/s"}
    between = solved(channel, **thin)
    assert (
        between["trust"]["note.laminar_limit"]["verdict"] == "caution"
        and between["trust"]["note.laminar_limit"]["value"] == 2
    )


def test_cautions_of_the_review_go_with_the_answer(channel: dict[str, Any]) -> None:
    last = solved(
        channel,
        **{
            "field.openings.in.profile": "uniform",
            "field.openings.in.velocity": "30 mm/s",
            "shape.depth": "12 mm",
        },
    )
    assert last["trust"]["note.plane_for_round"]["verdict"] == "caution"
    assert last["trust"]["note.entrance_length"]["text"].startswith("in: ")
    assert last["converged"], "a caution is no failure"


def test_pressures_below_nothing_and_speeds_of_sound_are_no_answers(channel: dict[str, Any]) -> None:
    """Water sucked through a channel by a flow it cannot follow: the outlet pressure holds, the inlet would
    be under nothing.
    """
    suck = {"kind": "velocity", "edge": "run.end", "velocity": "2 m/s", "way": "out"}
    rest = {"kind": "static_pressure", "edge": "run.start", "pressure": "0 Pa"}
    thick = {"media.water.viscosity": "12 Pa s", "field.openings.in": rest, "field.openings.out": suck}
    low = solved(channel, **thick, **{"field.solver.most": "300"})["trust"]
    assert low["absolute"]["verdict"] == "fails" and "falls to −16100 Pa" in low["absolute"]["text"]
    air = {
        "media.water": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "1 Pa s"},
        "field.openings.in.velocity": "200 m/s",
    }
    assert solved(channel, **air, **{"field.solver.most": "300"})["trust"]["mach"]["verdict"] in (
        "caution",
        "fails",
    )
    assert "absolute" not in solved(channel)["trust"] and "mach" not in solved(channel)["trust"]


def test_values_beyond_reason_are_refused_with_their_place(channel: dict[str, Any]) -> None:
    from mop_lantern.errors import CaseError

    wrong = {
        "field.openings.in.velocity": "1e6 m/s",
        "shape.parts.run.length": "1e9 km",
        "media.water.density": "1e249 kg/m3",
        "parameters.gap.value": "1e-9 m",
        "field.openings.out.pressure": "1e30 Pa",
    }
    for path, value in wrong.items():
        with pytest.raises(CaseError) as caught:
            settle(apply(parse_case(channel), {path: value}))
        assert any("reason" in fault.says for fault in caught.value.faults), path


def test_boussinesq_far_outside_its_range_fails(channel: dict[str, Any]) -> None:
    from mop_lantern.case import review

    hot = {"kind": "temperature", "edge": "run.left", "temperature": "400 °C"}
    edits = {
        "field.heat.solve": True,
        "field.physics.buoyancy": "boussinesq",
        "field.warm.w": hot,
        "media.water.expansion": "3e-3 1/K",
    }
    note = next(
        note for note in review(apply(parse_case(channel), edits)).notes if note.kind == "boussinesq_range"
    )
    assert note.fails and note.level == "caution"
    mild = {**edits, "field.warm.w": {**hot, "temperature": "30 °C"}}
    assert not [
        note for note in review(apply(parse_case(channel), mild)).notes if note.kind == "boussinesq_range"
    ]
