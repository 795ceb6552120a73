"""The real window, off screen: read, edit, undo, solve in the worker, compare variants, survive trouble."""

from __future__ import annotations

import os
import signal
import time
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QEnterEvent, QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QMessageBox, QPushButton

from mop_lantern.case import load, parse_case, save, value_at
from mop_lantern.desk.window import Desk

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def wait(until: Callable[[], Any], seconds: float = 90.0) -> None:
    """Process events until something holds."""
    end = time.monotonic() + seconds
    while not until():
        assert time.monotonic() < end, "the window did not come to rest"
        QApplication.processEvents()
        time.sleep(0.005)


@pytest.fixture
def file(channel: dict[str, Any], tmp_path: Path) -> Path:
    """Save the channel case."""
    path = tmp_path / "channel.lantern"
    save(parse_case(channel), path)
    return path


@pytest.fixture
def desk(app: QApplication, file: Path) -> Iterator[Desk]:
    """Open the window on the channel case and wait for its review."""
    window = Desk()
    window.show()
    window.open(file)
    reviewed(window)
    yield window
    window.document._saved = window.document.case
    window.close()
    window.deleteLater()
    QApplication.processEvents()


def reviewed(window: Desk) -> None:
    """Wait until the review is that of the present case."""
    wait(lambda: window.document.review is not None and window.document.review.case == window.document.shown)


def solve(window: Desk) -> None:
    """Press Solve and wait for the answer."""
    variant = window.document.variant
    QTest.mouseClick(window.bar.solve, Qt.MouseButton.LeftButton)
    wait(lambda: window.engine.state == "solving")
    wait(lambda: window.engine.state == "idle")
    wait(
        lambda: variant in window.archive.records and not window.archive.stale(window.document.case, variant)
    )


def type_into(window: Desk, path: str, text: str) -> None:
    """Type a value into its place on the sheet."""
    editor = window.findChild(QLineEdit, path)
    assert editor is not None, path
    editor.setFocus()
    editor.selectAll()
    QTest.keyClicks(editor, text)
    QTest.keyClick(editor, Qt.Key.Key_Return)


def test_the_case_reads_as_sentences_with_notes(desk: Desk) -> None:
    row = desk.sheet.rows["field.openings.in"]
    assert row.accessibleName().startswith("in: through run.start fluid flows in at 10 mm/s")
    assert row.level == "ready" and any("Reynolds number" in text for _, text in row.notes)
    assert "2 edges are still, smooth walls" in desk.sheet.rows["field.walls"].line.text()
    assert any("cells" in text for _, text in desk.sheet.rows["field.grid"].notes)
    assert desk.status.text().startswith("Ready to solve")


def test_typing_changes_the_case_and_undo_takes_it_back(desk: Desk) -> None:
    type_into(desk, "shape.parts.run.length", "2 in")
    assert value_at(desk.document.case, "shape.parts.run.length") == "2 in"
    reviewed(desk)
    assert desk.document.review.shape.polygon.bounds[2] == pytest.approx(0.0508)
    QTest.mouseClick(desk.bar.undo, Qt.MouseButton.LeftButton)
    assert value_at(desk.document.case, "shape.parts.run.length") == "40 mm"
    assert desk.findChild(QLineEdit, "shape.parts.run.length").text() == "40 mm"
    QTest.mouseClick(desk.bar.redo, Qt.MouseButton.LeftButton)
    assert value_at(desk.document.case, "shape.parts.run.length") == "2 in"


def test_a_wrong_value_blocks_its_line_and_is_kept(desk: Desk) -> None:
    type_into(desk, "field.openings.in.velocity", "3 kg")
    reviewed(desk)
    row = desk.sheet.rows["field.openings.in"]
    assert row.level == "blocked" and any("not a unit of velocity" in text for _, text in row.notes)
    assert desk.findChild(QLineEdit, "field.openings.in.velocity").property("wrong") == "true"
    QTest.mouseClick(desk.bar.solve, Qt.MouseButton.LeftButton)
    assert desk.engine.state != "solving" and "cannot be solved yet" in desk.status.text()
    assert value_at(desk.document.case, "field.openings.in.velocity") == "3 kg"
    assert desk.sheet.next_attention() == "field.openings.in"
    type_into(desk, "field.openings.in.velocity", "12 mm/s")
    reviewed(desk)
    assert row.level == "ready"


def test_escape_restores_a_value(desk: Desk) -> None:
    editor = desk.findChild(QLineEdit, "shape.depth")
    editor.selectAll()
    QTest.keyClicks(editor, "7 furlong")
    QTest.keyClick(editor, Qt.Key.Key_Escape)
    assert editor.text() == "1 m" and value_at(desk.document.case, "shape.depth") == "1 m"


def test_choices_change_with_the_keyboard(desk: Desk) -> None:
    choice = desk.findChild(QPushButton, "field.openings.in.profile")
    QTest.keyClick(choice, Qt.Key.Key_Up)
    assert value_at(desk.document.case, "field.openings.in.profile") == "uniform"
    reviewed(desk)


