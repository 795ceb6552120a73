"""Small drawings from path data: symbols of the schematic, and of the kinds that can be added."""

from __future__ import annotations

import re

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QIcon, QPainter, QPainterPath, QPen, QPixmap, QTransform

_STEP = re.compile(r"([MLAQZ])([^MLAQZ]*)")


def path_of(symbol: str) -> QPainterPath:
    """Turn the path data of a symbol (M L Q A Z, absolute) into a painter's path."""
    path = QPainterPath()
    for letter, rest in _STEP.findall(symbol):
        n = [float(part) for part in rest.replace(",", " ").split()]
        if letter == "M":
            path.moveTo(n[0], n[1])
        elif letter == "L":
            for k in range(0, len(n), 2):
                path.lineTo(n[k], n[k + 1])
        elif letter == "Q":
            path.quadTo(n[0], n[1], n[2], n[3])
        elif letter == "A":
            _half_turn(path, n)
        else:
            path.closeSubpath()
    return path


def _half_turn(path: QPainterPath, n: list[float]) -> None:
    """Add half an ellipse from the present point to the one named."""
    here = path.currentPosition()
    middle = QPointF((here.x() + n[5]) / 2, (here.y() + n[6]) / 2)
    wide, high = n[0], n[1]
    start = float(np.degrees(np.arctan2(-(here.y() - middle.y()) / high, (here.x() - middle.x()) / wide)))
    box = QRectF(middle.x() - wide, middle.y() - high, 2 * wide, 2 * high)
    path.arcTo(box, start, -180.0 if n[4] else 180.0)


def icon_of(symbol: str, ink: str, size: int = 26, sharp: float = 2.0) -> QIcon:
    """Give the drawing of a symbol as an icon, ``sharp`` times as fine as it is large."""
    picture = QPixmap(int(size * sharp), int(size * sharp))
    picture.setDevicePixelRatio(sharp)
    picture.fill(Qt.GlobalColor.transparent)
    painter = QPainter(picture)
    painter.setRenderHint(QPainter.RenderHint.Antialiasing)
    pen = QPen(QColor(ink), 1.4)
    pen.setCapStyle(Qt.PenCapStyle.RoundCap)
    pen.setJoinStyle(Qt.PenJoinStyle.RoundJoin)
    painter.setPen(pen)
    half = size / 2
    painter.drawPath(QTransform(half - 3, 0, 0, half - 3, half, half).map(path_of(symbol)))
    painter.end()
    return QIcon(picture)
