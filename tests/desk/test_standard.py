"""A case that asks for no readings is judged all the same: trust list and standard readings, unasked."""

from __future__ import annotations

import csv
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtCore import QRect
from PyQt6.QtWidgets import QApplication

from mop_lantern.case import parse_case
from mop_lantern.desk.files.exporting import export_readings
from mop_lantern.desk.results.standard import HEAD, ROW, StandardPage, value_with_unit
from mop_lantern.desk.theme import NIGHT, PAPER
from mop_lantern.desk.window import Desk
from tests.desk.test_window import reviewed, solve

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.fixture
def window(app: QApplication, channel: dict[str, Any]) -> Iterator[Desk]:
    """Open the channel without its readings."""
    made = Desk()
    made.show()
    made.document.start(parse_case(channel | {"readings": {}}), None)
    made._begin()
    reviewed(made)
    yield made
    made.document._saved = made.document.case
    made.close()
    made.deleteLater()
    QApplication.processEvents()


def test_a_case_without_readings_shows_trust_and_standard_readings(window: Desk, tmp_path: Path) -> None:
    page, more = window.ledger.page, window.ledger.standard
    assert not page.columns and more.isHidden() and not page.trust
    solve(window)
    assert page.columns == [""] and page.trust and not page.titles
    assert [title for title, _ in more.rows][:2] == ["in: flow in", "in: mean static pressure"]
    assert not more.isHidden() and more.height() >= HEAD + 4 * ROW
    text = window.ledger.as_text()
    assert "in: flow in\t" in text and "holds\t" in text
    page.grab()
    assert {key for key, _ in page._trust_boxes} == {item["id"] for item in page.trust}
    page.resize(900, page.height())
    room = page.minimumHeight()
    page.resize(230, page.height())
    assert page.minimumHeight() > room, "words wrap on narrow pages"
    assert window.document.edit({"units.pressure": "kPa"})
    reviewed(window)
    assert more.rows[1][1].endswith(" kPa")
    window.set_night(True)
    assert more.tokens is NIGHT and not more.grab().isNull()
    window.set_night(False)
    out = tmp_path / "all.csv"
    assert "all.csv" in export_readings(out, window.archive.records, {"": {}})
    with out.open(encoding="utf-8") as rows:
        assert {row["id"] for row in csv.DictReader(rows)} == {
            "in.flow",
            "in.pressure",
            "out.flow",
            "out.pressure",
        }
    window.document.choose("B")
    reviewed(window)
    assert more.isHidden(), "the variant is not solved"


@pytest.mark.parametrize(
    ("value", "dimension", "unit", "words"),
    [
        (281.15, "temperature", "°C", "8 °C"),
        (-1500.0, "pressure", "kPa", "−1.5 kPa"),
        (None, "pressure", "Pa", "–"),
        (0.25, "number", "", "0.25"),
    ],
)
def test_a_value_has_its_unit(value: float | None, dimension: str, unit: str, words: str) -> None:
    reading = {"value": value, "unit": "", "title": "t", "dimension": dimension}
    assert value_with_unit(reading, {dimension: unit} if unit else {}) == words


def test_thousands_of_rows_are_painted_as_far_as_they_are_seen(app: QApplication) -> None:
    page = StandardPage(PAPER)
    reading = {"value": 1.0, "unit": "Pa", "title": "p", "dimension": "pressure"}
    page.show_readings({str(k): reading for k in range(1500)}, {})
    page.resize(280, page.sizeHint().height())
    assert page.height() > 1500 * ROW
    assert not page.grab(QRect(0, 900, 280, 200)).isNull()
    page.show_readings({}, {})
    assert page.sizeHint().height() == 0
