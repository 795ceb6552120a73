"""Networks in the real window: the schematic, live figures, dragging nodes, working valves by the clock."""

from __future__ import annotations

import shutil
import time
from collections.abc import Iterator
from pathlib import Path

import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.network.labels import labels
from mop_lantern.desk.window import Desk
from tests.desk.test_depth import solve
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")
DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"


@pytest.fixture
def desk(app: QApplication, tmp_path: Path, request: pytest.FixtureRequest) -> Iterator[Desk]:
    """Open the window on a demo of a network."""
    name = getattr(request, "param", "rearing-loop")
    shutil.copy(DEMOS / f"{name}.lantern", tmp_path / "loop.lantern")
    window = Desk()
    window.resize(1280, 800)
    window.show()
    window.open(tmp_path / "loop.lantern")
    wait(lambda: window.document.review is not None)
    yield window
    wait(lambda: window.engine.state in ("idle", "dead"))
    window.document._saved = window.document.case
    window.close()
    window.deleteLater()
    QApplication.processEvents()


def test_the_schematic_shows_what_happens_while_it_is_written(desk: Desk) -> None:
    view = desk.network_stage.view
    assert desk.network_stage.isVisible() and not desk.stage.isVisible()
    assert view.working is not None and view.working.lines["feed1"]["volume_flow"] == pytest.approx(
        3.08e-3, rel=0.01
    )
    assert {words for _, words, _ in labels(view)} >= {"h1", "tank1", "16.4"}
    assert "mass flow" in view.figures("network.lines.feed2") and "loss" in view.figures(
        "network.lines.feed2.parts.valve"
    )
    boxes = [box for box, _, _ in labels(view)]
    assert not any(a.intersects(b) for k, a in enumerate(boxes) for b in boxes[:k]), "labels collide"
    assert desk.document.edit({"network.lines.feed1.parts.valve.opening": "20 %"})
    wait(lambda: view.working is not None and view.working.lines["feed1"]["volume_flow"] < 1.5e-3)
    assert "Shape" not in [item[1] for kind, item in desk.sheet.page.items if kind == "heading"]


def test_solve_fills_the_ledger_and_variants_compare(desk: Desk) -> None:
    solve(desk)
    desk.document.choose("B")
    wait(lambda: desk.document.review is not None and desk.document.review.variant == "B")
    solve(desk)
    page = desk.ledger.page
    assert page.columns == ["", "B"] and page.difference_words("q1", "B").startswith("−")
    assert "21 lines" in desk.cells.text()
    for night in (True, False):
        desk.set_night(night)
        assert not desk.network_stage.view.grab().isNull()


def test_a_click_goes_to_the_line_and_offers_a_slider(desk: Desk) -> None:
    view, stage = desk.network_stage.view, desk.network_stage
    place = next(item.at for item in view.diagram.symbols if item.name == "feed2.valve")
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=view.pixel(place).toPoint())
    assert desk.sheet.focused() == "network.lines.feed2.parts.valve"
    assert stage.knob.isVisible() and stage.slider.value() == 100
    stage.slider.setValue(40)
    assert (
        desk.document.case is not None
        and desk.document.case.network.lines["feed2"].parts["valve"].opening == "40 %"
    )
    desk.document.undo()
    assert desk.document.case.network.lines["feed2"].parts["valve"].opening == "100 %"


