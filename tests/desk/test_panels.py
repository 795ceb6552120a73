"""Panels on their own: what is typed, what the ledger says, what the curves hold, whether colours can be
read.
"""

from __future__ import annotations

from dataclasses import asdict
from typing import Any

import numpy as np
import pyqtgraph as pg
import pytest
from PyQt6.QtCore import QEvent, QPoint
from PyQt6.QtGui import QColor
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QPushButton

from mop_lantern.case import lines, parse_case
from mop_lantern.case.sentences import Slot
from mop_lantern.desk.app import application
from mop_lantern.desk.results.ledger import Ledger, LedgerPage
from mop_lantern.desk.results.traces import Traces
from mop_lantern.desk.sheet.editors import parse_slot, split_pair
from mop_lantern.desk.sheet.row import Row
from mop_lantern.desk.theme import NIGHT, PAPER, Tokens, load_fonts
from mop_lantern.desk.topbar import TopBar

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.fixture(scope="module", autouse=True)
def app() -> Any:
    """Keep one application."""
    made = application()
    load_fonts()
    return made


def luminance(colour: str) -> float:
    """Relative luminance (WCAG 2.2, definition of relative luminance)."""
    parts = np.array(QColor(colour).getRgbF()[:3])
    linear = np.where(parts <= 0.04045, parts / 12.92, ((parts + 0.055) / 1.055) ** 2.4)
    return float(linear @ [0.2126, 0.7152, 0.0722])


@pytest.mark.parametrize("tokens", [PAPER, NIGHT], ids=["paper", "night"])
def test_text_can_be_read(tokens: Tokens) -> None:
    """Contrast of at least 4.5 to 1 (WCAG 2.2, success criterion 1.4.3)."""
    pairs = [
        (ink, ground)
        for ink in ("ink", "soft", "amber", "teal", "caution", "blocked")
        for ground in ("paper", "card")
    ]
    pairs += [("ink", "value"), ("ink", "tag"), ("on_amber", "amber")]
    colours = asdict(tokens)
    for ink, ground in pairs:
        light, dark = sorted((luminance(colours[ink]), luminance(colours[ground])), reverse=True)
        assert (light + 0.05) / (dark + 0.05) >= 4.5, (ink, ground)


def slot_of(channel: dict[str, Any], path: str) -> Slot:
    """Give the slot of a path."""
    return next(slot for line in lines(parse_case(channel)) for slot in line.slots if slot.path == path)


def test_typed_text_becomes_the_value_of_its_slot(channel: dict[str, Any]) -> None:
    channel["shape"]["parts"]["o"] = {
        "kind": "outline",
        "points": [["0 mm", "0 mm"], ["9 mm", "0 mm"], ["9 mm", "9 mm"]],
    }
    channel["readings"]["even"] = {"kind": "evenness", "edges": ["run.start", "run.end"]}
    start = slot_of(channel, "shape.parts.run.start")
    assert start.words() == "(0 mm, 0 mm)"
    assert parse_slot(start, "(3 mm, = gap)") == ["3 mm", "= gap"] == parse_slot(start, "3 mm, = gap")
    assert parse_slot(start, "1,5 mm; 2,5 mm") == ["1,5 mm", "2,5 mm"]
    assert parse_slot(start, "7 mm") is None
    corners = slot_of(channel, "shape.parts.o.points")
    assert parse_slot(corners, corners.words()) == [["0 mm", "0 mm"], ["9 mm", "0 mm"], ["9 mm", "9 mm"]]
    assert parse_slot(corners, "nothing") is None
    assert parse_slot(slot_of(channel, "readings.even.edges"), "a.start , b.end,") == ["a.start", "b.end"]
    assert split_pair("1 mm, 2 mm, 3 mm") == ["1 mm", "2 mm", "3 mm"] and split_pair("1, 2, 3, 4") is None


def test_rows_wrap_to_their_width_and_tell_themselves(channel: dict[str, Any]) -> None:
    line = next(line for line in lines(parse_case(channel)) if line.path == "field.grid")
    row = Row(line, [], lambda path, value: True, PAPER, None)  # type: ignore[arg-type]
    narrow, wide = row.arrange(260), row.arrange(900)
    assert narrow > wide
    row.set_notes([("caution", "Too coarse. " * 12, "12 cells across", {"a": 1})], {"field.grid.across"}, {})
    assert row.level == "caution" and row.arrange(900) > wide + 20
    assert row.editors["field.grid.across"].property("wrong") == "true"
    told: list[dict[str, Any]] = []
    row.remedy.connect(told.append)
    row._remedies[0].click()
    assert told == [{"a": 1}]
    assert row.accessibleName() == line.text()


