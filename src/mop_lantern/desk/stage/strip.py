"""Buttons in a row that goes on in a second one where the first is full."""

from __future__ import annotations

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtWidgets import QLayout, QLayoutItem, QWidget

BETWEEN = 1  # pixels


class Strip(QLayout):
    """Places widgets from left to right at their own size, row under row."""

    def __init__(self, parent: QWidget | None = None) -> None:
        super().__init__(parent)
        self._items: list[QLayoutItem] = []
        self.setContentsMargins(8, 2, 8, 0)

    def addItem(self, item: QLayoutItem | None) -> None:
        """Take a widget in at the end."""
        if item is not None:
            self._items.append(item)

    def count(self) -> int:
        """How many there are."""
        return len(self._items)

    def itemAt(self, index: int) -> QLayoutItem | None:
        """Give one by its place."""
        return self._items[index] if 0 <= index < len(self._items) else None

    def takeAt(self, index: int) -> QLayoutItem | None:
        """Give one up."""
        return self._items.pop(index) if 0 <= index < len(self._items) else None

    def expandingDirections(self) -> Qt.Orientation:
        """Nowhere."""
        return Qt.Orientation(0)

    def hasHeightForWidth(self) -> bool:
        """The narrower, the higher."""
        return True

    def heightForWidth(self, width: int) -> int:
        """Give the height of all rows, pixels."""
        return self._place(QRect(0, 0, width, 0), False)

    def sizeHint(self) -> QSize:
        """Room for the widest button; the rest wraps."""
        return self.minimumSize()

    def minimumSize(self) -> QSize:
        """Room for the widest button."""
        margins = self.contentsMargins()
        widest = max((item.minimumSize().width() for item in self._items), default=0)
        highest = max((item.minimumSize().height() for item in self._items), default=0)
        return QSize(
            widest + margins.left() + margins.right(),
            highest + margins.top() + margins.bottom(),
        )

    def setGeometry(self, rect: QRect) -> None:
        """Place all."""
        super().setGeometry(rect)
        self._place(rect, True)

    def _place(self, rect: QRect, really: bool) -> int:
        """Place all in a rectangle, or only work out the height it takes."""
        margins = self.contentsMargins()
        room = rect.adjusted(margins.left(), margins.top(), -margins.right(), 0)
        rows: list[list[tuple[QLayoutItem, QSize]]] = [[]]
        x = 0
        for item in self._items:
            size = item.sizeHint()
            if rows[-1] and x + size.width() > room.width():
                rows.append([])
                x = 0
            rows[-1].append((item, size))
            x += size.width() + BETWEEN
        y = room.top()
        for row in rows:
            high = max((size.height() for _, size in row), default=0)
            x = room.left()
            for item, size in row:
                if really:
                    item.setGeometry(QRect(x, y + (high - size.height()) // 2, size.width(), size.height()))
                x += size.width() + BETWEEN
            y += high
        return y - rect.top() + margins.bottom()
