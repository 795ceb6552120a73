"""Readings asked for after a case was solved: taken on what was stored, and told as such."""

from __future__ import annotations

import csv
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, fresh_item, parse_case, save, settle, with_variant
from mop_lantern.cli.main import main
from mop_lantern.declare import discover
from mop_lantern.desk.files.archive import Archive
from mop_lantern.errors import CaseError
from mop_lantern.results import RunRecord, load_run, open_answer
from mop_lantern.results.told import asked_later, asked_now, joined, physics_of, take_later
from mop_lantern.solve import Solving
from mop_lantern.units import DIMENSIONS

SPEED = {"kind": "point", "at": ["60 mm", "1 mm"], "quantity": "speed"}
SECTION = {"kind": "section", "start": ["50 mm", "-10 mm"], "end": ["50 mm", "10 mm"], "measure": "flow"}


@pytest.fixture(scope="module")
def solved(tmp_path_factory: pytest.TempPathFactory) -> tuple[Any, Path]:
    """Solve a channel with one reading, once; give the case and its stored solution."""
    case = parse_case(
        {
            "media": {"w": {"kind": "water"}},
            "shape": {"parts": {"p": {"kind": "straight", "length": "100 mm", "width": "20 mm"}}},
            "field": {
                "openings": {
                    "in": {"kind": "velocity", "edge": "p.start", "velocity": "5 mm/s"},
                    "out": {"kind": "static_pressure", "edge": "p.end"},
                },
                "grid": {"cell": "5 mm"},
            },
            "readings": {"speed": SPEED},
            "variants": {"B": {"title": "slower", "edits": {"field.openings.in.velocity": "4 mm/s"}}},
        }
    )
    runs = tmp_path_factory.mktemp("told") / "c.runs"
    list(Solving(settle(case), None, runs).events())
    return case, runs / "base" / "001"


def test_a_reading_taken_later_is_what_the_solution_would_have_told(solved: tuple[Any, Path]) -> None:
    case, folder = solved
    record, answer = load_run(folder), open_answer(folder)
    more = apply(
        case, {"readings.again": SPEED, "readings.flow": SECTION, "readings.speed.title": "in the middle"}
    )
    assert asked_later(more, parse_case(record.case)) == ["again", "flow"]
    told = asked_now(more, record, [answer])
    assert list(told) == ["speed", "again", "flow"] and told["speed"]["title"] == "in the middle"
    assert told["again"]["value"] == pytest.approx(record.readings["speed"]["value"], rel=1e-12)
    assert told["flow"]["value"] == pytest.approx(1e-4, rel=0.02)
    assert told["again"]["later"] and "later" not in told["speed"]


def test_a_reading_stated_anew_is_taken_anew_and_one_removed_is_gone(
    solved: tuple[Any, Path],
) -> None:
    case, folder = solved
    record, answer = load_run(folder), open_answer(folder)
    moved = apply(case, {"readings.speed.at": ["60 mm", "9 mm"]})
    told = asked_now(moved, record, [answer])
    assert told["speed"]["value"] < 0.7 * record.readings["speed"]["value"] and told["speed"]["later"]
    assert joined(apply(case, {"readings.speed": None}), case, record, {}) == {}


def test_what_was_not_solved_or_lies_outside_has_no_value(solved: tuple[Any, Path]) -> None:
    case, folder = solved
    more = apply(
        case,
        {
            "readings.warm": {**SPEED, "quantity": "T"},
            "readings.out": {**SPEED, "at": ["1 m", "0 mm"]},
        },
    )
    told = take_later(more, ["warm", "out"], [open_answer(folder)])
    assert told["warm"]["value"] is None and told["warm"]["later"] == "lacking"
    assert told["out"]["value"] is None and told["out"]["later"] == "taken"


