"""New items go into the middle of the shape there is, in proportion to it."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import Case, apply, fresh_item, fresh_key, parse_case, review
from mop_lantern.case.fresh_place import is_hair, length, moved_along
from mop_lantern.units import read

ROOM = {"kind": "brick", "length": "6 m", "width": "4 m", "height": "3 m"}


def room(**solids: Any) -> Case:
    return parse_case(
        {
            "media": {"a": {"kind": "air"}},
            "shape": {"space": "space", "solids": {"room": ROOM, **solids}},
        }
    )


def added(case: Case, section: str, kind: str) -> tuple[Case, dict[str, Any]]:
    """Add a fresh item as the sheet does."""
    shape = review(case).shape
    assert shape is not None
    item = fresh_item(case, section, kind, list(shape.all_edges), shape)
    return apply(case, {f"{section}.{fresh_key(case, section, kind)}": item}), item


def metres(texts: list[str]) -> list[float]:
    return [read(text, "length") for text in texts]


def test_a_patch_lies_in_the_middle_of_a_bare_face_a_fifth_of_it() -> None:
    case, first = added(room(), "shape.solids", "patch")
    assert first["on"] == "room.west"
    assert metres([first[name] for name in ("x", "y", "z", "width", "height")]) == [0.0, 2.0, 1.5, 0.8, 0.6]
    _, second = added(case, "shape.solids", "patch")
    assert second["on"] not in ("room.west", "patch1.face", "patch1.rim")


def test_an_opening_takes_the_patch_and_never_its_rim() -> None:
    case, _ = added(room(), "shape.solids", "patch")
    case, first = added(case, "field.openings", "velocity")
    assert first["edge"] == "patch1.face"
    _, second = added(case, "field.openings", "static_pressure")
    assert second["edge"] != "patch1.rim"


def test_a_rim_as_an_opening_is_refused_with_its_place() -> None:
    case, _ = added(room(), "shape.solids", "patch")
    case = apply(case, {"field.openings.o": {"kind": "air_changes", "edge": "patch1.rim"}})
    seen = review(case)
    assert [fault.path for fault in seen.faults] == ["field.openings.o.edge"]
    assert is_hair(seen.shape, "patch1.rim") and not is_hair(seen.shape, "patch1.face")


def test_a_patch_moves_along_when_its_face_changes() -> None:
    case, _ = added(room(), "shape.solids", "patch")
    shape = review(case).shape
    edits = moved_along(case, "shape.solids.patch1.on", "room.top", shape)
    assert metres(list(edits.values())) == pytest.approx([3.0, 2.0, 3.0], abs=1e-3)
    moved = review(apply(case, {"shape.solids.patch1.on": "room.top", **edits}))
    assert not [fault for fault in moved.faults if "solids" in fault.path]
    for path, value in (("shape.solids.patch1.width", "1 m"), ("shape.solids.room.length", "1 m")):
        assert moved_along(case, path, value, shape) == {}
    assert moved_along(case, "shape.solids.patch1.on", "nowhere", shape) == {}


def test_a_patch_that_reaches_beyond_its_face_is_refused() -> None:
    """Moved to the ceiling without its place, half of it would hang outside of the room."""
    case, _ = added(room(), "shape.solids", "patch")
    faults = review(apply(case, {"shape.solids.patch1.on": "room.top"})).faults
    assert any("reaches beyond “room.top”" in fault.says for fault in faults)
    large = review(apply(case, {"shape.solids.patch1.width": "4.2 m"})).faults
    assert any("reaches beyond" in fault.says for fault in large)
    assert not [
        f for f in review(apply(case, {"shape.solids.patch1.width": "4 m"})).faults if "solids" in f.path
    ]


def test_devices_sources_and_points_stand_in_the_middle() -> None:
    _, fan = added(room(), "field.devices", "fan")
    assert metres(fan["centre"]) == [3.0, 2.0, 1.5] and read(fan["width"], "length") == pytest.approx(1.2)
    _, lamp = added(room(), "field.sources", "heat")
    assert metres(lamp["low"]) == pytest.approx([2.1, 1.4, 1.05])
    assert metres(lamp["high"]) == pytest.approx([3.9, 2.6, 1.95])
    _, line = added(room(), "readings", "line")
    assert metres(line["start"])[0] == 0 and metres(line["end"])[0] == 6


def test_parts_out_of_scale_grow_and_others_stay_as_they_are() -> None:
    _, table = added(room(), "shape.solids", "brick")
    sizes = metres([table[name] for name in ("length", "width", "height")])
    assert max(sizes) == pytest.approx(1.2) and metres([table["x"], table["z"]]) == [3.0, 0.0]
    small = parse_case(
        {
            "media": {"a": {"kind": "air"}},
            "shape": {"space": "space", "solids": {"b": {"kind": "brick"}}},
        }
    )
    _, same = added(small, "shape.solids", "brick")
    assert same == {"kind": "brick"}


def test_in_a_plane_points_have_two_coordinates() -> None:
    plane = parse_case(
        {
            "media": {"a": {"kind": "air"}},
            "shape": {"parts": {"p": {"kind": "straight", "length": "2 m", "width": "1 m"}}},
        }
    )
    _, point = added(plane, "readings", "point")
    assert metres(point["at"]) == [1.0, 0.0]


@pytest.mark.parametrize(
    ("value", "words"), [(0.0, "0 mm"), (2.5, "2.5 m"), (0.0123456, "12.3 mm"), (-3e-10, "0 mm")]
)
def test_lengths_are_as_one_would_type_them(value: float, words: str) -> None:
    assert length(value) == words


@pytest.mark.parametrize("kind", ["region", "beyond"])
def test_a_reading_of_the_whole_has_its_box_ready_once_it_is_wanted(kind: str) -> None:
    """The corners are told of a box alone, and then lie in the room: none of no size at the origin."""
    case, item = added(room(), "readings", kind)
    path = next(iter(case.readings))
    assert metres(item["low"]) == [2.1, 1.4, 1.05] and metres(item["high"]) == [3.9, 2.6, 1.95]
    assert "corners" not in case.readings[path].template(True)
    boxed = apply(case, {f"readings.{path}.extent": "box"})
    assert "corners" in boxed.readings[path].template(True)
    assert not [fault for fault in review(boxed).faults if fault.path.startswith("readings")]
