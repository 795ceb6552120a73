"""Rooms in which warmth drives still air: the first iterations."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.flow_run import FlowRun


def warm_room(buoyancy: str) -> dict[str, Any]:
    """State a room with little air, a source of heat and a cold roof: a wide opening faces outdoors."""
    return {
        "media": {"air": {"kind": "air", "temperature": "20 °C", "follow": False}},
        "shape": {
            "parts": {
                "room": {"kind": "straight", "length": "6 m", "width": "2.6 m"},
                "slot": {
                    "kind": "straight",
                    "start": ["-0.4 m", "0.9 m"],
                    "length": "0.45 m",
                    "width": "0.4 m",
                },
                "exhaust": {
                    "kind": "straight",
                    "start": ["0.05 m", "-1 m"],
                    "direction": "180 deg",
                    "length": "0.45 m",
                    "width": "0.4 m",
                },
            }
        },
        "field": {
            "physics": {"flow": "realizable", "buoyancy": buoyancy},
            "heat": {"solve": True, "start": "20 °C"},
            "openings": {
                "in": {
                    "kind": "volume_flow",
                    "edge": "slot.start",
                    "flow": "31 m3/h",
                    "temperature": "20 °C",
                },
                "out": {"kind": "static_pressure", "edge": "exhaust.end", "temperature": "20 °C"},
            },
            "sources": {
                "h": {"kind": "heat", "power": "200 W", "low": ["2 m", "-0.8 m"], "high": ["4 m", "0.2 m"]}
            },
            "warm": {"roof": {"kind": "layered", "edge": "room.left", "outside": "0 °C"}},
            "grid": {"cell": "120 mm"},
        },
    }


@pytest.mark.parametrize("buoyancy", ["boussinesq", "gas"])
def test_still_air_sets_out_no_faster_than_warmth_lets_it_rise(buoyancy: str) -> None:
    """What falls or rises through the room from rest is at sqrt(2 g' L) at most."""
    settled = settle(parse_case(warm_room(buoyancy)))
    run = FlowRun(settled, prepare(settled), None)
    for _ in range(14):
        run.last = run.physics.step()
        fastest = float(np.abs(run.flow.U).max())
        assert run.sound() and fastest < max(run.flow.reference_speed, 0.1)
    warm = run.physics.in_fluid("T")
    assert warm.min() > 200 and warm.max() < 400
