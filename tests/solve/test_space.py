"""Flow in a space against the same flow in a plane; gravity, moving walls, adaptation and the error of the
grid there.
"""

from __future__ import annotations

import json
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.judge import FieldResult
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

AIR = {
    "a": {
        "kind": "constant",
        "density": "1.2 kg/m3",
        "viscosity": "18e-6 Pa s",
        "expansion": "0.0034 1/K",
        "conductivity": "0.026 W/(m K)",
        "capacity": "1005 J/(kg K)",
    }
}
MIRRORS = {"b": {"kind": "symmetry", "edge": "a.bottom"}, "t": {"kind": "slip", "edge": "a.top"}}


def solved(
    shape: dict[str, Any], readings: dict[str, Any], **field: Any
) -> tuple[dict[str, float], FieldResult, list[dict[str, Any]]]:
    """Solve a case; give its readings, its answer and all events."""
    solving = Solving(
        settle(
            parse_case({"title": "s", "media": AIR, "shape": shape, "field": field, "readings": readings})
        ),
        None,
        None,
    )
    events = list(solving.events())
    assert events[-1]["converged"], events[-1]
    return (
        {key: reading.value for key, reading in solving.run.readings.items()},
        final_answer(solving),
        events,
    )


def brick(length: str, width: str, height: str) -> dict[str, Any]:
    """Give a box."""
    return {
        "space": "space",
        "solids": {"a": {"kind": "brick", "length": length, "width": width, "height": height}},
    }


def through(start: str, end: str, **more: Any) -> dict[str, Any]:
    """Let air through."""
    return {
        "in": {"kind": "velocity", "edge": start, "velocity": "5 mm/s", **more},
        "out": {"kind": "static_pressure", "edge": end},
    }


def test_a_channel_between_mirrors_is_that_of_a_plane() -> None:
    """Drop and profile; the lattice of a space is a hundred-thousandth of a cell off, and its walls are cut
    cells.
    """
    flat, _, _ = solved(
        {
            "parts": {
                "a": {"kind": "straight", "length": "100 mm", "width": "20 mm", "start": ["0 mm", "10 mm"]}
            }
        },
        {"d": {"kind": "drop", "edge": "a.start", "to": "a.end"}},
        openings=through("a.start", "a.end"),
        grid={"cell": "2 mm", "across": "1"},
    )
    deep, answer, _ = solved(
        brick("100 mm", "20 mm", "10 mm"),
        {"d": {"kind": "drop", "edge": "a.west", "to": "a.east"}},
        openings=through("a.west", "a.east"),
        walls=MIRRORS,
        grid={"cell": "2 mm", "doublings": "0"},
    )
    assert deep["d"] == pytest.approx(flat["d"], rel=2e-3)
    assert np.abs(answer.velocity[:, 2]).max() < 1e-3 * answer.velocity[:, 0].max()


def test_a_room_heated_from_the_side_is_that_of_a_plane() -> None:
    """Gravity along an axis; temperatures far from the reference move the fluid no differently."""
    heat = {"heat": {"solve": True, "start": "40.5 °C"}, "solver": {"residual": "1e-6"}}

    def walls(hot: str, cold: str) -> dict[str, Any]:
        return {
            "l": {"kind": "temperature", "edge": hot, "temperature": "41 °C"},
            "r": {"kind": "temperature", "edge": cold, "temperature": "40 °C"},
        }

    corners = [["0 mm", "0 mm"], ["40 mm", "0 mm"], ["40 mm", "40 mm"], ["0 mm", "40 mm"]]
    flat, _, _ = solved(
        {"parts": {"a": {"kind": "outline", "points": corners}}},
        {"q": {"kind": "passing", "edge": "a.side4", "quantity": "T"}},
        warm=walls("a.side4", "a.side2"),
        grid={"cell": "2.5 mm", "across": "1"},
        physics={"buoyancy": "boussinesq"},
        **heat,
    )
    deep, _, _ = solved(
        brick("40 mm", "40 mm", "5 mm"),
        {"q": {"kind": "passing", "edge": "a.west", "quantity": "T"}},
        warm=walls("a.west", "a.east"),
        walls=MIRRORS,
        grid={"cell": "2.5 mm", "doublings": "0"},
        physics={"buoyancy": "boussinesq", "falls": "-y"},
        **heat,
    )
    assert deep["q"] == pytest.approx(0.005 * flat["q"], rel=3e-3) and flat["q"] > 0.027


def test_a_turning_wall_carries_the_fluid_and_feels_its_torque() -> None:
    """Fluid in a turning drum turns with it as one body, and then feels nothing; the drum's lid alone does
    feel it.
    """
    drum = {
        "space": "space",
        "solids": {"a": {"kind": "cylinder", "rise": "90 deg", "length": "20 mm", "diameter": "40 mm"}},
    }
    turning = {
        key: {"kind": "turning", "edge": f"a.{key}", "rate": "0.02 rad/s", "axis": "z"}
        for key in ("start", "end", "wall")
    }
    torque = {"m": {"kind": "torque", "edge": "a.end", "axis": "z"}}
    whole, answer, _ = solved(drum, torque, walls=turning, grid={"cell": "4 mm", "doublings": "0"})
    x, y = answer.mesh.centre[:, 0], answer.mesh.centre[:, 1]
    assert answer.velocity[:, :2] == pytest.approx(0.02 * np.column_stack([-y, x]), abs=0.02 * 0.02 * 0.02)
    lid, _, _ = solved(drum, torque, walls={"end": turning["end"]}, grid={"cell": "4 mm", "doublings": "0"})
    assert lid["m"] < 0 and abs(whole["m"]) < 0.03 * abs(lid["m"])


