"""The note on cells in bends: where it speaks, where not, and that its remedy silences it."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review
from mop_lantern.case.document import Case


def bend(cell: str = "4 mm", speed: str = "2 m/s", **part: Any) -> Case:
    """State a bend of 100 mm of water."""
    pipe = {
        "kind": "bent_pipe",
        "diameter": "100 mm",
        "before": "0.3 m",
        "after": "0.3 m",
        "radius": "150 mm",
    }
    return parse_case(
        {
            "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
            "shape": {"space": "space", "solids": {"p": {**pipe, **part}}},
            "field": {
                "openings": {
                    "in": {"kind": "velocity", "edge": "p.start", "velocity": speed},
                    "out": {"kind": "static_pressure", "edge": "p.end"},
                },
                "grid": {"cell": cell, "doublings": "0"},
            },
        }
    )


def told(case: Case) -> list[Any]:
    """Give the notes on bends."""
    return [note for note in review(case).notes if "bend p comes out low" in note.text]


def test_a_bend_on_high_cells_is_told_and_its_remedy_silences_it() -> None:
    """25 cells across at a Reynolds number of 2e5: y+ of about 180."""
    case = bend()
    [note] = told(case)
    assert note.level == "caution" and "about 177" in note.text
    assert not told(apply(case, note.edits))


@pytest.mark.parametrize(
    "case",
    [
        bend(speed="5 mm/s"),  # laminar
        bend(speed="0.1 m/s"),  # fine enough for its Reynolds number
        bend(cell="10 mm", speed="3 m/s"),  # beyond the law of the wall: another note speaks
    ],
)
def test_others_are_not(case: Case) -> None:
    assert not told(case)


def test_a_passage_with_corners_bends_too() -> None:
    """A duct along a line: straight it has none."""
    corners = [["0.4 m", "0 m", "0 m"], ["0.4 m", "0.4 m", "0 m"]]
    duct = {"kind": "passage", "width": "100 mm", "height": "100 mm", "radius": "100 mm"}
    for line, count in ((corners, 1), ([["0.8 m", "0 m", "0 m"]], 0)):
        data: Any = bend().as_data()
        data["shape"]["solids"]["p"] = {**duct, "corners": line}
        assert len(told(parse_case(data))) == count
