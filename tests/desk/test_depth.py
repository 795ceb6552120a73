"""The window in depth: follow and handles, time, what is carried, measured data, drawings, recovery, the
manual.
"""

from __future__ import annotations

import json
import shutil
import subprocess
import sys
import time
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QInputDialog, QMessageBox

from mop_lantern.case import DraftKeeper, left_behind, load, parse_case, parse_columns, save
from mop_lantern.desk.window import Desk
from tests.desk.test_window import reviewed, wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")
DEMOS = Path(__file__).parents[2] / "src" / "mop_lantern" / "demos"


@pytest.fixture
def desk(app: QApplication, channel: dict[str, Any], tmp_path: Path) -> Iterator[Desk]:
    """Open the window on the channel."""
    save(parse_case(channel), tmp_path / "channel.lantern")
    window = Desk()
    window.show()
    window.open(tmp_path / "channel.lantern")
    wait(lambda: window.document.review is not None)
    yield window
    window.document._saved = window.document.case
    window.close()
    window.deleteLater()
    QApplication.processEvents()


def solve(window: Desk) -> None:
    """Solve and wait for the end."""
    wait(lambda: window.engine.state == "idle")
    ends: list[dict[str, Any]] = []
    window.engine.told.connect(
        lambda event: ends.append(event) if event["event"] in ("finished", "failed") else None
    )
    window.solve()
    wait(lambda: ends)
    assert ends[0]["event"] == "finished", ends[0]
    QApplication.processEvents()