def reading(value: float | None, dimension: str = "pressure") -> dict[str, Any]:
    """Give a stored reading."""
    return {"value": value, "unit": "Pa", "title": "Drop", "dimension": dimension}


def test_ledger_shows_differences_to_the_base() -> None:
    page = LedgerPage(PAPER)
    page.resize(280, 400)
    stored = {
        "": {"d": reading(2000.0), "n": reading(None)},
        "B": {"d": reading(1500.0)},
        "C": {"d": reading(2100.0), "n": reading(3.0)},
    }
    page.show_all(
        ["", "B", "C"],
        stored,
        {"C"},
        [{"id": "mass", "verdict": "fails", "text": "Mass."}],
        "B",
        {"pressure": "kPa"},
    )
    assert page.value_words("d", "") == "2" and page.value_words("d", "B") == "1.5"
    assert page.difference_words("d", "B") == "−25.0 %" and page.difference_words("d", "C") == "+5.0 %"
    assert page.difference_words("d", "") == "" and page.difference_words("n", "C") == ""
    assert page.value_words("n", "") == page.value_words("n", "B") == "–"
    text = page.as_text().splitlines()
    assert (
        text[0] == "reading\tunit\tBase\tB\tC"
        and text[1] == "Drop\tkPa\t2\t1.5\t2.1"
        and text[-1] == "fails\tMass."
    )
    page.show_grid(
        {
            "cells": 1200,
            "faces": 2500,
            "worst_angle": 40.2,
            "volume_ratio": 4.0,
            "smallest": 1e-3,
            "largest": 2e-3,
        },
        [],
    )
    assert page.grid[1] == "cell size 1 mm to 2 mm"
    assert not page.grab().isNull()


def event(iteration: int, **readings: float | None) -> dict[str, Any]:
    """Give a progress event."""
    return {"iteration": iteration, "momentum": 10.0**-iteration, "mass": 1e-9, "readings": readings}


def test_a_single_step_says_so_and_long_names_stay_on_the_plot(app: Any) -> None:
    traces = Traces(PAPER)
    traces.resize(600, 180)
    traces.show_page("Readings")
    names = {f"a reading with a rather long name, number {k}": 1.0 for k in range(5)}
    traces.readings = {name: (name, "pressure") for name in names}
    traces.add(event(1, **names) | {"momentum": 0.0, "mass": 0.0})
    traces.redraw()
    item = traces.plot.getPlotItem()
    words = [each.toPlainText() for each in item.items if isinstance(each, pg.TextItem)]
    assert words == ["Solved in one go: nothing is iterated."] and not traces.key.text()
    for k in range(2, 5):
        traces.add(event(k, **names))
    traces.redraw()
    assert not [each for each in item.items if isinstance(each, pg.TextItem)]
    assert item.legend is not None
    traces.show()
    app.processEvents()
    assert item.legend.boundingRect().width() < traces.width()
    traces.close()


def test_traces_keep_their_columns_in_step() -> None:
    traces = Traces(PAPER)
    traces.add(event(1))
    traces.add(event(2, drop=3.0))
    traces.add(event(3, drop=None))
    assert (
        np.isnan(traces.columns["drop"][0])
        and traces.columns["drop"][1] == 3.0
        and np.isnan(traces.columns["drop"][2])
    )
    assert {len(column) for column in traces.columns.values()} == {3}
    traces.add(event(1))  # a finer grid begins anew
    assert traces.columns["iteration"] == [1]
    for page in traces.buttons:
        traces.show_page(page)
    traces.units = {"velocity": "mm/s", "length": "mm"}
    traces.show_profiles([("Base", np.array([0.0, 0.1]), np.array([0.0, 0.02]))], ("speed", "velocity"))
    x, y = traces.plot.getPlotItem().listDataItems()[0].getData()
    assert x[-1] == pytest.approx(100) and y[-1] == pytest.approx(20)
    assert traces.plot.getPlotItem().getAxis("left").autoSIPrefixScale == 1.0


