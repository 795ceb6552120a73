"""Which closure the Reynolds number chooses: another one in rooms than in passages."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.solve import prepare
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.physics import Physics

ROOM: dict[str, Any] = {
    "media": {"a": {"kind": "air"}},
    "shape": {
        "space": "space",
        "solids": {
            "room": {"kind": "brick", "length": "6 m", "width": "4 m", "height": "3 m"},
            "grille": {"kind": "patch", "on": "room.top", "x": "3 m", "y": "2 m", "z": "3 m", "width": "1 m"},
            "slit": {"kind": "patch", "on": "room.west", "y": "2 m", "z": "1.5 m", "width": "1 m"},
        },
    },
    "field": {
        "openings": {
            "in": {"kind": "volume_flow", "edge": "grille.face", "flow": "430 m3/h"},
            "out": {"kind": "static_pressure", "edge": "slit.face"},
        },
        "grid": {"cell": "500 mm"},
    },
}


def chosen(data: dict[str, Any]) -> str:
    """Give what the note of the regime says."""
    return next(note.text for note in review(parse_case(data)).notes if "solved as" in note.text)


def test_a_room_gets_the_closure_that_settles_in_rooms() -> None:
    text = chosen(ROOM)
    assert "turbulent (realizable k-epsilon)" in text and "This is a room" in text
    settled = settle(parse_case(ROOM))
    physics = Physics(settled, prepare(settled), None)
    assert physics.turbulence is not None and physics.turbulence.closure.__name__ == "Realizable"


def test_a_duct_as_wide_as_its_openings_does_not() -> None:
    ends = {
        "in": {"kind": "volume_flow", "edge": "room.west", "flow": "2 m3/s"},
        "out": {"kind": "static_pressure", "edge": "room.east"},
    }
    duct = apply(parse_case(ROOM), {"field.openings": ends}).as_data()
    assert "turbulent (k-omega SST)" in chosen(duct)


@pytest.mark.parametrize("heat", [True, False])
def test_a_shut_room_is_one_where_warmth_drives_it(heat: bool) -> None:
    shut = {
        **ROOM,
        "shape": {"parts": {"p": {"kind": "straight", "length": "4 m", "width": "3 m"}}},
        "field": {
            "physics": {"buoyancy": "boussinesq"},
            "heat": {"solve": True},
            "warm": {
                "floor": {"kind": "temperature", "edge": "p.right", "temperature": "30 °C"},
                "top": {"kind": "temperature", "edge": "p.left", "temperature": "20 °C"},
            },
            "grid": {"cell": "250 mm"},
        },
    }
    if heat:
        assert "realizable" in chosen(shut)
        return
    shut["field"]["walls"] = {"l": {"kind": "sliding", "edge": "p.left", "speed": "2 m/s"}}
    shut["field"]["physics"]["buoyancy"] = "none"
    assert "k-omega SST" in chosen(shut)


def warm_room(flow: str, floor: str = "35 °C", speed: str = "0.01 m/s") -> dict[str, Any]:
    """State a room that air drifts through from wall to wall (Re 900), over a warm floor."""
    return {
        "media": {"a": {"kind": "air", "temperature": "20 °C"}},
        "shape": {
            "space": "space",
            "solids": {"room": {"kind": "brick", "length": "2 m", "width": "1.5 m", "height": "1 m"}},
        },
        "field": {
            "physics": {"flow": flow, "buoyancy": "boussinesq"},
            "heat": {"solve": True},
            "warm": {"floor": {"kind": "temperature", "edge": "room.bottom", "temperature": floor}},
            "openings": {
                "in": {"kind": "velocity", "edge": "room.west", "velocity": speed, "temperature": "20 °C"},
                "out": {"kind": "static_pressure", "edge": "room.east", "temperature": "20 °C"},
            },
            "grid": {"cell": "250 mm"},
        },
    }


def told(data: dict[str, Any], words: str) -> list[Any]:
    """Give the notes that say so."""
    return [note for note in review(parse_case(data)).notes if words in note.text]


def test_warm_fluid_that_rises_counts_where_little_enters() -> None:
    """sqrt(g dT / T d) d / nu with d = 4 V / A and 15 K, by hand: 4.2e4, beyond the 3.5e4 of a warm plate."""
    breadth = 4 * 3.0 / (2 * (2 * 1.5 + 2 * 1.0 + 1.5 * 1.0))
    by_hand = (9.80665 * 15 / 293.15 * breadth) ** 0.5 * breadth / 1.516e-5
    [note] = told(warm_room("reynolds"), "that rises through it")
    assert float(note.text.split()[2].replace(",", "")) == pytest.approx(by_hand, rel=0.02)
    assert "solved as turbulent" in note.text
    assert told(warm_room("reynolds"), "stirs the space")
    assert "solved as laminar" in chosen(warm_room("reynolds", floor="21 °C"))
    assert "that rises" not in chosen(warm_room("reynolds", speed="1 m/s"))


def test_laminar_asked_where_warmth_stirs_is_cautioned() -> None:
    """And a closure that is right there is not: its opening alone would be laminar."""
    case = parse_case(warm_room("laminar"))
    [note] = told(warm_room("laminar"), "such a flow is turbulent")
    assert note.level == "caution" and not note.fails
    mended = apply(case, note.edits)
    assert not told(mended.as_data(), "such a flow is turbulent")
    assert "solved as turbulent" in chosen(mended.as_data())
    assert told(warm_room("laminar", floor="220 °C"), "such a flow is turbulent")[0].fails
    assert not told(warm_room("realizable"), "the real flow is laminar")
    assert told(warm_room("realizable", floor="21 °C"), "the real flow is laminar")


@pytest.mark.parametrize(("flow", "done"), [("realizable", True), ("laminar", False)])
def test_a_turbulent_room_ends_once_its_readings_stand(flow: str, done: bool) -> None:
    """Beside a law of the wall the residual of the temperature stays at some 1e-5; a laminar flow goes on."""
    settled = settle(parse_case(warm_room(flow)))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(1e9, 2)
    run.change = lambda: (0.0, "")  # type: ignore[method-assign]
    run.last = replace(run.last, momentum=0.5 * run.residual, mass=0.0)
    run.physics.driving_residual = 2e-5
    assert run.finished() is done
    run.physics.driving_residual = 2e-4
    assert not run.finished()
    run.physics.driving_residual = 0.0
    assert run.finished()
