"""Tags: names of edges and faces, chosen from a list, typed, or clicked on the stage."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QStringListModel, Qt, pyqtSignal
from PyQt6.QtGui import QEnterEvent, QFocusEvent, QFontMetrics, QKeyEvent, QMouseEvent
from PyQt6.QtWidgets import QCompleter, QWidget

from mop_lantern.case.sentences import Slot
from mop_lantern.desk.sheet.editors import Commit, Offers, ValueEdit

LONGEST = 220  # pixels


class TagEdit(ValueEdit):
    """The name of an edge or face. A click lists all there are, typing narrows the list, Enter takes it, Up
    and Down step through it; while it is asked for, a click on the stage gives it.

    Signals
    -------
    hovered : the name under the pointer, or "". asked : itself; a click on the stage may answer. left :
    nobody asks any more.
    """

    hovered = pyqtSignal(str)
    asked = pyqtSignal(object)
    left = pyqtSignal()

    def __init__(self, slot: Slot, offers: Offers, commit: Commit, parent: QWidget) -> None:
        super().__init__(slot, commit, parent)
        self.setProperty("value", "false")
        self.setProperty("tag", "true")
        self._offers = offers
        self._names = QStringListModel(self)
        done = QCompleter(self._names, self)
        done.setCaseSensitivity(Qt.CaseSensitivity.CaseInsensitive)
        done.setFilterMode(Qt.MatchFlag.MatchContains)
        done.setMaxVisibleItems(12)
        done.activated[str].connect(self.take)  # type: ignore[index]  # the stubs know no overload
        self.setCompleter(done)

    def names(self) -> list[str]:
        """Give the edges or faces there are."""
        return [value for value, _ in self._offers("edge")]

    def take(self, name: str) -> None:
        """Take a name: from the list, or from the stage."""
        self.setText(name)
        self._finish()
        self.left.emit()

    def list_all(self) -> None:
        """Show the list of all names."""
        done = self.completer()
        assert done is not None
        self._names.setStringList(self.names())
        done.setCompletionPrefix("")
        done.complete()

    def _fit(self) -> None:
        width = QFontMetrics(self.font()).horizontalAdvance(self.text() or "choose") + 22
        self.setFixedWidth(min(width, LONGEST))

    def _finish(self) -> None:
        """Take what is typed; a part of one name only stands for it."""
        typed = self.text().strip()
        names = self.names()
        if typed and typed not in names:
            found = [name for name in names if name.lower().endswith(f".{typed.lower()}")]
            found = found or [name for name in names if typed.lower() in name.lower()]
            if len(found) == 1:
                self.setText(found[0])
        super()._finish()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Ask for a name: list all, and let the stage answer."""
        super().mousePressEvent(event)
        self.selectAll()
        self.list_all()
        self.asked.emit(self)

    def focusInEvent(self, event: QFocusEvent | None) -> None:
        """Know the names while typing; the whole name is typed over."""
        self._names.setStringList(self.names())
        super().focusInEvent(event)
        if event is not None and event.reason() in (
            Qt.FocusReason.TabFocusReason,
            Qt.FocusReason.BacktabFocusReason,
        ):
            self.asked.emit(self)

    def focusOutEvent(self, event: QFocusEvent | None) -> None:
        """Nobody asks any more, unless the pointer went to the stage."""
        super().focusOutEvent(event)
        if event is not None and event.reason() not in (
            Qt.FocusReason.MouseFocusReason,
            Qt.FocusReason.PopupFocusReason,
        ):
            self.left.emit()

    def event(self, event: QEvent | None) -> bool:
        """Take what is typed before Tab goes on: an open list must not keep it."""
        tabs = (Qt.Key.Key_Tab, Qt.Key.Key_Backtab)
        if isinstance(event, QKeyEvent) and event.type() == QEvent.Type.KeyPress and event.key() in tabs:
            done = self.completer()
            popup = done.popup() if done is not None else None
            if popup is not None:
                popup.hide()
            self._finish()
        return super().event(event)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Step through the names with Up and Down; Space lists them; Esc asks no more."""
        assert event is not None
        names = self.names()
        if event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down) and not self.isModified():
            here = names.index(self.text()) if self.text() in names else -1
            there = here + (1 if event.key() == Qt.Key.Key_Down else -1)
            if 0 <= there < len(names):
                self.setText(names[there])
                self._finish()
            return
        if event.key() == Qt.Key.Key_Space:
            self.list_all()
            return
        if event.key() == Qt.Key.Key_Escape:
            self.left.emit()
        super().keyPressEvent(event)

    def enterEvent(self, event: QEnterEvent | None) -> None:
        """Let what is named light up on the stage."""
        self.hovered.emit(str(self.slot.value))
        super().enterEvent(event)

    def leaveEvent(self, event: QEvent | None) -> None:
        """Let it go out again."""
        self.hovered.emit("")
        super().leaveEvent(event)
