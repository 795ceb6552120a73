"""Which closure the Reynolds number chooses: another one in rooms than in passages."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.solve import prepare
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
