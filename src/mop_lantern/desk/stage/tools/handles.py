"""Handles: dimensions dragged on the stage, a ring to take hold of each; a click picks an edge or a face."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QObject, QPoint, QPointF, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPen

from mop_lantern.case import Handle
from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool
from mop_lantern.desk.theme import Tokens, font

REACH = 9  # px
BAR = 17  # px
END_ON = 0.12  # of its length: what seems to move less than this is seen end on, and cannot be dragged


class HandleSignals(QObject):
    """``moved`` : handle, place (m), and whether it was let go. ``edge`` : a click on an edge, or beside all.
    ``clicked`` : a click in a space, and whether it adds to what is chosen.
    """

    moved = pyqtSignal(object, object, bool)
    edge = pyqtSignal(str)
    clicked = pyqtSignal(QPoint, bool)


class HandleTool(Tool):
    """The handles of one part."""

    def __init__(self, view: Canvas) -> None:
        self.view = view
        self.signals = HandleSignals()
        self.handles: list[Handle] = []
        self._held: Handle | None = None

    def press(self, pull: Pull) -> None:
        """Take hold of what lies under the pointer."""
        self._held = self._under(pull.at)

    def drag(self, pull: Pull) -> None:
        """Take it along."""
        if self._held is not None and pull.moved:
            self._tell(pull, False)

    def release(self, pull: Pull) -> None:
        """Let it go; a click elsewhere picks."""
        held = self._held
        if held is not None and pull.moved:
            self._tell(pull, True)
        elif held is None and not pull.moved and self.view.picture is not None:
            if self.view.picture.surface is not None:
                self.signals.clicked.emit(pull.at, pull.control)
            else:
                self.signals.edge.emit(self.edge_at(pull.at))
        self._held = None

    def _tell(self, pull: Pull, done: bool) -> None:
        held = self._held
        picture = self.view.picture
        assert held is not None and picture is not None
        place = picture.dragged(held.at, held.pull, pull.at.x(), pull.at.y(), self.view.pane)
        self.signals.moved.emit(held, place, done)

    def _under(self, at: QPoint) -> Handle | None:
        """Give the handle under a pixel."""
        picture = self.view.picture
        if picture is None:
            return None
        for handle in self._within_reach():
            if np.hypot(*np.subtract(picture.to_pixel(handle.at, self.view.pane), (at.x(), at.y()))) < REACH:
                return handle
        return None

    def _within_reach(self) -> list[Handle]:
        """Give the handles that can be dragged as the shape is seen: not those that move towards the eye."""
        picture = self.view.picture
        assert picture is not None
        return [
            handle
            for handle in self.handles
            if handle is self._held or np.hypot(*picture.way_seen(handle.pull)) > END_ON
        ]

    def edge_at(self, at: QPoint) -> str:
        """Give the edge within reach of a pixel, or ""."""
        picture = self.view.picture
        if picture is None or picture.shape is None:
            return ""
        size = self.view.pane
        place = picture.to_world(at.x(), at.y(), size)
        start = picture.shape.segments[:, 0]
        along = np.diff(picture.shape.segments, axis=1)[:, 0]
        part = np.clip(
            ((place - start) * along).sum(axis=1) / np.maximum((along**2).sum(axis=1), 1e-300), 0.0, 1.0
        )
        distance = np.hypot(*(start + part[:, None] * along - place).T)
        nearest = int(distance.argmin())
        reach = 2 * REACH * picture.height / size[1]
        return picture.shape.names[int(picture.shape.labels[nearest])] if distance[nearest] < reach else ""

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Paint all handles; the one held or under the pointer says what it changes."""
        picture = self.view.picture
        if picture is None:
            return
        painter.setFont(font(9.5))
        for handle in self._within_reach():
            place = picture.to_pixel(handle.at, self.view.pane)
            near = self._held is not None and self._held.path == handle.path
            near = near or (
                self._held is None
                and hover is not None
                and np.hypot(place[0] - hover.x(), place[1] - hover.y()) < REACH + 3
            )
            _paint(painter, handle, place, picture.way_seen(handle.pull), near, self.view.tokens)


def _paint(
    painter: QPainter,
    handle: Handle,
    place: tuple[float, float],
    seen: Any,
    near: bool,
    tokens: Tokens,
) -> None:
    """Paint one handle: a ring, a bar along which it moves (``seen``, to the right and upwards), and its
    name when near.
    """
    x, y = place
    painter.setPen(QPen(QColor(tokens.amber), 2))
    if handle.pull is not None:
        way = np.array([1.0, -1.0]) * seen * BAR
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
