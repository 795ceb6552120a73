"""The file of the case: opened, begun, saved; nothing typed is lost on the way."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QFileDialog, QMessageBox, QWidget

from mop_lantern.case import Case
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.autosave import Autosave
from mop_lantern.desk.remembering import remembered
from mop_lantern.desk.starters import DEMOS
from mop_lantern.errors import LanternError

RECENT = 8
FILTER = "Cases (*.lantern)"


class CaseFiles(QObject):
    """Opens and saves; ``began`` tells that another case is there, ``saved`` that it is on disk."""

    began = pyqtSignal()
    saved = pyqtSignal()

    def __init__(self, document: Document, keeping: Autosave, window: QWidget) -> None:
        super().__init__(window)
        self.document = document
        self.keeping = keeping
        self.window = window

    def open(self, path: Path) -> bool:
        """Open a case file; trouble is told in words and the present case stays."""
        if not self.may_leave():
            return False
        try:
            self.document.open(Path(path))
        except LanternError as problem:
            QMessageBox.warning(self.window, "This case cannot be opened", str(problem)[:3000])
            return False
        if not _is_demo(path):
            own = str(Path(path).resolve())
            others = [name for name in recent_files() if name != own]
            remembered().setValue("recent", [own, *others][:RECENT])
        self._begin()
        return True

    def _begin(self) -> None:
        if self.document.path is None or not _is_demo(self.document.path):
            self.keeping.opened()
        self.began.emit()

    def recover(self) -> bool:
        """Take unsaved work that a killed program left behind, if the person wants it."""
        if self.document.case is None and self.keeping.recover():
            self._begin()
            return True
        return False

    def new(self, what: str = "plane") -> bool:
        """Begin from nothing: a "plane", round an "axis", in "space", or a "network"; tell whether that was
        done.
        """
        if not self.may_leave():
            return False
        data: dict[str, Any] = {"title": "New case", "media": {"fluid": {"kind": "water"}}}
        if what == "network":
            data["network"] = {"nodes": {"source": {"kind": "reservoir"}, "drain": {"kind": "reservoir"}}}
        else:
            data["shape"] = {"space": what}
        self.document.start(Case.model_validate(data), None)
        self._begin()
        return True

    def ask(self) -> None:
        """Ask for a file and open it."""
        name, _ = QFileDialog.getOpenFileName(self.window, "Open a case", "", f"{FILTER};;All files (*)")
        if name:
            self.open(Path(name))

    def save(self) -> bool:
        """Save, asking for a name when there is none or the case is a starter."""
        path = self.document.path
        if path is None or _is_demo(path):
            return self.save_as()
        return self.keeping.may_overwrite() and self._write(path)

    def _write(self, path: Path) -> bool:
        if not self.document.save(path):
            return False
        self.keeping.opened()
        self.keeping.keep()
        self.saved.emit()
        return True

    def save_as(self) -> bool:
        """Ask for a name and save."""
        if self.document.case is None:
            return False
        proposed = f"{self.document.path.stem if self.document.path else 'case'}.lantern"
        name, _ = QFileDialog.getSaveFileName(self.window, "Save the case", proposed, FILTER)
        if not name:
            return False
        path = Path(name)
        return self._write(path if path.suffix else path.with_suffix(".lantern"))

    def may_leave(self) -> bool:
        """Whether the present case may go: saved, or given up by the person."""
        if self.document.case is None or not self.document.dirty:
            return True
        buttons = QMessageBox.StandardButton
        answer = QMessageBox.question(
            self.window,
            "Keep the changes?",
            "The case has changes that are not saved.",
            buttons.Save | buttons.Discard | buttons.Cancel,
        )
        return self.save() if answer == buttons.Save else bool(answer == buttons.Discard)


def recent_files() -> list[str]:
    """Give the case files opened last, the newest first."""
    stored = remembered().value("recent", [])
    return [stored] if isinstance(stored, str) else [str(path) for path in stored or []]


def _is_demo(path: Path) -> bool:
    return DEMOS in Path(path).resolve().parents
