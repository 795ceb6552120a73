"""Small things that stand in a newcomer's way: the empty stage, new lines, a shape that outgrows its view,
what an edge offers.
"""

from __future__ import annotations

import pytest
from PyQt6.QtCore import QPoint, Qt
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QLineEdit, QMenu, QWidget

from mop_lantern.case import value_at
from mop_lantern.desk.app import settle
from mop_lantern.desk.sheet.editors import ValueEdit
from mop_lantern.desk.window import Desk
from tests.desk.test_menus import entries
from tests.desk.test_window import desk, file, reviewed, wait  # noqa: F401

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def edge_pixel(window: Desk, edge: str) -> QPoint:
    """Give a pixel on the middle of an edge."""
    picture = window.stage.view.picture
    assert picture is not None and picture.shape is not None
    window.stage.view.grab()
    start, end = next(iter(picture.shape.edge(edge)))
    x, y = picture.to_pixel((start + end) / 2, window.stage.view.pane)
    return QPoint(round(x), round(y))


def menu_on(window: Desk, edge: str) -> QMenu:
    menu = window.faces.menu_at(edge_pixel(window, edge))
    assert menu is not None
    return menu


# --- the empty stage ---


def test_the_empty_stage_says_what_to_do_first(desk: Desk) -> None:  # noqa: F811
    drawn = desk.stage.view.grab().toImage()
    desk.document._saved = desk.document.case
    desk.files.new()
    wait(lambda: desk.document.review is not None)
    empty = desk.stage.view.grab().toImage()
    assert empty != drawn
    inks = {empty.pixel(x, y) for x in range(0, empty.width(), 2) for y in range(0, empty.height(), 2)}
    assert len(inks) > 3, "words on paper"
    desk.document.edit(
        {"shape.parts.a": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "30 mm", "width": "9 mm"}}
    )
    wait(lambda: desk.stage.view.picture is not None and desk.stage.view.picture.shape is not None)


# --- a new line ---


def seen_of(window: Desk, part: QWidget) -> int:
    """Give how much of a part of the sheet is in view, in pixels down."""
    shown = window.sheet.area.viewport()
    assert shown is not None
    top = part.mapTo(shown, QPoint(0, 0)).y()
    return min(top + part.height(), shown.height()) - max(top, 0)


def test_of_a_line_taller_than_the_view_the_value_in_hand_is_shown(desk: Desk) -> None:  # noqa: F811
    desk.resize(900, 300)
    settle(desk)
    path = desk.sheet.add("field.openings", "velocity")
    reviewed(desk)
    settle(desk)
    row = desk.sheet.rows[path]
    row.setFixedHeight(1200)
    desk.sheet.page.setFixedHeight(desk.sheet.page.height() + 1200)
    desk.sheet.area.ensureWidgetVisible(row, 0, 60)
    desk.sheet._bring()
    focus = desk.sheet.focusWidget()
    assert focus is not None and seen_of(desk, focus) == focus.height()


@pytest.mark.parametrize(
    ("section", "kind"), [("shape.parts", "disc"), ("field.openings", "velocity"), ("readings", "point")]
)
def test_a_new_line_comes_into_view_and_takes_the_cursor(
    desk: Desk,  # noqa: F811
    section: str,
    kind: str,
) -> None:
    desk.resize(900, 420)
    QApplication.processEvents()
    settle(desk)
    path = desk.sheet.add(section, kind)
    reviewed(desk)
    settle(desk)
    row = desk.sheet.rows[path]
    shown = desk.sheet.area.viewport()
    assert shown is not None
    if row.height() < shown.height():
        assert seen_of(desk, row) == row.height()
    focus = desk.sheet.focusWidget()
    assert isinstance(focus, ValueEdit) and row.isAncestorOf(focus)
    assert seen_of(desk, focus) == focus.height()
    assert focus.selectedText() == focus.text(), "typing replaces it"


def test_going_to_a_value_takes_the_cursor_to_it(desk: Desk) -> None:  # noqa: F811
    desk.sheet.go_to("field.openings.in.velocity")
    editor = desk.findChild(QLineEdit, "field.openings.in.velocity")
    assert desk.sheet.focusWidget() is editor
    desk.sheet.go_to("no.such.place")
    assert desk.sheet.focusWidget() is editor, "nothing to go to"


def test_what_is_being_typed_survives_lines_made_anew(desk: Desk) -> None:  # noqa: F811
    """A review that brings new edges, or another line, makes all lines anew under the typing hand."""
    editor = desk.findChild(QLineEdit, "field.openings.in.velocity")
    assert editor is not None
    editor.setFocus()
    editor.selectAll()
    QTest.keyClicks(editor, "12 m")
    desk.document.edit({"parameters.more": {"value": "1 mm"}})
    QApplication.processEvents()
    again = desk.sheet.rows["field.openings.in"].editors["field.openings.in.velocity"]
    assert isinstance(again, ValueEdit) and again is not editor
    assert again.text() == "12 m" and again.isModified()
    assert desk.sheet.focusWidget() is again
    QTest.keyClicks(again, "m/s")
    QTest.keyClick(again, Qt.Key.Key_Return)
    assert desk.document.case is not None
    assert value_at(desk.document.case, "field.openings.in.velocity") == "12 mm/s"


