"""Every menu and list of the window: what it offers, and that each choice does what it says."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QEvent, QPoint, QSettings, Qt
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMenu, QMessageBox, QPushButton

from mop_lantern.case import load
from mop_lantern.desk.sheet.editors import ChoiceButton
from mop_lantern.desk.window import Desk
from tests.desk.test_space_stage import mouse
from tests.desk.test_window import desk, file, reviewed, solve, wait  # noqa: F401

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def popped() -> QMenu:
    """Give the menu that has just opened."""
    QApplication.processEvents()
    menus = [menu for menu in QApplication.topLevelWidgets() if isinstance(menu, QMenu) and menu.isVisible()]
    assert menus, "no menu is open"
    return menus[-1]


def entries(menu: QMenu) -> dict[str, Any]:
    """Give the entries of a menu by their words, those of menus within it too."""
    found: dict[str, Any] = {}
    for action in menu.actions():
        inner = action.menu()
        if inner is not None:
            found |= {f"{action.text()} > {words}": entry for words, entry in entries(inner).items()}
        elif action.text():
            found[action.text()] = action
    return found


def choose(menu: QMenu, words: str) -> None:
    """Choose an entry."""
    entries(menu)[words].trigger()
    menu.close()
    QApplication.processEvents()


@pytest.fixture(autouse=True)
def shut_menus() -> Iterator[None]:
    """Leave no menu open behind a test."""
    yield
    for widget in QApplication.topLevelWidgets():
        if isinstance(widget, QMenu):
            widget.close()


# --- the stage ---


def test_the_button_of_quantities_offers_all_there_are(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    desk.stage.quantity.click()
    menu = popped()
    picture = desk.stage.view.picture
    assert picture is not None
    words = {text.capitalize() for text, _ in picture.quantities.values()}
    assert set(entries(menu)) == words | {"Scale …"}
    choose(menu, picture.quantities["pressure"][0].capitalize())
    assert picture.quantity == "pressure"
    assert desk.stage.quantity.text().lower().startswith(picture.quantities["pressure"][0])
    desk.stage.quantity.click()
    choose(popped(), "Scale …")
    assert desk.looks.panel is not None and desk.looks.panel.name == "pressure"
    desk.looks.panel.close()


def test_one_tool_at_a_time(desk: Desk) -> None:  # noqa: F811
    stage = desk.stage
    assert stage.view.tool is stage.view.looking
    stage.handles_button.setChecked(True)
    assert stage.view.tool is stage.view.hands
    stage.line_button.setChecked(True)
    assert stage.view.tool is stage.view.lining and not stage.handles_button.isChecked()
    assert stage.view.cursor().shape() == Qt.CursorShape.CrossCursor
    stage.handles_button.setChecked(True)
    assert stage.view.tool is stage.view.hands and not stage.line_button.isChecked()
    stage.handles_button.setChecked(False)
    assert stage.view.tool is stage.view.looking
    assert stage.view.cursor().shape() == Qt.CursorShape.ArrowCursor


def test_a_tool_changed_in_the_middle_of_a_drag_lets_go(desk: Desk) -> None:  # noqa: F811
    """H under a drag of a handle: the drag ends as one step, and the next begins another."""
    desk.stage.handles_button.setChecked(True)
    desk.following.pick("run.left")
    view = desk.stage.view
    wait(lambda: bool(view.hands.handles))
    handle = view.hands.handles[0]
    view.grab()
    assert view.picture is not None
    x, y = view.picture.to_pixel(handle.at, view.pane)
    start = QPoint(round(x), round(y))
    mouse(view, QEvent.Type.MouseButtonPress, start.x(), start.y())
    mouse(view, QEvent.Type.MouseMove, start.x() + 30, start.y() + 12)
    assert desk.following._dragging is not None
    desk.stage.handles_button.setChecked(False)
    assert desk.following._dragging is None and view.tool is view.looking
    mouse(view, QEvent.Type.MouseButtonRelease, start.x() + 30, start.y() + 12)
    assert not view.pins, "the release belongs to nobody"


# --- the sheet ---


@pytest.mark.parametrize("section", ["shape.parts", "field.openings", "readings", "field.walls"])
def test_the_plus_of_a_section_offers_its_kinds_and_adds_one(desk: Desk, section: str) -> None:  # noqa: F811
    button = desk.findChild(QPushButton, f"add:{section}")
    assert button is not None
    button.click()
    shown = desk.sheet.adding
    assert len(shown.shown()) > 2
    case = desk.document.case
    assert case is not None
    QTest.keyClick(shown.search, Qt.Key.Key_Return)
    assert desk.document.case != case, "a new line"
    desk.document.undo()
    assert desk.document.case == case


def test_parameters_need_no_menu_and_tables_ask_for_a_file(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    before = set(desk.document.case.parameters) if desk.document.case is not None else set()
    button = desk.findChild(QPushButton, "add:parameters")
    assert button is not None
    button.click()
    assert desk.document.case is not None
    assert len(set(desk.document.case.parameters) - before) == 1
    table = tmp_path / "lift.csv"
    table.write_text("t [s];h [mm]\n0;1\n1;2\n")
    asked = {"name": str(table)}
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (asked["name"], ""))
    more = desk.findChild(QPushButton, "add:tables")
    assert more is not None
    more.click()
    (key,) = desk.document.case.tables
    assert desk.document.case.tables[key].gives == "mm" and key in desk.status.text()
    asked["name"] = ""
    desk.bringing.ask_table()
    assert list(desk.document.case.tables) == [key], "given up"
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *words: told.append(words[2]))
    table.write_text("nothing\n")
    asked["name"] = str(table)
    desk.bringing.ask_table()
    assert told and "columns" in told[0] and list(desk.document.case.tables) == [key]


def test_a_choice_opens_its_list_with_the_present_one_marked(desk: Desk) -> None:  # noqa: F811
    button = next(
        each
        for each in desk.findChildren(ChoiceButton)
        if each.slot.path == "field.openings.in.profile" or each.slot.path.endswith(".profile")
    )
    button.click()
    menu = popped()
    marked = [action.text() for action in menu.actions() if action.isChecked()]
    assert marked == [button.text()]
    other = next(action.text() for action in menu.actions() if not action.isChecked())
    choose(menu, other)
    assert button.text() == other
    QTest.keyClick(button, Qt.Key.Key_Down)
    QTest.keyClick(button, Qt.Key.Key_Up)
    desk.document.undo()


def test_a_note_has_a_button_that_mends(desk: Desk) -> None:  # noqa: F811
    desk.document.edit({"field.grid.cell": "3 mm", "field.grid.across": "2"})
    reviewed(desk)
    QApplication.processEvents()
    buttons = [row for row in desk.sheet.rows.values() if row._remedies]
    assert buttons, "something can be mended"
    case = desk.document.case
    buttons[0]._remedies[0].click()
    assert desk.document.case != case


def test_a_variant_shows_what_was(desk: Desk) -> None:  # noqa: F811
    desk.document.choose("B")
    reviewed(desk)
    QApplication.processEvents()
    words = [word for row in desk.sheet.rows.values() for _, word, _ in row._words]
    assert "(was 10 mm)" in words


# --- the menus ---


def test_the_file_menu_lists_files_opened_last(desk: Desk, file: Path) -> None:  # noqa: F811
    menu = desk.menus["File"]
    menu.aboutToShow.emit()
    assert f"Open recent > {file.name}" in entries(menu)
    QSettings("mop-lantern", "desk").setValue("recent", [])
    menu.aboutToShow.emit()
    assert not desk.recent.isEnabled()


def test_titles_and_variants_are_renamed(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    answers = iter([("Another channel", True), ("", False), ("wider still", True), ("x", False)])
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: next(answers))
    desk.ask_title()
    assert desk.document.case is not None and desk.document.case.title == "Another channel"
    desk.ask_title()
    assert desk.document.case.title == "Another channel", "given up"
    desk._rename_variant("B")
    assert desk.document.case.variants["B"].title == "wider still"
    desk._rename_variant("B")
    assert desk.document.case.variants["B"].title == "wider still"


def test_variants_are_added_and_taken_away(desk: Desk) -> None:  # noqa: F811
    desk.document.add_variant()
    assert desk.document.case is not None and len(desk.document.case.variants) == 2
    new = next(key for key in desk.document.case.variants if key != "B")
    assert desk.document.variant == new
    desk.document.remove_variant(new)
    assert list(desk.document.case.variants) == ["B"] and desk.document.variant == ""


def test_saving_under_another_name(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    goal = tmp_path / "elsewhere"
    asked = {"name": ""}
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (asked["name"], ""))
    assert not desk.files.save_as(), "given up"
    asked["name"] = str(goal)
    desk.document.edit({"title": "kept"})
    assert desk.files.save_as()
    assert load(goal.with_suffix(".lantern")).title == "kept"
    assert desk.document.path == goal.with_suffix(".lantern") and not desk.document.dirty


@pytest.mark.parametrize("answer", ["Save", "Discard", "Cancel"])
def test_leaving_with_changes_asks(
    desk: Desk,  # noqa: F811
    file: Path,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    answer: str,
) -> None:
    desk.document.edit({"title": "changed"})
    button = getattr(QMessageBox.StandardButton, answer)
    monkeypatch.setattr(QMessageBox, "question", lambda *_: button)
    assert desk.files.may_leave() == (answer != "Cancel")
    assert (load(file).title == "changed") == (answer == "Save")


def test_opening_asks_for_a_file(
    desk: Desk,  # noqa: F811
    file: Path,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    other = tmp_path / "other.lantern"
    other.write_text(file.read_text("utf-8").replace('"channel"', '"other"'), "utf-8")
    asked = {"name": ""}
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (asked["name"], ""))
    desk.files.ask()
    assert desk.document.path == file
    asked["name"] = str(other)
    desk.files.ask()
    assert desk.document.path == other
    assert desk.document.case is not None and desk.document.case.title == "other"


def test_exports_ask_where_to_and_tell(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    asked = {"name": str(tmp_path / "r.csv")}
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (asked["name"], ""))
    desk.exports.ask_readings()
    assert "solve first" in desk.status.text()
    desk.exports.ask_animation()
    assert "no kept states" in desk.status.text()
    solve(desk)
    desk.exports.ask_readings()
    assert (tmp_path / "r.csv").read_text("utf-8").startswith("id,")
    asked["name"] = str(tmp_path / "p.png")
    desk.exports.ask_picture()
    assert (tmp_path / "p.png").stat().st_size > 1000
    asked["name"] = "/nowhere/at/all.csv"
    desk.exports.ask_readings()
    assert "/nowhere/at/all.csv" in desk.status.text()
    asked["name"] = ""
    desk.tell("before")
    desk.exports.ask_readings()
    desk.exports.ask_picture()
    assert desk.status.text() == "before", "given up"


def test_copies_go_to_the_clipboard(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    desk.actions_["Copy readings"].trigger()
    assert "Outflow" in clipboard.text()
    desk.actions_["Copy curves"].trigger()
    assert "momentum" in clipboard.text() or "iteration" in clipboard.text()


def test_the_list_of_keys_names_every_action_that_has_one(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "information", lambda *words: told.append(words[2]))
    desk.show_shortcuts()
    for words, action in desk.actions_.items():
        if not action.shortcut().isEmpty():
            assert words in told[0] and action.shortcut().toString() in told[0]


# --- measured data ---


def test_measured_data_are_brought_fitted_and_exported(
    desk: Desk,  # noqa: F811
    monkeypatch: pytest.MonkeyPatch,
    tmp_path: Path,
) -> None:
    import numpy as np

    solve(desk)
    line = (np.array([0.02, -0.005]), np.array([0.02, 0.005]))
    desk.showing.show_line(*line)
    rows = tmp_path / "probe.csv"
    rows.write_text(
        "y [mm];u [mm/s]\n" + "\n".join(f"{y};{16 * (1 - ((y - 5) / 5) ** 2):.3f}" for y in range(1, 10))
    )
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(rows), ""))
    offered: list[str] = []

    def answer(*given: Any) -> tuple[str, bool]:
        offered[:] = given[3]
        return next(words for words in given[3] if words.startswith("x velocity along")), True

    monkeypatch.setattr(QInputDialog, "getItem", answer)
    desk.bringing.ask_measured(desk.session.line)
    assert desk.document.case is not None
    (key,) = desk.document.case.measured
    assert any("over time" in words for words in offered), "readings may be measured too"
    reviewed(desk)
    desk.stage.set_quantity("u")
    desk.measuring.show()
    (shown,) = desk.traces.measured
    assert "RMS" in shown[-1] and "9 points" in shown[-1]
    desk.measuring.offer(QPoint(10, 10))
    menu = popped()
    assert any("Export curves" in words for words in entries(menu))
    menu.close()
    assert desk.measuring.fit(key, "scale")
    scale = float(desk.document.case.measured[key].scale)
    assert 0.85 < scale < 1.0, "16 mm/s measured, 15 mm/s in the model"
    assert desk.measuring.fit(key, "")
    assert float(desk.document.case.measured[key].scale) == 1.0
    goal = tmp_path / "both.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(goal), ""))
    desk.measuring.ask_export()
    assert goal.exists() and "u" in goal.read_text("utf-8")
    assert str(goal) in desk.status.text()


def test_measured_data_without_a_model_are_kept_and_told(desk: Desk) -> None:  # noqa: F811
    from mop_lantern.case import parse_columns

    columns = parse_columns("y [mm];u [wings]\n1;2\n3;4\n".replace("wings", "kg"), "x.csv")
    assert desk.bringing.bring_measured(columns, "profile", "u", None) == ""
    assert "do not fit" in desk.status.text()
    good = parse_columns("y [mm];u [mm/s]\n1;2\n3;4\n", "x.csv")
    key = desk.bringing.bring_measured(good, "profile", "u", None)
    assert key
    assert not desk.measuring.fit(key, "scale")
    assert "solve first" in desk.status.text()
    numbers = desk.measuring.resolved(key)
    assert numbers is not None and desk.measuring.curve(numbers) is None
    assert "no model curve" in desk.measuring.words(numbers, *desk.measuring.points(numbers))
    assert desk.measuring.resolved("nothing") is None


# --- time ---


def test_the_bar_of_times_plays_and_comes_to_its_end(desk: Desk) -> None:  # noqa: F811
    bar = desk.stage.times
    chosen: list[int] = []
    bar.chosen.connect(chosen.append)
    bar.show_states(["0 s", "1 s", "2 s"])
    assert bar.isVisibleTo(desk) and bar.words.text() == "2 s"
    bar.play.setChecked(True)
    assert bar.play.text() == "Halt" and bar.slider.value() == 0
    bar._next()
    bar._next()
    assert chosen == [0, 1, 2] and bar.words.text() == "2 s"
    bar._next()
    assert not bar.play.isChecked() and bar.play.text() == "Play"
    bar.show_states(["0 s"])
    assert not bar.isVisibleTo(desk), "one state is nothing to choose from"


def test_dropping_a_file_opens_it(desk: Desk, file: Path, tmp_path: Path) -> None:  # noqa: F811
    from PyQt6.QtCore import QMimeData, QPointF, QUrl
    from PyQt6.QtGui import QDragEnterEvent, QDropEvent

    other = tmp_path / "dropped.lantern"
    other.write_text(file.read_text("utf-8"), "utf-8")
    data = QMimeData()
    data.setUrls([QUrl.fromLocalFile(str(other))])
    buttons, keys = Qt.MouseButton.LeftButton, Qt.KeyboardModifier.NoModifier
    entering = QDragEnterEvent(QPoint(5, 5), Qt.DropAction.CopyAction, data, buttons, keys)
    desk.dragEnterEvent(entering)
    assert entering.isAccepted()
    desk.dropEvent(QDropEvent(QPointF(5, 5), Qt.DropAction.CopyAction, data, buttons, keys))
    assert desk.document.path == other
