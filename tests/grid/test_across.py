"""Cells across a passage are counted along it: in flat cells, around an axis, in space, and the same by
review and solve.
"""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.solve import prepare
from mop_lantern.solve.boundary_data import gap_cells

DUCT = {
    "title": "duct",
    "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
    "shape": {
        "space": "space",
        "solids": {"duct": {"kind": "brick", "length": "40 mm", "width": "30 mm", "height": "10 mm"}},
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "duct.west", "velocity": "10 mm/s"},
            "out": {"kind": "static_pressure", "edge": "duct.east", "pressure": "0 Pa"},
        },
        "grid": {"cell": "4 mm"},
    },
}


@pytest.mark.parametrize(
    ("edits", "count"),
    [
        ({}, 8),
        ({"field.grid.cell": "0.5 mm", "field.grid.aspect": "20"}, 20),
        ({"field.grid.cell": "3.4 mm", "field.grid.aspect": "0.05"}, 3),
        ({"shape.space": "axis"}, 8),
        ({"shape.turn": "90 deg"}, 8),
        (
            {
                "field.grid.refine": {
                    "w": {"kind": "box", "low": ["0 mm", "-5 mm"], "high": ["40 mm", "5 mm"], "levels": "1"}
                }
            },
            16,
        ),
    ],
)
def test_cells_are_counted_along_the_gap(
    channel: dict[str, Any], edits: dict[str, Any], count: float
) -> None:
    case = apply(parse_case(channel), {"field.grid.across": "1", **edits})
    settled = settle(case)
    assert gap_cells(settled, prepare(settled)) == pytest.approx(count, rel=0.05)
    facts = review(case).facts
    assert facts is not None and facts.gap_across == pytest.approx(count, rel=0.05)


@pytest.mark.parametrize(("cell", "few"), [("4 mm", True), ("1 mm", False)])
def test_a_space_too_coarse_is_told_by_review_and_solve(cell: str, few: bool) -> None:
    """A duct 10 mm high on cells of 4 mm: its pressure drop is 16 % low."""
    case = apply(parse_case(DUCT), {"field.grid.cell": cell})
    settled = settle(case)
    assert (gap_cells(settled, prepare(settled)) < 5) == few
    found = review(case)
    note = next(note for note in found.notes if note.kind == "gap_cells")
    assert (note.level == "caution") == few
    assert ("is a guess" in note.text) == few