def test_tab_goes_on_to_the_next_value_when_lines_are_made_anew(desk: Desk) -> None:  # noqa: F811
    """The tag of a fresh opening took another edge, and Tab lost it with the line."""
    path = desk.sheet.add("field.openings", "velocity")
    reviewed(desk)
    row = desk.sheet.rows[path]
    typed = next(editor for editor in row.editors.values() if type(editor) is ValueEdit)
    place = next(place for place, editor in row.editors.items() if editor is typed)
    typed.setFocus()
    typed.selectAll()
    QTest.keyClicks(typed, "7 mm/s")
    QTest.keyClick(typed, Qt.Key.Key_Tab)
    reviewed(desk)
    QApplication.processEvents()
    assert desk.document.case is not None and value_at(desk.document.case, place) == "7 mm/s"
    focus = desk.sheet.focusWidget()
    assert focus is not None and desk.sheet.rows[path].isAncestorOf(focus), "still on the line"


# --- the view ---


def test_a_shape_that_outgrows_the_view_is_shown_whole_unless_somebody_moved_it(desk: Desk) -> None:  # noqa: F811
    view = desk.stage.view
    view.grab()
    picture = view.picture
    assert picture is not None and view.untouched and picture.fits(view.pane)
    height = picture.height
    desk.document.edit({"shape.parts.run.length": "400 mm"})
    reviewed(desk)
    view.grab()
    assert picture.height > 3 * height and picture.fits(view.pane)
    desk.document.edit({"shape.parts.run.length": "12 mm"})
    reviewed(desk)
    view.grab()
    assert picture.height < height, "nor lost in it"
    view.zoom(0.9, 100, 100)
    moved = picture.height
    desk.document.edit({"shape.parts.run.length": "400 mm"})
    reviewed(desk)
    view.grab()
    assert picture.height == moved and not picture.fits(view.pane)


def test_a_little_longer_moves_nothing(desk: Desk) -> None:  # noqa: F811
    view = desk.stage.view
    settle(desk)  # the panes have their sizes
    assert view.picture is not None
    before = view.picture.height, view.picture.centre.copy()
    desk.document.edit({"shape.parts.run.length": "41 mm"})
    reviewed(desk)
    settle(desk)
    assert view.picture.height == before[0] and (view.picture.centre == before[1]).all()


# --- edges ---


def test_an_edge_of_a_plane_offers_what_can_be_done_with_it(desk: Desk) -> None:  # noqa: F811
    found = entries(menu_on(desk, "run.left"))
    assert any(words.startswith("run.left: 40 mm") for words in found)
    for words in ("Make it an opening > ", "Make it a wall > ", "Let heat through it > ", "Read here > "):
        assert any(entry.startswith(words) for entry in found), words
    found["Show its part on the sheet"].trigger()
    assert desk.sheet.focused() == "shape.parts.run"


def test_an_edge_becomes_an_opening_with_one_choice(desk: Desk) -> None:  # noqa: F811
    found = entries(menu_on(desk, "run.left"))
    found[next(words for words in found if words.startswith("Make it an opening > "))].trigger()
    case = desk.document.case
    assert case is not None
    assert [item.edge for item in case.field.openings.values()].count("run.left") == 1
    reviewed(desk)
    again = entries(menu_on(desk, "run.left"))
    assert not any(words.startswith("Make it an opening") for words in again), "it is one already"
    next(entry for words, entry in again.items() if words.startswith("Close its opening")).trigger()
    assert desk.document.case is not None
    assert "run.left" not in [item.edge for item in desk.document.case.field.openings.values()]


def test_a_reading_is_taken_at_an_edge(desk: Desk) -> None:  # noqa: F811
    found = entries(menu_on(desk, "run.end"))
    words = next(words for words in found if words.startswith("Read here > "))
    before = set(desk.document.case.readings) if desk.document.case is not None else set()
    found[words].trigger()
    assert desk.document.case is not None
    (fresh,) = set(desk.document.case.readings) - before
    assert desk.document.case.readings[fresh].edge == "run.end"  # type: ignore[attr-defined]
    assert desk.sheet.focused() == f"readings.{fresh}"


def test_beside_all_edges_there_is_still_a_menu(desk: Desk) -> None:  # noqa: F811
    desk.stage.view.grab()
    menu = desk.faces.menu_at(QPoint(4, 4))
    assert menu is not None
    *readings, last = entries(menu)
    assert last == "Show everything" and all(words.startswith("Place a reading") for words in readings)
