"""Heat in solids through the whole program: alone and with a flow, in planes, around an axis and in space."""

from __future__ import annotations

import copy
from pathlib import Path
from typing import Any

import numpy as np
import pytest

from bench.solid_cases import (
    LAYERS,
    film,
    flux_of,
    made_of,
    pipe_around_axis,
    sheared,
    surface,
    through,
    wall_in_space,
    wall_of,
)
from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.errors import CaseError, RunError
from mop_lantern.judge import FieldResult
from mop_lantern.results import open_answer
from mop_lantern.solve import Solving, prepare
from mop_lantern.solve.check import Evidence
from mop_lantern.solve.checks.regions import Regions
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.solving import final_answer

THREE = LAYERS[:3]


def solve(data: dict[str, Any], runs: Path | None = None, **edits: Any) -> tuple[FieldResult, dict[str, Any]]:
    """Solve a document; give its field and what is said at the end, trust by id."""
    solving = Solving(settle(apply(parse_case(data), edits)), None, runs)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return final_answer(solving), {**last, "trust": {item["id"]: item for item in last["trust"]}}


def faults(data: dict[str, Any]) -> dict[str, str]:
    """Give the faults of a document by path."""
    return {fault.path: fault.says for fault in review(parse_case(data), brief=True).faults}


@pytest.fixture(scope="module")
def conjugate() -> tuple[FieldResult, dict[str, Any]]:
    """Solve the sheared fluid on a slab once, with all there is to carry and to read."""
    data = sheared("0 deg")
    data["field"]["species"] = {"feed": {"diffusivity": "1e-6 m2/s", "start": "1 g/kg"}}
    data["field"]["openings"]["in"]["carries"] = {"feed": "1 g/kg"}
    data["field"]["grid"] = {"cell": "1 mm", "across": "6"}
    whole = {"kind": "region", "extent": "whole", "low": ["0 m", "0 m"], "high": ["0 m", "0 m"]}
    point = {"kind": "point", "at": ["50 mm", "-5 mm"]}
    data["readings"] = {
        "least": {**whole, "quantity": "c.feed", "measure": "min"},
        "mean": {**whole, "quantity": "speed", "measure": "mean"},
        "hottest": {**whole, "quantity": "T", "measure": "max"},
        "inside": {**point, "quantity": "T"},
        "still": {**point, "quantity": "speed"},
        "fluid": {"kind": "passing", "edge": "slab.side3", "quantity": "T", "way": "in"},
        "own": {"kind": "passing", "edge": "slab.side3@slab", "quantity": "T", "way": "in"},
    }
    return solve(data)


def test_readings_count_what_they_mean(conjugate: tuple[FieldResult, dict[str, Any]]) -> None:
    """Species and speed are of the fluid, temperature of all; the two sides of a wall tell the same heat."""
    _, last = conjugate
    found = {key: item["value"] for key, item in last["readings"].items()}
    assert found["least"] == pytest.approx(1e-3, rel=1e-6)
    assert found["mean"] == pytest.approx(0.5e-3, rel=1e-3)
    assert 273.15 + 58 < found["hottest"] < 273.15 + 60
    assert found["inside"] == pytest.approx(273.15 + 60 - 685.714 * 0.005 / 0.2, abs=0.1)
    assert found["still"] is None and "reading.still" in last["trust"]
    assert found["fluid"] == pytest.approx(-found["own"], rel=1e-12)
    assert found["fluid"] == pytest.approx(68.5714, rel=0.01)


def test_heat_of_every_solid_is_in_the_trust_list(conjugate: tuple[FieldResult, dict[str, Any]]) -> None:
    _, last = conjugate
    assert last["converged"]
    assert last["trust"]["region.slab"]["value"] < 1e-8
    assert last["trust"]["balance.T"]["value"] < 1e-8


def test_a_field_of_regions_comes_apart_and_says_where_it_holds(
    conjugate: tuple[FieldResult, dict[str, Any]],
) -> None:
    answer, _ = conjugate
    fluid = answer.parts[""]
    slab = answer.parts["slab"]
    assert len(fluid.pressure) == answer.wet.sum() and set(slab.quantities) >= {"T"}
    assert "speed" not in slab.quantities and not slab.has("c.feed") and fluid.has("c.feed")
    assert answer.covers("T").all() and (answer.covers("pressure") == answer.wet).all()
    joined = np.concatenate([fluid.cells("T"), slab.cells("T")])
    assert (joined == answer.cells("T")).all()
    place = np.array([[0.05, -0.005], [0.05, 0.0025]])
    assert np.isnan(answer.sampler("u", place)[0]) and answer.sampler("u", place)[1] > 0
    assert answer.inside(place).all()
    assert slab.mesh is answer.parts["slab"].mesh


def test_a_stored_run_keeps_its_regions(tmp_path: Path) -> None:
    answer, last = solve(wall_of(THREE, 0.02), tmp_path)
    back = open_answer(Path(last["run"]))
    assert back.mesh.region_names == answer.mesh.region_names == ("", "l0", "l1", "l2")
    assert (back.mesh.joints == answer.mesh.joints).all()
    assert (back.parts["l1"].cells("T") == answer.parts["l1"].cells("T")).all()