def test_the_grid_follows_the_solution_and_tells_its_error() -> None:
    """Adapted cycles add cells where the flow bends; three grids give a band that holds the drop of a
    developed square duct.
    """
    readings = {"d": {"kind": "drop", "edge": "a.west", "to": "a.east"}}
    _, _, events = solved(
        brick("60 mm", "20 mm", "20 mm"),
        readings,
        openings=through("a.west", "a.east"),
        grid={"cell": "4 mm", "doublings": "0"},
        adapt={"cycles": "2", "share": "0.1"},
    )
    cells = [event["cells"] for event in events if event["event"] == "stage" and event.get("grid")]
    assert len(cells) == 3 and cells[1] > 1.3 * cells[0] and cells[2] > 1.3 * cells[1]
    values, _, events = solved(
        brick("20 mm", "10 mm", "10 mm"),
        readings,
        openings=through("a.west", "a.east", profile="developed"),
        grid={"cell": "0.625 mm", "doublings": "0"},
        solver={"grids": "3"},
    )
    trust = {item["id"]: item for item in events[-1]["trust"]}
    exact = 2 * 14.227 * 18e-6 * 0.005 / 0.01**2 * 0.02  # Shah and London (1978): f Re = 14.227
    assert values["d"] == pytest.approx(exact, rel=0.03)
    assert (
        trust["grid_error"]["value"] > 0 and abs(values["d"] / exact - 1) < 2 * trust["grid_error"]["value"]
    )


def test_a_butterfly_valve_loses_less_the_further_it_opens() -> None:
    """The half-model demo at three openings: the drop falls all the way, and what enters leaves."""
    case = parse_case(json.loads(Path("src/mop_lantern/demos/butterfly.lantern").read_text()))
    drops = {}
    for angle in (20, 50, 90):
        solving = Solving(
            settle(apply(case, {"parameters.opening.value": f"{angle} deg", "field.grid.level": "sketch"})),
            None,
            None,
        )
        last = list(solving.events())[-1]
        assert last["converged"]
        balance = {item["id"]: item["value"] for item in last["trust"]}
        assert balance["mass"] < 1e-6 and balance["mass_cells"] < 1e-6
        drops[angle] = solving.run.readings["drop"].value
    falling = list(drops.values())
    assert all(more > 1.1 * less for more, less in zip(falling[:-1], falling[1:], strict=True)), drops


def test_warm_water_that_rises_stays_within_what_enters() -> None:
    """Where temperature moves the fluid and its fronts are sharp, no cell is colder or warmer than what
    enters by more than a hundredth.
    """
    case = parse_case(json.loads(Path("src/mop_lantern/demos/warm-junction.lantern").read_text()))
    solving = Solving(settle(apply(case, {"field.grid.level": "sketch"})), None, None)
    assert list(solving.events())[-1]["converged"]
    T = final_answer(solving).cells("T") - 273.15
    assert T.min() > 8 - 0.08 and T.max() < 16 + 0.08


def test_several_spaces_are_solved_at_once_as_each_alone() -> None:
    """A duct with an outlet, a closed duct fed and drained by given flows, and a stirred box: none feels the
    others, each keeps its own level of pressure.
    """
    duct = {"kind": "brick", "length": "60 mm", "width": "20 mm", "height": "20 mm"}
    solids = {
        "a": duct,
        "b": {**duct, "y": "50 mm"},
        "c": {"kind": "brick", "y": "100 mm", "length": "20 mm", "width": "20 mm", "height": "20 mm"},
    }
    openings = {
        "a_in": {"kind": "velocity", "edge": "a.west", "velocity": "10 mm/s"},
        "a_out": {"kind": "static_pressure", "edge": "a.east", "pressure": "5 Pa"},
        "b_in": {"kind": "velocity", "edge": "b.west", "velocity": "20 mm/s"},
        "b_out": {"kind": "velocity", "edge": "b.east", "velocity": "20 mm/s", "way": "out"},
    }
    walls = {"lid": {"kind": "sliding", "edge": "c.top", "speed": "20 mm/s"}}

    def solved(keys: str) -> Any:
        case = {
            "title": keys,
            "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}},
            "shape": {
                "space": "space",
                "solids": {key: solids[key] for key in keys},
                "wet": [["10 mm", f"{50 * 'abc'.index(key) + 1} mm", "1 mm"] for key in keys]
                if len(keys) > 1
                else [],
            },
            "field": {
                "openings": {key: item for key, item in openings.items() if key[0] in keys},
                "walls": walls if "c" in keys else {},
                "grid": {"cell": "2.5 mm", "doublings": "0"},
                "solver": {"coarse": "0", "residual": "1e-7"},
            },
        }
        solving = Solving(settle(parse_case(case)), None, None)
        assert [event for event in solving.events() if event["event"] == "finished"][-1]["converged"]
        return final_answer(solving)

    together = solved("abc")
    for number, key in enumerate("abc"):
        alone = solved(key)
        mine = np.abs(together.mesh.centre[:, 1] - 50e-3 * number) < 20e-3
        assert mine.sum() == alone.mesh.n_cells
        order, other = (
            np.lexsort(together.mesh.centre[mine].round(6).T),
            np.lexsort(alone.mesh.centre.round(6).T),
        )
        assert np.abs(together.velocity[mine][order] - alone.velocity[other]).max() < 2e-3 * 0.02, (
            "the lattice lies a hair elsewhere"
        )
        drop = np.ptp(together.pressure[mine])
        assert drop == pytest.approx(float(np.ptp(alone.pressure)), rel=2e-3) and drop > 0