def test_chips_follow_the_variants(channel: dict[str, Any]) -> None:
    bar = TopBar()
    bar.show_variants(parse_case(channel), "B")
    assert list(bar.chips) == ["", "B"] and bar.chips["B"].isChecked() and not bar.chips[""].isChecked()
    assert "parameters.gap.value = 14 mm" in bar.chips["B"].toolTip()
    chosen: list[str] = []
    bar.variant_chosen.connect(chosen.append)
    bar.chips[""].click()
    assert chosen == [""]
    bar.show_variants(None, "")
    assert not bar.chips


def test_what_temperatures_differ_by_is_told_in_kelvins_and_not_in_per_cent_of_them() -> None:
    ledger = Ledger(PAPER)
    page = ledger.page
    warm = {"title": "Air", "unit": "K", "dimension": "temperature", "value": 295.0, "span": 8.0}
    own = {**warm, "value": 296.5}
    taken = {"": {"t": {**warm, "swing": 0.4}}, "B": {"t": {**own, "grid_guess": 0.1}}}
    page.show_all(["", "B"], taken, set(), [], "", {})
    assert page.band_words("t", "") == "swings ± 0.4 K", "5 % of what it differs by in the room"
    assert page.difference_words("t", "B") == "+1.5 K"
    assert page.band_words("t", "B") == "cells: off by about 0.8 K"
    page.show_all(["", "B"], taken, set(), [], "", {"temperature": "°F"})
    assert page.difference_words("t", "B") == "+2.7 °F"
    band = {"": {"t": {**warm, "grid_error": {"band": 0.05, "index": 0.05}}}}
    page.show_all([""], band, set(), [], "", {})
    assert page.band_words("t", "") == "grid ± 0.4 K"


def test_ledger_shows_swings_and_offers_what_the_trust_list_proposes() -> None:
    ledger = Ledger(PAPER)
    page = ledger.page
    page.show_all([""], {"": {"d": {**reading(2000.0), "swing": 50.0}}}, set(), [], "", {})
    assert page.band_words("d", "") == "swings ± 2.5 %"
    wanted = {"field.time.mode": "transient"}
    item = {
        "id": "readings",
        "verdict": "fails",
        "text": "It swings.",
        "remedy": "Follow it",
        "edits": wanted,
    }
    ledger.offer_remedies([{"id": "mass", "verdict": "holds", "text": "Mass."}, item, item])
    offered = [button for button in ledger.findChildren(QPushButton) if button.property("remedy")]
    assert [button.text() for button in offered] == ["Follow it"]
    asked: list[dict[str, Any]] = []
    ledger.remedy.connect(asked.append)
    offered[0].click()
    assert asked == [wanted]
    ledger.offer_remedies([])
    QApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete.value)
    assert not [button for button in ledger.findChildren(QPushButton) if button.property("remedy")]


def test_many_variants_and_a_long_title_leave_the_bar_its_width(channel: dict[str, Any]) -> None:
    """What does not fit is listed with whole titles, and comes in sight when chosen."""
    every = {chr(66 + k): {"title": f"wider by {k} mm", "edits": {}} for k in range(20)}
    case = parse_case({**channel, "variants": every})
    bar = TopBar()
    bar.pause.hide()
    bar.stop.hide()
    bar.resize(1200, 40)
    bar.show_title("A title nobody thought would have to be read on a bar " * 4, " •")
    assert bar.case.text().endswith("… •") and "have to be read" in bar.case.toolTip()
    bar.show_variants(case, "B")
    bar.show()
    QApplication.processEvents()
    assert bar.minimumSizeHint().width() < 1200 and bar.width() == 1200
    assert bar.all.isVisible()
    seen = bar._strip.viewport()
    assert seen is not None
    assert not seen.rect().contains(bar.chips["U"].mapTo(seen, QPoint(5, 5)))
    bar.show_variants(case, "U")
    QTest.qWait(20)
    assert seen.rect().contains(bar.chips["U"].mapTo(seen, QPoint(5, 5)))
    chosen: list[str] = []
    bar.variant_chosen.connect(chosen.append)
    bar.all.click()
    menu = bar.all.findChild(QMenu)
    assert menu is not None
    told = {action.text(): action for action in menu.actions()}
    assert told["U  wider by 19 mm"].isChecked()
    told["C  wider by 1 mm"].trigger()
    assert chosen == ["C"]
    menu.close()
    bar.show_variants(parse_case(channel), "")
    QTest.qWait(20)
    assert all(seen.rect().contains(chip.geometry()) for chip in bar.chips.values())
    assert not bar.all.isVisible()
