"""A whole solve: events, finish, carrying over, the trust list, divergence told in words."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, load, parse_case, settle
from mop_lantern.errors import RunError
from mop_lantern.results import load_run, open_answer, profile
from mop_lantern.solve import Solving
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.flow_run import FlowRun, Traces
from tests.conftest import DEMOS


def finished(solving: Solving) -> dict[str, Any]:
    """Run a solve to its end."""
    return [event for event in solving.events() if event["event"] == "finished"][-1]


def test_events_come_in_order_and_the_result_is_trusted(channel: dict[str, Any], tmp_path: Path) -> None:
    solving = Solving(settle(parse_case(channel)), None, tmp_path)
    events = list(solving.events())
    kinds = [event["event"] for event in events]
    assert kinds[0] == "started" and kinds[-2:] == ["saved", "finished"] and "progress" in kinds
    last = events[-1]
    assert last["converged"] and {item["id"] for item in last["trust"]} >= {
        "mass",
        "mass_cells",
        "momentum",
        "readings",
        "gap",
    }
    assert last["readings"]["flow"]["value"] == pytest.approx(1e-4, rel=1e-9)
    # 12 mu U L / H2 between plates (White, Viscous Fluid Flow, 3-3)
    assert last["readings"]["drop"]["value"] == pytest.approx(12 * 1e-3 * 0.01 * 0.04 / 0.01**2, rel=0.05)


def test_a_run_can_be_reopened_without_solving(channel: dict[str, Any], tmp_path: Path) -> None:
    solving = Solving(settle(parse_case(channel), "B"), None, tmp_path)
    last = finished(solving)
    folder = Path(last["run"])
    assert folder.parent.name == "B"
    record, answer = load_run(folder), open_answer(folder)
    assert record.readings["drop"]["value"] == pytest.approx(last["readings"]["drop"]["value"])
    assert record.traces["iteration"][-1] > 0
    assert solving.run is not None
    assert answer.pressure == pytest.approx(solving.run.flow.p * 1000)
    distance, speed = profile(answer, "u", np.array([0.02, -0.007]), np.array([0.02, 0.007]))
    assert distance[-1] == pytest.approx(0.014)
    assert np.nanmax(speed) == pytest.approx(0.015, rel=0.03)


def test_only_the_newest_runs_are_kept(channel: dict[str, Any], tmp_path: Path) -> None:
    case = apply(parse_case(channel), {"field.solver.keep": "2", "field.grid.level": "sketch"})
    runs = [finished(Solving(settle(case), None, tmp_path))["run"] for _ in range(4)]
    assert sorted(p.name for p in (tmp_path / "base").iterdir()) == [Path(run).name for run in runs[-2:]]


def test_a_carried_start_saves_iterations_and_gives_the_same(channel: dict[str, Any]) -> None:
    case = apply(
        parse_case(channel), {"field.openings.in.profile": "uniform", "field.openings.in.velocity": "30 mm/s"}
    )
    first = Solving(settle(case), None, None)
    base = finished(first)
    again = finished(Solving(settle(case), first.result, None))
    assert again["iterations"] <= 60 and again["readings"]["drop"]["value"] == pytest.approx(
        base["readings"]["drop"]["value"], rel=1e-4
    )
    finer = settle(apply(case, {"field.grid.cell": "1 mm"}))
    fresh, carried = finished(Solving(finer, None, None)), finished(Solving(finer, first.result, None))
    assert carried["readings"]["drop"]["value"] == pytest.approx(fresh["readings"]["drop"]["value"], rel=1e-3)


def test_stop_is_honoured_and_said(channel: dict[str, Any], tmp_path: Path) -> None:
    solving = Solving(settle(apply(parse_case(channel), {"field.grid.cell": "0.3 mm"})), None, tmp_path)
    for event in solving.events():
        solving.stop = solving.stop or event["event"] == "progress"
        last = event
    assert last["event"] == "finished" and last["stopped"] and not last["converged"]
    assert Path(last["run"], "field.vtkhdf").exists()


def test_too_few_iterations_are_not_called_finished(channel: dict[str, Any]) -> None:
    last = finished(Solving(settle(apply(parse_case(channel), {"field.solver.most": "6"})), None, None))
    assert not last["converged"]
    assert {item["id"] for item in last["trust"] if item["verdict"] == "fails"} >= {"momentum", "readings"}


def test_a_flow_far_from_settled_is_not_looked_at_from_another_grid(channel: dict[str, Any]) -> None:
    """The look would take longer than the solve, and tell of a flow that is none yet."""
    for most, looked in (("3", False), ("400", True)):
        case = apply(parse_case(channel), {"field.solver.most": most})
        events = list(Solving(settle(case), None, None).events())
        assert looked == any("looking" in event.get("text", "") for event in events)
        told = next(item["text"] for item in events[-1]["trust"] if item["id"] == "grid_guess")
        assert looked != ("far from settled" in told)


@pytest.mark.parametrize(
    "edits",
    [
        {"shape.parts.run.length": "1.5748031496062993 in", "parameters.gap.value": "0.39370078740157477 in"},
        {"shape.turn": "30 deg", "field.grid.cell": "0.6 mm"},
    ],
)
def test_units_and_rotation_do_not_matter(channel: dict[str, Any], edits: dict[str, Any]) -> None:
    plain = finished(Solving(settle(parse_case(channel)), None, None))["readings"]["drop"]["value"]
    other = finished(Solving(settle(apply(parse_case(channel), edits)), None, None))["readings"]["drop"][
        "value"
    ]
    assert other == pytest.approx(plain, rel=1e-6 if "shape.turn" not in edits else 0.04)


def test_the_taper_evens_out_the_header() -> None:
    """The main job: a variant of the demo header splits the flow more evenly."""
    case = load(DEMOS / "header.lantern")
    spread = {}
    for variant in ("", "D"):
        last = finished(Solving(settle(apply(case, {"field.grid.level": "sketch"}), variant), None, None))
        spread[variant] = last["readings"]["spread"]["value"]
        assert last["converged"], last["trust"]
        flows = [last["readings"][f"flow{k}"]["value"] for k in range(1, 6)]
        assert sum(flows) == pytest.approx(1e-5, rel=1e-6)
    assert spread["D"] < 0.7 * spread[""]


def test_a_reading_outside_the_space_is_null_and_told(channel: dict[str, Any], tmp_path: Path) -> None:
    case = apply(
        parse_case(channel), {"readings.far": {"kind": "point", "at": ["9 m", "0 m"], "quantity": "speed"}}
    )
    last = finished(Solving(settle(case), None, tmp_path))
    assert last["readings"]["far"]["value"] is None and last["converged"]
    assert {item["id"]: item["verdict"] for item in last["trust"]}["reading.far"] == "caution"
    assert "NaN" not in (Path(last["run"]) / "run.json").read_text()


def test_divergence_ends_in_words(channel: dict[str, Any]) -> None:
    settled = settle(parse_case(channel))
    from mop_lantern.solve import prepare

    run = FlowRun(settled, prepare(settled), None)
    run.flow.U[3] = np.nan
    with pytest.raises(RunError, match="diverged.*near x"):
        for _ in range(3):
            run.flow.U[3] = np.nan
            run.advance(1.0, 3)


def test_steadiness_is_judged_over_enough_iterations() -> None:
    from mop_lantern.field.flow import Step

    traces = Traces()
    for k in range(0, 200, 5):
        traces.add(Step(k, 1e-7, 1e-9, 1), {"a": 1.0 + 0.01 * (k < 140), "b": 1e-3 * (-1) ** (k // 5)})
        if k == 40:
            assert traces.changes({"a": "pressure"}) == {"a": np.inf}
    # measured against a hundredth of the largest of its dimension, not itself
    changes = traces.changes({"a": "pressure", "b": "pressure"})
    assert changes == {"a": pytest.approx(0.0), "b": pytest.approx(0.2)}


def test_a_temperature_is_steady_by_what_differs_in_the_space_and_not_by_kelvins() -> None:
    """Half a kelvin in a room whose air differs by five is a tenth, not a fiftieth of a per cent."""
    from mop_lantern.field.flow import Step

    traces = Traces()
    for k in range(0, 200, 5):
        traces.add(Step(k, 1e-7, 1e-9, 1), {"t": 295.0 + 0.25 * (-1) ** (k // 5)})
    changes = traces.changes({"t": "temperature"}, None, {"temperature": 5.0})
    assert changes == {"t": pytest.approx(0.1)}


@pytest.mark.parametrize(
    ("still", "coarse"), [("0 m/s", True), ("0 mm/s", True), ("= 0 m/s", True), ("1 mm/s", False)]
)
def test_rest_is_rest_in_any_unit(channel: dict[str, Any], still: str, coarse: bool) -> None:
    """A start at rest begins on a coarser grid; "0 mm/s" once counted as a start that moves."""
    case = apply(
        parse_case(channel), {"field.start.u": still, "field.grid.cell": "0.4 mm", "field.solver.coarse": "1"}
    )
    seen = []
    for event in Solving(settle(case), None, None).events():
        seen.append(event.get("text", ""))
        if event["event"] == "progress":
            break
    assert any("coarser" in text for text in seen) is coarse


def test_a_flow_that_diverges_from_coarser_grids_begins_again_from_rest(
    channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    channel["field"]["grid"]["cell"] = "0.4 mm"
    channel["field"]["solver"] = {"coarse": "1"}
    settled = settle(parse_case(channel))
    fine = prepare(settled).n_cells
    advance = FlowRun.advance

    def diverging(self: FlowRun, *given: Any) -> None:
        if self.mesh.n_cells == fine and self.flow.relaxation > 0.7:
            raise RunError("the flow diverged;")
        advance(self, *given)

    monkeypatch.setattr(FlowRun, "advance", diverging)
    told = [*Solving(settled, None, None).events()]
    assert told[-1]["converged"]
    assert any("again from rest" in event.get("text", "") for event in told if event["event"] == "note")


def test_backing_off_returns_to_a_state_well_before_the_trouble(
    channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    settled = settle(parse_case(channel))
    run = FlowRun(settled, prepare(settled), None)
    run.advance(60.0, 20)
    early = run.flow.U.copy()
    run.advance(60.0, 25)
    monkeypatch.setattr(FlowRun, "sound", lambda self: False)
    monkeypatch.setattr(FlowRun, "take_readings", lambda self, answer=None: None)
    run.advance(60.0, 1)
    assert run.backed_off
    assert pytest.approx(early, rel=1e-5, abs=1e-9) == run.flow.U
