"""A space and a network in one case: both reviewed, solved and stored; a fault of either is told."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import SettledBoth, parse_case, review, settle, settle_any
from mop_lantern.results import load_run, open_answer, open_working
from mop_lantern.solve import JointSolving

NETWORK: dict[str, Any] = {
    "nodes": {
        "well": {"kind": "reservoir", "level": "12 m"},
        "tank": {"kind": "reservoir", "level": "2 m"},
    },
    "lines": {
        "main": {
            "start": "well",
            "end": "tank",
            "parts": {"pipe": {"kind": "pipe", "length": "100 m", "bore": "50 mm"}},
        }
    },
}


@pytest.fixture
def case(channel: dict[str, Any]) -> dict[str, Any]:
    """Give the channel with a network beside it."""
    channel["network"] = NETWORK
    channel["readings"]["main"] = {"kind": "line_value", "line": "main", "figure": "volume_flow"}
    return channel


def test_both_are_reviewed_and_settled(case: dict[str, Any]) -> None:
    found = review(parse_case(case))
    assert not found.faults and found.shape is not None and found.working is not None
    assert found.facts is not None, "the space has its margin notes"
    settled = settle_any(parse_case(case))
    assert isinstance(settled, SettledBoth)
    assert settle(parse_case(case)).shape is settled.field.shape or settled.field.shape.size > 0


def test_a_fault_of_either_stops_both(case: dict[str, Any]) -> None:
    case["network"] = {**NETWORK, "lines": {"main": {**NETWORK["lines"]["main"], "end": "nowhere"}}}
    wrong = {fault.path for fault in review(parse_case(case)).faults}
    assert any(path.startswith("network.lines.main") for path in wrong)
    case["network"] = NETWORK
    case["field"]["openings"]["in"]["edge"] = "run.nowhere"
    wrong = {fault.path for fault in review(parse_case(case)).faults}
    assert wrong == {"field.openings.in.edge"}


def test_both_are_solved_and_stored_as_one_run(case: dict[str, Any], tmp_path: Path) -> None:
    settled = settle_any(parse_case(case))
    assert isinstance(settled, SettledBoth)
    solving = JointSolving(settled, None, tmp_path)
    told = list(solving.events())
    kinds = [event["event"] for event in told]
    assert (
        kinds.count("started") == 1 and kinds.count("finished") == 1 and kinds[-2:] == ["saved", "finished"]
    )
    last: Any = told[-1]
    assert last["readings"]["main"]["value"] > 0 and last["converged"]
    assert set(case["readings"]) == set(last["readings"])
    names = [item["id"] for item in last["trust"]]
    assert "energy" in names and "momentum" in names and len(names) == len(set(names))
    record = load_run(Path(last["run"]))
    assert record.readings == last["readings"] and record.cells == last["cells"]
    assert open_answer(Path(last["run"])).mesh.n_cells == record.cells
    assert open_working(Path(last["run"])).lines["main"]["volume_flow"] == pytest.approx(
        last["readings"]["main"]["value"]
    )


def test_stopping_stops_both_and_keeps_what_there_is(case: dict[str, Any], tmp_path: Path) -> None:
    settled = settle_any(parse_case(case))
    assert isinstance(settled, SettledBoth)
    solving = JointSolving(settled, None, tmp_path)
    last: Any = None
    for event in solving.events():
        last = event
        if event["event"] == "progress":
            solving.stop = True
    assert solving.space.stop and solving.network.stop and last["event"] == "finished" and last["stopped"]


def test_a_run_in_time_keeps_its_states_in_the_same_folder(case: dict[str, Any], tmp_path: Path) -> None:
    case["field"]["time"] = {"mode": "transient", "until": "0.2 s", "step": "0.1 s", "every": "0.1 s"}
    settled = settle_any(parse_case(case))
    assert isinstance(settled, SettledBoth)
    last: Any = list(JointSolving(settled, None, tmp_path).events())[-1]
    folder = Path(last["run"])
    assert (folder / "states").is_dir() and (folder / "network.json").exists()
    assert last["time"] == pytest.approx(0.2)
