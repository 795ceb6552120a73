"""Openings in series: spread evenly over a face, their flow stated once."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import apply, load, parse_case, review, save, settle
from mop_lantern.case.series import parse_series, series_edits, series_name
from mop_lantern.cli import main
from mop_lantern.errors import CaseError

HALL: dict[str, Any] = {
    "media": {"a": {"kind": "air"}},
    "shape": {
        "space": "space",
        "solids": {
            "room": {"kind": "brick", "length": "12 m", "width": "6 m", "height": "3 m"},
            "supply": {"kind": "patch", "on": "room.top", "x": "2 m", "y": "2 m", "width": "1 m"},
            "out1": {"kind": "patch", "on": "room.south", "x": "3 m", "z": "0.4 m", "width": "0.4 m"},
        },
    },
    "field": {
        "openings": {
            "in": {"kind": "volume_flow", "edge": "supply.face", "flow": "240 m3/h"},
            "leaves": {"kind": "static_pressure", "edge": "out1.face"},
        },
    },
}


def with_series(named: str, how_many: str, case: Any = None) -> Any:
    """Give the hall with a series."""
    case = case or parse_case(HALL)
    return apply(case, series_edits(case, review(case).shape, named, parse_series(how_many)))


@pytest.mark.parametrize("named", ["in", "supply"])
def test_supplies_are_spread_evenly_over_the_ceiling(named: str) -> None:
    case = with_series(named, "4 x 2")
    numbers = settle(case).numbers.shape.solids
    places = {key: (item.x, item.y) for key, item in numbers.items() if key.startswith("supply")}
    assert list(places) == ["supply", *(f"supply{k}" for k in range(2, 9))]
    assert sorted(places.values()) == [(x, y) for x in (1.5, 4.5, 7.5, 10.5) for y in (1.5, 4.5)]
    assert not review(case).faults


def test_one_parameter_is_the_flow_of_all(tmp_path: Path) -> None:
    case = apply(with_series("in", "3x2"), {"parameters.in_flow1.value": "100 m3/h"})
    flows = [item.flow for item in settle(case).numbers.openings.values() if item.kind == "volume_flow"]
    assert flows == pytest.approx([100 / 3600] * 6)
    assert {item.edge for item in case.field.openings.values()} >= {"supply.face", "supply6.face"}
    again = apply(case, {"field.openings.in3.flow": "50 m3/h"})
    assert settle(again).numbers.openings["in3"].flow == pytest.approx(50 / 3600)


def test_extracts_go_along_their_wall_and_names_go_on() -> None:
    case = with_series("leaves", "2")
    numbers = settle(case).numbers
    assert [numbers.shape.solids[key].x for key in ("out1", "out2")] == [3.0, 9.0]
    assert [numbers.shape.solids[key].z for key in ("out1", "out2")] == [0.4, 0.4], (
        "a single row keeps its height"
    )
    assert numbers.openings["leaves2"].edge == "out2.face" and not case.parameters


@pytest.mark.parametrize(
    ("named", "how_many", "words"),
    [
        ("in", "13 x 1", "takes"),
        ("in", "0 x 3", "does not say how many"),
        ("in", "1", "does not say how many"),
        ("in", "four", "does not say how many"),
        ("in", "99 x 99", "more than 200"),
        ("room", "2 x 2", "neither a patch"),
        ("nothing", "2 x 2", "Name one of supply, out1"),
    ],
)
def test_what_cannot_be_is_refused_with_a_remedy(named: str, how_many: str, words: str) -> None:
    with pytest.raises(CaseError, match=words):
        with_series(named, how_many)


def test_a_series_laid_twice_does_not_lie_on_itself() -> None:
    case = with_series("in", "4 x 2")
    with pytest.raises(CaseError, match="would lie on “supply2.face”"):
        with_series("in", "4 x 2", case)


def test_the_line_of_a_patch_or_of_its_opening_is_known() -> None:
    case = parse_case(HALL)
    paths = ("field.openings.in.flow", "shape.solids.supply", "shape.solids.room", "field.grid", "")
    assert [series_name(case, path) for path in paths] == ["in", "supply", "", "", ""]


def test_the_shell_prints_and_keeps_a_series(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "hall.lantern"
    save(parse_case(HALL), file)
    assert main(["series", str(file), "in", "2x2"]) == 0 and "in4" in capsys.readouterr().out
    assert len(load(file).field.openings) == 2
    assert main(["series", str(file), "in", "2x2", "--write"]) == 0
    assert len(load(file).field.openings) == 5
    assert main(["series", str(file), "in", "many"]) == 2
    assert "does not say how many" in capsys.readouterr().err
