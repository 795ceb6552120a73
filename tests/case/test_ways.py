"""Chevrons before solving: fluid enters where all others draw it from."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import parse_case, review, ways_stated
from tests.field.test_leaving import FED, REST, SUCK, channel


def ways(openings: dict[str, Any]) -> dict[str, str]:
    found = review(parse_case(channel(openings)))
    return ways_stated(found.case, found.facts)


@pytest.mark.parametrize(
    ("openings", "start", "end"),
    [
        ({"in": REST, "out": SUCK}, "in", "out"),
        (FED, "in", "out"),
        ({"in": REST, "out": REST | {"edge": "run.end", "pressure": "-1 Pa"}}, "open", "open"),
        ({"in": FED["in"], "out": SUCK}, "in", "out"),
    ],
)
def test_what_is_given_tells_the_way_of_the_last_one(openings: Any, start: str, end: str) -> None:
    assert ways(openings) == {"run.start": start, "run.end": end}


def test_of_two_free_ones_nothing_is_said_and_without_a_review_only_what_the_lines_say() -> None:
    both = {"in": REST, "out": SUCK, "side": {"kind": "static_pressure", "edge": "run.left"}}
    assert ways(both)["run.start"] == ways(both)["run.left"] == "open"
    case = parse_case(channel({"in": REST, "out": SUCK}))
    assert ways_stated(case) == {"run.start": "open", "run.end": "out"}
