"""Fluid that lies stably in layers comes to rest: what passes it is conduction alone, exactly."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from bench.solid_cases import rectangle
from mop_lantern.case import parse_case, settle
from mop_lantern.solve import Solving
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.physics import Physics

AIR = {
    "kind": "constant",
    "density": "1.2 kg/m3",
    "viscosity": "18 uPa s",
    "capacity": "1000 J/kg/K",
    "conductivity": "0.026 W/m/K",
    "expansion": "0.0033 1/K",
}


def room(buoyancy: str = "boussinesq", turn: str = "-90 deg", cell: str = "25 mm") -> dict[str, Any]:
    """State 200 mm by 100 mm of air under a lid 30 K warmer than the floor; things fall towards ``turn``."""
    return {
        "media": {"air": AIR},
        "shape": {"parts": {"gap": {**rectangle(0, 0, 0.2, 0.1), "kind": "outline"}}},
        "field": {
            "physics": {"flow": "laminar", "buoyancy": buoyancy, "down": turn},
            "heat": {"solve": True, "start": "290 K"},
            "warm": {
                "lid": {"kind": "temperature", "edge": "gap.side3", "temperature": "310 K"},
                "floor": {"kind": "temperature", "edge": "gap.side1", "temperature": "280 K"},
            },
            "grid": {"cell": cell},
        },
        "readings": {"lid": {"kind": "passing", "edge": "gap.side3", "quantity": "T"}},
    }


def lid(data: dict[str, Any]) -> tuple[float, dict[str, str]]:
    """Give the heat through the lid, W, and the verdicts by id."""
    last = [e for e in Solving(settle(parse_case(data)), None, None).events() if e["event"] == "finished"][-1]
    return last["readings"]["lid"]["value"], {item["id"]: item["verdict"] for item in last["trust"]}


@pytest.mark.parametrize("buoyancy", ["boussinesq", "gas"])
def test_warm_air_under_a_ceiling_only_conducts(buoyancy: str) -> None:
    """Iterations used to swing for ever and told three and a half times the heat."""
    heat, verdicts = lid(room(buoyancy))
    assert heat == pytest.approx(0.026 * 30 / 0.1 * 0.2, rel=1e-5)
    assert verdicts["momentum"] == verdicts["readings"] == "holds"


def test_turned_over_the_same_air_convects() -> None:
    """The hold is on stable layers alone: Nu of a box heated from below at Ra 1e6 is well over 3."""
    heat, _ = lid(room(turn="90 deg", cell="12.5 mm"))
    assert heat > 3 * 0.026 * 30 / 0.1 * 0.2


def displaced() -> dict[str, Any]:
    """State a room 6 m by 3 m that takes cool air in low and lets it out high, with 125 W between."""
    sides = {
        "room": ("6 m", "3 m", ["0 m", "0 m"]),
        "low": ("0.55 m", "0.5 m", ["-0.5 m", "-1.25 m"]),
        "high": ("0.55 m", "0.4 m", ["5.95 m", "1.3 m"]),
    }
    people = {"kind": "heat", "power": "125 W", "low": ["2.5 m", "-1.5 m"], "high": ["3.5 m", "-0.25 m"]}
    return {
        "media": {"air": {"kind": "air", "temperature": "20 °C", "follow": False}},
        "shape": {
            "parts": {
                key: {"kind": "straight", "length": length, "width": width, "start": start}
                for key, (length, width, start) in sides.items()
            }
        },
        "field": {
            "physics": {"flow": "realizable", "buoyancy": "boussinesq"},
            "heat": {"solve": True, "start": "20 °C"},
            "sources": {"people": people},
            "openings": {
                "in": {"kind": "volume_flow", "edge": "low.start", "flow": "75 m3/h", "temperature": "17 °C"},
                "out": {"kind": "static_pressure", "edge": "high.end"},
            },
            "grid": {"cell": "200 mm"},
        },
    }


def test_a_displaced_room_does_not_swing() -> None:
    """Warm layers over cool ones in turbulent flow: layers that answered a whole velocity in an iteration
    threw the residual about between 0.03 and 0.3, and the speed by a tenth.
    """
    settled = settle(parse_case(displaced()))
    physics = Physics(settled, prepare(settled), None)
    left, speeds = [], []
    for iteration in range(250):
        left.append(physics.step().momentum)
        if iteration >= 200:
            speeds.append(float(np.linalg.norm(physics.flow.U, axis=1).mean()))
    assert np.median(left[200:]) < 0.02
    assert np.ptp(speeds) < 0.04 * np.mean(speeds)


def test_the_level_of_a_tight_room_does_not_creep() -> None:
    """Relaxed corrections reach the level at which what is put in leaves through a wall that hardly
    conducts.
    """
    data = displaced()
    data["media"]["air"] = {**AIR, "conductivity": "50 W/m/K"}  # as if stirred
    field = data["field"]
    field["openings"], field["walls"] = (
        {},
        {"w": {"kind": "sliding", "edge": "room.left", "speed": "0.1 m/s"}},
    )
    data["shape"]["parts"] = {"room": data["shape"]["parts"]["room"]}
    field["physics"] = {"flow": "laminar", "buoyancy": "none"}
    field["warm"] = {
        "w": {"kind": "layered", "edge": "room.left", "thickness": "1 m", "conductivity": "1 W/m/K"}
    }
    settled = settle(parse_case(data))
    scalar = Physics(settled, prepare(settled), None).scalars["T"]
    for _ in range(30):
        scalar.correct(relaxation=0.9)
    by_steps = float(np.average(scalar.phi, weights=scalar.mesh.volume))
    scalar.solve()
    answer = float(np.average(scalar.phi, weights=scalar.mesh.volume))
    assert answer - 283.15 > 20  # 125 W through 6 m of about 1 W/m2/K
    assert by_steps == pytest.approx(answer, abs=0.2)
