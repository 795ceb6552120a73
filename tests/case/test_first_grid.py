"""Cells left to the program are fine enough for a first answer within about 5 % of check values."""

from __future__ import annotations

from typing import Any

import pytest

from bench.trust_cases import cavity, cylinder, heated, junction, passage
from mop_lantern.case import apply, parse_case, settle
from mop_lantern.grid.tree import refine
from mop_lantern.solve import Solving


def left_to_the_program(known: Any) -> dict[str, Any]:
    """State a case without a word on its grid."""
    data = known.state(10)
    data["field"]["grid"] = {}
    return data


@pytest.mark.parametrize(
    "known",
    [
        cavity(100),
        cavity(400),
        heated(1e4),
        heated(1e5),
        passage("axis", 32.0),
        junction(100.0, 0.7901),
        cylinder(),
    ],
    ids=lambda known: known.name,
)
def test_a_first_answer_is_within_five_per_cent(known: Any) -> None:
    last = [
        event
        for event in Solving(settle(parse_case(left_to_the_program(known))), None, None).events()
        if event["event"] == "finished"
    ][-1]
    assert last["converged"]
    for key, value in known.truth.items():
        assert last["readings"][key]["value"] == pytest.approx(value, rel=0.05), key


def test_faster_walls_and_hotter_boxes_want_more_cells_up_to_a_limit() -> None:
    slow, fast = (settle(parse_case(left_to_the_program(cavity(re)))) for re in (100, 3200))
    assert fast.numbers.grid.first.across == 100 and slow.numbers.grid.first.across < 20
    absurd = settle(
        apply(parse_case(left_to_the_program(cavity(100))), {"field.walls.lid.speed": "3000 m/s"})
    )
    assert absurd.numbers.grid.first.across == 200
    warm, hot = (settle(parse_case(left_to_the_program(heated(ra)))) for ra in (1e4, 1e6))
    assert hot.numbers.grid.first.across > warm.numbers.grid.first.across


def test_a_body_gets_eight_cells_a_width_at_its_surface_and_a_typed_size_is_kept() -> None:
    settled = settle(parse_case(left_to_the_program(cylinder())))
    leaves = refine(settled.shape, settled.numbers.grid, settled.open_edges)
    assert (leaves.x[1] - leaves.x[0]) <= 0.1 / 8 * 1.01
    typed = settle(
        apply(
            parse_case(left_to_the_program(cylinder())),
            {"field.grid.cell": "50 mm", "field.grid.across": "1"},
        )
    )
    leaves = refine(typed.shape, typed.numbers.grid, typed.open_edges)
    assert leaves.x[1] - leaves.x[0] > 0.02
