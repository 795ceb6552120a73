"""An outlet on which a profile is forced is cautioned, with a remedy that lets it leave as it comes."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review
from tests.field.test_leaving import FED, REST, SUCK, channel


def noted(openings: dict[str, Any]) -> list[Any]:
    notes = review(parse_case(channel(openings))).notes
    return [note for note in notes if note.text.startswith("A profile is forced")]


@pytest.mark.parametrize("profile", ["uniform", "developed"])
def test_a_forced_profile_is_cautioned_and_put_right_by_its_remedy(profile: str) -> None:
    openings = {"in": REST, "out": SUCK | {"profile": profile}}
    (note,) = noted(openings)
    assert note.level == "caution" and note.path == "field.openings.out"
    right = apply(parse_case(channel(openings)), note.edits)
    assert not [each for each in review(right).notes if each.text.startswith("A profile is forced")]


def test_what_enters_may_have_any_profile_and_the_usual_outlet_none() -> None:
    assert not noted(FED)
    assert not noted({"in": REST, "out": SUCK})
