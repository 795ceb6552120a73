"""Steady answers that a flow would leave are told; those it keeps are not accused."""

from __future__ import annotations

from typing import Any

import pytest

from bench.heat_cases import convection_document
from bench.stating import fluid
from bench.trust_cases import cylinder, heated
from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.grid.tree import refine
from mop_lantern.solve import Solving


def body(reynolds: int) -> dict[str, Any]:
    """State the cylinder in a channel at a Reynolds number on the mean velocity, diameter 0.1 m."""
    data = cylinder().state(12)
    data["media"] = fluid(1.0, 1e-3)
    data["field"]["openings"]["in"]["velocity"] = f"{reynolds * 1e-2} m/s"
    return data


def trust_of(data: dict[str, Any]) -> dict[str, Any]:
    """Solve and give the trust list by id."""
    last = [
        event
        for event in Solving(settle(parse_case(data)), None, None).events()
        if event["event"] == "finished"
    ][-1]
    return {item["id"]: item for item in last["trust"]}


def test_the_mirrored_wake_at_reynolds_100_is_no_answer_and_at_60_it_is() -> None:
    """Vortices are shed at Re 100 (Schaefer and Turek, 2D-2); a confined cylinder at 60 is steady still."""
    assert trust_of(body(100))["stability"]["verdict"] == "fails"
    assert trust_of(body(60))["stability"]["verdict"] == "holds"
    assert "stability" not in trust_of(body(20)), "creeping flows need no such test"


def test_rolls_in_a_room_and_a_side_heated_box_stay() -> None:
    room = convection_document(2e4, ("box.side1", "box.side3"), 2.0, 24, 1.0)
    assert trust_of(room)["stability"]["verdict"] == "holds"
    assert trust_of(heated(1e5).state(20))["stability"]["verdict"] == "holds"


def test_the_wake_of_a_body_is_told_with_its_size_and_refined_by_the_button() -> None:
    case = apply(parse_case(body(100)), {"field.grid.refine": {}, "field.grid.cell": "25 mm"})
    note = next(note for note in review(case).notes if note.kind == "wake_cells")
    assert note.level == "caution" and "700 mm long" in note.text and "280 mm wide" in note.text
    after = apply(case, note.edits)
    assert not [note for note in review(after).notes if note.kind == "wake_cells"]
    settled = settle(after)
    leaves = refine(settled.shape, settled.numbers.grid, settled.open_edges)
    west, south, east, north = leaves.bounds()
    middle, size = 0.5 * (leaves.x[west] + leaves.x[east]), leaves.x[east] - leaves.x[west]
    level = abs(0.5 * (leaves.y[south] + leaves.y[north]) - 0.2) < 0.05
    assert size[level & (middle > 0.3) & (middle < 0.45)].max() <= 0.1 / 32 * 1.01
    assert size[level & (middle > 0.6) & (middle < 0.85)].max() <= 0.1 / 16 * 1.01
    assert size[middle > 1.5].min() > 0.1 / 16
    assert not [note for note in review(parse_case(body(20))).notes if note.kind == "wake_cells"]


@pytest.mark.parametrize("turn", ["0 deg", "90 deg"])
def test_the_wake_follows_the_stream(turn: str) -> None:
    case = apply(parse_case(body(100)), {"shape.turn": turn, "field.grid.refine": {}})
    note = next(note for note in review(case).notes if note.kind == "wake_cells")
    (edit,) = note.edits.values()
    assert float(edit["way"].split()[0]) == pytest.approx(float(turn.split()[0]), abs=0.01)
