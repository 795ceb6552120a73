"""Parts of rooms that come ready: placed where there is room, with loads that reach the air."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, load, parse_case, review, save, settle
from mop_lantern.case.ready_part import ready_edits, ready_parts
from mop_lantern.cli import main
from mop_lantern.declare import discover
from mop_lantern.errors import CaseError
from mop_lantern.solve import Solving
from mop_lantern.solve.boundary_data import prepare

ROOM: dict[str, Any] = {
    "media": {"a": {"kind": "air"}},
    "shape": {
        "space": "space",
        "solids": {
            "room": {"kind": "brick", "length": "6 m", "width": "4 m", "height": "3 m"},
        },
    },
    "field": {
        "physics": {"flow": "laminar"},
        "heat": {"solve": True},
        "species": {"co2": {}},
        "openings": {
            "in": {"kind": "volume_flow", "edge": "room.west", "flow": "0.3 m3/s", "temperature": "20 °C"},
            "out": {"kind": "static_pressure", "edge": "room.east"},
        },
        "grid": {"cell": "500 mm"},
    },
}
SYRUPY = {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "1 mPa s"}


def with_parts(*kinds: str) -> Any:
    """Give the room with ready parts, added one after another as a person would."""
    case = parse_case(ROOM)
    for kind in kinds:
        case = apply(case, ready_edits(case, review(case).shape, kind))
    return case


@pytest.mark.parametrize("kind", sorted(ready_parts()))
def test_each_stands_in_a_room_without_a_fault(kind: str) -> None:
    case = with_parts(kind)
    found = review(case)
    assert not found.faults
    assert f"{kind}1" in case.shape.solids
    assert any(name.startswith(f"{kind}1.") for name in found.shape.names)


def test_what_is_added_stands_clear_of_what_is_there() -> None:
    case = with_parts("bench", "person", "person", "rack", "radiator", "radiator", "lamp", "warm_floor")
    shape = review(case).shape
    boxes = []
    for key, solid in case.shape.solids.items():
        if solid.role == "void":
            mine = [n for n, name in enumerate(shape.names) if name.startswith(f"{key}.")]
            corners = shape.points[shape.triangles[np.isin(shape.labels, mine)]].reshape(-1, 3)
            boxes.append((key, corners.min(axis=0), corners.max(axis=0)))
    assert len(boxes) == 7
    for number, (one, low, high) in enumerate(boxes):
        for other, other_low, other_high in boxes[:number]:
            apart = (low > other_high - 1e-9) | (high < other_low + 1e-9)
            assert apart.any(), f"{one} stands in {other}"


def test_what_stands_on_warm_floor_leaves_no_hair_of_a_gap() -> None:
    found = review(with_parts("warm_floor", "bench"))
    gap = next(note for note in found.notes if "narrowest gap" in note.text)
    found_gap = re.search(r"narrowest gap, ([\d.]+) (mm|m) at", gap.text)
    assert found_gap and (found_gap[2] == "m" or float(found_gap[1]) > 100), gap.text


def test_a_room_without_a_place_says_so() -> None:
    small = apply(parse_case(ROOM), {"shape.solids.room.height": "0.5 m"})
    with pytest.raises(CaseError, match="no place for a part of 0.6 x 1 x 2 m"):
        ready_edits(small, review(small).shape, "rack")
    with pytest.raises(CaseError, match="no upright wall"):
        ready_edits(small, review(small).shape, "pane")
    with pytest.raises(CaseError, match=r"“lamps”.*lamp"):
        ready_edits(small, review(small).shape, "lamps")
    plane = parse_case({"media": {"a": {"kind": "air"}}})
    with pytest.raises(CaseError, match="this case is a plane"):
        ready_edits(plane, None, "lamp")


def patch_box(case: Any, key: str) -> tuple[Any, Any]:
    """Give the corners of the box about a patch, m."""
    shape = review(case).shape
    mine = shape.labels == shape.names.index(f"{key}.face")
    corners = shape.points[shape.triangles[mine]].reshape(-1, 3)
    return corners.min(axis=0), corners.max(axis=0)


def test_patches_of_one_wall_stay_clear_of_each_other() -> None:
    case = with_parts("supply", "supply", "supply", "open_window", "open_door", "extract", "pane")
    keys = [f"supply{k}" for k in (1, 2, 3)] + ["open_window1", "open_door1", "extract1", "pane1"]
    assert {case.shape.solids[key].on for key in keys[:3]} == {"room.top"}
    boxes = [(key, *patch_box(case, key)) for key in keys]
    for number, (one, low, high) in enumerate(boxes):
        for other, other_low, other_high in boxes[:number]:
            apart = (low > other_high + 0.1) | (high < other_low - 0.1)
            assert apart.any(), f"{one} lies on {other}"
    assert patch_box(case, "open_door1")[0][2] == pytest.approx(0.01, abs=1e-6)
    assert patch_box(case, "open_window1")[0][2] == pytest.approx(0.9, abs=1e-6)
    assert patch_box(case, "extract1")[0][2] == pytest.approx(0.2, abs=1e-6)


def test_a_full_wall_has_no_room_for_another() -> None:
    low = apply(parse_case(ROOM), {"shape.solids.room.length": "1.8 m", "shape.solids.room.width": "1.8 m"})
    low = apply(low, ready_edits(low, review(low).shape, "supply"))
    with pytest.raises(CaseError, match="no ceiling is free"):
        ready_edits(low, review(low).shape, "supply")
    flat = apply(parse_case(ROOM), {"shape.solids.room.height": "2 m"})
    with pytest.raises(CaseError, match="no upright wall"):
        ready_edits(flat, review(flat).shape, "open_door")


def test_a_supply_and_an_extract_carry_a_room_by_themselves() -> None:
    case = apply(with_parts("supply", "extract"), {"field.openings.in": None, "field.openings.out": None})
    found = review(case)
    assert not found.blocked and found.facts is not None
    assert {opening.key: opening.flow for opening in found.facts.openings} == {
        "supply1": pytest.approx(240 / 3600),
        "extract1": None,
    }


def test_air_passes_under_a_table_and_not_through_it() -> None:
    case = with_parts("table")
    settled = settle(case, "")
    mesh = prepare(settled)
    top = mesh.patch == mesh.patch_names.index("table1.front")
    place = mesh.face_centre[mesh.n_internal :][top]
    assert place[:, 2] == pytest.approx(np.full(len(place), 0.74), abs=1e-3)
    assert np.linalg.norm(mesh.area[mesh.n_internal :][top], axis=1).sum() == pytest.approx(1.28, rel=1e-3)
    low, high = place.min(axis=0), place.max(axis=0)
    inner = mesh.face_centre[: mesh.n_internal]
    over = (inner[:, :2] > low[:2]).all(axis=1) & (inner[:, :2] < high[:2]).all(axis=1)
    level = np.abs(mesh.area[: mesh.n_internal, 2]) > 0.9 * np.linalg.norm(
        mesh.area[: mesh.n_internal], axis=1
    )
    assert not (over & level & (np.abs(inner[:, 2] - 0.74) < 0.01)).any()
    assert (over & (inner[:, 2] < 0.7)).any(), "air is under it"


def test_a_person_gives_what_people_give() -> None:
    """One at 1.2 met, 60 % of it dry."""
    people: Any = discover("mop_lantern.field.sources")["people"]
    case = with_parts("person")
    one = settle(case, "").numbers.sources["person1"]
    assert one.gas == "co2"
    box = {"kind": "people", "gas": "co2", "low": ["0 m"] * 3, "high": ["1 m"] * 3}
    numbers = settle(apply(case, {"field.sources.p": box}), "").numbers.sources["p"]
    by_volume = people.gives(numbers, 1.2, {"co2": "fraction"})
    assert one.power == pytest.approx(by_volume["heat"], rel=0.01)
    assert one.volume == pytest.approx(by_volume["co2"], rel=0.02)
    assert one.mass == pytest.approx(people.gives(numbers, 1.2, {"co2": "density"})["co2"], rel=0.02)


def test_a_load_heats_the_air_that_passes_and_counts_for_all_copies() -> None:
    """500 W in 0.3 m3/s of air: what leaves is warmer by P / (rho c Q), however many share it."""
    row = {"kind": "row", "of": "bench1", "copies": "1", "x": "0 m", "y": "-1.2 m"}
    load = {"kind": "load", "around": "row", "power": "500 W", "gas": "co2", "volume": "3 L/s"}
    both = {"kind": "edge_value", "edge": "room.east", "measure": "flow_mean"}
    case = apply(
        with_parts("bench"),
        {
            "shape.solids.row": row,
            "field.sources.l": load,
            "media.a": {**SYRUPY, "capacity": "1 kJ/kg/K"},
            "readings.warm": {**both, "quantity": "T"},
            "readings.gas": {**both, "quantity": "c.co2"},
        },
    )
    *_, last = Solving(settle(case, ""), None, None).events()
    heat = 1.2 * 0.3 * 1000
    assert last["readings"]["warm"]["value"] - 293.15 == pytest.approx(500 / heat, rel=2e-3)
    assert last["readings"]["gas"]["value"] == pytest.approx(0.01, rel=2e-3)


def test_a_load_of_what_holds_fluid_or_is_not_there_is_refused() -> None:
    for part, words in (("room", "holds fluid"), ("rock", "no part is called")):
        case = apply(with_parts("bench"), {"field.sources.l": {"kind": "load", "around": part}})
        told = [str(fault) for fault in review(case).faults]
        assert any(words in text and "bench1" in text for text in told), told


def test_the_shell_lists_and_keeps_them(tmp_path: Path, capsys: pytest.CaptureFixture[str]) -> None:
    file = tmp_path / "room.lantern"
    save(parse_case(ROOM), file)
    for asked in (["ready"], ["ready", str(file)]):
        assert main(asked) == 0 and "radiator" in capsys.readouterr().out
    assert main(["ready", str(file), "radiator"]) == 0 and "radiator1" not in load(file).shape.solids
    assert main(["ready", str(file), "radiator", "--write"]) == 0
    assert load(file).field.sources["radiator1"].around == "radiator1"
    assert main(["ready", str(file), "heater"]) == 2
    assert "no ready part is called “heater”" in capsys.readouterr().err
