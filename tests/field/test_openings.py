"""Openings and moving walls in the solved flow, against what mechanics says."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.field.flow.following import Following, move_local
from mop_lantern.judge import FieldResult, measure
from mop_lantern.solve import Solving

RHO, MU = 1000.0, 1e-3


def solved(data: dict[str, Any], **edits: Any) -> tuple[FieldResult, dict[str, float]]:
    """Solve a case with edits; give its field and readings."""
    settled = settle(apply(parse_case(data), edits))
    solving = Solving(settled, None, None)
    end = [event for event in solving.events() if event["event"] == "finished"][-1]
    assert solving.run is not None and end["converged"], end["trust"]
    answer = solving.run.physics.answer(final=True)
    return answer, {key: item.value for key, item in measure(settled.numbers.readings, answer).items()}


def slippery(**more: Any) -> dict[str, Any]:
    """Give edits that make the channel frictionless, so that the flow is the same everywhere."""
    walls = {f"field.walls.{side}": {"kind": "slip", "edge": f"run.{side}"} for side in ("left", "right")}
    return {**walls, "field.openings.in.profile": "uniform", **more}


def test_total_pressure_drives_what_bernoulli_says(channel: dict[str, Any]) -> None:
    inlet = {"kind": "total_pressure", "edge": "run.start", "pressure": "20 Pa"}
    readings = {
        "readings.p0": {"kind": "edge_value", "edge": "run.start", "quantity": "total"},
        "readings.u": {"kind": "edge_value", "edge": "run.end", "quantity": "u"},
    }
    walls = {key: value for key, value in slippery().items() if ".walls." in key}
    _, read = solved(channel, **walls, **readings, **{"field.openings.in": inlet})
    assert read["u"] == pytest.approx(np.sqrt(2 * 20 / RHO), rel=1e-3)  # Bernoulli, no losses
    assert read["p0"] == pytest.approx(20.0, rel=2e-3)


def test_a_mean_pressure_leaves_the_profile_free(channel: dict[str, Any]) -> None:
    bend = {
        "kind": "bent",
        "points": [["0 mm", "0 mm"], ["20 mm", "0 mm"], ["20 mm", "20 mm"]],
        "width": "10 mm",
        "radius": "10 mm",
    }
    spread = {}
    for kind in ("static_pressure", "mean_pressure"):
        outlet = {"kind": kind, "edge": "run.end", "pressure": "3 Pa"}
        answer, _ = solved(
            channel,
            **{"shape.parts.run": bend, "field.openings.out": outlet, "field.openings.in.velocity": "5 mm/s"},
        )
        faces = answer.mesh.faces_of("run.end")
        pressure, size = answer.wall_pressure[faces], answer.face_size[faces]
        assert (pressure * size).sum() / size.sum() == pytest.approx(3.0, abs=2e-4)
        spread[kind] = float(np.ptp(pressure))
    assert spread["static_pressure"] < 1e-12 < spread["mean_pressure"]


def test_a_profile_by_expression_enters_as_written(channel: dict[str, Any]) -> None:
    shear = {"kind": "velocity_profile", "edge": "run.start", "velocity": "= 2 mm/s * (1 + across)"}
    answer, read = solved(channel, **{"field.openings.in": shear})
    faces = answer.mesh.faces_of("run.start")
    assert read["flow"] == pytest.approx(0.002 * 0.010, rel=1e-6)  # across runs from -1 to 1
    assert np.ptp(answer.wall_velocity[faces, 0]) == pytest.approx(
        0.004 * 7 / 8, rel=1e-6
    )  # between the middles of eight faces


def test_couette_flow_is_linear_and_its_drag_is_that_of_the_gap(channel: dict[str, Any]) -> None:
    lid = {"kind": "sliding", "edge": "run.left", "speed": "0.02 mm/s"}
    ends = {
        "field.openings.in": {"kind": "static_pressure", "edge": "run.start", "pressure": "0 Pa"},
        "field.walls.cap": lid,
        "readings.drag": {"kind": "force", "edge": "run.right", "part": "friction"},
    }
    answer, read = solved(channel, **ends)
    middle = np.abs(answer.mesh.centre[:, 0] - 0.02) < 0.005
    y = answer.mesh.centre[middle, 1]
    assert answer.velocity[middle, 0] == pytest.approx(0.00002 * (y + 0.005) / 0.010, abs=4e-8)
    assert read["drag"] == pytest.approx(MU * 0.00002 / 0.010 * 0.040, rel=0.01)


def test_a_turning_cylinder_in_a_still_ring(channel: dict[str, Any]) -> None:
    """Torque between cylinders 4 pi mu w R1^2 R2^2 / (R2^2 - R1^2) per length: Bird, Stewart, Lightfoot, ex.
    3.6-3 (from memory).
    """
    turn = np.linspace(0, 2 * np.pi, 241)[:-1]
    outline = [[f"{10 * np.cos(angle):.6f} mm", f"{10 * np.sin(angle):.6f} mm"] for angle in turn]
    parts = {
        "tub": {"kind": "outline", "points": outline},
        "rod": {"kind": "disc", "centre": ["0 mm", "0 mm"], "diameter": "10 mm"},
    }
    data = {
        **channel,
        "shape": {"depth": "1 m", "parts": parts},
        "variants": {},
        "readings": {"m": {"kind": "torque", "edge": "rod.surface"}},
    }
    wall = {"kind": "turning", "edge": "rod.surface", "rate": "0.2 rad/s"}
    data["field"] = {
        "walls": {"rod": wall},
        "grid": {"cell": "0.5 mm", "across": "4"},
        "solver": {"coarse": "0"},
    }
    _, read = solved(data)
    exact = 4 * np.pi * MU * 0.2 * 0.005**2 * 0.010**2 / (0.010**2 - 0.005**2)
    assert abs(read["m"]) == pytest.approx(exact, rel=0.02)


@pytest.mark.parametrize("pressure", ["0 Pa", "500 Pa"])
def test_only_differences_of_pressure_count(channel: dict[str, Any], pressure: str) -> None:
    _, read = solved(channel, **{"field.openings.out.pressure": pressure})
    exact = 12 * MU * 0.010 * 0.040 / 0.010**2  # plane Poiseuille
    assert read["drop"] == pytest.approx(exact, rel=1.1 / 8**2)  # second order, eight cells across


def test_what_flows_back_in_brings_the_return_values(channel: dict[str, Any]) -> None:
    """A pull at the inlet turns the outlet into an inlet: what enters there carries what the outlet says."""
    edits = {
        "field.species.salt": {"diffusivity": "1e-9 m2/s"},
        "field.openings.in": {"kind": "velocity_profile", "edge": "run.start", "velocity": "-10 mm/s"},
        "field.openings.out.carries": {"salt": "3 %"},
        "readings.salt": {
            "kind": "edge_value",
            "edge": "run.start",
            "quantity": "c.salt",
            "measure": "flow_mean",
        },
    }
    _, read = solved(channel, **edits)
    assert read["flow"] == pytest.approx(-1e-4, rel=1e-6)
    assert read["salt"] == pytest.approx(0.03, rel=1e-6)


@pytest.mark.parametrize(("speeds", "share"), [([1.0, 2.0, 3.0], 0.0), ([-2.0, 0.0, 2.0], 1.0)])
def test_layers_lose_by_their_own_speed_as_far_as_flows_cancel(speeds: list[float], share: float) -> None:
    """What goes one way loses by its mean speed alone, which the law of the opening knows."""
    size = np.array([1.0, 2.0, 1.0])
    every = [Following(np.arange(3), 1.0, lambda flow, entering: (0.0, 0.0))]
    local = np.zeros(3)
    speed = np.array(speeds)
    for _ in range(400):
        move_local(local, every, np.full(3, 1.8), speed * size, size, 1.0, 0.5 * size)
    assert local == pytest.approx(share * 0.9 * speed * np.abs(speed), abs=1e-6)