@pytest.mark.parametrize("thickness", [1e-2, 1e-4, 2e-6])
@pytest.mark.parametrize("turn", ["0 deg", "13 deg"])
def test_a_layer_much_thinner_than_a_cell_counts_in_full(thickness: float, turn: str) -> None:
    layers = ((0.1, 0.8), (thickness, 20 * thickness), (0.1, 0.8))
    data = wall_of(layers, 0.02, turn)
    data["field"]["grid"]["across"] = "2"
    answer, _ = solve(data)
    assert through(answer, "l2.side2") / 0.1 == pytest.approx(flux_of(layers), rel=1e-3)


def test_layers_in_space_thin_and_thick() -> None:
    layers = ((0.1, 0.8), (2e-4, 0.002), (0.1, 0.8))
    answer, last = solve(wall_in_space(layers, 0.021))
    assert through(answer, "l2.east") / 0.01 == pytest.approx(flux_of(layers), rel=1e-4)
    assert last["trust"]["region.l1"]["verdict"] == "holds"


def test_a_contact_resists_and_both_sides_show_it() -> None:
    data = wall_of(THREE, 0.02)
    data["field"]["warm"]["joint"] = {"kind": "contact", "edge": "l1.side4", "resistance": "0.5 m2*K/W"}
    answer, _ = solve(data)
    flux = 30.0 / (30.0 / flux_of(THREE) + 0.5)
    assert through(answer, "l2.side2") / 0.1 == pytest.approx(flux, rel=1e-6)
    jump = surface(answer, "l1.side4@l0") - surface(answer, "l1.side4")
    assert jump == pytest.approx(flux * 0.5, rel=1e-6)


def test_around_the_axis_with_hot_water_inside() -> None:
    data = pipe_around_axis()
    data["field"]["grid"] = {"cell": "1 mm", "across": "6"}
    answer, last = solve(data)
    given = through(answer, "steel.side1")
    assert given == pytest.approx(through(answer, "wool.side3"), rel=1e-8)
    drop = surface(answer, "wool.side1") - surface(answer, "wool.side3")
    exact = 2 * np.pi * 0.04 * 0.1 * drop / np.log(0.02 / 0.012)
    assert given == pytest.approx(exact, rel=0.01) and last["converged"]


def test_heat_made_in_a_part_leaves_by_its_walls() -> None:
    data = wall_of(THREE, 0.02)
    data["field"]["sources"] = {"wire": {"kind": "part_heat", "part": "l1", "power": "5 W"}}
    answer, last = solve(data)
    out = through(answer, "l0.side4") + through(answer, "l2.side2")
    assert out == pytest.approx(5.0, rel=1e-8) and last["trust"]["region.l1"]["verdict"] == "holds"
    data["field"]["sources"]["wire"]["part"] = "l9"
    assert "no solid part of that name" in faults(data)["field.sources.wire.part"]


def test_a_closed_solid_takes_up_what_flows_in_in_time() -> None:
    """100 W/m2 for 100 s into 30 kg at 1000 J/kg/K."""
    data = wall_of(THREE, 0.02)
    data["field"] |= {
        "warm": {"q": {"kind": "flux", "edge": "l0.side4", "flux": "100 W/m2"}},
        "time": {"mode": "transient", "until": "100 s", "step": "10 s"},
        "heat": {"solve": True, "start": "20 °C"},
    }
    answer, last = solve(data)
    risen = (answer.mesh.volume * (answer.cells("T") - 293.15)).sum() * 1e6
    assert risen == pytest.approx(100 * 0.1 * 100, rel=1e-6)
    assert last["trust"]["balance.T"]["verdict"] == last["trust"]["region.l0"]["verdict"] == "holds"
    assert "temperature changes" in last["trust"]["grid_guess"]["text"]


def test_a_run_goes_on_on_another_grid_region_by_region() -> None:
    data = wall_of(THREE, 0.02)
    first = Solving(settle(parse_case(data)), None, None)
    list(first.events())
    assert first.result is not None
    data["field"]["grid"]["cell"] = "13 mm"
    moved = first.result.onto(prepare(settle(parse_case(data)))).scalars["T"]
    exact, _ = solve(data)
    assert np.abs(moved - exact.cells("T")).max() < 0.5


def test_what_is_said_of_solids_that_cannot_be() -> None:
    data = wall_of(THREE, 0.02)
    data["field"]["solids"] |= {"x": made_of("nowhere", 1.0), "y": made_of("l0", 1.0)}
    found = faults(data)
    assert "no solid part" in found["field.solids.x.part"] and "already" in found["field.solids.y.part"]
    data = wall_of(THREE, 0.02)
    data["field"] |= {"species": {"s": {}}, "age": {"solve": True}}
    assert {"field.species.s", "field.age.solve"} <= set(faults(data))
    data = wall_of(THREE, 0.02)
    data["field"]["heat"] = {"solve": False}
    assert set(faults(data)) == {"field.heat.solve"}
    data = wall_of(THREE, 0.02)
    data["readings"] = {
        "a": {"kind": "passing", "edge": "l1.side4@zz", "quantity": "T"},
        "b": {"kind": "region", "quantity": "speed", "measure": "max", "extent": "whole",
              "low": ["0 m", "0 m"], "high": ["0 m", "0 m"]},
    }  # fmt: skip
    assert {"readings.a.edge", "readings.b.quantity"} <= set(faults(data))
    thin = wall_in_space(((0.1, 0.8), (1e-6, 0.002), (0.1, 0.8)), 0.02)
    assert "no thickness" in faults(thin)["field.solids.l1.part"]


