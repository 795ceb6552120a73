"""In-place editors of the sheet: values on a tinted ground, choices on a dotted line, names as tags."""

from __future__ import annotations

import re
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QFontMetrics, QKeyEvent
from PyQt6.QtWidgets import QLineEdit, QMenu, QPushButton, QWidget

from mop_lantern.case.sentences import Slot

Commit = Callable[[str, Any], bool]
Offers = Callable[[str], list[tuple[str, str]]]
_PAIR = re.compile(r"\(([^()]*)\)")
WIDEST = 250


class ValueEdit(QLineEdit):
    """A typed value: Enter commits, Esc restores."""

    def __init__(
        self,
        slot: Slot,
        commit: Commit,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.slot = slot
        self.commit = commit
        self.setProperty("value", "true")
        self.setFrame(False)
        self.show_value(slot)
        self.editingFinished.connect(self._finish)
        self.textEdited.connect(lambda _: self._fit())

    def show_value(self, slot: Slot) -> None:
        """Show the document's value unless the person is typing."""
        self.slot = slot
        if not (self.hasFocus() and self.isModified()):
            self.setText(slot.words())
            self.setModified(False)
            self.setCursorPosition(0)
        self._fit()

    def _fit(self) -> None:
        width = QFontMetrics(self.font()).horizontalAdvance(self.text() or "    ") + 16
        self.setFixedWidth(min(max(width, 34), WIDEST))

    def _finish(self) -> None:
        if self.text() == self.slot.words():
            self.setModified(False)
            return
        value = parse_slot(self.slot, self.text())
        self.setModified(False)
        if value is None or not self.commit(self.slot.path, value):
            self.setText(self.slot.words())
        self._fit()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Esc restores the document's value."""
        if event is not None and event.key() == Qt.Key.Key_Escape:
            self.setText(self.slot.words())
            self.setModified(False)
            self._fit()
            return
        super().keyPressEvent(event)


def parse_slot(slot: Slot, text: str) -> Any:
    """Turn typed text into the document's value for a slot; None when its form is wrong."""
    form = slot.declared.form if slot.declared else "text"
    if form == "point":
        found = _PAIR.search(text)
        return split_pair(found[1] if found else text)
    if form == "points":
        if text.strip().lower() in ("", "any place"):
            return []
        pairs = [split_pair(pair) for pair in _PAIR.findall(text)]
        return pairs if pairs and all(pairs) else None
    if isinstance(slot.value, list | tuple):
        return [part.strip() for part in text.split(",") if part.strip()]
    return text.strip()


def split_pair(text: str) -> list[str] | None:
    """Split "x, y" or "x, y, z" at its commas; with decimal commas use semicolons."""
    parts = [part.strip() for part in text.split(";" if ";" in text else ",")]
    return parts if len(parts) in (2, 3) and all(parts) else None


class ChoiceButton(QPushButton):
    """A choice among words; Up and Down change it, Space opens it."""

    def __init__(
        self,
        slot: Slot,
        options: list[tuple[str, str]],
        commit: Commit,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.slot = slot
        self.commit = commit
        self.options = options
        self.setProperty("choice", "true")
        self.show_value(slot)
        self.clicked.connect(self._open)

    def show_value(self, slot: Slot) -> None:
        """Show the document's value."""
        self.slot = slot
        words = dict(self.options).get(self._value(), slot.words())
        self.setText(words)
        self.setFixedWidth(QFontMetrics(self.font()).horizontalAdvance(words) + 5)

    def _value(self) -> str:
        value = self.slot.value
        return str(value).lower() if isinstance(value, bool) else str(value)

    def _commit(self, value: str) -> None:
        flag = self.slot.declared is not None and self.slot.declared.form == "flag"
        self.commit(self.slot.path, value == "true" if flag else value)

    def _open(self) -> None:
        menu = QMenu(self)
        for value, words in self.options:
            action = menu.addAction(words)
            assert action is not None
            action.setCheckable(True)
            action.setChecked(value == self._value())
            action.triggered.connect(lambda _=False, v=value: self._commit(v))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.mapToGlobal(self.rect().bottomLeft()))

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Step through the options with Up and Down."""
        if event is not None and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down):
            values = [value for value, _ in self.options]
            here = values.index(self._value()) if self._value() in values else 0
            step = 1 if event.key() == Qt.Key.Key_Down else -1
            if 0 <= here + step < len(values):
                self._commit(values[here + step])
            return
        super().keyPressEvent(event)
