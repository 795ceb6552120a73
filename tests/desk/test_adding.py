"""The list behind "+" and the tags of edges, in the real window."""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QPushButton

from mop_lantern.case import value_at
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.desk.stage.tools.choosing import ChoosingTool
from mop_lantern.desk.window import Desk
from tests.desk.test_space_stage import mouse
from tests.desk.test_window import desk, file, reviewed, wait  # noqa: F401

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def opened(desk: Desk, section: str) -> None:  # noqa: F811
    """Open the list behind "+"."""
    button = desk.findChild(QPushButton, f"add:{section}")
    assert button is not None
    button.click()


def tag_of(desk: Desk, path: str) -> TagEdit:  # noqa: F811
    """Give the tag of a path."""
    tag = desk.findChild(QLineEdit, path)
    assert isinstance(tag, TagEdit)
    return tag


def test_typing_finds_and_enter_adds(desk: Desk) -> None:  # noqa: F811
    opened(desk, "shape.parts")
    shown = desk.sheet.adding
    whole = len(shown.shown())
    QTest.keyClicks(shown.search, "round obst")
    assert [offer.caption for offer in shown.shown()] == ["Round obstacle"] and whole > 8
    QTest.keyClick(shown.search, Qt.Key.Key_Return)
    assert value_at(desk.document.case, "shape.parts.disc1.kind") == "disc"
    focus = desk.sheet.focusWidget()
    assert focus is not None and focus.objectName().startswith("shape.parts.disc1.")


def test_arrows_move_over_headings_and_nothing_found_adds_nothing(desk: Desk) -> None:  # noqa: F811
    opened(desk, "field.openings")
    shown = desk.sheet.adding
    first = shown.list.currentRow()
    for _ in range(20):
        QTest.keyClick(shown.search, Qt.Key.Key_Down)
    assert shown.list.currentRow() == shown.list.count() - 1
    for _ in range(20):
        QTest.keyClick(shown.search, Qt.Key.Key_Up)
    assert shown.list.currentRow() == first == 1, "below the heading"
    before = desk.document.case
    QTest.keyClicks(shown.search, "zebra")
    assert shown.shown() == []
    QTest.keyClick(shown.search, Qt.Key.Key_Return)
    assert desk.document.case is before
    shown.close()


def test_what_only_a_file_can_give_is_imported(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    asked: list[str] = []
    monkeypatch.setattr(desk.bringing, "ask_drawing", lambda: asked.append("drawing"))
    opened(desk, "shape.parts")
    QTest.keyClicks(desk.sheet.adding.search, "outline from a drawing")
    QTest.keyClick(desk.sheet.adding.search, Qt.Key.Key_Return)
    assert asked == ["drawing"]


def test_a_tag_takes_typing_and_keeps_it_on_tab(desk: Desk) -> None:  # noqa: F811
    path = desk.sheet.add("field.openings", "static_pressure")
    reviewed(desk)
    tag = tag_of(desk, f"{path}.edge")
    tag.setFocus()
    tag.selectAll()
    QTest.keyClicks(tag, "run.left")
    QTest.keyClick(tag, Qt.Key.Key_Tab)
    assert value_at(desk.document.case, f"{path}.edge") == "run.left"
    reviewed(desk)
    tag = tag_of(desk, f"{path}.edge")
    tag.setFocus()
    tag.selectAll()
    QTest.keyClicks(tag, "righ")
    QTest.keyClick(tag, Qt.Key.Key_Return)
    assert value_at(desk.document.case, f"{path}.edge") == "run.right", "a part of one name stands for it"
    tag.setFocus()
    QTest.keyClicks(tag, "nowhere")
    QTest.keyClick(tag, Qt.Key.Key_Escape)
    assert tag.text() == "run.right" == value_at(desk.document.case, f"{path}.edge")


def test_a_tag_lists_all_edges_and_steps_through_them(desk: Desk) -> None:  # noqa: F811
    tag = tag_of(desk, "field.openings.out.edge")
    assert set(tag.names()) == {"run.start", "run.end", "run.left", "run.right"}
    tag.setFocus()
    tag.list_all()
    popup = tag.completer().popup()  # type: ignore[union-attr]
    assert popup is not None and popup.isVisible() and popup.model().rowCount() == 4  # type: ignore[union-attr]
    popup.hide()
    here = tag.names().index("run.end")
    QTest.keyClick(tag, Qt.Key.Key_Down if here < 3 else Qt.Key.Key_Up)
    assert value_at(desk.document.case, "field.openings.out.edge") != "run.end"


def test_a_click_on_the_stage_answers_a_tag(desk: Desk) -> None:  # noqa: F811
    tag = tag_of(desk, "field.openings.out.edge")
    view = desk.stage.view
    view.grab()
    tag.asked.emit(tag)
    assert isinstance(view.tool, ChoosingTool) and "click on the stage" in desk.status.text()
    assert view.picture is not None
    x, y = view.picture.to_pixel((0.02, 0.005), view.pane)
    at = QPoint(round(x), round(y))
    mouse(view, QEvent.Type.MouseMove, at.x(), at.y(), Qt.MouseButton.NoButton)
    view.grab()
    QApplication.processEvents()
    assert view.lit == "run.left"
    mouse(view, QEvent.Type.MouseButtonPress, at.x(), at.y())
    mouse(view, QEvent.Type.MouseButtonRelease, at.x(), at.y())
    assert value_at(desk.document.case, "field.openings.out.edge") == "run.left"
    assert view.tool is view.looking and view.lit == "" and not view.pins


def test_a_click_beside_all_edges_goes_on_asking_until_the_tag_is_left(desk: Desk) -> None:  # noqa: F811
    tag = tag_of(desk, "field.openings.out.edge")
    view = desk.stage.view
    view.grab()
    tag.asked.emit(tag)
    mouse(view, QEvent.Type.MouseButtonPress, 5, 5)
    mouse(view, QEvent.Type.MouseButtonRelease, 5, 5)
    assert value_at(desk.document.case, "field.openings.out.edge") == "run.end"
    assert isinstance(view.tool, ChoosingTool)
    tag.setFocus()
    QTest.keyClick(tag, Qt.Key.Key_Escape)
    assert view.tool is view.looking


def test_a_real_click_on_a_tag_lists_all_and_asks_the_stage(desk: Desk) -> None:  # noqa: F811
    desk.sheet.go_to("field.openings.out")
    tag = tag_of(desk, "field.openings.out.edge")
    QTest.mouseClick(tag, Qt.MouseButton.LeftButton)
    popup = tag.completer().popup()  # type: ignore[union-attr]
    assert popup is not None and popup.isVisible() and popup.model().rowCount() == 4  # type: ignore[union-attr]
    assert isinstance(desk.stage.view.tool, ChoosingTool) and tag.selectedText() == "run.end"
    QTest.keyClick(popup, Qt.Key.Key_Down)
    QTest.keyClick(popup, Qt.Key.Key_Return)
    QApplication.processEvents()
    assert value_at(desk.document.case, "field.openings.out.edge") in tag.names()
    popup.hide()
    tag.take("run.left")
    assert value_at(desk.document.case, "field.openings.out.edge") == "run.left"
    assert desk.stage.view.tool is desk.stage.view.looking
