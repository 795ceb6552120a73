"""Handles: every kind of part has them, and dragging one moves the shape to the pointer."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mop_lantern.case import apply, handles, parse_case, quick_shape
from mop_lantern.case.handles import placed_handles

RUN = {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "80 mm", "width": "20 mm"}
PARTS: dict[str, dict[str, Any]] = {
    "straight": {"p": RUN},
    "bent": {
        "p": {
            "kind": "bent",
            "points": [["0 mm", "0 mm"], ["60 mm", "0 mm"], ["60 mm", "50 mm"]],
            "width": "12 mm",
            "radius": "15 mm",
        }
    },
    "outline": {
        "p": {
            "kind": "outline",
            "points": [["0 mm", "0 mm"], ["60 mm", "0 mm"], ["70 mm", "40 mm"], ["0 mm", "30 mm"]],
        }
    },
    "reducer": {
        "p": {
            "kind": "reducer",
            "start": ["0 mm", "0 mm"],
            "length": "40 mm",
            "width_start": "30 mm",
            "width_end": "15 mm",
        }
    },
    "disc": {"r": RUN, "p": {"kind": "disc", "centre": ["40 mm", "1 mm"], "diameter": "6 mm"}},
    "block": {
        "r": RUN,
        "p": {"kind": "block", "points": [["30 mm", "-3 mm"], ["44 mm", "-3 mm"], ["40 mm", "4 mm"]]},
    },
    "fin": {
        "r": RUN,
        "p": {"kind": "fin", "start": ["40 mm", "-10 mm"], "end": ["42 mm", "2 mm"], "thickness": "4 mm"},
    },
    "branch": {
        "r": RUN,
        "p": {
            "kind": "branch",
            "host": "r",
            "at": "40 mm",
            "angle": "-70 deg",
            "width": "14 mm",
            "length": "30 mm",
            "corner_radius": "5 mm",
        },
    },
}


def case_of(channel: dict[str, Any], parts: dict[str, Any]) -> Any:
    """Put parts into a case that is a shape only."""
    return parse_case(
        {"title": "shape", "media": channel["media"], "shape": {"depth": "1 m", "parts": parts}}
    )


def shifted(case: Any, part: str, number: int, by: tuple[float, float]) -> tuple[Any, Any, np.ndarray]:
    """Drag a handle of a part by a distance (m); give the edited case, the handle, and where it was let
    go.
    """
    handle = handles(case, part)[number]
    # a slow one goes far in its dimension
    slow = 1.0 if handle.pull is None else min(1.0, float(np.hypot(*handle.pull)) ** 2)
    place = handle.at + slow * np.asarray(by)
    return apply(case, handle.edit(place, 1e-6)), handle, place


@pytest.mark.parametrize("kind", PARTS)
def test_every_kind_has_handles_that_lie_near_its_shape(channel: dict[str, Any], kind: str) -> None:
    case = case_of(channel, PARTS[kind])
    found = handles(case, "p")
    assert found and len({handle.path for handle in found}) == len(found)
    assert all(handle.label and handle.path.startswith("shape.parts.p.") for handle in found)
    for handle in found:
        assert np.abs(handle.at).max() < 0.2


@pytest.mark.parametrize("kind", PARTS)
def test_a_handle_dropped_where_it_was_changes_nothing(channel: dict[str, Any], kind: str) -> None:
    case = case_of(channel, PARTS[kind])
    before = quick_shape(case)
    assert before is not None
    for number in range(len(handles(case, "p"))):
        same, _, _ = shifted(case, "p", number, (0.0, 0.0))
        after = quick_shape(same)
        assert after is not None and after.polygon.area == pytest.approx(before.polygon.area, rel=1e-6)


@pytest.mark.parametrize("kind", PARTS)
@settings(max_examples=6, deadline=None)
@given(along=st.floats(-0.002, 0.002), across=st.floats(-0.002, 0.002))
def test_a_dragged_handle_comes_to_the_pointer(kind: str, along: float, across: float) -> None:
    """Free places go where they are let go; a dimension brings its handle as near as its pull allows."""
    case = case_of(
        {"media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}}},
        PARTS[kind],
    )
    for number in range(len(handles(case, "p"))):
        edited, handle, place = shifted(case, "p", number, (along, across))
        after = next((other for other in handles(edited, "p") if other.path == handle.path), None)
        assert after is not None, f"{handle.path} lost its handle"
        if handle.pull is None:
            assert after.at == pytest.approx(place, abs=2e-6)
        elif handle.dimension == "length":
            line = handle.pull / np.linalg.norm(handle.pull)
            assert abs(float((after.at - place) @ line)) < 0.15 * np.hypot(along, across) + 2e-6, handle.path


def test_a_parameter_is_dragged_through_its_name(channel: dict[str, Any]) -> None:
    case = parse_case(channel)
    wide = next(handle for handle in handles(case, "run") if handle.path == "parameters.gap.value")
    edits = wide.edit(wide.at + np.array([0.0, np.sign(wide.pull[1]) * 0.001]), 1e-5)
    assert edits == {"parameters.gap.value": "12 mm"}, "both walls move away from the middle"
    assert "gap" in wide.label


def test_what_cannot_be_turned_round_has_no_handle(channel: dict[str, Any]) -> None:
    case = apply(
        parse_case(channel), {"shape.parts.run.width": "= 2 * gap", "shape.parts.run.length": "= gap + 30 mm"}
    )
    paths = {handle.path for handle in handles(case, "run")}
    assert paths == {"shape.parts.run.start"}
    assert handles(case, "nobody") == []
    assert handles(apply(case, {"shape.parts.run.width": "1 kg"}), "run") == []


PLACED = {
    "readings.p": ({"kind": "point", "at": ["3 m", "2 m", "1 m"], "quantity": "speed"}, ["at"]),
    "readings.b": (
        {
            "kind": "region",
            "extent": "box",
            "quantity": "speed",
            "measure": "mean",
            "low": ["1 m", "1 m", "0 m"],
            "high": ["2 m", "2 m", "1 m"],
        },
        ["low", "high"],
    ),
    "readings.w": ({"kind": "region", "quantity": "speed", "measure": "mean"}, []),
    "field.devices.f": ({"kind": "fan", "centre": ["3 m", "2 m", "1 m"]}, ["centre"]),
    "field.sources.s": (
        {"kind": "heat", "power": "90 W", "low": ["1 m", "1 m", "0 m"], "high": ["2 m", "2 m", "1 m"]},
        ["low", "high"],
    ),
}


@pytest.mark.parametrize("item", PLACED)
def test_what_stands_in_a_room_is_dragged_by_its_points(item: str) -> None:
    data, names = PLACED[item]
    room = {"kind": "brick", "length": "6 m", "width": "4 m", "height": "3 m"}
    case = apply(parse_case({"shape": {"space": "space", "solids": {"room": room}}}), {item: data})
    found = placed_handles(case, f"{item}.kind")
    assert [handle.path for handle in found] == [f"{item}.{name}" for name in names]
    for handle in found:
        assert handle.at == pytest.approx(
            [float(text.split()[0]) for text in data[handle.path.split(".")[-1]]]
        )
        moved = apply(case, handle.edit(handle.at + np.array([0.25, 0.0, 0.5]), 1e-3))
        again = next(other for other in placed_handles(moved, item + ".") if other.path == handle.path)
        assert again.at == pytest.approx(handle.at + np.array([0.25, 0.0, 0.5]), abs=1e-3)


@pytest.mark.parametrize("line", ["", "field.heat", "shape.solids.room", "readings.none", "readings"])
def test_a_line_about_no_place_has_no_such_handles(line: str) -> None:
    assert placed_handles(parse_case({"shape": {"space": "space"}}), line) == []
