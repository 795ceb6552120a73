"""The list behind "+": what can be added, grouped, with a drawing and a line of help, found by typing."""

from __future__ import annotations

from collections.abc import Sequence

from PyQt6.QtCore import QModelIndex, QPoint, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QKeyEvent, QPainter
from PyQt6.QtWidgets import (
    QFrame,
    QLineEdit,
    QListWidget,
    QListWidgetItem,
    QStyle,
    QStyledItemDelegate,
    QStyleOptionViewItem,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.case.offers import Offer
from mop_lantern.desk.symbols import icon_of
from mop_lantern.desk.theme import Tokens, font

WIDE, HIGH = 430, 470
ENTRY, HEADING = 46, 26
OFFER = Qt.ItemDataRole.UserRole


class AddList(QFrame):
    """A list that floats under its button; a click or Enter chooses, Esc closes.

    Signals
    -------
    chosen : the offer.
    """

    chosen = pyqtSignal(object)

    def __init__(self, offers: Sequence[Offer], tokens: Tokens, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setObjectName("add-list")
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.offers = list(offers)
        self.tokens = tokens
        self.search = QLineEdit()
        self.search.setPlaceholderText("Type to find, Enter to add")
        self.search.setAccessibleName("Find what to add")
        self.search.textChanged.connect(self._fill)
        self.list = QListWidget()
        self.list.setFrameShape(QFrame.Shape.NoFrame)
        self.list.setItemDelegate(_Entry(tokens, self.list))
        self.list.setAccessibleName("What can be added")
        self.list.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.list.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        self.list.itemClicked.connect(self._choose)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 6, 6)
        layout.addWidget(self.search)
        layout.addWidget(self.list)
        self._fill("")

    def show_under(self, button: QWidget) -> None:
        """Show the list below a button, within its screen."""
        whole = sum(item.sizeHint().height() for item in self._items())
        self.resize(WIDE, min(HIGH, whole + 60))
        at = button.mapToGlobal(QPoint(0, button.height()))
        screen = button.screen()
        if screen is not None:
            there = screen.availableGeometry()
            at.setX(max(there.left(), min(at.x(), there.right() - self.width())))
            at.setY(max(there.top(), min(at.y(), there.bottom() - self.height())))
        self.move(at)
        self.show()
        self.search.setFocus()

    def shown(self) -> list[Offer]:
        """Give the offers in the list."""
        return [item.data(OFFER) for item in self._items() if item.data(OFFER) is not None]

    def _items(self) -> list[QListWidgetItem]:
        found = (self.list.item(k) for k in range(self.list.count()))
        return [item for item in found if item is not None]

    def _fill(self, typed: str) -> None:
        self.list.clear()
        group = None
        for offer in self.offers:
            if not offer.fits(typed):
                continue
            if offer.group != group:
                group = offer.group
                self._add(group, None, HEADING)
            self._add(offer.caption, offer, ENTRY)
        if not self.list.count():
            self._add("Nothing here is called that.", None, HEADING)
        self._go(self._best(typed.lower()), 1)

    def _best(self, typed: str) -> int:
        """Give the row of the offer whose caption suits the words typed best."""
        ranks = {}
        for row, item in enumerate(self._items()):
            offer = item.data(OFFER)
            if offer is not None:
                caption = offer.caption.lower()
                whole = caption == typed
                ranks[row] = 0 if whole else 1 if caption.startswith(typed) else 2 if typed in caption else 3
        return min(ranks, key=lambda row: (ranks[row], row), default=0)

    def _add(self, words: str, offer: Offer | None, high: int) -> None:
        item = QListWidgetItem(words)
        item.setSizeHint(QSize(WIDE - 40, high))
        item.setData(OFFER, offer)
        if offer is None:
            item.setFlags(Qt.ItemFlag.NoItemFlags)
        else:
            item.setToolTip(offer.help)
            item.setIcon(icon_of(offer.symbol, self.tokens.ink))
            item.setData(Qt.ItemDataRole.AccessibleTextRole, f"{offer.caption}: {offer.help}")
        self.list.addItem(item)

    def _go(self, start: int, step: int) -> None:
        """Go to the next offer from a place on."""
        row = start
        while 0 <= row < self.list.count():
            item = self.list.item(row)
            if item is not None and item.data(OFFER) is not None:
                self.list.setCurrentRow(row)
                return
            row += step

    def _choose(self, item: QListWidgetItem | None) -> None:
        offer = item.data(OFFER) if item is not None else None
        if offer is not None:
            self.close()
            self.chosen.emit(offer)

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Move and choose while the words stay typed."""
        assert event is not None
        key = event.key()
        if key in (Qt.Key.Key_Down, Qt.Key.Key_Up):
            step = 1 if key == Qt.Key.Key_Down else -1
            self._go(self.list.currentRow() + step, step)
        elif key in (Qt.Key.Key_Return, Qt.Key.Key_Enter):
            self._choose(self.list.currentItem())
        else:
            super().keyPressEvent(event)


class _Entry(QStyledItemDelegate):
    """Paints a heading, or a drawing with a caption and a line of help."""

    def __init__(self, tokens: Tokens, parent: QWidget) -> None:
        super().__init__(parent)
        self.tokens = tokens

    def paint(self, painter: QPainter | None, option: QStyleOptionViewItem, index: QModelIndex) -> None:
        """Paint one entry."""
        assert painter is not None
        painter.save()
        box = option.rect
        offer = index.data(OFFER)
        if offer is None:
            painter.setFont(font(10, bold=True))
            painter.setPen(QColor(self.tokens.amber))
            painter.drawText(box.adjusted(6, 0, 0, -2), int(Qt.AlignmentFlag.AlignBottom), index.data())
        else:
            if option.state & QStyle.StateFlag.State_Selected:
                painter.fillRect(box, QColor(self.tokens.value))
            index.data(Qt.ItemDataRole.DecorationRole).paint(painter, QRect(box.x() + 8, box.y() + 8, 30, 30))
            words = box.adjusted(48, 4, -6, -4)
            painter.setFont(font(11, bold=True))
            painter.setPen(QColor(self.tokens.ink))
            painter.drawText(words, int(Qt.AlignmentFlag.AlignTop), offer.caption)
            small = font(9.5)
            painter.setFont(small)
            painter.setPen(QColor(self.tokens.soft))
            line = QFontMetrics(small).elidedText(offer.help, Qt.TextElideMode.ElideRight, words.width())
            painter.drawText(words, int(Qt.AlignmentFlag.AlignBottom), line)
        painter.restore()