def test_a_dragged_node_stays_and_can_be_laid_out_again(desk: Desk) -> None:
    view = desk.network_stage.view
    before = view.diagram.nodes["screened"]
    start, end = view.pixel(before), view.pixel((before[0] + 2.0, before[1] + 5.0))
    for kind, at, held in (
        (QEvent.Type.MouseButtonPress, start, True),
        (QEvent.Type.MouseMove, (start + end) / 2, True),
        (QEvent.Type.MouseMove, end, True),
        (QEvent.Type.MouseButtonRelease, end, False),
    ):
        buttons = Qt.MouseButton.LeftButton if held else Qt.MouseButton.NoButton
        QApplication.sendEvent(
            view,
            QMouseEvent(
                kind,
                QPointF(at),
                view.mapToGlobal(QPointF(at)),
                Qt.MouseButton.LeftButton,
                buttons,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
    assert desk.document.case is not None and desk.document.case.views["places"]["screened"][
        1
    ] == pytest.approx(before[1] + 5.0, abs=0.5)
    assert view.diagram.nodes["screened"][1] == pytest.approx(before[1] + 5.0, abs=0.5)
    desk.network_stage.restore.click()
    assert view.diagram.nodes["screened"] == before


def test_nodes_runs_and_components_are_added_on_the_sheet(desk: Desk) -> None:
    desk.sheet.add("network.nodes", "junction")
    run = desk.sheet.add("network.lines", "")
    part = desk.sheet.add(f"{run}.parts", "bend")
    assert part == f"{run}.parts.bend1" and part in desk.sheet.rows
    wait(lambda: desk.document.review is not None and desk.document.review.case == desk.document.shown)
    assert not any(fault.path.startswith(part) for fault in desk.document.review.faults)
    names = [words for _, words in desk.sheet._offers("node")]
    assert "node1" in names and "sump" in names


@pytest.mark.parametrize("desk", ["gate-drive"], indirect=True)
def test_a_network_is_worked_while_it_runs(desk: Desk) -> None:
    stage = desk.network_stage
    wait(lambda: desk.engine.state == "idle")
    stage.set_pace(600.0)
    ticks: list[float] = []
    desk.engine.told.connect(
        lambda event: ticks.append(time.monotonic()) if event["event"] == "progress" else None
    )
    stage.operate.click()
    wait(lambda: desk.networking.live is not None and desk.networking.live.time > 100)
    before = desk.networking.live.lines["drive"]["volume_flow"]
    desk.document.edit({"network.lines.drive.parts.control.limit": "5 L/min"})
    wait(
        lambda: (
            desk.networking.live is not None
            and desk.networking.live.lines["drive"]["volume_flow"] < 0.5 * before
        )
    )
    assert (
        desk.traces.isVisible()
        and set(desk.traces.readings) >= {"tank", "flow"}
        and len(desk.traces.columns["tank"]) > 5
    )
    pace = len(ticks) / (ticks[-1] - ticks[0])
    assert pace > 4, "about ten pictures a second are wanted; half of that on a busy machine"
    stage.operate.click()
    wait(lambda: desk.engine.state == "idle" and "" in desk.archive.records)
    worked = desk.archive.records[""].case["network"]["operations"]
    assert any(
        item["path"].endswith("control.limit") and item["value"] == "5 L/min" for item in worked.values()
    )
    assert not desk.networking.operating and not stage.operate.isChecked()
    assert len(desk.archive.records[""].traces["tank"]) > 10


def test_runs_from_lines_and_balancing_in_the_window(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    from PyQt6.QtWidgets import QInputDialog, QMessageBox

    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *rest: told.append(str(rest[-1])))
    monkeypatch.setattr(
        QInputDialog,
        "getMultiLineText",
        lambda *rest: (
            "drain: From tank6 through 3 m of DN25 steel, valve V9 at 10 % to reservoir Sea",
            True,
        ),
    )
    desk.actions_["Add lines from words …"].trigger()
    assert (
        desk.document.case is not None
        and "drain" in desk.document.case.network.lines
        and "Sea" in desk.document.case.network.nodes
    )
    desk.document.undo()
    assert "drain" not in desk.document.case.network.lines and "Sea" not in desk.document.case.network.nodes
    monkeypatch.setattr(QInputDialog, "getMultiLineText", lambda *rest: ("nonsense", True))
    desk.building.ask_lines()
    assert told and "line 1" in told[-1]
    monkeypatch.setattr(
        QInputDialog,
        "getText",
        lambda *rest, **more: (", ".join(f"feed{k}" for k in range(1, 7)) + " = 2.2 L/s", True),
    )
    desk.actions_["Balance …"].trigger()
    assert desk.document.variant == "C" and len(desk.document.case.variants["C"].edits) == 6
    wait(
        lambda: (
            desk.document.review is not None
            and desk.document.review.variant == "C"
            and desk.document.review.working is not None
        )
    )
    assert desk.network_stage.view.working.lines["feed6"]["volume_flow"] == pytest.approx(2.2e-3, rel=5e-3)
    assert not desk.building.balance("feed1 = 50 L/s") and "cannot be reached" in told[-1]


def test_an_empty_case_grows_into_a_network(desk: Desk) -> None:
    desk.document._saved = desk.document.case
    desk.files.new()
    assert desk.building.add_lines("From reservoir A through 5 m of DN50 steel to reservoir B")
    wait(lambda: desk.document.review is not None and desk.document.review.case == desk.document.shown)
    assert desk.networking.on and desk.network_stage.isVisible()
    desk.document.edit({"network.nodes.A.level": "2 m"})
    wait(
        lambda: (
            desk.network_stage.view.working is not None
            and desk.network_stage.view.working.lines["line1"]["volume_flow"] > 1e-3
        )
    )


@pytest.mark.parametrize("desk", ["gate-drive"], indirect=True)
def test_operations_move_the_slider(desk: Desk) -> None:
    stage = desk.network_stage
    wait(lambda: desk.engine.state == "idle")
    desk.document.edit(
        {
            "network.operations": {},
            "network.operations.x": {"at": "60 s", "path": "parameters.diverter.value", "value": "40 %"},
        }
    )
    desk.networking._choose("network.lines.cooled.parts.diverter")
    before = stage.slider.value()
    stage.set_pace(600.0)
    stage.operate.click()
    wait(lambda: desk.networking.live is not None and desk.networking.live.time > 120)
    assert before != 40 and stage.slider.value() == 40
    stage.operate.click()
    wait(lambda: desk.engine.state == "idle")


@pytest.mark.parametrize("desk", ["gate-drive"], indirect=True)
def test_a_stop_does_not_kill_the_solve_that_follows(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mop_lantern.desk.engine.GRACE", 300)
    wait(lambda: desk.engine.state == "idle")
    desk.network_stage.operate.click()
    wait(lambda: desk.networking.live is not None)
    desk.network_stage.operate.click()
    wait(lambda: desk.engine.state == "idle")
    desk.document.edit({"network.time.until": "15 min"})
    desk.solve()
    wait(lambda: desk.engine.state == "idle" and "" in desk.archive.records)
    assert desk.archive.records[""].traces["time"][-1] == pytest.approx(900), (
        "it went on to its end, long after the stop before it"
    )
