"""Nothing typed is lost: a draft at every edit, recovery after a crash, files changed or opened elsewhere."""

from __future__ import annotations

from datetime import datetime
from pathlib import Path

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QMessageBox, QWidget

from mop_lantern.case import Draft, DraftKeeper, OpenMark, fingerprint, left_behind
from mop_lantern.desk.document import Document


class Autosave(QObject):
    """Watches over the document of one window."""

    def __init__(self, document: Document, window: QWidget) -> None:
        super().__init__(window)
        self.document = document
        self.window = window
        self.keeper = DraftKeeper()
        self.mark = OpenMark()
        self._print = ""
        self._warned = False
        document.changed.connect(lambda _: self.keep())

    def keep(self) -> None:
        """Keep a draft of what is not saved."""
        document = self.document
        if document.case is None or not document.dirty:
            self.keeper.drop()
            return
        words = self.keeper.keep(document.case, document.path)
        if words and not self._warned:
            document.troubled.emit(words)
        self._warned = bool(words)

    def opened(self) -> None:
        """Take note of a file just opened or saved; tell when another window has it open."""
        path = self.document.path
        self._print = fingerprint(path) if path is not None else ""
        other = self.mark.set(path)
        if other and path is not None:
            self.document.troubled.emit(
                f"{path.name} is open in another window too (process {other}). Save under another "
                "name, or what is saved last wins."
            )

    def changed_outside(self) -> bool:
        """Tell whether the file on disk is no longer the one that was opened or saved here."""
        path = self.document.path
        return path is not None and path.exists() and bool(self._print) and fingerprint(path) != self._print

    def may_overwrite(self) -> bool:
        """Ask before writing over a file that another program has changed."""
        if not self.changed_outside():
            return True
        buttons = QMessageBox.StandardButton
        words = (
            "Another program has changed this file since it was opened here. Write over it? The other "
            "version is kept beside it as .bak."
        )
        return (
            QMessageBox.question(self.window, "The file has changed", words, buttons.Save | buttons.Cancel)
            == buttons.Save
        )

    def recover(self) -> bool:
        """Offer the newest draft a killed program left behind; give whether it was taken."""
        drafts = left_behind()
        if not drafts:
            return False
        draft = drafts[0]
        buttons = QMessageBox.StandardButton
        when = datetime.fromtimestamp(draft.kept).strftime("%d %B %H:%M")
        name = Path(draft.path).name if draft.path else draft.case.title or "a new case"
        words = f"The program ended without saving {name}, last edited on {when}. Go on with what was typed?"
        answer = QMessageBox.question(
            self.window, "Unsaved work was found", words, buttons.Yes | buttons.No | buttons.Discard
        )
        if answer == buttons.Yes:
            self.take(draft)
            return True
        if answer == buttons.Discard:
            draft.file.unlink(missing_ok=True)
        return False

    def take(self, draft: Draft) -> None:
        """Go on with a draft; it counts as not saved."""
        self.document.start(draft.case, Path(draft.path) if draft.path else None)
        self.document.mark_dirty()
        self.keep()
        draft.file.unlink(missing_ok=True)

    def close(self) -> None:
        """The window closes in peace."""
        self.keeper.drop()
        self.mark.clear()
