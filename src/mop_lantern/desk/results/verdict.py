"""Below the trust list: what a standard says of the comfort in a room, a row for every height."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QWidget

from mop_lantern.desk.theme import Tokens, font

HEAD = 34
MARK = 46  # room for the category
GAP = 6
WORDS = int(Qt.TextFlag.TextWordWrap)


def limits_of(row: dict[str, Any]) -> str:
    """Give the limits of the categories of a row, "" where it has none (a run of an older program too)."""
    named = zip("ABC", row.get("limits", ()), strict=False)
    return "; ".join(f"{category}: {limit}" for category, limit in named)


def _told(row: dict[str, Any]) -> str:
    """Give the words of a row and, on a line of their own, its limits."""
    limits = limits_of(row)
    return f"{row['text']}\n{limits}" if limits else str(row["text"])


class VerdictPage(QWidget):
    """Paints the rows of a verdict, each with its category before it."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.rows: list[dict[str, Any]] = []
        self.setObjectName("comfort-verdict")
        self.setToolTip(
            "The category of every row by the standard named, A the best; the room has that of its worst row"
        )
        self.hide()

    def show_rows(self, rows: list[dict[str, Any]]) -> None:
        """Show the rows of a run, as its record keeps them."""
        self.rows = rows
        self.setVisible(bool(rows))
        self.setAccessibleName(self.as_text())
        self._fit()

    def as_text(self) -> str:
        """Give the rows as tab-separated text."""
        return "\n".join(f"{row['category']}\t{row['text']}\t{limits_of(row)}" for row in self.rows)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Words wrap anew."""
        super().resizeEvent(event)
        self._fit()

    def sizeHint(self) -> QSize:
        """Room for all rows."""
        return QSize(260, HEAD + sum(height + GAP for height in self._heights()) + 8 if self.rows else 0)

    def _fit(self) -> None:
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    def _heights(self) -> list[int]:
        metrics = QFontMetrics(font(10))
        width = max(self.width(), 220) - MARK - 10
        return [
            metrics.boundingRect(QRect(0, 0, width, 999), WORDS, _told(row)).height() for row in self.rows
        ]

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the rows."""
        painter = QPainter(self)
        t = self.tokens
        painter.setPen(QColor(t.amber))
        painter.setFont(font(11.5, bold=True))
        painter.drawText(10, 22, "Comfort")
        y = HEAD
        colours = {"A": t.teal, "B": t.teal, "C": t.caution}
        for row, height in zip(self.rows, self._heights(), strict=True):
            colour = QColor(colours.get(row["category"], t.blocked))
            painter.setFont(font(10, bold=True))
            painter.setPen(colour)
            mark = row["category"] if row["category"] in colours else "none"
            painter.drawText(QRect(8, y, MARK - 12, height), int(Qt.AlignmentFlag.AlignLeft), mark)
            painter.setFont(font(10))
            painter.setPen(QColor(t.ink))
            room = QRect(MARK, y, self.width() - MARK - 10, height + 2)
            painter.drawText(room, WORDS, row["text"])
            if limits := limits_of(row):
                painter.setPen(QColor(t.soft))
                painter.drawText(room, WORDS | int(Qt.AlignmentFlag.AlignBottom), limits)
            y += height + GAP
        painter.end()
