"""Readings asked for after a case was solved, in the real window."""

from __future__ import annotations

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.window import Desk
from tests.desk.test_faces import entries
from tests.desk.test_window import desk, file, reviewed, solve, wait  # noqa: F401


def test_a_reading_placed_on_the_solved_field_is_taken_at_once(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    page = desk.ledger.page
    before = list(page.titles)
    view = desk.stage.view
    at = QPoint(view.width() // 2, view.height() // 2)
    entries(desk.faces.menu_at(at))["Point: here"].trigger()
    reviewed(desk)
    wait(lambda: list(page.titles) != before)
    [key] = set(page.titles) - set(before)
    assert not page.stale and desk.engine.state == "idle"
    value = page.readings[""][key]["value"]
    assert value > 0 and page.band_words(key, "") == "taken afterwards"
    pinned = view.value_words(view.place_at(at)).split("\n")[0]
    assert page.value_words(key, "")[:3] in pinned
    page.grab()
    assert desk.document.edit({f"readings.{key}.quantity": "pressure"})
    reviewed(desk)
    wait(lambda: page.readings[""].get(key, {}).get("dimension") == "pressure")
    assert desk.document.edit({f"readings.{key}": None})
    reviewed(desk)
    QApplication.processEvents()
    assert list(page.titles) == before
    solve(desk)
    assert list(page.titles) == before


def test_a_reading_outside_has_no_value_and_is_not_tried_again(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    page = desk.ledger.page
    far = {"kind": "point", "at": ["9 m", "0 m"], "quantity": "speed"}
    assert desk.document.edit({"readings.far": far})
    reviewed(desk)
    wait(lambda: "far" in page.titles)
    assert page.value_words("far", "") == "–" and page.band_words("far", "") == "taken afterwards"
    assert desk.document.edit({"readings.far.quantity": "k"})
    reviewed(desk)
    wait(lambda: page.band_words("far", "") == "solve to have it")
    desk.showing.refresh()
    assert desk.archive.not_taken(desk.document.case, "") == []  # type: ignore[arg-type]