@pytest.mark.parametrize("kind", discover("mop_lantern.judge.readings"))
def test_any_reading_may_be_asked_for_later(solved: tuple[Any, Path], kind: str) -> None:
    """Also one of what the case does not have: it is passed over."""
    case, folder = solved
    item = fresh_item(case, "readings", kind, ["p.end", "p.start", "p.left"], settle(case).shape)
    more = apply(case, {"readings.fresh": item})
    told = take_later(more, asked_later(more, case), [open_answer(folder)])
    assert set(told) <= {"fresh"}
    [one] = told.values() or [{"value": None, "dimension": "number"}]
    assert isinstance(one["value"], float | None) and one["dimension"] in DIMENSIONS


def test_readings_are_no_physics_but_what_follows_them_over_time_is(solved: tuple[Any, Path]) -> None:
    case, _ = solved
    assert physics_of(apply(case, {"readings.again": SPEED})) == physics_of(case)
    mean = {"kind": "over_time", "swings": "speed"}
    followed = apply(case, {"readings.mean": mean})
    assert physics_of(followed) != physics_of(case)
    assert physics_of(apply(followed, {"readings.speed.at": ["50 mm", "0 mm"]})) != physics_of(followed)
    assert asked_later(followed, case) == []


def test_another_case_is_refused(solved: tuple[Any, Path]) -> None:
    case, folder = solved
    other = apply(case, {"field.openings.in.velocity": "6 mm/s"})
    with pytest.raises(CaseError) as told:
        asked_now(other, load_run(folder), [open_answer(folder)])
    assert "Solve it again" in str(told.value)


def test_the_shell_takes_the_readings_of_a_case_file(solved: tuple[Any, Path], tmp_path: Path) -> None:
    case, folder = solved
    file, out = tmp_path / "c.lantern", tmp_path / "r.csv"
    save(apply(case, {"readings.flow": SECTION}), file)
    assert main(["export", str(folder), "--to", str(out), "--case", str(file)]) == 0
    rows = {row["id"]: row for row in csv.DictReader(out.open(encoding="utf-8"))}
    assert {"speed", "flow", "in.flow"} <= set(rows)
    save(apply(case, {"field.openings.in.velocity": "6 mm/s"}), file)
    assert main(["export", str(folder), "--to", str(out), "--case", str(file)]) == 2


def test_the_archive_takes_each_once_and_again_where_it_changed(solved: tuple[Any, Path]) -> None:
    case, folder = solved
    archive = Archive()
    archive.take("", str(folder))
    more = apply(case, {"readings.again": SPEED, "readings.warm": {**SPEED, "quantity": "T"}})
    assert not archive.stale(more, "") and archive.not_taken(more, "") == ["again", "warm"]
    assert list(archive.readings(more, "")) == ["speed"]
    stated, work = archive.taking(more, "", ["again", "warm"])
    former = archive.records[""]
    archive.keep_later(former, stated, work())
    assert archive.not_taken(more, "") == [] and list(archive.readings(more, "")) == [
        "speed",
        "again",
        "warm",
    ]
    moved = apply(more, {"readings.again.at": ["50 mm", "0 mm"]})
    assert archive.not_taken(moved, "") == ["again"]
    changed = apply(more, {"field.openings.in.velocity": "6 mm/s"})
    assert archive.stale(changed, "") and archive.not_taken(changed, "") == []
    assert list(archive.readings(changed, "")) == ["speed"]
    archive.take("", str(folder))
    assert archive.not_taken(more, "") == ["again", "warm"], "another result"
    archive.keep_later(former, stated, work())
    assert archive.not_taken(more, "") == ["again", "warm"], "what was taken on a former one is not kept"
    assert archive.not_taken(more, "B") == []


def test_a_record_whose_case_no_longer_reads_tells_what_it_has(solved: tuple[Any, Path]) -> None:
    case, folder = solved
    record = load_run(folder)
    broken = RunRecord(**{**vars(record), "case": {"lantern": "case", "shape": 3}})
    archive = Archive()
    archive.keep("", broken, None)
    assert archive.readings(case, "") == record.readings
    assert with_variant(case, "") is case