@pytest.mark.parametrize(
    ("wall", "words"),
    [
        (film("l1.side4", 1.0, 2.0), "another region lies behind"),
        ({"kind": "contact", "edge": "l0.side1", "resistance": "1 m2*K/W"}, "not a contact"),
    ],
)
def test_conditions_of_heat_know_what_lies_behind(wall: dict[str, Any], words: str) -> None:
    data = wall_of(THREE, 0.02)
    data["field"]["warm"]["x"] = wall
    with pytest.raises(RunError, match=words):
        solve(data)


def test_a_steady_temperature_needs_something_that_holds_it() -> None:
    data = wall_of(THREE, 0.02)
    data["field"]["warm"] = {"q": {"kind": "flux", "edge": "l0.side4", "flux": "1 W/m2"}}
    with pytest.raises(CaseError, match="no steady temperature"):
        solve(data)
    bricks = wall_in_space(THREE, 0.03)
    bricks["shape"]["solids"]["l2"]["x"] = "0.5 m"
    bricks["field"]["warm"].pop("out")
    with pytest.raises(RunError, match="no steady value"):
        solve(bricks)


def test_solids_without_heat_are_walls_and_told() -> None:
    data = sheared("0 deg")
    data["field"] |= {"heat": {"solve": False}, "warm": {}}
    found = review(parse_case(data))
    assert not found.faults and "solids_left_out" in {note.kind for note in found.notes}
    settled = found.settled()
    assert settled.solids == {} and settled.meshed.solids == {}  # type: ignore[union-attr]


def test_a_spoilt_temperature_fails_the_balance_of_its_solid() -> None:
    settled = settle(parse_case(wall_of(THREE, 0.02)))
    physics = Physics(settled, prepare(settled), None)
    physics.finish()
    evidence = Evidence(settled, physics, physics.answer(final=True), True, False)
    assert {item.verdict for item in Regions.judge(evidence)} == {"holds"}
    physics.scalars["T"].phi[physics.mesh.cells_of("l1")] += 1.0
    spoilt = {item.id: item.verdict for item in Regions.judge(evidence)}
    assert spoilt["region.l1"] == "fails"


def test_variants_may_take_a_solid_away() -> None:
    case = parse_case(copy.deepcopy(sheared("0 deg")))
    bare = {"shape.parts.slab": None, "field.solids.slab": None, "field.warm.below.edge": "gap.right"}
    assert settle(apply(case, bare)).solids == {}


def test_checks_of_the_flow_look_at_the_fluid_alone() -> None:
    """A solid thinner than a cell spans no gap of the flow; pressures count from those of the fluid."""
    from mop_lantern.solve.checks.sense import sense_trust
    from mop_lantern.solve.checks.thin import thin_trust

    layers = ((0.1, 0.8), (2e-4, 0.002), (0.1, 0.8))
    mesh = prepare(settle(parse_case(wall_in_space(layers, 0.021))))
    assert thin_trust(mesh.fluid) == []
    data = sheared("0 deg")
    data["media"]["oil"]["density"] = "1.2 kg/m3"
    settled = settle(parse_case(data))
    mesh = prepare(settled)
    wet = mesh.cells_of("")
    outer = wet[mesh.owner[mesh.n_internal :]]
    none = np.zeros((mesh.n_boundary, 3))
    even = FieldResult(
        mesh,
        np.zeros((mesh.n_cells, 3)),
        2e4 * wet,
        np.zeros(len(mesh.owner)),
        none,
        2e4 * outer,
        none,
        1.2,
    )
    assert sense_trust(settled, even) == [], "the pressure is even: nothing is there in solids"


@pytest.mark.parametrize("flow", ["sst", "realizable", "mixing_length"])
def test_turbulence_mixes_what_is_carried_beside_solids_that_conduct(flow: str) -> None:
    """A species and the age know the fluid alone, the heat all of it."""
    data = sheared("0 deg")
    data["field"]["species"] = {"feed": {"diffusivity": "1e-6 m2/s", "start": "1 g/kg"}}
    data["field"]["openings"]["in"]["carries"] = {"feed": "1 g/kg"}
    data["field"]["age"] = {"solve": True}
    data["field"]["physics"] = {"flow": flow}
    data["field"]["grid"] = {"cell": "2 mm", "across": "4"}
    data["field"]["solver"] = {"most": "20"}
    answer, last = solve(data)
    feed = answer.cells("c.feed")
    assert feed[: answer.mesh.fluid.n_cells] == pytest.approx(1e-3, rel=1e-6)
    assert last["trust"]["balance.age"]["verdict"] == "holds"