def test_a_remedy_button_mends_the_line(desk: Desk) -> None:
    desk.document.edit({"field.openings.in.profile": "uniform", "field.openings.in.velocity": "50 mm/s"})
    reviewed(desk)
    row = desk.sheet.rows["field.openings.in"]
    assert row.level == "caution"
    QTest.mouseClick(row._remedies[0], Qt.MouseButton.LeftButton)
    assert value_at(desk.document.case, "field.openings.in.profile") == "developed"
    reviewed(desk)
    assert row.level == "ready" and not row._remedies


def test_parts_are_added_and_removed_on_the_sheet(desk: Desk) -> None:
    path = desk.sheet.add("shape.parts", "disc")
    type_into(desk, f"{path}.diameter", "3 mm")
    type_into(desk, f"{path}.centre", "(20 mm, 0 mm)")
    reviewed(desk)
    assert f"{path.split('.')[-1]}.surface" in desk.document.review.shape.edge_lengths
    QTest.mouseClick(desk.sheet.rows[path]._cross, Qt.MouseButton.LeftButton)
    assert path.split(".")[-1] not in desk.document.case.shape.parts


def test_solve_compare_and_reopen(desk: Desk, file: Path) -> None:
    solve(desk)
    assert "trusted" in desk.status.text()
    assert desk.stage.view.picture.answer is not None
    assert desk.traces.columns["momentum"]
    QTest.mouseClick(desk.bar.chips["B"], Qt.MouseButton.LeftButton)
    reviewed(desk)
    assert desk.sheet._base_values(desk.sheet.rows["parameters.gap"], desk.sheet._before()) == {
        "parameters.gap.value": "10 mm"
    }
    solve(desk)
    page = desk.ledger.page
    assert page.columns == ["", "B"] and not page.stale
    assert float(page.value_words("drop", "B")) < float(page.value_words("drop", ""))
    assert page.difference_words("drop", "B").startswith("−")
    assert [item["verdict"] for item in page.trust] == ["holds"] * len(page.trust)
    type_into(desk, "field.openings.in.velocity", "11 mm/s")  # an edit of the variant only
    assert desk.document.case.variants["B"].edits["field.openings.in.velocity"] == "11 mm/s"
    assert value_at(desk.document.case, "field.openings.in.velocity") == "10 mm/s"
    assert page.stale == {"B"}
    reviewed(desk)

    again = Desk()
    again.open(file)
    reviewed(again)
    assert set(again.archive.records) == {"", "B"}
    assert again.ledger.page.value_words("drop", "") == page.value_words("drop", "")
    assert again.stage.view.picture.answer is not None
    again.close()
    again.deleteLater()


