"""How a network is painted: lines in the colour of their figure, symbols, nodes, words, the scale."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QLinearGradient, QPainter, QPainterPath, QPen, QTransform

from mop_lantern.desk.network.board import Board
from mop_lantern.desk.network.gauges import paint_gauges
from mop_lantern.desk.network.labels import TEXT_FROM, labels
from mop_lantern.desk.theme import font
from mop_lantern.judge.network_result import LINE_FIGURES
from mop_lantern.scene.maps import tables
from mop_lantern.units import preferred, show
from mop_lantern.units.quantity import pretty_unit


def paint(board: Board, painter: QPainter) -> None:
    """Paint lines, symbols, nodes, then words, gauges and the scale."""
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    painter.fillRect(board.rect(), QColor(board.tokens.paper))
    if not board.diagram.nodes:
        painter.setPen(QColor(board.tokens.soft))
        painter.setFont(font(11))
        painter.drawText(board.rect(), int(Qt.AlignmentFlag.AlignCenter), "Add nodes and lines on the sheet.")
        return
    low, high, inks = _inks(board)
    plain = QColor(board.tokens.ink)
    for line, places in board.diagram.lines.items():
        _paint_line(board, painter, line, places, inks.get(line, plain))
    for item in board.diagram.symbols:
        ink = inks.get(item.name.split(".")[0], plain)
        _paint_symbol(board, painter, item.name, item.at, item.turn, ink)
    for node, place in board.diagram.nodes.items():
        _paint_node(board, painter, node, place)
    _paint_words(board, painter)
    paint_gauges(board, painter)
    if board.working is not None:
        _paint_legend(board, painter, low, high)


def _inks(board: Board) -> tuple[float, float, dict[str, QColor]]:
    """Give the range of the figure shown, and the colour of every line."""
    if board.working is None:
        return 0.0, 1.0, {}
    values = {
        line: abs(figures[board.figure])
        for line, figures in board.working.lines.items()
        if np.isfinite(figures.get(board.figure, np.nan))
    }
    low = 0.0
    high = max(values.values(), default=1.0) or 1.0
    table = tables()["batlow"]
    made = {}
    for line, value in values.items():
        made[line] = _ink(board, table, float(np.clip((value - low) / (high - low), 0, 1)))
    return low, high, made


def _ink(board: Board, table: Any, share: float) -> QColor:
    """Give a colour of the map; its end that is lost on the ground is left out."""
    dark = QColor(board.tokens.paper).lightness() < 128
    r, g, b = table[int((0.35 + 0.65 * share if dark else 0.85 * share) * (len(table) - 1))][:3]
    return QColor.fromRgbF(float(r), float(g), float(b))


def _paint_line(
    board: Board,
    painter: QPainter,
    line: str,
    places: list[tuple[float, float]],
    ink: QColor,
) -> None:
    wide = 2.4 if board.lit not in (line, f"network.lines.{line}") else 5.0
    still = board.working is not None and board.still(line)
    painter.setPen(
        QPen(
            QColor(board.tokens.soft) if still else ink,
            wide,
            Qt.PenStyle.DotLine if still else Qt.PenStyle.SolidLine,
        )
    )
    corners = [board.pixel(place) for place in places]
    for a, b in zip(corners, corners[1:], strict=False):
        painter.drawLine(a, b)
    if board.working is None or still:
        return
    ahead = board.working.lines[line]["mass_flow"] > 0
    first, second = (corners[-2], corners[-1]) if ahead else (corners[1], corners[0])
    delta = second - first
    length = float(np.hypot(delta.x(), delta.y())) or 1.0
    unit = delta / length
    tip = second - delta / length * 0.75 * board.scale
    size = float(np.clip(0.45 * board.scale, 4, 9))
    side = QPointF(-unit.y(), unit.x()) * size * 0.6
    path = QPainterPath(tip)
    path.lineTo(tip - unit * size + side)
    path.lineTo(tip - unit * size - side)
    path.closeSubpath()
    painter.fillPath(path, ink)


def _paint_symbol(
    board: Board,
    painter: QPainter,
    name: str,
    at: tuple[float, float],
    turn: int,
    ink: QColor,
) -> None:
    assert board.case is not None
    line, _, part = name.partition(".")
    found = board.case.network.lines[line].parts.get(part)
    if found is None:
        return
    middle = board.pixel(at)
    shape = (
        QTransform()
        .translate(middle.x(), middle.y())
        .rotate(turn)
        .scale(0.95 * board.scale, 0.95 * board.scale)
        .map(board.symbols[found.kind])
    )
    box = shape.boundingRect()
    if found.kind not in ("pipe", "duct"):
        painter.fillRect(box, QColor(board.tokens.paper))
    painter.setPen(
        QPen(
            QColor(board.tokens.amber) if board.lit.endswith(f"{line}.parts.{part}") else ink.darker(110),
            1.6,
        )
    )
    painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(shape)


def _paint_node(
    board: Board,
    painter: QPainter,
    node: str,
    place: tuple[float, float],
) -> None:
    assert board.case is not None
    middle = board.pixel(place)
    kind = board.case.network.nodes[node].kind
    shape = (
        QTransform()
        .translate(middle.x(), middle.y())
        .scale(board.scale, board.scale)
        .map(board.symbols[kind])
    )
    painter.setPen(
        QPen(
            QColor(
                board.tokens.amber
                if board.lit == node or board.lit.endswith(f".{node}")
                else board.tokens.ink
            ),
            1.8,
        )
    )
    painter.setBrush(QColor(board.tokens.ink) if kind == "junction" else QColor(board.tokens.paper))
    if kind != "junction":
        painter.fillRect(shape.boundingRect(), QColor(board.tokens.paper))
        painter.setBrush(Qt.BrushStyle.NoBrush)
    painter.drawPath(shape)
    painter.setBrush(Qt.BrushStyle.NoBrush)


def _paint_words(board: Board, painter: QPainter) -> None:
    if board.scale < 0.4 * TEXT_FROM:
        return
    painter.setFont(font(9.5))
    for box, words, value in labels(board):
        ground = QColor(board.tokens.paper)
        ground.setAlpha(205)
        painter.fillRect(box, ground)
        painter.setPen(QColor(board.tokens.ink if value else board.tokens.soft))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)


def _paint_legend(
    board: Board,
    painter: QPainter,
    low: float,
    high: float,
) -> None:
    label, dimension = LINE_FIGURES[board.figure]
    unit = preferred(dimension, board.units)
    table = tables()["batlow"]
    left = 18
    top = board.height() - 24
    wide = 200
    painter.setPen(QColor(board.tokens.ink))
    painter.setFont(font(9.5, bold=True))
    painter.drawText(left, top - 6, f"{label}, {pretty_unit(unit)}" if unit else label)
    ramp = QLinearGradient(left, 0, left + wide, 0)
    for k in range(17):
        ramp.setColorAt(k / 16, _ink(board, table, k / 16))
    painter.fillRect(
        left,
        top,
        wide,
        8,
        ramp,
    )
    painter.setFont(font(9))
    painter.drawText(
        QRectF(left - 20, top + 8, 60, 14),
        int(Qt.AlignmentFlag.AlignCenter),
        show(low, dimension, unit, 3).split(" ")[0],
    )
    painter.drawText(
        QRectF(left + wide - 40, top + 8, 60, 14),
        int(Qt.AlignmentFlag.AlignCenter),
        show(high, dimension, unit, 3).split(" ")[0],
    )
