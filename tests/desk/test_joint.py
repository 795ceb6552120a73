"""A case with a space and a network in the real window: one is shown, the other a click away."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from mop_lantern.desk.window import Desk
from tests.desk.test_depth import desk, solve  # noqa: F401
from tests.desk.test_window import wait
from tests.solve.test_joint import NETWORK

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def test_a_network_beside_a_space_is_shown_and_solved(desk: Desk) -> None:  # noqa: F811
    switch = desk.networking.switch
    assert not switch.isVisibleTo(desk), "there is nothing to choose yet"
    desk.document.edit({"network.nodes.well": NETWORK["nodes"]["well"]})
    desk.document.edit({"network.nodes.tank": NETWORK["nodes"]["tank"]})
    desk.document.edit({"network.lines.main": NETWORK["lines"]["main"]})
    wait(lambda: desk.document.review is not None and desk.document.review.working is not None)
    assert switch.isVisibleTo(desk) and desk.showing.stages.currentWidget() is desk.stage
    solve(desk)
    record = desk.archive.records[""]
    assert Path(record.folder, "network.json").exists() and Path(record.folder, "field.vtkhdf").exists()
    assert desk.stage.view.picture is not None and desk.stage.view.picture.answer is not None
    switch.buttons["Network"].click()
    assert desk.showing.stages.currentWidget() is desk.network_stage
    working = desk.network_stage.view.working
    assert working is not None and working.lines["main"]["volume_flow"] > 0
    switch.buttons["Space"].click()
    assert desk.showing.stages.currentWidget() is desk.stage
    desk.document.edit({"network.lines.main": None})
    wait(lambda: not switch.isVisibleTo(desk))
    assert json.dumps(desk.document.case.as_data())  # type: ignore[union-attr]


def test_a_broken_network_is_told_beside_its_line(desk: Desk) -> None:  # noqa: F811
    desk.document.edit({"network.nodes.well": NETWORK["nodes"]["well"]})
    desk.document.edit({"network.lines.main": {**NETWORK["lines"]["main"], "end": "nowhere"}})
    wait(lambda: desk.document.review is not None and desk.document.review.faults)
    review = desk.document.review
    assert review is not None
    assert any(fault.path.startswith("network.lines.main") for fault in review.faults) and review.blocked
