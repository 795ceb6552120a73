"""Turbulent flow in whole cases: who chooses it, what enters, what is told, and what comes out."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import Case, apply, lines, parse_case, review, settle
from mop_lantern.errors import CaseError
from mop_lantern.field.boundary import patch_of
from mop_lantern.field.closure import Closure
from mop_lantern.field.closures.k_epsilon import KEpsilon
from mop_lantern.field.closures.sst import Sst
from mop_lantern.field.turbulence.profile import shear_speed
from mop_lantern.results import open_answer
from mop_lantern.solve.boundary_data import boundary_of, prepare
from mop_lantern.solve.flow_run import FlowRun
from mop_lantern.solve.marching import Marching
from mop_lantern.solve.solving import Carried, Solving
from mop_lantern.solve.turbulent import inflow_of, usual_intensity

PIPE: dict[str, Any] = {
    "title": "sea-water main",
    "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
    "shape": {
        "space": "axis",
        "parts": {"p": {"kind": "straight", "length": "2 m", "width": "50 mm"}},
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "p.start", "velocity": "1 m/s", "profile": "developed"},
            "out": {"kind": "static_pressure", "edge": "p.end"},
        },
        "grid": {"cell": "5 mm", "across": "2", "aspect": "8"},
    },
    "readings": {
        "drop": {"kind": "drop", "edge": "p.start", "to": "p.end"},
        "k": {"kind": "edge_value", "edge": "p.end", "quantity": "k"},
    },
}
DROP = 4 * shear_speed(5e4) ** 2 * 1000 * 2 / 0.05  # Pa; Prandtl's law (O-7.1)


def pipe(**edits: Any) -> Case:
    return apply(parse_case(PIPE), edits)


def finished(case: Case, folder: Path | None = None, stop: bool = False) -> tuple[dict[str, Any], Solving]:
    """Solve a case to its end, or stop it after the first progress; give the last event."""
    solving = Solving(settle(case), None, folder)
    last: Any = {}
    for event in solving.events():
        last = event if event["event"] == "finished" else last
        solving.stop = solving.stop or (stop and event["event"] == "progress")
    last["trust"] = {item["id"]: item for item in last["trust"]}
    return last, solving


@pytest.fixture(scope="module")
def answered(tmp_path_factory: pytest.TempPathFactory) -> tuple[dict[str, Any], Solving]:
    return finished(pipe(), tmp_path_factory.mktemp("runs"))


def test_a_pipe_is_turbulent_by_its_reynolds_number_and_falls_as_prandtl_says(answered: Any) -> None:
    last, solving = answered
    assert solving.settled.regime.closure == "sst" and solving.settled.regime.reynolds == pytest.approx(5e4)
    assert last["converged"] and last["readings"]["drop"]["value"] == pytest.approx(DROP, rel=0.05)
    trust = last["trust"]
    assert trust["near_wall"]["verdict"] == trust["turbulence"]["verdict"] == "holds"
    assert "law of the wall" in trust["near_wall"]["text"] and 100 < trust["near_wall"]["value"] < 160
    assert trust["momentum"]["limit"] == 1e-4
    assert 0.5 < last["readings"]["k"]["value"] / shear_speed(5e4) ** 2 < 4


def test_turbulence_is_stored_and_gone_on_from(answered: Any) -> None:
    last, solving = answered
    stored = open_answer(Path(last["run"]))
    assert {"k", "omega", "eddy", "intensity", "y_plus"} <= set(stored.scalars)
    assert stored.boundary("y_plus").max() == pytest.approx(solving.run.physics.turbulence.y_plus.max())
    finer = settle(pipe(**{"field.grid.cell": "4 mm"}))
    mesh = prepare(finer)
    state = solving.result.onto(mesh)
    assert (state.scalars["k"] > 0).all() and (state.scalars["omega"] > 0).all()
    run = FlowRun(finer, mesh, state)
    assert run.physics.turbulence.k == pytest.approx(state.scalars["k"])
    other = settle(pipe(**{"field.physics.flow": "k_epsilon"}))
    run = FlowRun(
        other, prepare(other), Carried(solving.run.mesh, solving.run.physics.state()).onto(prepare(other))
    )
    turbulence = run.physics.turbulence
    free = ~turbulence.walls.band
    expected = 0.09 * turbulence.k * solving.run.physics.turbulence.second
    assert turbulence.second[free] == pytest.approx(expected[free], rel=1e-6), "by what it had"


def test_what_was_stopped_early_is_never_trusted() -> None:
    last, _ = finished(pipe(**{"field.grid.cell": "1.5 mm"}), stop=True)
    assert last["trust"]["stopped"]["verdict"] == "fails" and not last["converged"]


@pytest.mark.parametrize("closure", ["k_epsilon", "realizable"])
def test_other_closures_agree(closure: str) -> None:
    last, _ = finished(pipe(**{"field.physics.flow": closure}))
    assert last["converged"] and last["readings"]["drop"]["value"] == pytest.approx(DROP, rel=0.06)


def test_a_rough_pipe_falls_by_more_and_a_laminar_one_does_not_care() -> None:
    rough = {"field.walls.r": {"kind": "rough", "edge": "p.left", "material": "steel", "grain": "0.5 mm"}}
    last, _ = finished(pipe(**rough))
    assert last["readings"]["drop"]["value"] > 1.5 * DROP
    slow = {"field.openings.in.velocity": "20 mm/s"}
    drops = [finished(pipe(**slow, **edits))[0]["readings"]["drop"]["value"] for edits in ({}, rough)]
    assert drops[0] == pytest.approx(drops[1], rel=1e-9)
    [steel] = settle(pipe(**{"field.walls.r": {"kind": "rough", "edge": "p.left"}})).numbers.walls.values()
    assert steel.grain is None and steel.material == "steel"


def test_laminar_flow_reads_no_turbulence() -> None:
    last, solving = finished(pipe(**{"field.openings.in.velocity": "20 mm/s"}))
    assert solving.run.physics.turbulence is None and last["readings"]["k"]["value"] == 0.0
    assert "near_wall" not in last["trust"] and "omega" not in solving.run.physics.answer().scalars


def chosen(case: Case) -> tuple[str, float]:
    regime = settle(case).regime
    return regime.closure, regime.reynolds


def test_between_two_pressures_the_fastest_flow_they_could_drive_counts() -> None:
    """A capillary of 0.2 mm under 1 kPa: without friction Re 283, held back by it 0.125."""
    given = {"field.openings.in": {"kind": "static_pressure", "edge": "p.start", "pressure": "1 kPa"}}
    assert chosen(pipe(**given))[0] == "sst"
    closure, reynolds = chosen(pipe(**given, **{"shape.parts.p.width": "0.2 mm"}))
    assert closure == "" and reynolds == pytest.approx(0.125, rel=1e-3)


def test_a_body_in_an_open_stream_has_its_own_reynolds_number() -> None:
    """A cylinder of 10 mm in a stream 400 mm wide with slippery sides: Re 100 on it, 8,000 on the gap."""
    stream = {
        "media": PIPE["media"],
        "shape": {
            "parts": {
                "p": {"kind": "straight", "length": "800 mm", "width": "400 mm"},
                "d": {"kind": "disc", "centre": ["200 mm", "0 mm"], "diameter": "10 mm"},
            }
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "p.start", "velocity": "10 mm/s"},
                "out": {"kind": "static_pressure", "edge": "p.end"},
            },
            "walls": {
                "a": {"kind": "slip", "edge": "p.left"},
                "b": {"kind": "slip", "edge": "p.right"},
            },
        },
    }
    closure, reynolds = chosen(parse_case(stream))
    assert closure == "" and reynolds == pytest.approx(100, rel=0.01)
    closure, reynolds = chosen(apply(parse_case(stream), {"field.walls": {}}))
    assert closure == "sst" and reynolds == pytest.approx(8000, rel=0.01)


def notes(case: Case) -> dict[str, tuple[str, dict[str, Any]]]:
    return {note.kind: (note.level, note.edits) for note in review(case).notes}


def test_the_sheet_says_what_was_chosen_and_offers_to_mend() -> None:
    assert notes(pipe())["regime"] == ("ready", {})
    between = notes(pipe(**{"field.openings.in.velocity": "60 mm/s"}))
    assert between["regime"][0] == "caution"
    reynolds = {"field.physics.flow": "reynolds"}
    told = notes(pipe(**{"field.physics.flow": "laminar", "readings.k": None}))
    assert told["laminar_limit"] == ("caution", reynolds) and "regime" not in told
    told = notes(pipe(**{"field.physics.flow": "sst", "field.openings.in.velocity": "20 mm/s"}))
    assert told["regime"] == ("caution", reynolds)
    with pytest.raises(CaseError, match=r"“les” is not one of the choices.*k_epsilon"):
        pipe(**{"field.physics.flow": "les"})


def test_cells_too_high_for_the_law_of_the_wall_are_told_with_a_remedy() -> None:
    """Re 5e6 on 50 mm: u_tau / U is 0.0335 and cells of 5 mm begin at y+ 8,400; in a warm pipe of Re 5e4
    cells of 1 mm lie in the buffer layer.
    """
    fast = pipe(**{"field.openings.in.velocity": "100 m/s"})
    level, edits = notes(fast)["wall_cells"]
    assert level == "caution" and edits["field.grid.refine.at_walls"]["y_plus"] == "100"
    assert "wall_cells" not in notes(apply(fast, edits)), "mended by its own remedy"
    warm = {"field.heat.solve": True, "media.w.capacity": "4 kJ/kg/K", "media.w.conductivity": "0.6 W/m/K"}
    small = {"field.grid.cell": "0.8 mm"}
    assert "wall_cells" not in notes(pipe(**small))
    remedy = notes(pipe(**warm, **small))["wall_cells"][1]
    assert remedy["field.grid.refine.at_walls"] == {"kind": "layers", "y_plus": "1"}
    assert "wall_cells" not in notes(apply(pipe(**warm, **small), remedy))
    assert "wall_cells" not in notes(pipe(**warm)) and "wall_cells" not in notes(pipe())


def test_what_enters_is_as_turbulent_as_said() -> None:
    usual = settle(pipe(**{"field.openings.in.profile": "uniform"}))
    mesh = prepare(usual)
    faces = patch_of(mesh, "p.start", 1000.0).faces
    made = inflow_of(usual, mesh)
    assert made.intensity[faces] == pytest.approx(usual_intensity(5e4)) and np.isnan(made.energy).all()
    assert made.length[faces] == pytest.approx(0.07 * 0.05)
    for name, share in (("low", 0.01), ("medium", 0.05), ("high", 0.1)):
        made = inflow_of(settle(pipe(**{"field.openings.in.turbulence": name})), mesh)
        assert made.intensity[faces] == pytest.approx(share)
    given = {"turbulence": "given", "intensity": "3 %", "mixing": "2 mm"}
    made = inflow_of(settle(pipe(**{f"field.openings.in.{k}": v for k, v in given.items()})), mesh)
    assert made.intensity[faces] == pytest.approx(0.03) and made.length[faces] == pytest.approx(2e-3)


@pytest.mark.parametrize("closure", [Sst, KEpsilon])
def test_what_enters_by_energy_and_eddy_viscosity_has_both(closure: type[Closure]) -> None:
    given = {"turbulence": "energy", "energy": "0.02 m2/s2", "ratio": "25"}
    settled = settle(pipe(**{f"field.openings.in.{k}": v for k, v in given.items()}))
    mesh = prepare(settled)
    face = patch_of(mesh, "p.start", 1000.0).faces[0]
    made = inflow_of(settled, mesh)
    assert made.energy[face] == pytest.approx(0.02)
    second = closure.of_length(0.02, made.length[face])
    eddy = 0.02 / second if closure is Sst else 0.09 * 0.02**2 / second
    assert eddy == pytest.approx(25e-6)
    words = " ".join(line.text() for line in lines(pipe(**{"field.openings.in.turbulence": "energy"}), None))
    assert "an energy of 0.01 m2/s2 and a viscosity ratio of 10" in words


def test_a_developed_profile_is_that_of_turbulent_flow() -> None:
    """The largest over the mean velocity of a pipe at Re 5e4 is 1.2 to 1.25 (the 1/7 power law: 1.224)."""
    settled = settle(pipe(**{"field.grid.cell": "1 mm"}))
    mesh = prepare(settled)
    speed = boundary_of(settled, mesh).velocity[patch_of(mesh, "p.start", 1000.0).faces, 0]
    assert 1.18 < speed.max() < 1.27
    plane = settle(pipe(**{"shape.space": "plane", "field.openings.in.velocity": "1 m/s"}))
    mesh = prepare(plane)
    speed = boundary_of(plane, mesh).velocity[patch_of(mesh, "p.start", 1000.0).faces, 0]
    assert 1.1 < speed.max() < 1.2 and speed.min() < 0.95


def test_turbulent_flow_is_followed_in_time() -> None:
    """From the finished flow nothing happens; from rest turbulence stays positive."""
    steady, solving = finished(pipe())
    moving = settle(
        pipe(**{"field.time": {"mode": "transient", "until": "0.2 s", "step": "0.05 s", "courant": "0"}})
    )
    mesh = prepare(moving)
    run = Marching(moving, mesh, solving.result.onto(mesh))
    while not run.finished():
        run.one_step()
    assert run.readings["drop"].value == pytest.approx(steady["readings"]["drop"]["value"], rel=5e-3)
    run = Marching(moving, mesh, None)
    for _ in range(3):
        run.one_step()
    assert (run.physics.turbulence.k > 0).all() and np.isfinite(run.flow.U).all()


@pytest.mark.parametrize(("speed", "within"), [("20 mm/s", 0.01), ("1 m/s", 0.05)])
def test_long_cells_refined_at_walls_rub_as_whole_ones(speed: str, within: float) -> None:
    """Feet of hanging faces of cells eight times longer than high were cut short: 16 % too much friction."""
    near = {"field.grid.refine": {"w": {"kind": "walls", "levels": "2", "layers": "3"}}}
    given = {"field.openings.in.velocity": speed, "shape.parts.p.length": "1 m"}
    whole, refined = (
        finished(pipe(**given, **edits))[0]["readings"]["drop"]["value"] for edits in ({}, near)
    )
    assert refined == pytest.approx(whole, rel=within)


def test_grains_higher_than_cells_are_told() -> None:
    rough = {"field.walls.r": {"kind": "rough", "edge": "p.left", "grain": "10 mm"}}
    last, _ = finished(pipe(**rough))
    assert last["trust"]["near_wall"]["verdict"] == "fails" and "10 mm" in last["trust"]["near_wall"]["text"]


def test_adaptation_follows_turbulent_flow() -> None:
    last, solving = finished(pipe(**{"field.adapt.cycles": "1", "shape.parts.p.length": "1 m"}))
    assert last["readings"]["drop"]["value"] == pytest.approx(DROP / 2, rel=0.08)
    assert len(solving.cycles) == 2 and solving.cycles[1]["cells"] > solving.cycles[0]["cells"]
