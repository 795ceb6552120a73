"""A grip on the section of a space: dragged, it takes the section along; with Shift finely."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPoint, QPointF
from PyQt6.QtGui import QColor, QPainter, QPen, QPolygonF

from mop_lantern.desk.stage.tools.handles import BAR, END_ON, REACH
from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool
from mop_lantern.desk.theme import font
from mop_lantern.scene.space_stage import section_place
from mop_lantern.units import preferred, show

SHOWS = frozenset({"colours", "grid", "arrows", "solids"})  # layers that lie on the section
FINE = 0.2  # of the pointer's way, with Shift


class SectionGrip(Tool):
    """Where the grip is, and what a drag of it does."""

    def __init__(self, view: Canvas) -> None:
        self.view = view
        self._held = False

    def way(self) -> np.ndarray | None:
        """Give how the direction across the section is seen, to the right and upwards; None where there is no
        grip.
        """
        picture = self.view.picture
        if picture is None or picture.surface is None or not picture.options.layers & SHOWS:
            return None
        right, up, _ = picture.orbit.axes
        seen = np.array([right[picture.across], up[picture.across]])
        return seen if np.linalg.norm(seen) > END_ON else None

    def spot(self) -> tuple[float, float]:
        """Give the pixel of the grip: the corner of the section farthest to the right."""
        picture = self.view.picture
        assert picture is not None and picture.surface is not None
        points = picture.surface.points[picture.surface.triangles].reshape(-1, 3)
        k = picture.across
        low = points.min(axis=0)
        high = points.max(axis=0)
        corners = np.array(
            [[x, y, z] for x in (low[0], high[0]) for y in (low[1], high[1]) for z in (low[2], high[2])]
        )
        corners[:, k] = section_place(picture.surface, k, picture.options.share)
        x, y = max(
            (picture.to_pixel(corner, self.view.pane) for corner in corners), key=lambda pixel: pixel[0]
        )
        width, height = self.view.pane
        return min(max(x + BAR, BAR), width - BAR), min(max(y, BAR), height - BAR)

    def holds(self, at: QPoint) -> bool:
        """Whether the grip lies under a pixel."""
        return (
            self.way() is not None
            and float(np.hypot(*np.subtract(self.spot(), (at.x(), at.y())))) < REACH + 3
        )

    def press(self, pull: Pull) -> None:
        """Take hold."""
        self._held = True

    def drag(self, pull: Pull) -> None:
        """Take the section along to a pixel."""
        way = self.way()
        picture = self.view.picture
        if way is None or picture is None or picture.surface is None:
            return
        step = pull.at - pull.last
        far = np.array([step.x(), -step.y()]) * picture.height / self.view.pane[1]
        reach = float(np.ptp(picture.surface.points[:, picture.across]))
        self.view.move_section(float(far @ way / (way @ way)) / reach * (FINE if pull.shift else 1.0))

    def release(self, pull: Pull) -> None:
        """Let go."""
        self._held = False

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Draw a diamond, and the way it goes."""
        way = self.way()
        if way is None:
            return
        tokens, (x, y) = self.view.tokens, self.spot()
        along = np.array([way[0], -way[1]]) / np.linalg.norm(way)
        near = self._held or (hover is not None and self.holds(hover))
        painter.setPen(QPen(QColor(tokens.teal), 2))
        painter.drawLine(
            QPointF(*(np.array([x, y]) - BAR * along)), QPointF(*(np.array([x, y]) + BAR * along))
        )
        painter.setBrush(QColor(tokens.teal if near else tokens.card))
        painter.drawPolygon(
            QPolygonF(
                [
                    QPointF(x, y - 7),
                    QPointF(x + 7, y),
                    QPointF(x, y + 7),
                    QPointF(x - 7, y),
                ]
            )
        )
        if near:
            painter.setFont(font(9.5))
            words = self.words()
            width = painter.fontMetrics().horizontalAdvance(words)
            painter.setPen(QColor(tokens.ink))
            painter.drawText(QPointF(min(x - width / 2, self.view.pane[0] - width - 6), y - BAR - 6), words)

    def words(self) -> str:
        """Say where the section lies."""
        picture = self.view.picture
        assert picture is not None and picture.surface is not None
        place = section_place(picture.surface, picture.across, picture.options.share)
        return f"{'xyz'[picture.across]} = {show(place, 'length', preferred('length', self.view.units))}"
