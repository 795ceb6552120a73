"""The page of comfort: limits of the standard, variants side by side, from the menu."""

from __future__ import annotations

import re
from collections.abc import Iterator
from typing import Any

import pytest
from PyQt6.QtWidgets import QApplication, QPushButton
from pytestqt.qtbot import QtBot

from mop_lantern.desk.results.comfort_page import ComfortPage, page_of, show_comfort
from mop_lantern.desk.results.verdict import VerdictPage
from mop_lantern.desk.theme import NIGHT, PAPER
from mop_lantern.desk.window import Desk

LIMITS = ["10%", "20%", "30%"]


def verdict(category: str, found: str) -> list[dict[str, Any]]:
    """Give a verdict of one judgement."""
    room = {"id": "room", "category": category, "place": [], "text": f"{category} of a <standard>."}
    draught = {"id": "draught at 1.1 m", "category": category, "place": [2.45, 1.1], "text": "draught"}
    return [room, {**draught, "limits": LIMITS, "found": found}]


def words_of(html: str) -> list[str]:
    """Give the cells of the table."""
    return [re.sub(r"<[^>]+>|&nbsp;", "", cell).strip() for cell in re.findall(r"<t[dh].*?</t[dh]>", html)]


def test_variants_stand_beside_the_limits() -> None:
    told = {"Base": verdict("none", "33%"), "B  calmer": verdict("B", "17%"), "C  unsolved": []}
    html = page_of("Nursery & hall", told, PAPER)
    assert words_of(html) == [
        *["", "A", "B", "C", "Base", "B  calmer"],
        *["draught at 1.1 m", *LIMITS, "none 33% at (2.45, 1.1) m", "B 17% at (2.45, 1.1) m"],
    ]
    assert "Nursery &amp; hall" in html and "none of a &lt;standard&gt;." in html
    assert PAPER.blocked in html and NIGHT.teal in page_of("n", told, NIGHT)


def test_judgements_that_one_variant_lacks_leave_a_gap_and_old_runs_have_no_limits() -> None:
    old = [{key: value for key, value in row.items() if key != "limits"} for row in verdict("C", "")]
    floor = {
        "id": "floor",
        "category": "A",
        "place": [],
        "text": "",
        "limits": ["1", "2", "3"],
        "found": "21 °C",
    }
    html = page_of("n", {"Base": [*verdict("A", "9%"), floor], "B": old}, PAPER)
    assert words_of(html)[6:] == [
        *["draught at 1.1 m", *LIMITS, "A 9% at (2.45, 1.1) m", "C  at (2.45, 1.1) m"],
        *["floor", "1", "2", "3", "A 21 °C", ""],
    ]
    assert words_of(page_of("n", {"B": old}, PAPER))[5:9] == ["draught at 1.1 m", "", "", ""]


def test_nothing_judged_says_what_to_do() -> None:
    assert "Turn comfort on" in page_of("n", {"Base": []}, PAPER)
    assert "Turn comfort on" in page_of("n", {}, PAPER)


def test_rows_under_the_trust_list_tell_their_limits(qtbot: QtBot) -> None:
    page = VerdictPage(PAPER)
    qtbot.addWidget(page)
    page.resize(300, 300)
    page.show_rows(verdict("C", "28%"))
    assert page.as_text().splitlines()[1] == "C\tdraught\tA: 10%; B: 20%; C: 30%"
    page.grab()


@pytest.fixture
def window(app: QApplication) -> Iterator[Desk]:
    made = Desk()
    made.show()
    yield made
    made.close()
    made.deleteLater()


def test_the_menu_opens_one_page_that_follows_the_window(window: Desk) -> None:
    window.actions_["Comfort of the room"].trigger()
    page = window.findChild(ComfortPage)
    assert isinstance(page, ComfortPage) and page.isVisible()
    assert "Turn comfort on" in page.text.toPlainText()
    assert show_comfort(window) is page
    window.showing.verdicts = lambda: {"Base": verdict("B", "17%")}  # type: ignore[method-assign]
    window.showing.ledger_filled.emit()
    assert "17%" in page.text.toPlainText() and "draught at 1.1 m" in page.text.toPlainText()
    copy = next(button for button in page.findChildren(QPushButton) if button.text() == "Copy")
    copy.click()
    clipboard = QApplication.clipboard()
    assert clipboard is not None and "17%" in clipboard.text()
    page.close()