def test_a_line_on_the_stage_gives_a_profile_and_a_click_pins_a_probe(desk: Desk) -> None:
    solve(desk)
    view = desk.stage.view
    view.fit()
    view.repaint()
    size = (view.width(), view.height())
    start, end = (
        QPoint(*(round(v) for v in view.picture.to_pixel(np.array(p), size)))
        for p in ([0.02, -0.006], [0.02, 0.006])
    )
    desk.stage.line_button.setChecked(True)
    QTest.mousePress(view, Qt.MouseButton.LeftButton, pos=start)
    for step in (QPoint((start.x() + end.x()) // 2, (start.y() + end.y()) // 2), end):
        at = QPointF(step)
        event = QMouseEvent(
            QEvent.Type.MouseMove,
            at,
            view.mapToGlobal(at),
            Qt.MouseButton.NoButton,
            Qt.MouseButton.LeftButton,
            Qt.KeyboardModifier.NoModifier,
        )
        QApplication.sendEvent(view, event)
    QTest.mouseRelease(view, Qt.MouseButton.LeftButton, pos=end)
    name, distance, values = desk.traces.profiles[0]
    assert name == "Base" and np.nanmax(values) == pytest.approx(0.015, rel=0.05)
    assert not desk.stage.line_button.isChecked()
    middle = QPoint(*(round(v) for v in view.picture.to_pixel(np.array([0.02, 0.0]), size)))
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=middle)
    assert len(view.pins) == 1
    told = float(view.value_words(view.pins[0]).split()[1])
    assert told == pytest.approx(0.015, rel=0.05)
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert not view.pins


def test_layers_quantities_and_themes_draw(desk: Desk) -> None:
    solve(desk)
    before = desk.stage.view.grab().toImage()
    for button in desk.stage.layer_buttons.values():
        button.setChecked(True)
    desk.stage.set_quantity("u")
    assert desk.stage.view.grab().toImage() != before
    desk.set_night(True)
    dark = desk.stage.view.grab().toImage().pixelColor(3, 3).lightness()
    desk.set_night(False)
    assert dark < 60 < desk.stage.view.grab().toImage().pixelColor(3, 3).lightness()


def test_the_window_outlives_its_worker(desk: Desk) -> None:
    desk.document.edit({"field.grid.cell": "0.2 mm"})
    reviewed(desk)
    pids: list[int] = []
    desk.engine.told.connect(lambda event: pids.append(event["pid"]) if event["event"] == "ready" else None)
    wait(lambda: desk.engine._process is not None)
    QTest.mouseClick(desk.bar.solve, Qt.MouseButton.LeftButton)
    wait(lambda: desk.engine.state == "solving" and desk.traces.columns)
    os.kill(desk.engine._process.processId(), signal.SIGKILL)
    wait(lambda: desk.engine.state == "dead")
    assert "ended unexpectedly" in desk.status.text()
    assert value_at(desk.document.case, "field.grid.cell") == "0.2 mm"
    desk.document.edit({"field.grid.cell": "2 mm"})
    reviewed(desk)
    solve(desk)  # a new worker is started
    assert "trusted" in desk.status.text()


def test_pause_and_stop_from_the_window(desk: Desk) -> None:
    desk.document.edit({"field.grid.cell": "0.2 mm"})
    reviewed(desk)
    QTest.mouseClick(desk.bar.solve, Qt.MouseButton.LeftButton)
    wait(lambda: desk.traces.columns)
    QTest.mouseClick(desk.bar.pause, Qt.MouseButton.LeftButton)
    wait(lambda: desk.engine.state == "paused")
    assert desk.bar.pause.text() == "Go on"
    QTest.mouseClick(desk.bar.stop, Qt.MouseButton.LeftButton)
    wait(lambda: desk.engine.state == "idle")
    wait(lambda: "stopped" in desk.status.text())


def test_units_are_chosen_in_the_ledger_and_tags_light_up(desk: Desk) -> None:
    solve(desk)
    before = desk.ledger.page.value_words("drop", "")
    desk.document.choose("B")
    QTest.mouseClick(desk.ledger.page, Qt.MouseButton.LeftButton, pos=QPoint(60, 70))
    menu = desk.ledger.page.findChild(QMenu)
    next(action for action in menu.actions() if action.text() == "kPa").trigger()
    menu.close()
    assert desk.document.case.units["pressure"] == "kPa" and not desk.document.case.variants["B"].edits.get(
        "units.pressure"
    )
    assert float(desk.ledger.page.value_words("drop", "").replace("e−", "e-")) == pytest.approx(
        float(before) / 1000, rel=1e-3
    )
    reviewed(desk)
    plain = desk.stage.view.grab().toImage()
    tag = desk.findChild(QLineEdit, "field.openings.in.edge")
    assert tag is not None
    QApplication.sendEvent(tag, QEnterEvent(QPointF(2, 2), QPointF(2, 2), QPointF(2, 2)))
    assert desk.stage.view.lit == "run.start" and desk.stage.view.grab().toImage() != plain
    QApplication.sendEvent(tag, QEvent(QEvent.Type.Leave))
    assert desk.stage.view.lit == ""


def test_an_empty_case_grows_into_a_solved_one(app: QApplication) -> None:
    window = Desk()
    window.show()
    window.files.new()
    reviewed(window)
    assert window.document.review.blocked and "fixing" in window.status.text()
    part = window.sheet.add("shape.parts", "straight")
    reviewed(window)
    type_into(window, f"{part}.length", "30 mm")
    reviewed(window)
    for kind in ("velocity", "static_pressure"):
        window.sheet.add("field.openings", kind)
        reviewed(window)
    window.sheet.add("readings", "drop")
    reviewed(window)
    type_into(window, "field.openings.opening1.velocity", "5 mm/s")
    type_into(window, "field.grid.cell", "1.5 mm")
    reviewed(window)
    assert not window.document.review.blocked, window.document.review.faults
    solve(window)
    assert window.archive.records[""].converged and window.ledger.page.titles
    window.document._saved = window.document.case
    window.close()
    window.deleteLater()


def test_a_fault_of_ours_is_told_in_words(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    from mop_lantern.desk.app import keep_going

    monkeypatch.setenv("XDG_STATE_HOME", str(tmp_path))
    told: list[str] = []
    try:
        raise KeyError("inside")
    except KeyError as problem:
        keep_going(told.append, type(problem), problem, problem.__traceback__)
    assert "the case is safe" in told[0] and "Traceback" not in told[0]
    assert "KeyError" in (tmp_path / "mop-lantern" / "faults.log").read_text()


def test_starters_and_bad_files(app: QApplication, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *words: told.append(words[2]))
    window = Desk()
    window.show()
    assert window.pages.currentWidget() is window.starters and not window.bar.solve.isEnabled()
    bad = tmp_path / "bad.lantern"
    bad.write_text('{"shape": {"parts": {"a": {"kind": "tube"}}}, "x": 1}')
    assert not window.open(bad)
    assert "shape.parts.a" in told[0] and "x:" in told[0]
    QTest.mouseClick(window.starters.cards["header"], Qt.MouseButton.LeftButton)
    reviewed(window)
    assert window.pages.currentWidget() is window.across
    assert window.document.case.title == "Feed-dosing header"
    assert window.document.case == load(window.document.path)
    window.close()
    window.deleteLater()
