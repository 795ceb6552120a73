"""Gauges on the schematic: readings pinned beside what they read, movable, with a line to their place."""

from __future__ import annotations

from dataclasses import dataclass

from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from mop_lantern.desk.network.board import Board
from mop_lantern.desk.theme import font
from mop_lantern.units import preferred, show

BESIDE = (1.6, -3.2)  # where a gauge goes at first, from its place, in units of the schematic
READ = {
    "node_value": "node",
    "node_share": "node",
    "line_value": "line",
    "part_value": "part",
}  # readings that have a place


@dataclass(frozen=True)
class Gauge:
    """A pinned reading: its id, its box and what it hangs on in pixels, its words."""

    key: str
    box: QRectF
    at: QPointF
    title: str
    value: str


def anchor(board: Board, key: str) -> tuple[float, float] | None:
    """Give the place on the schematic that a reading reads, or None."""
    item = board.case.readings.get(key) if board.case is not None else None
    return (
        place_of(board, item.kind, getattr(item, READ[item.kind]))
        if item is not None and item.kind in READ
        else None
    )


def place_of(board: Board, kind: str, name: str) -> tuple[float, float] | None:
    """Give the place of what a kind of reading reads, by its name."""
    if kind == "part_value":
        return next((symbol.at for symbol in board.diagram.symbols if symbol.name == name), None)
    return board.diagram.labels.get(name) if kind == "line_value" else board.diagram.nodes.get(name)


def gauges(board: Board) -> list[Gauge]:
    """Give all pinned gauges as they stand."""
    if board.case is None:
        return []
    made = []
    metrics = QFontMetricsF(font(9.5, bold=True))
    for key, offset in board.pinned.items():
        place = anchor(board, key)
        if place is None:
            continue
        reading = board.case.readings[key]
        value = float("nan")
        if board.working is not None:
            value = reading.take(reading, board.working)
        dimension = reading.dimension_of(reading)
        words = show(value, dimension, preferred(dimension, board.units), 4) if value == value else "–"
        title = str(reading.title) or key
        wide = max(metrics.horizontalAdvance(words), QFontMetricsF(font(8.5)).horizontalAdvance(title)) + 14
        middle = board.pixel((place[0] + offset[0], place[1] + offset[1]))
        made.append(
            Gauge(
                key,
                QRectF(middle.x() - wide / 2, middle.y() - 17, wide, 34),
                board.pixel(place),
                title,
                words,
            )
        )
    return made


def paint_gauges(board: Board, painter: QPainter) -> None:
    """Paint all gauges over the schematic."""
    shown = gauges(board)
    painter.setPen(QPen(QColor(board.tokens.soft), 1, Qt.PenStyle.DashLine))
    for gauge in shown:
        painter.drawLine(gauge.at, gauge.box.center())
    for gauge in shown:
        painter.setPen(QPen(QColor(board.tokens.amber), 1.2))
        painter.setBrush(QColor(board.tokens.card))
        painter.drawRoundedRect(gauge.box, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        upper = QRectF(gauge.box)
        lower = QRectF(gauge.box)
        upper.setHeight(15)
        lower.setTop(gauge.box.top() + 14)
        painter.setPen(QColor(board.tokens.soft))
        painter.setFont(font(8.5))
        painter.drawText(upper, int(Qt.AlignmentFlag.AlignCenter), gauge.title)
        painter.setPen(QColor(board.tokens.ink))
        painter.setFont(font(9.5, bold=True))
        painter.drawText(lower, int(Qt.AlignmentFlag.AlignCenter), gauge.value)


def hit(board: Board, pixel: QPointF) -> str:
    """Give the gauge under a pixel, or an empty text."""
    return next((gauge.key for gauge in reversed(gauges(board)) if gauge.box.contains(pixel)), "")
