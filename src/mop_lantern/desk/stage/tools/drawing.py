"""Drawing where a reading is taken: a line from end to end, or a box from corner to corner."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool

Done = Callable[[list[Any]], None]


class DrawingTool(Tool):
    """Draws one line or box, in a space on its section.

    Parameters
    ----------
    box : or else a line. done : is told both places, m; none where the section is seen edge on.
    """

    cursor = Qt.CursorShape.CrossCursor
    alone = True

    def __init__(self, view: Canvas, box: bool, done: Done) -> None:
        self.view = view
        self.box = box
        self.done = done
        self.places: list[Any] = []

    def press(self, pull: Pull) -> None:
        """Begin."""
        place = self.view.place_at(pull.at)
        self.places = [] if place is None else [place, place]

    def drag(self, pull: Pull) -> None:
        """Stretch."""
        place = self.view.place_at(pull.at)
        if self.places and place is not None:
            self.places[1] = place

    def release(self, pull: Pull) -> None:
        """Tell."""
        self.done(self.places)

    def corners(self) -> list[Any]:
        """Give the places of its outline, m."""
        if not self.box or not self.places:
            return self.places
        picture = self.view.picture
        assert picture is not None
        first, last = self.places
        ways = [way for way in range(len(first)) if len(first) == 2 or way != picture.across]
        mixed = [np.array(first), np.array(first)]
        for corner, way in zip(mixed, ways, strict=True):
            corner[way] = last[way]
        return [first, mixed[0], last, mixed[1], first]

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Show what is being drawn."""
        picture = self.view.picture
        if not self.places or picture is None:
            return
        painter.setPen(QPen(QColor(self.view.tokens.amber), 2))
        seen = [QPointF(*picture.to_pixel(place, self.view.pane)) for place in self.corners()]
        painter.drawPolyline(QPolygonF(seen))
