"""Words on a drawn network: names and values where they fit, and room for one more gauge."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF, QRectF
from PyQt6.QtGui import QFontMetricsF

from mop_lantern.desk.network.board import Board
from mop_lantern.desk.network.gauges import BESIDE, gauges
from mop_lantern.desk.theme import font
from mop_lantern.judge.network_result import LINE_FIGURES

TEXT_FROM = 17.0  # pixels a unit: below, symbols go without their names


def labels(board: Board) -> list[tuple[QRectF, str, bool]]:
    """Give every label that fits: its box, its words, and whether it is a value; earlier ones keep their
    place.
    """
    metrics = QFontMetricsF(font(9.5))
    made = []
    high = metrics.height()
    half = 0.95 * board.scale
    taken = [gauge.box for gauge in gauges(board)]
    for place, of in [(item.at, "") for item in board.diagram.symbols] + [
        (place, node) for node, place in board.diagram.nodes.items()
    ]:
        at = board.pixel(place)
        reach = 0.3 * half if of and board.is_junction(of) else half
        taken.append(QRectF(at.x() - reach, at.y() - 0.7 * reach, 2 * reach, 1.4 * reach))
    rows = [
        (board.pixel((at[0], at[1] - 1.0)) - QPointF(0, high), node, False)
        for node, at in board.diagram.nodes.items()
    ]
    if board.working is not None:
        flows = {
            line: 0.0
            if board.still(line) and "flow" in board.figure
            else figures.get(board.figure, float("nan"))
            for line, figures in board.working.lines.items()
        }
        rows += [
            (board.pixel(at), board.number(flows[line], LINE_FIGURES[board.figure][1]), True)
            for line, at in board.diagram.labels.items()
        ]
        rows += [
            (
                board.pixel((at[0], at[1] + 1.0)),
                board.number(
                    board.working.nodes[node].get(board.at_node, float("nan")), board.node_figure()[1]
                ),
                True,
            )
            for node, at in board.diagram.nodes.items()
        ]
    if board.scale > TEXT_FROM:
        rows += [
            (
                board.pixel(
                    (
                        item.at[0] + (1.6 if item.turn == 90 else 0.0),
                        item.at[1] + (-0.4 if item.turn == 90 else 1.0),
                    )
                ),
                item.name.partition(".")[2],
                False,
            )
            for item in board.diagram.symbols
        ]
    rows += _openings(board, metrics)
    for top, words, value in rows:
        wide = metrics.horizontalAdvance(words) + 4
        beside = half + wide / 2 + 2
        named = words in board.diagram.nodes and not value
        tries = (
            [
                (0.0, 0.0),
                (0.0, -0.5 * high),
                (-beside, half + 0.5 * high),
                (beside, half + 0.5 * high),
                (0.0, -high),
                (0.0, 2 * half + high),
                (0.0, 2 * half + 2 * high),
            ]
            if named
            else [
                (0.0, 0.0),
                (0.0, 0.5 * high),
                (0.0, high),
            ]
        )
        for right, lift in tries:
            box = QRectF(top.x() - wide / 2 + right, top.y() + lift, wide, high)
            if words and not any(box.intersects(other) for other in taken):
                taken.append(box)
                made.append((box, words, value))
                break
    return made


def _openings(board: Board, metrics: QFontMetricsF) -> list[tuple[QPointF, str, bool]]:
    """Give how far valves and dampers are open: over their symbol, or beside it where the line goes
    down.
    """
    assert board.case is not None
    rows = []
    for item in board.diagram.symbols if board.scale > 0.5 * TEXT_FROM else []:
        line, _, part = item.name.partition(".")
        words = str(getattr(board.case.network.lines[line].parts.get(part), "opening", ""))
        if words and not words.startswith("="):
            at = board.pixel(item.at)
            aside = QPointF(
                0.95 * board.scale + 0.5 * metrics.horizontalAdvance(words) + 4, -0.5 * metrics.height()
            )
            rows.append(
                (
                    at + (aside if item.turn == 90 else QPointF(0.0, -0.7 * board.scale - metrics.height())),
                    words,
                    False,
                )
            )
    return rows


def free_offset(board: Board, place: tuple[float, float], title: str) -> tuple[float, float]:
    """Give the offset nearest to a place at which a gauge covers nothing."""
    wide = max(QFontMetricsF(font(8.5)).horizontalAdvance(title) + 20, 80.0)
    high = 38.0
    taken = [box for box, _, _ in labels(board)] + [gauge.box for gauge in gauges(board)]
    for at in [item.at for item in board.diagram.symbols] + list(board.diagram.nodes.values()):
        middle = board.pixel(at)
        taken.append(
            QRectF(middle.x() - board.scale, middle.y() - board.scale, 2 * board.scale, 2 * board.scale)
        )
    for line in board.diagram.lines.values():
        for a, b in zip(line, line[1:], strict=False):
            taken.append(QRectF(board.pixel(a), board.pixel(b)).normalized().adjusted(-2, -2, 2, 2))
    middle = board.pixel(place)
    ground = QRectF(board.rect()).adjusted(4, 4, -4, -4)
    for reach in range(30, 400, 10):
        for turn in range(24):
            angle = 2 * np.pi * turn / 24 - 0.5 * np.pi
            x = middle.x() + 1.4 * reach * np.cos(angle)
            y = middle.y() + reach * np.sin(angle)
            box = QRectF(x - wide / 2, y - high / 2, wide, high)
            if ground.contains(box) and not any(box.intersects(other) for other in taken):
                return round((x - middle.x()) / board.scale, 2), round((y - middle.y()) / board.scale, 2)
    return BESIDE
