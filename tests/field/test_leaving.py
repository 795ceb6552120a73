"""A given flow that leaves as it comes: the sum is exact, the rest is that of an outlet at one pressure."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.field.boundary import Boundary
from mop_lantern.field.flow.leaving import balanced, eased, shaped, weighted
from mop_lantern.solve import Solving
from mop_lantern.solve.flow_run import FlowRun

WATER = {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}
FED = {
    "in": {"kind": "velocity", "edge": "run.start", "velocity": "10 mm/s", "profile": "developed"},
    "out": {"kind": "static_pressure", "edge": "run.end"},
}
REST = {"kind": "static_pressure", "edge": "run.start"}
SUCK = {"kind": "velocity", "edge": "run.end", "velocity": "10 mm/s", "way": "out"}


def channel(openings: dict[str, Any], **field: Any) -> dict[str, Any]:
    """State a channel 10 mm wide, at a Reynolds number of 100."""
    return {
        "media": {"w": WATER},
        "shape": {"parts": {"run": {"kind": "straight", "length": "60 mm", "width": "10 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "openings": openings,
            "grid": {"cell": "1 mm"},
            **field,
        },
        "readings": {"far": {"kind": "point", "at": ["50 mm", "0 mm"], "quantity": "speed"}},
    }


def answered(data: dict[str, Any], **edits: Any) -> tuple[Any, dict[str, Any]]:
    solving = Solving(settle(apply(parse_case(data), edits)), None, None)
    *_, last = solving.events()
    return solving.run, last


def leaving_at(run: Any, edge: str) -> Any:
    """Give the velocities through the faces of an edge, out of the fluid."""
    faces = run.mesh.faces_of(edge)
    return run.flow.flux[run.mesh.n_internal :][faces] / run.flow.geometry.size_b[faces]


def pair() -> Boundary:
    """Two groups of two faces, and one that is wall."""
    boundary = Boundary.still(5)
    boundary.leaving[:] = [0, 0, 1, 1, -1]
    boundary.outward[:] = [2.0, 2.0, 3.0, 3.0, 0.0]
    return boundary


def test_fluxes_are_raised_to_the_given_sum_by_the_pressure_of_each_opening() -> None:
    size = np.array([1.0, 3.0, 2.0, 2.0, 9.0])
    guess = np.array([1.0, 4.0, 9.0, 7.0, 5.0])
    ease = np.array([1.0, 2.0, 0.5, 1.5, 1.0])
    flux, rise = balanced(pair(), guess, ease, size)
    assert flux.reshape(2, 2).sum(axis=1) == pytest.approx([8.0, 12.0], rel=1e-14)
    assert rise == pytest.approx([-1.0, -1.0, 2.0, 2.0])  # more leaves as the pressure outside falls
    assert flux == pytest.approx(guess[:4] - ease[:4] * rise)


def test_more_flow_leaves_evenly_on_top_of_the_former_and_none_shuts_the_opening() -> None:
    size = np.array([1.0, 3.0, 2.0, 2.0, 9.0])
    flux = shaped(pair(), np.array([3.0, 1.0, 0.0, 0.0, 0.0]), size)
    assert flux == pytest.approx([4.0, 4.0, 6.0, 6.0])
    swirling = shaped(pair(), np.array([1.0, -1.0 + 1e-17, 0.0, 0.0, 0.0]), size)
    assert swirling == pytest.approx([3.0, 5.0, 6.0, 6.0])  # a sum of nearly nothing is no scale
    shut = pair()
    shut.outward[:2] = 0.0
    assert (shaped(shut, np.array([3.0, 1.0, 0.0, 0.0, 0.0]), size)[:2] == 0).all()
    assert (balanced(shut, np.ones(5), np.ones(5), size)[0][:2] == 0).all()
    assert weighted(pair(), np.array([1.0, 5.0, 2.0, 4.0, 0.0]), size) == pytest.approx([4.0, 4.0, 3.0, 3.0])


def test_a_channel_sucked_dry_is_the_channel_fed() -> None:
    """The parabola (1.5 times the mean in the middle) also in the last cells, no pressure more or less."""
    run, last = answered(channel({"in": REST, "out": SUCK}))
    fed, _ = answered(channel(FED))
    assert last["converged"] and all(item["verdict"] != "fails" for item in last["trust"])
    assert leaving_at(run, "run.end") == pytest.approx(leaving_at(fed, "run.end"), abs=0.01 * 0.015)
    assert leaving_at(run, "run.end").max() > 1.45 * leaving_at(run, "run.end").mean()
    assert leaving_at(run, "run.end").mean() == pytest.approx(0.01, rel=1e-13)
    slopes = []
    for made in (run, fed):
        far = made.mesh.centre[:, 0] > 0.045
        slopes.append(np.polyfit(made.mesh.centre[far, 0], made.flow.p[far] * 1000, 1)[0])
    assert slopes[0] == pytest.approx(-12 * 1e-3 * 0.01 / 0.01**2, rel=0.03)
    assert slopes[0] == pytest.approx(slopes[1], rel=0.05)  # the one sucked still develops


def test_where_all_flows_are_given_no_pressure_is_needed() -> None:
    run, last = answered(channel({"in": FED["in"], "out": SUCK}))
    assert last["converged"]
    assert leaving_at(run, "run.end").max() == pytest.approx(0.015, rel=0.02)


def test_an_even_profile_is_kept_where_it_is_asked_for() -> None:
    run, _ = answered(channel({"in": REST, "out": SUCK | {"profile": "uniform"}}))
    assert np.ptp(leaving_at(run, "run.end")) == pytest.approx(0.0, abs=1e-15)


def test_in_time_the_sum_is_that_of_the_moment() -> None:
    pulsed = SUCK | {"velocity": "= 10 mm/s * (1 + 0.5 * sin(6.2832 * t / (1 s)))"}
    plan = {"mode": "transient", "until": "0.25 s", "step": "0.05 s"}
    run, last = answered(channel({"in": REST, "out": pulsed}, time=plan))
    assert leaving_at(run, "run.end").mean() == pytest.approx(0.015, rel=1e-5)
    assert np.ptp(leaving_at(run, "run.end")) > 1e-3
    assert all(item["verdict"] == "holds" for item in last["trust"] if item["id"].startswith("mass"))


def test_two_flows_are_drawn_from_one_room() -> None:
    """The pressure of each outlet is an answer of its own: more is drawn, further down it lies."""
    data = channel({"in": REST, "out": SUCK})
    data["shape"]["parts"]["side"] = {
        "kind": "straight",
        "start": ["30 mm", "-5 mm"],
        "direction": "-90 deg",
        "length": "30 mm",
        "width": "10 mm",
    }
    data["field"]["openings"]["side"] = SUCK | {"edge": "side.end", "velocity": "5 mm/s"}
    run, last = answered(data)
    assert last["converged"]
    assert leaving_at(run, "run.end").mean() == pytest.approx(0.01, rel=1e-12)
    assert leaving_at(run, "side.end").mean() == pytest.approx(0.005, rel=1e-12)
    assert leaving_at(run, "run.start").mean() == pytest.approx(-0.015, rel=1e-6)
    assert leaving_at(run, "side.end").max() > 1.3 * 0.005


def test_on_the_same_grid_it_goes_on_as_it_left() -> None:
    run, _ = answered(channel({"in": REST, "out": SUCK}))
    again = FlowRun(run.settled, run.mesh, run.flow.state())
    assert leaving_at(again, "run.end") == pytest.approx(leaving_at(run, "run.end"), rel=1e-12)
    fresh = FlowRun(run.settled, run.mesh, None)
    assert leaving_at(fresh, "run.end") == pytest.approx(np.full(20, 0.01), rel=1e-12)


def test_many_cells_across_rest_too_and_in_time() -> None:
    """What is predicted goes a sixth too far for every cell across: the shape moves by less."""
    assert (eased(pair(), planar=True) == 0.5).all()
    wide = Boundary.still(60)
    wide.leaving[:] = 0
    assert eased(wide, planar=True)[0] == pytest.approx(0.05)
    assert eased(wide, planar=False)[0] == pytest.approx(3 / np.sqrt(60))
    plan = {"mode": "transient", "until": "0.1 s", "step": "0.05 s"}
    for more in ({}, {"time": plan}):
        run, last = answered(channel({"in": REST, "out": SUCK}, grid={"cell": "0.25 mm"}, **more))
        assert last["converged"] and leaving_at(run, "run.end").max() < 0.016
        assert leaving_at(run, "run.end").min() > 0


def test_a_bore_in_space_is_sucked_like_one_that_is_fed() -> None:
    """Twice the mean in the middle, Hagen and Poiseuille."""
    data = channel({"in": REST | {"edge": "p.start"}, "out": SUCK | {"edge": "p.end"}})
    bore = {"kind": "cylinder", "length": "40 mm", "diameter": "10 mm"}
    data["shape"] = {"space": "space", "solids": {"p": bore}}
    data["readings"] = {"through": {"kind": "flow", "edge": "p.end", "way": "out"}}
    run, last = answered(data)
    assert last["converged"] and last["readings"]["through"]["value"] == pytest.approx(
        0.01 * np.pi * 0.005**2, rel=0.01
    )
    assert leaving_at(run, "p.end").max() == pytest.approx(0.02, rel=0.08)


def test_a_flow_that_stops_and_starts_again_in_time_leaves_no_trace_of_rounding() -> None:
    """Nothing leaves at 0.1 s: the opening is shut then, and opens again evenly."""
    stops = SUCK | {"velocity": "= 10 mm/s * abs(1 - t / (0.1 s))"}
    plan = {"mode": "transient", "until": "0.2 s", "step": "0.05 s"}
    run, last = answered(channel({"in": REST, "out": stops}, time=plan))
    assert leaving_at(run, "run.end").mean() == pytest.approx(0.01, rel=1e-9)
    assert abs(leaving_at(run, "run.end")).max() < 0.03
    shut, _ = answered(
        channel({"in": REST, "out": SUCK | {"velocity": "0 m/s"}, "feed": FED["in"] | {"edge": "run.left"}})
    )
    assert abs(leaving_at(shut, "run.end")).max() == 0.0
