"""The document: edits, undo and redo keep to a simple model; variants hold only what differs."""

from __future__ import annotations

import random
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from PyQt6.QtWidgets import QApplication

from mop_lantern.case import Case, apply, load, parse_case, save, value_at, with_variant
from mop_lantern.desk import document as module
from mop_lantern.desk.document import Document
from mop_lantern.errors import CaseError, FileError
from tests.desk.test_window import wait

LENGTHS = [f"{value} mm" for value in (31, 35, 40, 44, 52)]


@pytest.fixture
def document(app: QApplication, channel: dict[str, Any]) -> Iterator[Document]:
    """Begin a document with the channel."""
    made = Document()
    made.start(parse_case(channel), None)
    yield made
    made.close()
    QApplication.processEvents()


def told(document: Document) -> list[str]:
    """Listen to trouble."""
    words: list[str] = []
    document.troubled.connect(words.append)
    return words


@pytest.mark.parametrize("seed", range(8))
def test_undo_and_redo_walk_a_line_of_cases(document: Document, seed: int) -> None:
    """Against the plainest model: a list of cases and a place in it."""
    rng = random.Random(seed)
    assert document.case is not None
    line: list[Case] = [document.case]
    at = 0
    for _ in range(60):
        deed = rng.choice(["edit", "edit", "edit", "undo", "redo", "refused"])
        if deed == "edit":
            path, value = rng.choice(
                [
                    ("shape.parts.run.length", rng.choice(LENGTHS)),
                    ("title", rng.choice("abcdef")),
                    ("field.openings.in.velocity", f"{rng.randint(1, 9)} mm/s"),
                ]
            )
            assert document.edit({path: value})
            line = [*line[: at + 1], apply(line[at], {path: value})]
            at += 1
        elif deed == "undo":
            document.undo()
            at = max(at - 1, 0)
        elif deed == "redo":
            document.redo()
            at = min(at + 1, len(line) - 1)
        else:
            assert not document.edit({"no.such.place": "1"})
        assert document.case == line[at]
    while at:
        document.undo()
        at -= 1
    assert document.case == line[0]


def test_the_list_of_undo_is_bounded(document: Document, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr(module, "MOST_UNDO", 5)
    for value in range(20):
        document.edit({"title": f"t{value}"})
    for _ in range(30):
        document.undo()
    assert document.case is not None and document.case.title == "t14", "five back from the last"


def test_a_drag_is_one_step(document: Document) -> None:
    before = document.case
    for value in (41, 42, 43):
        document.edit({"shape.parts.run.length": f"{value} mm"}, "drag", merge=value > 41)
    document.close_step()
    document.edit({"shape.parts.run.length": "50 mm"}, "drag", merge=True)
    document.undo()
    assert document.case is not None and value_at(document.case, "shape.parts.run.length") == "43 mm"
    document.undo()
    assert document.case == before


def test_an_edit_of_a_variant_stays_in_it(document: Document) -> None:
    assert document.case is not None
    base = value_at(document.case, "shape.parts.run.length")
    document.choose("B")
    assert document.edit({"shape.parts.run.length": "60 mm"})
    assert value_at(document.case, "shape.parts.run.length") == base
    assert document.shown is not None and value_at(document.shown, "shape.parts.run.length") == "60 mm"
    assert document.edit({"shape.parts.run.length": base}), "back to what the base has"
    assert "shape.parts.run.length" not in document.case.variants["B"].edits
    assert document.edit({"title": "of all"})
    assert document.case.title == "of all", "a title belongs to the case"
    document.choose("")
    assert document.shown == document.case


def test_what_does_not_fit_a_variant_is_told_and_not_done(document: Document) -> None:
    words = told(document)
    document.choose("B")
    before = document.case
    assert not document.edit({"shape.parts.wings.length": "1 m"})
    assert document.case == before and "wings" in words[0]


def test_a_new_variant_begins_as_the_one_shown(document: Document) -> None:
    document.choose("B")
    letter = document.add_variant()
    assert letter == "C" and document.variant == "C" and document.case is not None
    assert document.case.variants["C"].edits == document.case.variants["B"].edits
    document.remove_variant("C")
    assert document.variant == "" and "C" not in document.case.variants
    document.undo()
    assert "C" in document.case.variants
    document.choose("C")
    document.undo()
    document.undo()
    assert document.variant in ("", "B", "C") and document.variant in ("", *document.case.variants)


def test_twenty_six_variants_and_more_have_names(document: Document) -> None:
    names = [document.add_variant() for _ in range(27)]
    assert len(set(names)) == 27 and names[23:26] == ["Z", "V1", "V2"]


def test_saving_and_opening_keep_all(document: Document, tmp_path: Path) -> None:
    assert not document.dirty
    document.edit({"title": "kept"})
    assert document.dirty
    path = tmp_path / "x.lantern"
    assert document.save(path) and not document.dirty and document.path == path
    document.edit({"title": "not kept"})
    document.undo()
    assert not document.dirty, "back where it was saved"
    document.open(path)
    assert document.case == load(path)
    document.undo()
    assert document.case == load(path), "another case, another line of undo"


def test_a_file_that_cannot_be_opened_leaves_the_present_case(document: Document, tmp_path: Path) -> None:
    before = document.case
    broken = tmp_path / "broken.lantern"
    broken.write_text("{")
    for path in (broken, tmp_path / "none.lantern"):
        with pytest.raises((FileError, CaseError)):
            document.open(path)
        assert document.case is before


def test_a_file_that_cannot_be_written_is_told(document: Document) -> None:
    words = told(document)
    assert not document.save(Path("/nowhere/at/all.lantern"))
    assert "/nowhere/at/all.lantern" in words[0] and document.path is None


def test_a_review_tells_of_the_newest_case_only(document: Document) -> None:
    reviews: list[Any] = []
    document.reviewed.connect(reviews.append)
    for value in range(6):
        document.edit({"title": f"t{value}"})
    wait(lambda: document.review is not None and document.review.case == document.shown, 20.0)
    assert document.review is not None and document.review.case.title == "t5"
    assert all(one.case.title == "t5" for one in reviews[-1:])


def test_a_review_that_falls_over_is_told(document: Document, monkeypatch: pytest.MonkeyPatch) -> None:
    wait(lambda: document.review is not None, 20.0)
    words = told(document)

    def falls(*_: Any, **__: Any) -> None:
        raise ZeroDivisionError("oh")

    monkeypatch.setattr(module, "review", falls)
    document.recheck()
    wait(lambda: bool(words), 20.0)
    assert "fault of the program" in words[0] and "change a value" in words[0]


def test_work_for_a_case_that_is_gone_is_forgotten(document: Document) -> None:
    import threading

    answers: list[Any] = []
    document.computed.connect(lambda what, answer: answers.append((what, answer)))
    gate = threading.Event()
    document.compute("slow", lambda: gate.wait(5) and 1)
    document.edit({"title": "another"})
    gate.set()
    document.compute("quick", lambda: 2)
    wait(lambda: ("quick", 2) in answers, 20.0)
    assert answers == [("quick", 2)]


def test_every_variant_of_every_saved_case_is_what_its_edits_say(
    document: Document, tmp_path: Path, channel: dict[str, Any]
) -> None:
    document.choose("B")
    document.edit({"field.grid.cell": "2 mm", "field.openings.in.velocity": "3 mm/s"})
    assert document.case is not None and document.shown is not None
    path = tmp_path / "v.lantern"
    save(document.case, path)
    assert with_variant(load(path), "B") == document.shown
    base = value_at(load(path), "field.grid.cell")
    assert base == channel["field"]["grid"]["cell"]
