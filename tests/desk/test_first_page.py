"""The first page and the menus: begin from nothing, starters by what they are about, every action once."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from PyQt6.QtGui import QPixmap
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QInputDialog, QLabel, QMenu

from mop_lantern.desk.menus import deeds_of
from mop_lantern.desk.starters import BEGINNINGS, DEMOS, JOBS, PICTURES
from mop_lantern.desk.window import Desk
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.fixture
def window(app: QApplication) -> Iterator[Desk]:
    """Open the window without a case."""
    made = Desk()
    made.show()
    QApplication.processEvents()
    yield made
    made.document._saved = made.document.case
    made.close()
    made.deleteLater()
    QApplication.processEvents()


@pytest.mark.parametrize("key", ["plane", "axis", "space", "network"])
def test_each_beginning_gives_an_empty_case_of_its_kind(window: Desk, key: str) -> None:
    window.starters.beginnings[key].click()
    case = window.document.case
    assert case is not None and not case.shape.parts and not case.shape.solids
    assert case.network_alone == (key == "network")
    if key != "network":
        assert case.shape.space == key
    assert [medium.kind for medium in case.media.values()] == ["water"]
    wait(lambda: window.document.review is not None)
    assert window.document.review.blocked and "F8" in window.status.text(), "it says what to do next"


def test_lines_of_words_and_a_model_file_are_asked_for(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    asked: list[str] = []
    words = "From reservoir A through 5 m of DN50 steel to reservoir B"
    monkeypatch.setattr(QInputDialog, "getMultiLineText", lambda *_, **__: (words, True))
    window.starters.beginnings["words"].click()
    assert window.document.case is not None and list(window.document.case.network.lines) == ["line1"]
    assert set(window.document.case.network.nodes) == {"A", "B"}
    window.document._saved = window.document.case
    monkeypatch.setattr(window.bringing.models, "ask", lambda: asked.append("model"))
    window.starters.beginnings["model"].click()
    assert asked == ["model"] and window.document.case.shape.space == "space"


def test_unsaved_work_is_kept_when_the_person_says_so(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    window.starters.beginnings["plane"].click()
    with monkeypatch.context() as patched:
        patched.setattr(window.files, "may_leave", lambda: False)
        window._begin_with("network")
    assert window.document.case is not None and not window.document.case.network_alone


def test_starters_have_pictures_a_job_and_whole_words(window: Desk) -> None:
    assert {each.key for each in BEGINNINGS} == set(window.starters.beginnings)
    assert sorted(name for names in JOBS.values() for name in names) == sorted(
        path.stem for path in DEMOS.glob("*.lantern")
    )
    for name, card in window.starters.cards.items():
        assert not QPixmap(str(PICTURES / f"{name}.png")).isNull(), name
        head, body = card.findChildren(QLabel)[1:]
        assert card.accessibleName() == head.text() and body.text().endswith((".", "…"))
        for label in (head, body):
            needed = label.heightForWidth(label.width())
            assert label.height() >= needed, f"the words of {name} are cut off"


def test_starters_are_found_by_typing(window: Desk) -> None:
    starters = window.starters
    QTest.keyClicks(starters.search, "butterfly")
    assert [name for name, card in starters.cards.items() if card.isVisible()] == ["drain-valve", "butterfly"]
    starters.search.setText("no such thing")
    assert starters.nothing.isVisible() and not any(card.isVisible() for card in starters.cards.values())
    starters.search.clear()
    assert all(card.isVisible() for card in starters.cards.values()) and not starters.nothing.isVisible()


def test_every_action_is_in_one_menu_with_its_key_and_help(window: Desk) -> None:
    tops = {"File", "Edit", "Network", "Solver", "View", "Help"}
    assert set(window.menus) == tops | {"File/New", "File/Import", "File/Export"}
    found: list[str] = []
    for menu in window.menus.values():
        found += [action.text() for action in menu.actions() if action.text() and action.menu() is None]
    assert sorted(found) == sorted(window.actions_), "each once"
    keys = [a.shortcut().toString() for a in window.actions_.values() if not a.shortcut().isEmpty()]
    assert len(keys) == len(set(keys)) > 15
    assert all(deed.help and deed.help[0].isupper() for deed in deeds_of(window))
    assert isinstance(window.menus["File"], QMenu)
    told = (DEMOS.parent / "manual" / "text" / "96-menus.md").read_text("utf-8")
    for words, action in window.actions_.items():
        (row,) = (line for line in told.splitlines() if f"| *{words}* |" in line)
        assert action.shortcut().toString() in row.split("|")[3], "the manual has its key"


def test_title_and_chips_show_once_there_is_a_case(window: Desk) -> None:
    assert not window.bar.case.isVisible()
    window.open(DEMOS / "header.lantern")
    for _ in range(5):
        QTest.qWait(10)
    assert not any(chip.visibleRegion().isEmpty() for chip in window.bar.chips.values())
    window.actions_["Plane"].trigger()
    assert window.bar.case.isVisible() and window.bar.case.text().startswith("New case")


ASKING = {"Quit", "Open …", "Save as …", "Save", "Add lines from words …", "Manual", "Shortcuts …"}


def test_no_action_trips_over_a_window_without_a_case(window: Desk, monkeypatch: pytest.MonkeyPatch) -> None:
    from PyQt6.QtWidgets import QFileDialog, QMessageBox

    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_, **__: ("", ""))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_, **__: ("", ""))
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("", False))
    monkeypatch.setattr(QInputDialog, "getMultiLineText", lambda *_, **__: ("", False))
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_, **__: ("", False))
    for kind in ("information", "warning", "about"):
        monkeypatch.setattr(QMessageBox, kind, lambda *_: QMessageBox.StandardButton.Ok)
    for words, action in window.actions_.items():
        if words not in ASKING and window.document.case is None and action.isEnabled():
            if words in ("Plane", "Around an axis", "Three-dimensional", "Network"):
                continue
            action.trigger()
            QApplication.processEvents()
            for widget in QApplication.topLevelWidgets():
                if widget is not window and widget.isVisible():
                    widget.close()
    assert window.engine.state != "solving" and window.document.case is None


def test_leaving_from_the_first_page_keeps_the_widths_of_the_panels(app: QApplication) -> None:
    from mop_lantern.desk.remembering import remembered

    remembered().setValue("panels", [400, 600, 280])
    made = Desk()
    made.show()
    made.close()
    made.deleteLater()
    QApplication.processEvents()
    assert [int(size) for size in remembered().value("panels")] == [400, 600, 280]
    remembered().setValue("panels", [74, 1134, 70])
    other = Desk()
    other.show()
    other.files.new()
    QApplication.processEvents()
    assert min(other.across.sizes()) >= 150, "what cannot be worked with is not taken up"
    other.document._saved = other.document.case
    other.close()
    other.deleteLater()
    QApplication.processEvents()
