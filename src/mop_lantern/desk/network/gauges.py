"""Gauges on the schematic: readings pinned beside what they read, movable, with a line to their place."""

from __future__ import annotations

from dataclasses import dataclass
from typing import TYPE_CHECKING

import numpy as np
from PyQt6.QtCore import QPointF, QRectF, Qt
from PyQt6.QtGui import QColor, QFontMetricsF, QPainter, QPen

from mop_lantern.desk.theme import font
from mop_lantern.units import preferred, show

if TYPE_CHECKING:
    from mop_lantern.desk.network.schematic import Schematic

BESIDE = (1.6, -3.2)  # where a gauge goes at first, from its place, in units of the schematic
READ = {
    "node_value": "node",
    "node_share": "node",
    "run_value": "run",
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


def anchor(view: Schematic, key: str) -> tuple[float, float] | None:
    """Give the place on the schematic that a reading reads, or None."""
    item = view.case.readings.get(key) if view.case is not None else None
    return (
        place_of(view, item.kind, getattr(item, READ[item.kind]))
        if item is not None and item.kind in READ
        else None
    )


def place_of(view: Schematic, kind: str, name: str) -> tuple[float, float] | None:
    """Give the place of what a kind of reading reads, by its name."""
    if kind == "part_value":
        return next((symbol.at for symbol in view.diagram.symbols if symbol.name == name), None)
    return view.diagram.labels.get(name) if kind == "run_value" else view.diagram.nodes.get(name)


def gauges(view: Schematic) -> list[Gauge]:
    """Give all pinned gauges as they stand."""
    if view.case is None:
        return []
    made = []
    metrics = QFontMetricsF(font(9.5, bold=True))
    for key, offset in view.pinned.items():
        place = anchor(view, key)
        if place is None:
            continue
        reading = view.case.readings[key]
        value = float("nan")
        if view.working is not None:
            value = reading.take(reading, view.working)
        dimension = reading.dimension_of(reading)
        words = show(value, dimension, preferred(dimension, view.units), 4) if value == value else "–"
        title = str(reading.title) or key
        wide = max(metrics.horizontalAdvance(words), QFontMetricsF(font(8.5)).horizontalAdvance(title)) + 14
        middle = view.pixel((place[0] + offset[0], place[1] + offset[1]))
        made.append(
            Gauge(
                key,
                QRectF(middle.x() - wide / 2, middle.y() - 17, wide, 34),
                view.pixel(place),
                title,
                words,
            )
        )
    return made


def free_offset(view: Schematic, place: tuple[float, float], title: str) -> tuple[float, float]:
    """Give the offset nearest to a place at which a gauge covers nothing."""
    wide = max(QFontMetricsF(font(8.5)).horizontalAdvance(title) + 20, 80.0)
    high = 38.0
    taken = [box for box, _, _ in view.words()] + [gauge.box for gauge in gauges(view)]
    for at in [item.at for item in view.diagram.symbols] + list(view.diagram.nodes.values()):
        middle = view.pixel(at)
        taken.append(QRectF(middle.x() - view.scale, middle.y() - view.scale, 2 * view.scale, 2 * view.scale))
    for line in view.diagram.lines.values():
        for a, b in zip(line, line[1:], strict=False):
            taken.append(QRectF(view.pixel(a), view.pixel(b)).normalized().adjusted(-2, -2, 2, 2))
    middle = view.pixel(place)
    ground = QRectF(view.rect()).adjusted(4, 4, -4, -4)
    for reach in range(30, 400, 10):
        for turn in range(24):
            angle = 2 * np.pi * turn / 24 - 0.5 * np.pi
            x = middle.x() + 1.4 * reach * np.cos(angle)
            y = middle.y() + reach * np.sin(angle)
            box = QRectF(x - wide / 2, y - high / 2, wide, high)
            if ground.contains(box) and not any(box.intersects(other) for other in taken):
                return round((x - middle.x()) / view.scale, 2), round((y - middle.y()) / view.scale, 2)
    return BESIDE


def paint(view: Schematic, painter: QPainter) -> None:
    """Paint all gauges over the schematic."""
    shown = gauges(view)
    painter.setPen(QPen(QColor(view.tokens.soft), 1, Qt.PenStyle.DashLine))
    for gauge in shown:
        painter.drawLine(gauge.at, gauge.box.center())
    for gauge in shown:
        painter.setPen(QPen(QColor(view.tokens.amber), 1.2))
        painter.setBrush(QColor(view.tokens.card))
        painter.drawRoundedRect(gauge.box, 4, 4)
        painter.setBrush(Qt.BrushStyle.NoBrush)
        upper = QRectF(gauge.box)
        lower = QRectF(gauge.box)
        upper.setHeight(15)
        lower.setTop(gauge.box.top() + 14)
        painter.setPen(QColor(view.tokens.soft))
        painter.setFont(font(8.5))
        painter.drawText(upper, int(Qt.AlignmentFlag.AlignCenter), gauge.title)
        painter.setPen(QColor(view.tokens.ink))
        painter.setFont(font(9.5, bold=True))
        painter.drawText(lower, int(Qt.AlignmentFlag.AlignCenter), gauge.value)


def hit(view: Schematic, pixel: QPointF) -> str:
    """Give the gauge under a pixel, or an empty text."""
    return next((gauge.key for gauge in reversed(gauges(view)) if gauge.box.contains(pixel)), "")