def drag(window: Desk, start: tuple[float, float], end: tuple[float, float]) -> None:
    """Press, move in two steps, and let go; QTest's moves carry no buttons."""
    view, left, none = window.stage.view, Qt.MouseButton.LeftButton, Qt.MouseButton.NoButton
    middle = ((start[0] + end[0]) / 2, (start[1] + end[1]) / 2)
    for kind, at, button, held in (
        (QEvent.Type.MouseButtonPress, start, left, left),
        (QEvent.Type.MouseMove, middle, none, left),
        (QEvent.Type.MouseMove, end, none, left),
        (QEvent.Type.MouseButtonRelease, end, left, none),
    ):
        QApplication.sendEvent(
            view,
            QMouseEvent(
                kind,
                QPointF(*at),
                view.mapToGlobal(QPointF(*at)),
                button,
                held,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
        QApplication.processEvents()


def test_dragging_a_handle_edits_the_parameter_in_one_step(desk: Desk) -> None:
    desk.stage.handles_button.click()
    view = desk.stage.view
    wait(lambda: view.hands.handles and view.picture is not None)
    for _ in range(3):  # the first painting fits the picture, once the window has its size
        QApplication.processEvents()
        view.grab()
    handle = next(item for item in view.hands.handles if item.path == "parameters.gap.value")
    size = (view.width(), view.height())
    start = view.picture.to_pixel(handle.at, size)
    end = view.picture.to_pixel(handle.at + 0.002 * handle.pull, size)
    drag(desk, start, end)
    assert desk.document.case.parameters["gap"].value.endswith(" mm")
    assert float(desk.document.case.parameters["gap"].value.split()[0]) == pytest.approx(12.0, abs=0.5)
    desk.document.undo()
    assert desk.document.case.parameters["gap"].value == "10 mm", "a drag is one step of undo"
    desk.document.redo()
    wait(lambda: desk.document.review is not None and desk.document.review.case == desk.document.shown)


def test_a_monitor_is_dragged_once_its_line_was_gone_to(desk: Desk) -> None:
    """Points of readings, devices and sources are taken hold of as parts are."""
    view, place = desk.stage.view, "readings.seen.at"
    desk.activateWindow()
    desk.document.edit({"readings.seen": {"kind": "point", "at": ["10 mm", "1 mm"], "quantity": "speed"}})
    reviewed(desk)
    desk.stage.handles_button.click()
    desk.sheet.go_to(place)
    wait(lambda: [item.path for item in view.hands.handles] == [place] and view.picture is not None)
    for _ in range(3):
        QApplication.processEvents()
        view.grab()
    size = (view.width(), view.height())
    start, end = (view.picture.to_pixel(np.array(at), size) for at in ((0.010, 0.001), (0.020, 0.002)))
    drag(desk, start, end)
    typed = [float(text.split()[0]) for text in desk.document.case.readings["seen"].at]
    assert typed == pytest.approx([20.0, 2.0], abs=0.3)
    desk.document.undo()
    assert list(desk.document.case.readings["seen"].at) == ["10 mm", "1 mm"], "a drag is one step of undo"
    desk.sheet.go_to("shape.parts.run.length")
    wait(lambda: view.hands.handles and place not in [item.path for item in view.hands.handles])
    assert desk.following.part == "run"


def test_handles_follow_the_edge_clicked_and_the_key(desk: Desk) -> None:
    view = desk.stage.view
    view.setFocus()
    QTest.keyClick(view, Qt.Key.Key_H)
    assert desk.stage.handles_button.isChecked() and desk.following.part == "run"
    desk.document.edit({"shape.parts.rod": {"kind": "disc", "centre": ["15 mm", "0 mm"], "diameter": "3 mm"}})
    wait(lambda: view.picture.shape is not None and "rod.surface" in view.picture.shape.names)
    x, y = view.picture.to_pixel(np.array([0.0165, 0.0]), (view.width(), view.height()))
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=QPoint(round(x), round(y)))
    assert desk.following.part == "rod"
    assert {item.path for item in view.hands.handles} >= {"shape.parts.rod.centre"}


def test_follow_solves_at_every_edit_and_off_it_does_not(desk: Desk) -> None:
    solve(desk)
    first = desk.archive.records[""].readings["drop"]["value"]
    desk.bar.follow.click()
    desk.document.edit({"parameters.gap.value": "12 mm"})
    wait(lambda: desk.archive.records[""].readings["drop"]["value"] != first)
    second = desk.archive.records[""].readings["drop"]["value"]
    assert second < first
    for gap in ("13 mm", "14 mm", "15 mm"):  # edits on each other's heels: the last one counts
        desk.document.edit({"parameters.gap.value": gap})
        QApplication.processEvents()
    wait(lambda: desk.archive.records[""].case["parameters"]["gap"]["value"] == "15 mm")
    wait(lambda: desk.engine.state == "idle")
    desk.bar.follow.click()
    count = desk.archive.records[""].folder
    desk.document.edit({"parameters.gap.value": "9 mm"})
    end = time.monotonic() + 0.5
    while time.monotonic() < end:
        QApplication.processEvents()
    assert desk.engine.state == "idle" and desk.archive.records[""].folder == count


def test_the_grids_of_an_adapted_solve_are_stepped_through_and_compared(desk: Desk) -> None:
    desk.document.edit({"field.adapt": {"cycles": "2", "share": "20 %"}})
    solve(desk)
    bar, record = desk.stage.times, desk.archive.records[""]
    assert bar.isVisible() and len(bar.states) == 3 == len(record.cycles)
    assert desk.ledger.page.columns == [""]
    bar.slider.setValue(0)
    assert desk.stage.view.picture.answer.mesh.n_cells == record.cycles[0]["cells"] < record.cells
    assert f"{record.cycles[0]['cells']:,} cells" in bar.words.text()
    assert desk.ledger.page.columns == ["", "grid 1"]
    key = next(iter(record.readings))
    assert desk.ledger.page.readings["grid 1"][key]["value"] == record.cycles[0]["readings"][key]
    assert desk.ledger.page.value_words(key, "grid 1") != "–"
    bar.slider.setValue(2)
    assert desk.ledger.page.columns == [""]
    assert desk.stage.view.picture.answer.mesh.n_cells == record.cells


def test_a_run_in_time_has_a_slider_and_plays(desk: Desk) -> None:
    desk.document.edit(
        {
            "field.time": {
                "mode": "transient",
                "until": "1 s",
                "step": "0.1 s",
                "courant": "0",
                "every": "0.25 s",
            }
        }
    )
    solve(desk)
    bar = desk.stage.times
    assert bar.isVisible() and len(bar.states) == 4 and bar.slider.value() == 3
    bar.slider.setValue(0)
    assert desk.stage.view.picture.answer.time == pytest.approx(0.25)
    assert "0.25" in bar.words.text()
    bar.play.click()
    wait(lambda: bar.slider.value() == 3 and not bar.play.isChecked())
    assert desk.stage.view.picture.answer.time == pytest.approx(1.0)
    folder = Path(desk.archive.records[""].folder)
    process = desk.exports.animate(folder / "a.mp4")
    wait(lambda: "animation is in" in desk.status.text())
    assert (folder / "a.mp4").stat().st_size > 3000 and process is not None
    bar.slider.setValue(1)
    desk.begin_from_shown()
    assert desk.document.case.field.start.solution == f"{folder}@0.5"
    desk.document.undo()
    desk.traces.show_page("Readings")
    assert "time" in desk.traces.plot.getPlotItem().getAxis("bottom").labelText


def test_the_mean_over_time_is_the_last_place_of_the_slider(desk: Desk) -> None:
    in_time = {"mode": "transient", "until": "1 s", "step": "0.1 s", "courant": "0", "every": "0.5 s"}
    desk.document.edit({"field.time": {**in_time, "shows": "mean", "mean_from": "0.5 s"}})
    solve(desk)
    bar = desk.stage.times
    assert bar.states[:2] == ["t = 0.5 s", "t = 1 s"] and "mean from 0.5 s to 1 s" in bar.words.text()
    assert desk.stage.view.picture.answer.since == pytest.approx(0.5)
    bar.slider.setValue(1)
    assert desk.stage.view.picture.answer.since is None
    bar.slider.setValue(2)
    assert "swing" in desk.stage.view.picture.answer.quantities
    assert any(item["id"] == "mean_field" for item in desk.archive.records[""].trust)


def test_what_is_carried_can_be_added_coloured_and_read(desk: Desk) -> None:
    path = desk.sheet.add("field.species", "")
    assert path == "field.species.species1"
    desk.document.edit(
        {
            "field.openings.in.carries.species1": "20 g/kg",
            "readings.out": {
                "kind": "edge_value",
                "edge": "run.end",
                "quantity": "c.species1",
                "measure": "flow_mean",
            },
        }
    )
    wait(lambda: any("brings" in row for row in desk.sheet.rows))
    assert "carries" in desk.sheet.rows["field.openings.in.brings"].accessibleName()
    assert ("c.species1", "tracer") in desk.sheet._offers("quantity")
    solve(desk)
    desk.stage.set_quantity("c.species1")
    assert desk.stage.quantity.text().startswith("Tracer")
    assert desk.archive.records[""].readings["out"]["value"] == pytest.approx(0.02, rel=1e-6)
    desk.document.edit(
        {"field.species.species1": None, "field.openings.in.carries": {}, "readings.out": None}
    )
    solve(desk)
    assert desk.stage.quantity.text().startswith("Speed"), "what the field no longer has is not coloured"


def test_another_fluid_takes_the_place_of_the_old(desk: Desk) -> None:
    assert desk.sheet.add("media", "sea_water") == "media.water"
    assert desk.document.case.media["water"].kind == "sea_water" and len(desk.document.case.media) == 1


def test_measured_data_are_drawn_compared_fitted_and_exported(desk: Desk, tmp_path: Path) -> None:
    solve(desk)
    line = (np.array([0.03, -0.005]), np.array([0.03, 0.005]))
    desk.stage.view.lining.signals.drawn.emit(*line)
    desk.stage.set_quantity("u")
    places = np.linspace(1.0, 9.0, 9)
    rows = "\n".join(
        f"{y};{0.5 * 1.5 * 10 * (1 - (y / 5 - 1) ** 2)}" for y in places
    )  # half of the parabola, mm/s
    columns = parse_columns(f"y [mm];u [mm/s]\n{rows}", "m.csv")
    key = desk.bringing.bring_measured(columns, "profile", "u", line)
    assert key == "data1"
    QApplication.processEvents()
    title = desk.traces.measured[0]
    assert title[0] == "profile" and "bias" in title[5]
    assert desk.measuring.fit(key, "scale")
    assert float(desk.document.case.measured[key].scale) == pytest.approx(2.0, rel=0.03)
    words = desk.measuring.export(tmp_path / "both.csv")
    assert "are in" in words and "measured" in (tmp_path / "both.csv").read_text()
    desk.document.undo()
    assert desk.document.case.measured[key].scale == "1"
    assert desk.bringing.bring_measured(parse_columns("a [kg];b\n1;2\n2;3", "x"), "profile", "u", line) == ""
    assert "do not fit" in desk.status.text()


def test_a_drawing_is_brought_in_with_its_unit_asked_and_ends_sealed(
    desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    from tests.shape.test_drawings import draw

    asked: list[str] = []
    monkeypatch.setattr(QInputDialog, "getItem", lambda *a: (asked.append(a[1]), ("mm", True))[1])
    monkeypatch.setattr(
        QMessageBox, "question", lambda *a: (asked.append(a[1]), QMessageBox.StandardButton.Yes)[1]
    )
    assert desk.bringing.bring_drawing(draw(tmp_path / "a.dxf", units=0, gap=1.0))
    assert asked == ["Unit of the drawing", "Open ends"]
    assert {"space1", "island1"} <= set(desk.document.case.shape.parts)
    assert "Excluded: 1 texts" in desk.status.text()
    told: list[str] = []
    monkeypatch.setattr(QMessageBox, "warning", lambda *a: told.append(a[2]))
    (tmp_path / "bad.dxf").write_text("nothing")
    assert not desk.bringing.bring_drawing(tmp_path / "bad.dxf") and "DXF" in told[0]


def test_unsaved_work_is_offered_again(
    desk: Desk, channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch
) -> None:
    keeper = DraftKeeper()
    keeper.file = keeper.file.with_name("1-left.json")
    keeper.keep(parse_case({**channel, "title": "what was typed"}), None)
    data = json.loads(keeper.file.read_text())
    dead = subprocess.run(
        [sys.executable, "-c", "import os; print(os.getpid())"], capture_output=True, text=True, check=True
    )
    keeper.file.write_text(json.dumps({**data, "pid": int(dead.stdout)}))
    monkeypatch.setattr(QMessageBox, "question", lambda *a: QMessageBox.StandardButton.Yes)
    fresh = Desk()
    fresh.show()
    fresh.recover()
    assert fresh.document.case.title == "what was typed" and fresh.document.dirty
    assert left_behind() == []
    fresh.document._saved = fresh.document.case
    fresh.close()
    fresh.deleteLater()


def test_a_file_changed_by_another_program_is_not_written_over_unasked(
    desk: Desk, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = desk.document.path
    desk.document.edit({"title": "mine"})
    path.write_text(path.read_text() + "\n")
    answers = [QMessageBox.StandardButton.Cancel, QMessageBox.StandardButton.Save]
    monkeypatch.setattr(QMessageBox, "question", lambda *a: answers.pop(0))
    assert not desk.files.save() and desk.document.dirty
    assert desk.files.save() and load(path).title == "mine"
    assert path.with_name(path.name + ".bak").exists()
    assert desk.files.save() and not answers, "no question while nobody else writes"


def test_two_windows_on_one_file_are_told(desk: Desk) -> None:
    other = subprocess.Popen([sys.executable, "-c", "import time; time.sleep(30)"])
    try:
        mark = desk.document.path.with_name(f".{desk.document.path.name}.open")
        mark.write_text(str(other.pid))
        told: list[str] = []
        desk.document.troubled.connect(told.append)
        desk.open(desk.document.path)
        assert any("another window" in words for words in told)
    finally:
        other.kill()
        other.wait()


def test_the_manual_opens_where_the_focus_is_and_at_trust_items(desk: Desk) -> None:
    desk.sheet.go_to("field.openings.in")
    desk.show_manual()
    assert desk.handbook.anchor == "field.openings.velocity"
    text = desk.handbook.text
    assert text.document().idealWidth() < text.viewport().width() + 4, "no line is wider than the page"
    desk.sheet.go_to("field.solver")
    desk.show_manual()
    assert desk.handbook.anchor == "field.solver"
    solve(desk)
    desk.ledger.page.grab()
    key, box = desk.ledger.page._trust_boxes[2]
    QTest.mouseClick(desk.ledger.page, Qt.MouseButton.LeftButton, pos=box.center())
    assert desk.handbook.anchor == f"trust-{key}"
    desk.handbook.words.setText("Celik")
    desk.handbook.find_next()
    assert desk.handbook.text.textCursor().selectedText() == "Celik"


def test_one_click_puts_a_band_on_every_reading(desk: Desk) -> None:
    ends: list[Any] = []
    desk.engine.told.connect(lambda event: ends.append(event) if event["event"] == "finished" else None)
    wait(lambda: desk.engine.state == "idle")
    desk.ledger.grid_error.click()
    wait(lambda: ends)
    QApplication.processEvents()
    assert desk.ledger.page.band_words("drop", "").startswith("grid ±")
    assert desk.document.case.field.solver.grids == "1", "the case itself is not changed"


@pytest.mark.parametrize("demo", ["choice-flume", "plate-start", "pulsed-line"])
def test_new_demos_open_without_a_blocked_line(app: QApplication, demo: str) -> None:
    window = Desk()
    window.show()
    window.open(DEMOS / f"{demo}.lantern")
    wait(lambda: window.document.review is not None)
    assert not window.document.review.blocked
    window.close()
    window.deleteLater()


def test_a_folder_deleted_while_it_is_open_takes_nothing_along(desk: Desk) -> None:
    """Runs, then the whole folder, go away under the window: it solves on, says so in words, and saves."""
    solve(desk)
    path = desk.document.path
    assert path is not None
    value = desk.archive.records[""].readings["drop"]["value"]
    shutil.rmtree(path.with_suffix(".runs"))
    desk.document.edit({"title": "runs gone"})
    solve(desk)
    assert desk.archive.records[""].readings["drop"]["value"] == pytest.approx(value, rel=1e-6)
    assert path.with_suffix(".runs").exists(), "the next run makes its folder"
    shutil.rmtree(path.parent)
    told: list[str] = []
    desk.document.troubled.connect(told.append)
    desk.document.edit({"title": "all gone", "field.openings.in.velocity": "12 mm/s"})
    solve(desk)
    assert desk.document.case is not None and desk.document.case.title == "all gone"
    desk.files.save()
    assert path.exists() or told, "saved anew, or told in words"
    assert left_behind() == [] or left_behind()[0].case.title == "all gone"
