"""Openings and sources in the words of ventilation: air changes, people, diffusers."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.case.totals import made_equal
from mop_lantern.field.boundary import Boundary, Patch
from mop_lantern.field.openings.diffuser import Diffuser
from mop_lantern.field.sources.people import People
from mop_lantern.solve import FlowRun, Solving, prepare

ROOM = {"kind": "brick", "length": "4 m", "width": "3 m", "height": "2.5 m"}


def room(supply: Any, extract: Any, **field: Any) -> dict[str, Any]:
    """State a room of 30 m3 with openings in two of its walls."""
    return {
        "media": {"air": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "18 uPa s"}},
        "shape": {"space": "space", "solids": {"room": ROOM}},
        "field": {
            "physics": {"flow": "laminar"},
            "openings": {
                "in": {"edge": "room.west", **supply},
                "out": {"edge": "room.east", "way": "out", **extract},
            },
            "grid": {"cell": "0.5 m"},
            **field,
        },
    }


WINDWARD = {"kind": "window", "wind": "4 m/s", "coefficient": "0.6"}
LEE = {"kind": "window", "wind": "4 m/s", "coefficient": "-0.3"}


def test_wind_blows_through_two_windows_as_bernoulli_says() -> None:
    """0.9 times 9.6 Pa against two losses of 1.8 and what the jet takes with it, in a slippery duct as wide
    as its windows: u = sqrt(2 * 8.64 / (1.2 * (1.8 + 1.8 + 1))) = 1.77 m/s.
    """
    data = room(WINDWARD, LEE)
    data["media"]["air"]["viscosity"] = "1 mPa s"
    del data["field"]["openings"]["out"]["way"]
    sides = ("north", "south", "top", "bottom")
    data["field"]["walls"] = {side: {"kind": "slip", "edge": f"room.{side}"} for side in sides}
    data["readings"] = {"q": {"kind": "flow", "edge": "room.east"}}
    *_, last = Solving(settle(parse_case(data)), None, None).events()
    speed = np.sqrt(2 * 0.9 * 0.5 * 1.2 * 16 / (1.2 * 4.6))
    assert last["converged"] and last["readings"]["q"]["value"] == pytest.approx(7.5 * speed, rel=2e-3)
    calm = apply(parse_case(data), {"field.openings.in.wind": "0 m/s", "field.openings.out.wind": "0 m/s"})
    assert any("nothing flows" in fault.says for fault in review(calm).faults)


def test_the_wind_counts_in_the_reynolds_number_and_may_vary() -> None:
    data = room(WINDWARD, LEE, physics={"flow": "reynolds"})
    del data["field"]["openings"]["out"]["way"]
    regime = settle(parse_case(data)).regime
    assert regime.closure and regime.reynolds > 1e5
    gust = {"field.openings.in.wind": "= 4 m/s * (1 + 0.3 * sin(6.28 * t / (1 s)))"}
    plan = {"field.time.mode": "transient", "field.time.until": "1 s"}
    assert not review(apply(parse_case(data), gust | plan)).faults


CHANGES = {"kind": "air_changes", "rate": "6 1/h"}
PERSONS = {"kind": "per_person", "people": "5", "each": "10 L/s"}


def test_air_changes_are_volumes_of_the_room() -> None:
    facts = settle(parse_case(room(CHANGES, PERSONS))).facts
    assert [opening.flow for opening in facts.openings] == pytest.approx([30 * 6 / 3600, -0.05])


@pytest.mark.parametrize(("space", "volume"), [("plane", 2.0), ("axis", np.pi * 2.0)])
def test_in_a_plane_the_depth_counts_and_around_an_axis_the_whole_turn(space: str, volume: float) -> None:
    data = room(CHANGES, CHANGES)
    corners = [["0 m", "0 m"], ["2 m", "0 m"], ["2 m", "1 m"], ["0 m", "1 m"]]
    data["shape"] = {"space": space, "parts": {"room": {"kind": "outline", "points": corners}}}
    data["field"]["openings"]["in"]["edge"] = "room.side4"
    data["field"]["openings"]["out"]["edge"] = "room.side2"
    facts = settle(parse_case(data)).facts
    assert facts.openings[0].flow == pytest.approx(volume * 6 / 3600)


def test_unequal_air_changes_are_called_out_and_made_equal_in_one_go() -> None:
    case = parse_case(room(CHANGES, {**CHANGES, "rate": "5.4 1/h"}))
    seen = review(case)
    note = next(note for note in seen.notes if note.kind == "no_way_out")
    assert note.edits == {"field.openings.out.rate": "6 1/h"}
    assert not review(apply(case, note.edits)).blocked
    assert made_equal(case, seen.facts) == note.edits


def test_air_changes_are_solved_in_a_run() -> None:
    data = room(CHANGES, {"kind": "static_pressure", "way": "free"})
    data["field"]["openings"]["out"].pop("way")
    data["readings"] = {"n": {"kind": "ventilation", "measure": "changes"}}
    solving = Solving(settle(parse_case(data)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    assert last["readings"]["n"]["value"] == pytest.approx(6.0, rel=1e-9)


def test_what_people_give_off() -> None:
    """Source: ISO 7730 (105 W seated at rest), ASTM D6245 (0.0052 L/s at 1.2 met); not at hand to check."""
    from mop_lantern.case.resolve import Numbers

    seated = Numbers(people=1.0, activity=1.0, dry=1.0, gas="", vapour="")
    assert People.gives(seated, 1.2, {}) == {"heat": pytest.approx(105, rel=0.01)}
    desk = Numbers(people=2.0, activity=1.2, dry=0.6, gas="co2", vapour="wet")
    given = People.gives(desk, 1.2, {"co2": "fraction", "wet": "density"})
    assert given["co2"] == pytest.approx(2 * 5.2e-6, rel=0.02)
    latent = given["wet"] * 2.43e6
    assert given["heat"] + latent == pytest.approx(2 * 1.2 * 105, rel=0.01)
    as_share = People.gives(desk, 1.2, {"co2": "density", "wet": "fraction"})
    assert as_share["wet"] * 1.2 == pytest.approx(given["wet"])
    assert as_share["co2"] == pytest.approx(given["co2"] * 1.83)


def test_people_raise_the_carbon_dioxide_by_what_they_breathe_out() -> None:
    box = {"low": ["1 m", "1 m", "0 m"], "high": ["2 m", "2 m", "1.5 m"]}
    people = {"kind": "people", "people": "5", "gas": "co2", **box}
    data = room(PERSONS, {"kind": "static_pressure"}, sources={"staff": people})
    data["field"]["openings"]["out"].pop("way")
    data["field"]["species"] = {"co2": {"title": "carbon dioxide", "diffusivity": "16 mm2/s"}}
    data["field"]["openings"]["in"]["carries"] = {"co2": "420 ppm"}
    data["readings"] = {
        "out": {"kind": "edge_value", "edge": "room.east", "quantity": "c.co2", "measure": "flow_mean"}
    }
    measures = parse_case({**data, "readings": {}})
    assert not review(measures).blocked
    lost = apply(measures, {"field.sources.staff.vapour": "nothing"})
    assert "field.sources.staff.vapour" in {fault.path for fault in review(lost, brief=True).faults}
    solving = Solving(settle(measures), None, None)
    list(solving.events())
    carried = solving.run.physics.scalars["c.co2"].balance()
    assert carried.made == pytest.approx(5 * 5.15e-6, rel=0.01)
    assert carried.carried_out - carried.carried_in == pytest.approx(carried.made, rel=1e-4)


def blown(way: str, effective: float = 0.25) -> tuple[Patch, Boundary]:
    """Blow 0.3 m3/s down through a face of 1 m by 0.5 m."""
    x, y = (a.ravel() for a in np.meshgrid((np.arange(10) + 0.5) / 10, (np.arange(10) + 0.5) / 20))
    centre = np.column_stack([x, y, 0 * x])
    area = np.tile([0, 0, 0.5 / 100], (100, 1))
    patch = Patch(
        np.arange(100), area, centre, np.zeros((100, 2)), np.zeros((0, 2)), 1.0, 1.2, 0.5, np.zeros(100)
    )
    boundary = Boundary.still(100)
    from mop_lantern.case.resolve import Numbers

    Diffuser.apply(Numbers(flow=0.3, type=way, effective=effective, edge="e"), patch, boundary)
    return patch, boundary


@pytest.mark.parametrize("way", ["slot", "four_way", "swirl"])
def test_a_diffuser_carries_its_flow_at_the_speed_of_its_free_openings(way: str) -> None:
    patch, boundary = blown(way)
    assert -(boundary.velocity * patch.area).sum() == pytest.approx(0.3)
    assert np.linalg.norm(boundary.velocity, axis=1) == pytest.approx(0.3 / 0.5 / 0.25)
    assert not boundary.wall.any()
    level = boundary.velocity[:, :2]
    off = np.abs(level.mean(axis=0)).max() / np.abs(level).max()
    assert off <= 0.051, "to all sides alike, but for the five faces of each diagonal"


def test_each_type_blows_its_own_way() -> None:
    patch, boundary = blown("slot")
    off = patch.centre[:, 1] - 0.25
    assert (boundary.velocity[:, 1] * off > 0).all() and np.abs(boundary.velocity[:, 0]).max() < 1e-9
    patch, boundary = blown("four_way")
    out = patch.centre - [0.5, 0.25, 0]
    assert ((boundary.velocity * out).sum(axis=1) > 0).all()
    assert (np.count_nonzero(np.abs(boundary.velocity[:, :2]) > 1e-9, axis=1) == 1).all()
    patch, boundary = blown("swirl")
    turn = np.cross(patch.centre - [0.5, 0.25, 0], boundary.velocity)[:, 2]
    assert (turn < 0).all() or (turn > 0).all()
    assert np.abs(blown("displacement")[1].velocity[:, :2]).max() == 0.0


@pytest.mark.parametrize("flow", ["laminar", "mixing_length"])
def test_thin_air_driven_from_rest_sets_out_no_faster_than_its_pressures_can_make_it(flow: str) -> None:
    """5 Pa of wind make 3 m/s at most; nothing but friction resists the first iteration, and that is hardly
    any.
    """
    data = room(WINDWARD, LEE, physics={"flow": flow})
    del data["field"]["openings"]["out"]["way"]
    settled = settle(parse_case(data))
    run = FlowRun(settled, prepare(settled), None)
    fastest = 0.0
    for _ in range(30):
        run.last = run.physics.step()
        fastest = max(fastest, float(np.abs(run.flow.U).max()))
    assert fastest < 2 * run.flow.reference_speed
    assert run.flow.U[:, 0].mean() > 0.3 * run.flow.reference_speed
