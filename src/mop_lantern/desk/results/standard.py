"""Below the trust list: what flows and presses at every opening or line, read without being asked for."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QRect, QSize, Qt
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent
from PyQt6.QtWidgets import QWidget

from mop_lantern.desk.theme import Tokens, font
from mop_lantern.units import preferred, show

ROW = 19
HEAD = 34


class StandardPage(QWidget):
    """Paints the standard readings of the variant shown, a line each."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.rows: list[tuple[str, str]] = []
        self.setObjectName("standard-readings")
        self.setToolTip(
            "Read at every opening, heated wall or line without being asked for; "
            "what you add under Readings is followed while it runs and compared between variants"
        )
        self.hide()

    def show_readings(self, readings: dict[str, dict[str, Any]], units: dict[str, str]) -> None:
        """Show readings by id, as records keep them, in the units preferred."""
        self.rows = [(reading["title"], value_with_unit(reading, units)) for reading in readings.values()]
        self.setVisible(bool(self.rows))
        self.setAccessibleName(self.as_text())
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    def as_text(self) -> str:
        """Give the list as tab-separated text."""
        return "\n".join(f"{title}\t{value.replace('−', '-')}" for title, value in self.rows)

    def sizeHint(self) -> QSize:
        """Room for all rows."""
        return QSize(260, HEAD + ROW * len(self.rows) + 10 if self.rows else 0)

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the rows that are in view."""
        assert event
        painter = QPainter(self)
        t = self.tokens
        painter.setPen(QColor(t.amber))
        painter.setFont(font(11.5, bold=True))
        painter.drawText(10, 22, "Standard readings")
        seen = event.rect()
        first = max(0, (seen.top() - HEAD) // ROW)
        last = min(len(self.rows), (seen.bottom() - HEAD) // ROW + 1)
        painter.setFont(font(9.5))
        metrics = QFontMetrics(font(9.5))
        for k in range(first, last):
            title, value = self.rows[k]
            place, _, what = title.partition(": ")
            if k and self.rows[k - 1][0].startswith(f"{place}: "):
                title = f"    {what}"
            area = QRect(10, HEAD + ROW * k, self.width() - 20, ROW)
            room = area.width() - metrics.horizontalAdvance(value) - 10
            painter.setPen(QColor(t.soft))
            words = metrics.elidedText(title, Qt.TextElideMode.ElideRight, room)
            painter.drawText(area, int(Qt.AlignmentFlag.AlignLeft), words)
            painter.setPen(QColor(t.ink))
            painter.drawText(area, int(Qt.AlignmentFlag.AlignRight), value)
        painter.end()


def value_with_unit(reading: dict[str, Any], units: dict[str, str]) -> str:
    """Give the value of a reading in its preferred unit; a dash where there is none."""
    if reading["value"] is None:
        return "–"
    return show(reading["value"], reading["dimension"], preferred(reading["dimension"], units))
