"""Building a network with the hands: runs drawn, components put in, gauges, the table; curves under the
schematic.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import Future
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QGuiApplication, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog

from mop_lantern.desk.network.gauges import gauges
from mop_lantern.desk.window import Desk
from tests.desk.test_depth import solve
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def click(desk: Desk, place: QPointF) -> None:  # noqa: F811
    """Click a place of the schematic."""
    QTest.mouseClick(desk.network_stage.view, Qt.MouseButton.LeftButton, pos=place.toPoint())


def test_a_run_is_drawn_from_node_to_node(desk: Desk) -> None:  # noqa: F811
    view, case = desk.network_stage.view, desk.document.case
    assert case is not None
    menu = desk.building.menu_of("network.nodes.h6")
    assert menu is not None
    next(action for action in menu.actions() if action.text() == "Draw a line from here").trigger()
    assert view.from_node == "h6"
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert view.from_node == ""
    view.draw_line_from("h6")
    click(desk, view.pixel(view.diagram.nodes["sump"]))
    case = desk.document.case
    assert case is not None and (case.network.lines["line1"].start, case.network.lines["line1"].end) == (
        "h6",
        "sump",
    )
    wait(lambda: view.working is not None and "line1" in view.working.lines)
    view.draw_line_from("h6")
    click(desk, QPointF(view.width() - 30.0, 40.0))
    case = desk.document.case
    assert (
        case is not None
        and case.network.lines["line2"].end == "node1"
        and case.network.nodes["node1"].kind == "junction"
    )
    assert case.views["places"]["node1"], "the new node stands where it was clicked"
    desk.document.undo()
    assert desk.document.case is not None and "node1" not in desk.document.case.network.nodes


def test_components_go_where_they_are_wanted(desk: Desk) -> None:  # noqa: F811
    before = list(desk.document.case.network.lines["feed1"].parts)  # type: ignore[union-attr]
    path = desk.building.insert(f"network.lines.feed1.parts.{before[0]}", "thermostat")
    after = list(desk.document.case.network.lines["feed1"].parts)  # type: ignore[union-attr]
    assert after == [before[0], path.rsplit(".", 1)[1], *before[1:]]
    assert desk.building.insert("network.lines.feed1", "bend").endswith(
        list(desk.document.case.network.lines["feed1"].parts)[-1]
    )  # type: ignore[union-attr]


def test_gauges_are_pinned_moved_and_taken_away(desk: Desk) -> None:  # noqa: F811
    view = desk.network_stage.view
    key = desk.building.pin("network.lines.feed1.parts.valve", "loss")
    wait(lambda: desk.document.review is not None and key in view.pinned)
    gauge = gauges(view)[0]
    assert "loss" in gauge.title and gauge.value != "–"
    assert desk.building.pin("network.lines.feed1.parts.valve", "loss") == key, "one gauge, one reading"
    start, end = gauge.box.center(), gauge.box.center() + QPointF(60, 30)
    for kind, where in (
        (QEvent.Type.MouseButtonPress, start),
        (QEvent.Type.MouseMove, end),
        (QEvent.Type.MouseButtonRelease, end),
    ):
        QApplication.sendEvent(
            view,
            QMouseEvent(
                kind,
                where,
                view.mapToGlobal(where),
                Qt.MouseButton.LeftButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
    moved = gauges(view)[0].box.center() - start
    assert moved.x() == pytest.approx(60, abs=1) and moved.y() == pytest.approx(30, abs=1)
    assert desk.document.case is not None and key in desk.document.case.views["gauges"]
    view.asked.emit(f"gauge.{key}", QPoint(10, 10))
    desk.building.unpin(key)
    assert not gauges(view) and key in desk.document.case.readings, "the reading stays"


def test_a_review_that_ends_at_once_is_told_after_the_edit(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """A quick review was told in the middle of an edit, and its fault overwritten by the words that end the
    edit.
    """

    def at_once(work: Callable[..., Any], *given: Any) -> Future[Any]:
        done: Future[Any] = Future()
        done.set_result(work(*given))
        return done

    monkeypatch.setattr(desk.document._pool, "submit", at_once)
    told: list[Any] = []
    desk.document.reviewed.connect(told.append)
    assert desk.document.edit({"network.lines.feed1.parts.valve.opening": "open"}, "a fault")
    assert not told
    wait(lambda: told)
    assert any(fault.path.startswith("network.lines.feed1") for fault in told[-1].faults)


def test_the_table_edits_pastes_and_tells(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    desk.actions_["Components as a table …"].trigger()
    editor = desk.building.table
    assert editor is not None and editor.isVisible()
    editor.only.setCurrentText("valve")
    rows = [row for row in range(editor.table.rowCount()) if not editor.table.isRowHidden(row)]
    column = editor.columns.index("opening")
    assert (
        len(rows) == 6
        and editor.table.isColumnHidden(editor.columns.index("material"))
        and not editor.table.isColumnHidden(column)
    )
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    clipboard.setText("40 %\n50 %\n60 %")
    editor.table.setCurrentCell(rows[0], column)
    editor.paste()
    assert [editor.cell(row, column) for row in rows[:4]] == ["40 %", "50 %", "60 %", "100 %"], (
        "hidden rows are stepped over"
    )
    assert editor.apply()
    valves = [desk.document.case.network.lines[f"feed{k}"].parts["valve"].opening for k in (1, 2, 3, 4)]  # type: ignore[union-attr]
    assert valves == ["40 %", "50 %", "60 %", "100 %"]
    desk.document.undo()
    assert desk.document.case.network.lines["feed1"].parts["valve"].opening == "100 %", "one step of undo"  # type: ignore[union-attr]
    editor.table.selectRow(rows[0])
    editor.copy()
    assert "feed1" in clipboard.text() and "100 %" in clipboard.text()
    item = editor.table.item(rows[0], column)
    assert item is not None
    item.setText("open")
    editor.apply()
    wait(lambda: "feed1" in editor.told.text() and "opening" in editor.told.text())
    assert "open" in editor.told.text(), "what is no value is told with its place"
    item = editor.table.item(rows[0], column)
    assert item is not None
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *rest: (str(tmp_path / "c.csv"), ""))
    item.setText("55 %")
    editor.ask_write()
    editor.fill()
    editor.read(tmp_path / "c.csv")
    assert editor.apply() and desk.document.case.network.lines["feed1"].parts["valve"].opening == "55 %"  # type: ignore[union-attr]
    editor.close()


def test_the_way_and_the_duty_point_are_drawn(desk: Desk) -> None:  # noqa: F811
    traces, view = desk.traces, desk.network_stage.view
    assert traces.isVisible() and traces.page == "Path" and traces.buttons["Residuals"].isHidden()
    wait(lambda: bool(traces.plot.getPlotItem().listDataItems()))
    x, y = traces.plot.getPlotItem().listDataItems()[0].getData()
    assert y.max() > 5 and np.all(np.diff(x) >= 0)
    view.chosen.emit("network.lines.feed2.parts.valve")
    wait(lambda: "feed2" in traces.plot.getPlotItem().getAxis("bottom").labelText)
    traces.show_page("Duty")
    wait(
        lambda: any(
            curve.name() == "asked of duty.pump" for curve in traces.plot.getPlotItem().listDataItems()
        )
    )
    desk.actions_["Copy curves"].trigger()
    clipboard = QGuiApplication.clipboard()
    assert (
        clipboard is not None
        and "duty.pump" in clipboard.text()
        and "head" in traces.plot.getPlotItem().getAxis("left").labelText
    )


@pytest.mark.parametrize("desk", ["gate-drive"], indirect=True)
def test_the_heat_ledger_is_drawn(desk: Desk) -> None:  # noqa: F811
    desk.document.edit({"network.time.until": "5 min"})
    solve(desk)
    desk.traces.show_page("Heat")
    ticks = desk.traces.plot.getPlotItem().getAxis("left")._tickLevels
    assert ticks and {words for _, words in ticks[0]} >= {
        "by friction and machines",
        "stored in tanks, rooms, pipes",
    }
    desk.traces.show_page("Readings")
    assert desk.traces.plot.getPlotItem().getAxis("left")._tickLevels is None


def test_sizes_become_a_variant(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    monkeypatch.setattr(QInputDialog, "getText", lambda *rest, **more: ("duty, treatment = 1.5 m/s", True))
    desk.actions_["Size …"].trigger()
    variant = desk.document.variant
    assert variant == "C" and any(
        path.startswith("network.lines.treatment.parts") for path in desk.document.case.variants["C"].edits
    )  # type: ignore[union-attr]
