"""Readings placed by pointing."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.case.reading_places import reading_edits
from mop_lantern.errors import CaseError

PLANE: dict[str, Any] = {
    "media": {"w": {"kind": "water"}},
    "shape": {"parts": {"p": {"kind": "straight", "length": "1 m", "width": "0.4 m"}}},
}
SPACE = {
    "units": {"length": "m"},
    "shape": {
        "space": "space",
        "solids": {"r": {"kind": "brick", "length": "1 m", "width": "1 m", "height": "1 m"}},
    },
}
ENDS = {"in": {"kind": "velocity", "edge": "p.start"}, "out": {"kind": "static_pressure", "edge": "p.end"}}


def placed(data: dict[str, Any], form: str, places: Any, across: int = -1, what: str = "speed") -> Any:
    """Give the item of a reading placed with a pixel of a millimetre, and the case that holds it."""
    case = parse_case(data)
    edits, path = reading_edits(case, form, what, [np.array(place) for place in places], 1e-3, across)
    return edits[path], apply(case, edits)


@pytest.mark.parametrize(
    ("form", "kind"), [("point", "point"), ("line", "line"), ("box", "region"), ("section", "section")]
)
def test_a_reading_of_a_plane_is_placed_as_drawn(form: str, kind: str) -> None:
    item, case = placed(PLANE, form, [[0.2504, -0.1], [0.5, 0.1]])
    assert item["kind"] == kind and item["quantity"] == "speed"
    first, last = {
        "point": ("at", "at"),
        "line": ("start", "end"),
        "box": ("low", "high"),
        "section": ("start", "end"),
    }[form]
    assert item[first] == ["250 mm", "-100 mm"]
    assert form == "point" or item[last] == ["500 mm", "100 mm"]
    solved = apply(case, {"field.openings.in": ENDS["in"], "field.openings.out": ENDS["out"]})
    assert list(settle(solved).numbers.readings) == ["reading1"]


def test_corners_may_be_drawn_in_any_order() -> None:
    one, _ = placed(PLANE, "box", [[0.5, -0.1], [0.2, 0.1]])
    other, _ = placed(PLANE, "box", [[0.2, 0.1], [0.5, -0.1]])
    assert one == other


def test_a_box_on_a_section_is_as_deep_as_its_shorter_side() -> None:
    item, _ = placed(SPACE, "box", [[0.2, 0.5, 0.1], [0.6, 0.5, 0.3]], across=1)
    assert item["low"] == ["0.2 m", "0.4 m", "0.1 m"] and item["high"] == ["0.6 m", "0.6 m", "0.3 m"]


def test_what_passes_a_section_faces_across_it() -> None:
    item, _ = placed(SPACE, "passage", [[0.2, 0.5, 0.1]], across=2, what="T")
    assert item["kind"] == "cross_section" and item["quantity"] == "T"
    assert [item[f"facing_{way}"] for way in "xyz"] == ["0", "0", "1"]


@pytest.mark.parametrize(
    ("form", "says"), [("line", "no length"), ("section", "no length"), ("box", "no size")]
)
def test_what_has_no_size_is_refused_with_what_to_do(form: str, says: str) -> None:
    with pytest.raises(CaseError) as told:
        placed(PLANE, form, [[0.5, 0.1], [0.5003, 0.1]])
    assert says in str(told.value) and "Drag" in str(told.value)
    with pytest.raises(CaseError):
        placed(SPACE, "box", [[0.5, 0.5, 0.1], [0.9, 0.5, 0.1]], across=1)
