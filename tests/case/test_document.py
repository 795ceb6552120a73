"""Cases: edits, variants, faults told together, files never lost."""

from __future__ import annotations

import copy
import json
import os
from pathlib import Path
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from mop_lantern.case import (
    apply,
    json_schema,
    lines,
    load,
    parse_case,
    parse_value,
    review,
    save,
    settle,
    value_at,
    with_variant,
)
from mop_lantern.case.fresh import fresh_item, fresh_key
from mop_lantern.case.sections import SECTIONS
from mop_lantern.declare import discover
from mop_lantern.errors import CaseError, EditError, FileError
from tests.conftest import DEMOS


def test_values_stay_as_typed(channel: dict[str, Any]) -> None:
    case = apply(parse_case(channel), {"shape.depth": "3 ft", "parameters.gap.value": "0.5 in"})
    assert value_at(case, "shape.depth") == "3 ft"
    assert settle(case).numbers.shape.depth == pytest.approx(0.9144)
    assert settle(case).numbers.shape.parts["run"].width == pytest.approx(0.0127)


def test_edits_are_pure_and_reach_everything(channel: dict[str, Any]) -> None:
    case = parse_case(channel)
    before = case.as_data()
    wider = apply(
        case, {"parameters.gap.value": "20 mm", "shape.parts.run.start.1": "5 mm", "readings.drop": None}
    )
    assert case.as_data() == before
    assert value_at(wider, "shape.parts.run.start.1") == "5 mm"
    assert "drop" not in wider.readings


@pytest.mark.parametrize(
    "path",
    ["shape.parts.nothing.width", "field.openings.in.nothing", "nowhere", "shape.parts.run.start.7", ""],
)
def test_edits_of_nothing_are_refused(channel: dict[str, Any], path: str) -> None:
    with pytest.raises(EditError) as problem:
        apply(parse_case(channel), {path: "1 mm"})
    assert problem.value.faults[0].says


def test_variants_are_edits_on_the_base(channel: dict[str, Any]) -> None:
    case = parse_case(channel)
    assert value_at(with_variant(case, "B"), "parameters.gap.value") == "14 mm"
    with pytest.raises(EditError, match="no such variant"):
        with_variant(case, "Z")
    faulty = apply(case, {"variants.B.edits": {"shape.parts.gone.width": "1 mm"}})
    assert review(faulty, "B").blocked


def test_all_faults_are_told_together(channel: dict[str, Any]) -> None:
    wrong = {
        "media.water.viscosity": "0 Pa s",
        "shape.depth": "-1 m",
        "parameters.gap.value": "= other",
        "field.openings.in.velocity": "3 kg",
        "field.grid.across": "2.5",
    }
    faults = review(apply(parse_case(channel), wrong)).faults
    assert {fault.path for fault in faults} >= set(wrong)
    assert all(fault.says for fault in faults)


def test_circular_parameters_are_named(channel: dict[str, Any]) -> None:
    case = apply(
        parse_case(channel), {"parameters.a": {"value": "= b"}, "parameters.b": {"value": "= a + 1 mm"}}
    )
    assert any("circle" in fault.says for fault in review(case).faults)


@pytest.mark.parametrize(
    ("edits", "path", "words"),
    [
        (
            {"field.openings.two": {"kind": "static_pressure", "edge": "run.start"}},
            "field.openings.two.edge",
            "two conditions on one edge",
        ),
        ({"field.openings.in.edge": "run.nowhere"}, "field.openings.in.edge", "no edge"),
        (
            {"field.openings.out": {"kind": "velocity", "edge": "run.end", "velocity": "1 mm/s"}},
            "field.openings.in",
            "comes in than goes out",
        ),
        ({"field.openings.in": None}, "field.openings", "nothing flows"),
        ({"field.openings.in": None, "field.openings.out": None}, "field.openings", "nothing moves"),
        ({"shape.parts.run.length": "-4 mm"}, "shape.parts.run.length", "must be above 0"),
        (
            {
                "shape.parts.bow": {
                    "kind": "bent",
                    "points": [["40 mm", "0 mm"], ["60 mm", "0 mm"], ["60 mm", "40 mm"]],
                    "width": "10 mm",
                    "radius": "3 mm",
                }
            },
            "shape.parts.bow.radius",
            "tighter than its passage",
        ),
        (
            {
                "shape.parts.x": {
                    "kind": "outline",
                    "points": [["0 mm", "0 mm"], ["9 mm", "9 mm"], ["9 mm", "0 mm"], ["0 mm", "9 mm"]],
                }
            },
            "shape.parts.x.points",
            "crosses itself",
        ),
        ({"media.water": None}, "media", "no fluid"),
        ({"shape.space": "axis", "shape.turn": "10 deg"}, "shape.turn", "cannot be turned"),
    ],
)
def test_wrong_cases_are_refused_at_their_line(
    channel: dict[str, Any], edits: dict[str, Any], path: str, words: str
) -> None:
    result = review(apply(parse_case(channel), edits))
    assert result.blocked
    told = [(f.path, f.says) for f in result.faults] + [
        (n.path, n.text) for n in result.notes if n.level == "blocked"
    ]
    assert any(where == path and words in says for where, says in told), told
    with pytest.raises(CaseError):
        result.settled()


