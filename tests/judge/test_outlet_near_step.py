"""Outlets near a sudden widening, on passages drawn for it."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review

WATER = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}}
OPENINGS = {
    "in": {"kind": "velocity", "edge": "a.start", "velocity": "1 m/s"},
    "out": {"kind": "static_pressure", "edge": "b.end"},
}


def straight(x: float, y: float, length: float, width: float, **more: str) -> dict[str, Any]:
    """State a straight passage from a place on its middle line, mm."""
    return {
        "kind": "straight",
        "start": [f"{x} mm", f"{y} mm"],
        "length": f"{length} mm",
        "width": f"{width} mm",
        **more,
    }


def notes_on(parts: dict[str, Any], space: str = "plane", **openings: Any) -> list[Any]:
    """Give the notes on outlets near a widening."""
    case = parse_case(
        {
            "media": WATER,
            "shape": {"space": space, "parts": parts},
            "field": {"openings": {**OPENINGS, **openings}, "grid": {"cell": "4 mm"}},
        }
    )
    return [(note, case) for note in review(case).notes if note.kind == "outlet_near_step"]


def test_a_step_on_one_side_is_told_and_the_remedy_heals_it() -> None:
    parts = {"a": straight(0, 5, 100, 10), "b": straight(100, 0, 60, 20)}
    ((note, case),) = notes_on(parts)
    assert note.path == "field.openings.out"
    assert "10 mm" in note.text and "80 mm" in note.text
    assert note.edits == {"shape.parts.b.length": "81.6 mm"}
    healed = review(apply(case, note.edits))
    assert not [one for one in healed.notes if one.kind == "outlet_near_step"]


@pytest.mark.parametrize("space", ["plane", "axis"])
def test_a_sudden_expansion_counts_by_its_side(space: str) -> None:
    near = {"a": straight(0, 0, 100, 10), "b": straight(100, 0, 60, 30)}
    far = {"a": straight(0, 0, 100, 10), "b": straight(100, 0, 90, 30)}
    assert len(notes_on(near, space)) == 1
    assert not notes_on(far, space)


def test_a_turned_expansion_is_found_too() -> None:
    parts = {
        "a": straight(0, 0, 100, 10, direction="90 deg"),
        "b": straight(0, 100, 60, 30, direction="90 deg"),
    }
    assert len(notes_on(parts)) == 1


def test_an_orifice_before_the_outlet_counts() -> None:
    parts = {"a": straight(0, 0, 100, 30), "h": straight(100, 0, 4, 10), "b": straight(104, 0, 60, 30)}
    assert len(notes_on(parts)) == 1


@pytest.mark.parametrize(
    "parts",
    [
        {"a": straight(0, 0, 100, 30), "b": straight(100, 0, 20, 10)},
        {"a": straight(0, 0, 100, 30), "b": straight(100, 0, 20, 30)},
        {
            "a": straight(0, 0, 50, 10),
            "plenum": straight(50, 0, 40, 80),
            "b": straight(90, 0, 30, 20),
        },
        {"a": straight(0, 0, 100, 30), "b": straight(85, -15, 20, 30, direction="-90 deg")},
        {
            "a": straight(0, 0, 100, 20),
            "w": {
                "kind": "reducer",
                "start": ["100 mm", "0 mm"],
                "length": "80 mm",
                "width_start": "20 mm",
                "width_end": "30 mm",
            },
            "b": straight(180, 0, 10, 30),
        },
    ],
    ids=["narrowing", "straight", "plenum", "bend", "gentle"],
)
def test_nothing_is_said_of_other_passages(parts: dict[str, Any]) -> None:
    assert not notes_on(parts)


def test_an_opening_that_feeds_the_space_is_no_outlet() -> None:
    parts = {"a": straight(0, 0, 100, 10), "b": straight(100, 0, 60, 30)}
    fed = {"kind": "total_pressure", "edge": "b.end", "pressure": "10 Pa"}
    assert not notes_on(parts, out=fed)
