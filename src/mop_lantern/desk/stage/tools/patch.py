"""Laying a patch on a flat face of a space: a rectangle from corner to corner, or a disc from its middle to
its rim.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from mop_lantern.case.patches import outline_of
from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool

Lay = Callable[[str, Any, Any, str], None]


class PatchTool(Tool):
    """Lays one patch.

    Parameters
    ----------
    face, at : the face and a place on it, m. outline : of the patch. lay : is told face, first and second
    place, and outline when it is drawn; without places when the face is seen edge on.
    """

    cursor = Qt.CursorShape.CrossCursor
    alone = True

    def __init__(
        self,
        view: Canvas,
        face: str,
        at: Any,
        outline: str,
        lay: Lay,
    ) -> None:
        self.view = view
        self.face = face
        self.at = at
        self.outline = outline
        self.lay = lay
        self.first: Any = None
        self.second: Any = None

    def _place(self, at: QPoint) -> Any:
        """Give where the line of sight goes through the plane of the face; None where it is seen edge on."""
        picture = self.view.picture
        assert picture is not None and picture.surface is not None
        flat = picture.to_world(at.x(), at.y(), self.view.pane)
        right, up, towards = picture.orbit.axes
        start = np.array(picture.orbit.focus) + flat[0] * right + flat[1] * up
        normal = picture.surface.face(self.face)[1]
        steep = float(towards @ normal)
        return None if abs(steep) < 0.05 else start + float((self.at - start) @ normal) / steep * towards

    def press(self, pull: Pull) -> None:
        """Begin."""
        self.first = self.second = self._place(pull.at)

    def drag(self, pull: Pull) -> None:
        """Stretch."""
        if self.first is not None:
            self.second = self._place(pull.at)

    def release(self, pull: Pull) -> None:
        """Lay the patch."""
        self.lay(self.face, self.first, self.second, self.outline)

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Show the outline to be."""
        picture = self.view.picture
        if self.first is None or self.second is None or picture is None or picture.surface is None:
            return
        ring = outline_of(picture.surface, self.face, self.first, self.second, self.outline)
        painter.setPen(QPen(QColor(self.view.tokens.amber), 2))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolygon(QPolygonF([QPointF(*picture.to_pixel(place, self.view.pane)) for place in ring]))
