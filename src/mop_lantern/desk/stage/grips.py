"""How handles are painted on the stage: a ring to take hold of, a bar along which it moves, its name when
near.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF
from PyQt6.QtGui import QColor, QPainter, QPen

from mop_lantern.case import Handle
from mop_lantern.desk.theme import Tokens, font

REACH = 9  # px
BAR = 17  # px
END_ON = 0.12  # of its length: what seems to move less than this is seen end on, and cannot be dragged


def paint_handles(
    painter: QPainter,
    handles: list[Handle],
    places: Mapping[str, tuple[float, float]],
    ways: Mapping[str, Any],
    held: Handle | None,
    hover: QPoint | None,
    tokens: Tokens,
) -> None:
    """Paint all handles; the one held or under the pointer says what it changes. ``ways`` : how each is seen
    to move, to the right and upwards.
    """
    painter.setFont(font(9.5))
    for handle in handles:
        x, y = places[handle.path]
        near = held is not None and held.path == handle.path
        near = near or (
            held is None and hover is not None and np.hypot(x - hover.x(), y - hover.y()) < REACH + 3
        )
        painter.setPen(QPen(QColor(tokens.amber), 2))
        if handle.pull is not None:
            way = np.array([1.0, -1.0]) * ways[handle.path] * BAR
            painter.drawLine(QPointF(x - way[0], y - way[1]), QPointF(x + way[0], y + way[1]))
        painter.setBrush(QColor(tokens.amber if near else tokens.card))
        painter.drawEllipse(QPointF(x, y), 6, 6)
        if near:
            box = painter.fontMetrics().boundingRect(handle.label).adjusted(-6, -3, 6, 3)
            box.moveTopLeft(QPoint(int(x) + 12, int(y) + 10))
            painter.setPen(QColor(tokens.line))
            painter.setBrush(QColor(tokens.card))
            painter.drawRoundedRect(box, 4, 4)
            painter.setPen(QColor(tokens.ink))
            painter.drawText(box.adjusted(6, 3, -6, -3), 0, handle.label)
