"""The document: the one object panels listen to. It holds the case, its undo stack, the chosen variant and
its review.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from concurrent.futures import Future, ThreadPoolExecutor
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, Qt, pyqtSignal

from mop_lantern.case import (
    Case,
    Review,
    apply,
    is_network,
    load,
    quick_shape,
    review,
    save,
    value_at,
    with_variant,
)
from mop_lantern.errors import EditError, LanternError
from mop_lantern.results import runs_folder
from mop_lantern.results.unsaved import forget_runs, move_runs, unsaved_folder

MOST_UNDO = 500
_ALWAYS_BASE = ("variants.", "units.", "title", "notes", "views")


class Document(QObject):
    """A case being worked on.

    Signals
    -------
    changed : paths that changed, empty for "all". shaped : the new shape, ahead of the review. reviewed : the
    review of the chosen variant is there.
    troubled : something could not be done, in words. computed : what `compute` was asked for, under its name.
    """

    changed = pyqtSignal(list)
    reviewed = pyqtSignal(object)
    shaped = pyqtSignal(object)
    troubled = pyqtSignal(str)
    computed = pyqtSignal(str, object)
    _ready = pyqtSignal(object, int)
    _built = pyqtSignal(object, int)

    def __init__(self) -> None:
        super().__init__()
        self.case: Case | None = None
        self.path: Path | None = None
        self.variant = ""
        self.review: Review | None = None
        self._undo: list[tuple[Case, str]] = []
        self._redo: list[tuple[Case, str]] = []
        self._saved: Case | None = None
        self._unsaved = unsaved_folder()  # where runs go while there is no file
        self._shown: tuple[Case, str, Case] | None = None  # case and variant, and the two applied
        self._pool = ThreadPoolExecutor(1, thread_name_prefix="review")
        self._number = 0
        self.brief = False  # while a network is worked live, only what forbids is looked for
        # Queued: a quick review must not be told in the middle of an edit.
        self._ready.connect(self._take, Qt.ConnectionType.QueuedConnection)  # type: ignore[call-arg]  # the stubs know one argument only
        self._built.connect(lambda shape, number: self.shaped.emit(shape) if number == self._number else None)

    @property
    def shown(self) -> Case | None:
        """The case with the chosen variant applied."""
        if self.case is None:
            return None
        if self._shown is None or self._shown[0] is not self.case or self._shown[1] != self.variant:
            try:
                found = with_variant(self.case, self.variant)
            except EditError:
                found = self.case
            self._shown = self.case, self.variant, found
        return self._shown[2]

    @property
    def runs(self) -> Path:
        """Where runs go: beside the file, or to a folder that goes with the case while it has none."""
        return self._unsaved if self.path is None else runs_folder(self.path)

    def bring_runs(self) -> bool:
        """Move runs from before there was a file to where they belong; tell whether there were any."""
        if self.path is None or not self._unsaved.is_dir():
            return False
        return move_runs(self._unsaved, self.runs)

    @property
    def dirty(self) -> bool:
        """Whether there is something to save."""
        return self.case is not self._saved

    def mark_dirty(self) -> None:
        """Count the present case as not saved."""
        self._saved = None
        self.changed.emit(["title"])

    def open(self, path: Path) -> None:
        """Open a file; raise `LanternError` when it cannot be, keeping the present case."""
        case = load(path)
        self.start(case, path)

    def start(self, case: Case, path: Path | None) -> None:
        """Begin with a case; runs of one that never had a file go."""
        forget_runs(self._unsaved)
        self._unsaved = unsaved_folder()
        self.case = case
        self.path = path
        self.variant = ""
        self._saved = case
        self._undo.clear()
        self._redo.clear()
        self.review = None
        self._after([])

    def save(self, path: Path) -> bool:
        """Save to a file; tell trouble in words."""
        assert self.case is not None
        try:
            save(self.case, path)
        except LanternError as problem:
            self.troubled.emit(str(problem))
            return False
        self.path, self._saved = path, self.case
        self.changed.emit(["title"])
        return True

    def work_out(self, edits_of: Callable[[Case], Mapping[str, Any]], label: str) -> bool:
        """Apply the edits a function gives for the case shown; tell where it cannot."""
        if self.shown is None:
            return False
        try:
            edits = edits_of(self.shown)
        except LanternError as problem:
            self.troubled.emit(str(problem))
            return False
        return bool(edits) and self.edit(edits, label)

    def edit(
        self,
        edits: Mapping[str, Any],
        label: str = "edit",
        merge: bool = False,
    ) -> bool:
        """Apply edits, to the chosen variant if there is one; one step of undo.

        ``merge`` joins the step with the one before when that has the same label, as a drag wants.
        """
        if self.case is None:
            return False
        joined = merge and bool(self._undo) and self._undo[-1][1] == label
        former = self._undo[-1] if joined else None
        if self.variant and not all(path.startswith(_ALWAYS_BASE) for path in edits):
            done = self._edit_variant(edits, label)
        else:
            done = self._put(edits, label)
        if done and former is not None:
            self._undo.pop()
        return done

    def close_step(self) -> None:
        """End a merged step of undo: the next drag begins another."""
        if self._undo:
            case, label = self._undo[-1]
            self._undo[-1] = (case, f"{label} ·")

    def _edit_variant(self, edits: Mapping[str, Any], label: str) -> bool:
        assert self.case is not None
        kept = dict(self.case.variants[self.variant].edits)
        for path, value in edits.items():
            kept.pop(path, None)
            if value_at(self.case, path) != value:
                kept[path] = value
        try:
            apply(self.case, kept)
        except EditError as problem:
            self.troubled.emit(str(problem))
            return False
        return self._put({f"variants.{self.variant}.edits": kept}, label, list(edits))

    def _put(
        self,
        edits: Mapping[str, Any],
        label: str,
        paths: list[str] | None = None,
    ) -> bool:
        assert self.case is not None
        try:
            fresh = apply(self.case, edits)
        except EditError as problem:
            self.troubled.emit(str(problem))
            return False
        self._undo.append((self.case, label))
        del self._undo[:-MOST_UNDO]
        self._redo.clear()
        self.case = fresh
        self._after(paths or list(edits))
        return True

    def undo(self) -> None:
        """Go back one step."""
        self._travel(self._undo, self._redo)

    def redo(self) -> None:
        """Go forward one step."""
        self._travel(self._redo, self._undo)

    def _travel(self, back: list[tuple[Case, str]], forth: list[tuple[Case, str]]) -> None:
        if back and self.case is not None:
            case, label = back.pop()
            forth.append((self.case, label))
            self.case = case
            if self.variant not in case.variants:
                self.variant = ""
            self._after([])

    def choose(self, variant: str) -> None:
        """Choose a variant to show and edit; "" is the case as drawn."""
        self.variant = variant
        self._after([])

    def add_variant(self) -> str:
        """Add an empty variant with the next free letter and choose it."""
        assert self.case is not None
        letter = next(
            c
            for c in [*"BCDEFGHIJKLMNOPQRSTUVWXYZ", *(f"V{n}" for n in range(1, 1000))]
            if c not in self.case.variants
        )
        start = dict(self.case.variants[self.variant].edits) if self.variant else {}
        self._put({f"variants.{letter}": {"title": "", "edits": start}}, "add a variant")
        self.choose(letter)
        return letter

    def remove_variant(self, variant: str) -> None:
        """Remove a variant; its runs stay on disk."""
        if self.variant == variant:
            self.variant = ""
        self._put({f"variants.{variant}": None}, "remove a variant")

    def recheck(self) -> None:
        """Review the case again."""
        self._after([])

    def _after(self, paths: list[str]) -> None:
        self.changed.emit(paths)
        self._number += 1
        if self.case is None:
            return
        number = self._number
        case = self.case
        variant = self.variant
        future = self._pool.submit(self._review, case, variant, number)
        future.add_done_callback(lambda done: self._tell(done, number))

    def _review(
        self,
        case: Case,
        variant: str,
        number: int,
    ) -> Review | None:
        if number != self._number:
            return None
        shape = None if is_network(case) else quick_shape(case, variant)
        if shape is not None:
            self._built.emit(shape, number)
        return review(case, variant, brief=self.brief) if number == self._number else None

    def _tell(self, done: Future[Review | None], number: int) -> None:
        try:
            if done.cancelled():
                return
            problem = done.exception()
            if problem is not None:  # never silent: without a review nothing would be shown
                self.troubled.emit(
                    "The case could not be checked: a fault of the program. The case is safe; undo the last "
                    "change, or change a value to try again."
                )
            elif done.result() is not None:
                self._ready.emit(done.result(), number)
        except RuntimeError:
            return  # the window has gone

    def compute(self, what: str, work: Callable[[], Any]) -> None:
        """Work something out behind the window; ``computed`` tells the answer, unless the case has changed
        meanwhile.
        """
        number = self._number

        def done(future: Future[Any]) -> None:
            try:
                if not future.cancelled() and future.exception() is None and number == self._number:
                    self.computed.emit(what, future.result())
            except RuntimeError:
                return  # the window has gone

        self._pool.submit(work).add_done_callback(done)

    def _take(self, result: Review, number: int) -> None:
        if number == self._number:
            self.review = result
            self.reviewed.emit(result)

    def close(self) -> None:
        """Stop reviewing; runs of a case that never had a file go."""
        forget_runs(self._unsaved)
        self._number += 1
        self._pool.shutdown(wait=True, cancel_futures=True)
