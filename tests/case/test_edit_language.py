"""The one language of change, over all that the demos hold: what is read at a path and put back changes
nothing, what cannot be is told with its path, and nothing is half done.
"""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest

from mop_lantern.case import Case, apply, load, parse_case, with_variant
from mop_lantern.case.edits import value_at
from mop_lantern.errors import CaseError, EditError
from tests.conftest import DEMOS

NAMES = sorted(path.stem for path in DEMOS.glob("*.lantern"))


def leaves(data: Any, path: str = "") -> Iterator[tuple[str, Any]]:
    """Walk all that is no object."""
    if isinstance(data, dict):
        for key, value in data.items():
            yield from leaves(value, f"{path}.{key}" if path else key)
    else:
        yield path, data


def demo(name: str) -> Case:
    return load(DEMOS / f"{name}.lantern")


@pytest.mark.parametrize("name", NAMES)
def test_what_stands_at_a_path_can_be_put_back(name: str) -> None:
    case = demo(name)
    every = dict(leaves(case.as_data()))
    plain = {
        path: value
        for path, value in every.items()
        if not path.startswith(("variants.", "views", "schema", "lantern"))
    }
    assert len(plain) > 20
    for path, value in plain.items():
        assert value_at(case, path) == value, path
    assert apply(case, plain) == case


@pytest.mark.parametrize("name", NAMES)
def test_what_a_case_says_of_itself_is_the_same_case(name: str) -> None:
    case = demo(name)
    assert parse_case(case.as_data()) == case
    for variant in case.variants:
        other = with_variant(case, variant)
        assert other != case and parse_case(other.as_data()) == other
        for path, value in case.variants[variant].edits.items():
            if value is not None and not isinstance(value, dict):
                assert value_at(other, path) == value, (variant, path)


@pytest.mark.parametrize("name", NAMES)
def test_an_edit_changes_its_place_and_no_other(name: str) -> None:
    case = demo(name)
    before = dict(leaves(case.as_data()))
    for path in ("title", "notes"):
        after = dict(leaves(apply(case, {path: "another"}).as_data()))
        assert {key for key in before if before[key] != after[key]} == {path}


@pytest.mark.parametrize("name", NAMES)
def test_paths_that_are_none_are_told_and_nothing_is_done(name: str) -> None:
    case = demo(name)
    wrong = {
        "wings": "there is no",
        "field.wings": "there is no",
        "field.wings.flap": "does not exist",
        "title.flap": "nothing to change",
        "": "there is no",
        "field..grid": "does not exist",
    }
    for path, told in wrong.items():
        with pytest.raises(EditError) as problem:
            apply(case, {"title": "half done", path: "x"})
        (fault,) = problem.value.faults
        assert fault.path == path and told in fault.says, path
    assert case == demo(name)


def test_items_are_added_replaced_and_removed() -> None:
    case = demo("oxygen-line")
    kind = {"kind": "mass", "title": "?"}
    added = apply(case, {"parameters.extra": {"value": "3 mm"}})
    assert value_at(added, "parameters.extra.value") == "3 mm"
    changed = apply(added, {"parameters.extra.value": "4 mm"})
    assert value_at(changed, "parameters.extra.value") == "4 mm"
    assert apply(changed, {"parameters.extra": None}) == case
    assert apply(case, {"parameters.never": None}) == case, "what is not there goes without a word"
    with pytest.raises(EditError):
        apply(case, {"readings.odd": kind})


def test_edits_are_done_in_their_order() -> None:
    case = demo("oxygen-line")
    made = apply(
        case,
        {"parameters.a": {"value": "1 mm"}, "parameters.a.value": "2 mm", "parameters.b": {"value": "= a"}},
    )
    assert value_at(made, "parameters.a.value") == "2 mm"
    with pytest.raises(EditError):
        apply(case, {"parameters.a.value": "2 mm", "parameters.a": {"value": "1 mm"}})


def test_places_in_lists_are_changed_by_their_number() -> None:
    case = demo("rearing-loop")
    runs = case.as_data()["network"]["lines"]
    path = next(
        f"network.lines.{run}.parts.{part}.curve"
        for run, item in runs.items()
        for part, data in item["parts"].items()
        if data.get("curve")
    )
    changed = apply(case, {f"{path}.0.1": "99 m"})
    assert value_at(changed, f"{path}.0.1") == "99 m"
    assert value_at(changed, f"{path}.0.0") == value_at(case, f"{path}.0.0")
    assert value_at(case, f"{path}.999") is None
    with pytest.raises(EditError):
        apply(case, {f"{path}.999": ["0 L/s", "1 m"]})


def test_a_value_given_is_not_shared_with_the_giver() -> None:
    given = {"value": "3 mm"}
    made = apply(demo("oxygen-line"), {"parameters.extra": given})
    given["value"] = "7 mm"
    assert value_at(made, "parameters.extra.value") == "3 mm"


def test_a_variant_that_no_longer_fits_is_told() -> None:
    case = demo("oxygen-line")
    case = apply(case, {"variants.odd": {"title": "odd", "edits": {"field.openings.gone.velocity": "1 m/s"}}})
    with pytest.raises(EditError) as problem:
        with_variant(case, "odd")
    assert "gone" in str(problem.value)
    with pytest.raises((EditError, CaseError)):
        with_variant(case, "no such variant")
    assert with_variant(case, "") is case or with_variant(case, "") == case


def test_how_a_layer_is_drawn_may_be_said_where_nothing_was_kept_of_it() -> None:
    """Views are kept from where they were changed; a path to one that was not is no fault."""
    case = apply(parse_case({}), {"views.layers.streamlines.colour": "quantity"})
    assert case.views == {"layers": {"streamlines": {"colour": "quantity"}}}
    with pytest.raises(EditError, match="does not exist"):
        apply(parse_case({}), {"views.layers.streamlines.colour": None})