def test_unknown_and_missing_entries_are_all_named() -> None:
    with pytest.raises(CaseError) as problem:
        parse_case(
            {
                "shape": {"parts": {"a": {"kind": "tube"}, "b": {"kind": "disc", "diametre": "1 mm"}}},
                "colour": 1,
            }
        )
    paths = {fault.path for fault in problem.value.faults}
    assert {"shape.parts.a", "shape.parts.b.diametre", "shape.parts.b.centre", "colour"} <= paths


def test_newer_schema_is_refused_politely() -> None:
    with pytest.raises(CaseError, match="newer version"):
        parse_case({"schema": 99})


def test_saving_is_atomic_and_keeps_a_bak(
    channel: dict[str, Any], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path, case = tmp_path / "c.lantern", parse_case(channel)
    save(case, path)
    first = path.read_text()
    save(apply(case, {"title": "second"}), path)
    assert (tmp_path / "c.lantern.bak").read_text() == first
    assert load(path).title == "second"

    def full(*_: Any) -> None:
        raise OSError(28, "No space left on device")

    monkeypatch.setattr(os, "fsync", full)
    with pytest.raises(FileError, match="unchanged"):
        save(case, path)
    assert load(path).title == "second"
    assert not list(tmp_path.glob("*.new"))


@pytest.mark.parametrize(
    "text", ["", "{", "[1]", '{"shape": 3}', "\x00", '{"media": {"a b": {"kind": "constant"}}}', "[" * 5000]
)
def test_broken_files_give_words(text: str, tmp_path: Path) -> None:
    path = tmp_path / "broken.lantern"
    path.write_text(text)
    with pytest.raises((CaseError, FileError)) as problem:
        load(path)
    assert str(problem.value)
    with pytest.raises(FileError):
        load(tmp_path / "absent.lantern")


@settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(data=st.data())
def test_no_mangled_file_gives_a_traceback(channel: dict[str, Any], data: Any) -> None:
    mangled = copy.deepcopy(channel)
    here: Any = mangled
    for _ in range(data.draw(st.integers(1, 5))):
        if not isinstance(here, dict) or not here:
            break
        key = data.draw(st.sampled_from(sorted(here)))
        if data.draw(st.booleans()) or not isinstance(here[key], dict):
            here[key] = data.draw(
                st.one_of(
                    st.none(),
                    st.text(max_size=8),
                    st.integers(),
                    st.lists(st.text(max_size=3), max_size=3),
                    st.just({}),
                )
            )
            break
        here = here[key]
    try:
        assert isinstance(review(parse_case(mangled)).blocked, bool)
    except CaseError as problem:
        assert problem.faults


def test_sentences_hold_every_value(channel: dict[str, Any]) -> None:
    text = "\n".join(line.text() for line in lines(parse_case(channel)))
    for words in (
        "10 mm/s",
        "fully developed",
        "run.start",
        "1 mPa s",
        "= gap",
        "still, smooth walls",
        "steady",
    ):
        assert words in text


def test_what_nobody_names_is_told_to_be_still_and_to_let_no_heat_through(channel: dict[str, Any]) -> None:
    def rest(case: Any) -> str:
        return next(line for line in lines(case) if line.path == "field.walls").text()

    case = parse_case(channel)
    assert rest(case) == "All other edges are still, smooth walls."
    warm = apply(case, {"field.heat.solve": True})
    assert rest(warm).endswith("without a line for heat no heat passes them.")
    assert "faces" in rest(apply(case, {"shape.space": "space"}))


def test_a_fresh_item_of_every_kind_fits_the_document(channel: dict[str, Any]) -> None:
    case = parse_case(channel)
    edges = list(settle(case).shape.edge_lengths)
    for section, package in ((each.path, each.package) for each in SECTIONS if each.package):
        for kind in discover(package):
            key = fresh_key(case, section)
            assert apply(case, {f"{section}.{key}": fresh_item(case, section, kind, edges)})
    case = apply(
        case,
        {
            "network.nodes.a": {"kind": "junction"},
            "network.nodes.b": {"kind": "tank"},
            "network.lines.r": {"start": "a", "end": "b"},
        },
    )
    for kind in discover("mop_lantern.network.components"):
        section = "network.lines.r.parts"
        case = apply(
            case, {f"{section}.{fresh_key(case, section, kind)}": fresh_item(case, section, kind, edges)}
        )
    assert len(case.network.lines["r"].parts) == len(discover("mop_lantern.network.components"))


def test_values_of_the_command_line() -> None:
    assert parse_value("0.4 L/s") == "0.4 L/s"
    assert parse_value('{"kind": "disc"}') == {"kind": "disc"}
    assert parse_value("null") is None


def test_schema_is_json_and_names_the_units() -> None:
    text = json.dumps(json_schema())
    assert "viscosity" in text and "lantern" in text


@pytest.mark.parametrize("demo", sorted(path.stem for path in DEMOS.glob("*.lantern")))
def test_demos_are_sound(demo: str) -> None:
    case = load(DEMOS / f"{demo}.lantern")
    for variant in ("", *case.variants):
        assert not review(case, variant).blocked
    assert "Grebe Sound" in case.notes
