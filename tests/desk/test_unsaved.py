"""Cases without a file: runs of their own, gone with the case, moved along when it is saved."""

from __future__ import annotations

import os
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QApplication, QFileDialog, QMessageBox

from mop_lantern.case import parse_case
from mop_lantern.desk.document import Document
from mop_lantern.desk.window import Desk
from mop_lantern.results import runs_folder
from mop_lantern.results.runs import state_folder
from mop_lantern.results.unsaved import forget_runs, move_runs, sweep_unsaved, unsaved_folder
from tests.desk.test_window import reviewed, solve, wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.fixture
def window(app: QApplication, channel: dict[str, Any], monkeypatch: pytest.MonkeyPatch) -> Iterator[Desk]:
    """Begin with the channel, never saved."""
    monkeypatch.setattr(QMessageBox, "question", lambda *_: QMessageBox.StandardButton.Discard)
    made = Desk()
    made.show()
    made.document.start(parse_case(channel), None)
    made._begin()
    reviewed(made)
    yield made
    made.document._saved = made.document.case
    made.close()
    made.deleteLater()
    QApplication.processEvents()


def test_every_case_without_a_file_has_a_folder_of_its_own() -> None:
    one, other = unsaved_folder(), unsaved_folder()
    assert one != other and one.parent == other.parent == state_folder()
    assert str(os.getpid()) in one.name and not one.exists()


def test_a_new_case_shows_nothing_of_the_one_before(window: Desk) -> None:
    solve(window)
    first = window.document.runs
    assert first.is_dir() and window.archive.records
    window.files.new()
    assert window.archive.records == {} and window.document.runs != first
    picture = window.stage.view.picture
    assert picture is not None and picture.answer is None
    assert not first.exists(), "its results went with it"


def test_two_windows_do_not_see_each_other(window: Desk, channel: dict[str, Any]) -> None:
    solve(window)
    other = Document()
    try:
        other.start(parse_case(channel), None)
        assert other.runs != window.document.runs and not other.runs.exists()
    finally:
        other.close()
    assert window.document.runs.is_dir()


def test_saving_takes_the_runs_along(window: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    solve(window)
    before = window.document.runs
    value = window.archive.records[""].readings["flow"]["value"]
    goal = tmp_path / "mine.lantern"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(goal), ""))
    assert window.files.save()
    assert window.document.runs == runs_folder(goal) and not before.exists()
    record = window.archive.records[""]
    assert Path(record.folder).is_relative_to(runs_folder(goal))
    assert record.readings["flow"]["value"] == value and window.archive.answer("") is not None
    assert window.files.open(goal)
    assert window.archive.records[""].readings["flow"]["value"] == value, "and next time"


def test_a_case_saved_in_the_middle_of_a_solve_gets_its_run(
    window: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    goal = tmp_path / "mine.lantern"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(goal), ""))
    window.solve()
    wait(lambda: window.engine.state == "solving")
    assert window.files.save()
    wait(lambda: window.engine.state == "idle")
    wait(lambda: "" in window.archive.records and runs_folder(goal).is_dir())
    assert Path(window.archive.records[""].folder).is_relative_to(runs_folder(goal))


def test_closing_lets_the_runs_of_an_unsaved_case_go(app: QApplication, channel: dict[str, Any]) -> None:
    document = Document()
    document.start(parse_case(channel), None)
    folder = document.runs / "base" / "001"
    folder.mkdir(parents=True)
    document.close()
    assert not document.runs.exists()


def test_runs_go_behind_those_that_are_there(tmp_path: Path) -> None:
    old, goal = unsaved_folder(), tmp_path / "x.runs"
    for number, word in ((1, "a"), (2, "b")):
        (old / "base" / f"{number:03d}").mkdir(parents=True)
        (old / "base" / f"{number:03d}" / "word").write_text(word)
    (goal / "base" / "004").mkdir(parents=True)
    assert move_runs(old, goal)
    assert sorted(path.name for path in (goal / "base").iterdir()) == ["004", "005", "006"]
    assert (goal / "base" / "005" / "word").read_text() == "a"
    assert not old.exists() and move_runs(old, goal), "nothing left to move"


def test_runs_that_cannot_be_moved_stay(tmp_path: Path) -> None:
    old = unsaved_folder()
    (old / "base" / "001").mkdir(parents=True)
    wall = tmp_path / "file"
    wall.write_text("in the way")
    assert not move_runs(old, wall / "x.runs")
    assert (old / "base" / "001").is_dir()
    forget_runs(old)
    assert not old.exists()


def test_only_folders_of_ended_programs_are_swept(tmp_path: Path) -> None:
    base = state_folder()
    gone = base / "unsaved-999999999-1.runs"
    mine = unsaved_folder()
    other = base / "header.runs"
    for folder in (gone, mine, other):
        (folder / "base" / "001").mkdir(parents=True)
    sweep_unsaved()
    assert not gone.exists() and mine.exists() and other.exists()
    forget_runs(other)
    assert other.exists(), "the runs of a case with a file are not ours to take"
    forget_runs(mine)
