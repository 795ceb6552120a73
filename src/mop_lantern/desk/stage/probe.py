"""The value under the pointer or at a pin, in words and as a card over the picture."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPoint, QPointF, QRect, Qt
from PyQt6.QtGui import QColor, QPainter

from mop_lantern.desk.theme import Tokens
from mop_lantern.scene import Picture
from mop_lantern.units import preferred, show

ON_SECTION = {"colours", "grid", "arrows"}  # layers that show where the section of a space lies


def value_words(
    picture: Picture | None,
    place: Any,
    what: str,
    units: dict[str, str],
) -> str:
    """Give the value of a quantity ("" for the one chosen) at a place (m) in words, empty outside the wet
    space.
    """
    if (
        picture is None
        or picture.answer is None
        or len(place) != len(picture.answer.mesh.ways)
        or not picture.answer.inside(place[None])[0]
    ):
        return ""
    if picture.surface is not None and not picture.options.layers & ON_SECTION:
        return ""
    what = what or picture.quantity
    words, dimension = picture.quantities[what]
    value = float(picture.answer.sampler(what, place[None])[0])
    length = preferred("length", units)
    at = ", ".join(
        f"{name} {show(value, 'length', length)}" for name, value in zip("xyz", place.tolist(), strict=False)
    )
    return f"{words} {show(value, dimension, preferred(dimension, units))}\n{at}"


def paint_value(
    painter: QPainter,
    words: str,
    spot: tuple[float, float],
    size: tuple[int, int],
    ink: str,
    tokens: Tokens,
) -> None:
    """Paint a card beside a spot (pixels) that stays within a view of a size."""
    x, y = spot
    box = painter.fontMetrics().boundingRect(QRect(0, 0, *size), 0, words).adjusted(-7, -4, 7, 4)
    box.moveTopLeft(QPoint(int(x) + 14, int(y) - box.height() - 8))
    box.moveLeft(max(4, min(box.left(), size[0] - box.width() - 4)))
    box.moveTop(max(4, box.top()))
    painter.setPen(QColor(ink))
    painter.setBrush(QColor(tokens.card))
    painter.drawRoundedRect(box, 4, 4)
    painter.setPen(QColor(tokens.ink))
    painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)
    painter.setBrush(QColor(tokens.amber))
    painter.setPen(QColor(tokens.card))
    painter.drawEllipse(QPointF(x, y), 3.5, 3.5)
