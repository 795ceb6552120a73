"""The picture of the stage: the shape and the field, drawn off screen and shown as an image; pointer probe,
pan, zoom, line tool.
"""

from __future__ import annotations

import time
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QImage,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QPolygonF,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QWidget

from mop_lantern.case import Handle
from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.stage.grips import END_ON, REACH, paint_handles
from mop_lantern.desk.stage.section_grip import SectionGrip
from mop_lantern.desk.theme import Tokens, font
from mop_lantern.errors import RunError
from mop_lantern.scene import Picture
from mop_lantern.units import preferred, show

SLOW_FRAME = 0.04  # s: a picture that takes longer is drawn coarser while it is dragged
SETTLE = 180  # ms
REST = 250  # ms without a new picture, before it is drawn better


class View(QWidget):
    """The picture itself.

    Signals
    -------
    line_drawn : two places (m) of a line drawn by the person. trouble : words when nothing can be drawn.
    edge_picked : a click on an edge while handles are shown. handle_moved : handle, place (m), and whether it
    was let go.
    clicked : a click in a space while handles are shown, and whether it adds to what is chosen. asked : the
    menu of a place, with where to show it.
    """

    line_drawn = pyqtSignal(object, object)
    trouble = pyqtSignal(str)
    edge_picked = pyqtSignal(str)
    handles_wanted = pyqtSignal()
    handle_moved = pyqtSignal(object, object, bool)
    clicked = pyqtSignal(QPoint, bool)
    asked = pyqtSignal(QPoint, QPoint)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.picture: Picture | None = None
        self.units: dict[str, str] = {}
        self.drawing_line = False
        self.line: tuple[Any, Any] | None = None
        self.pins: list[Any] = []
        self.trails: list[Any] = []  # places (m) of lines that show a fault
        self.lit = ""
        self.tool: Any = None  # takes presses instead of the view, as laying a patch does
        self.message = ""
        self.handling = False
        self.handles: list[Handle] = []
        self._held: Handle | None = None
        self._image: QImage | None = None
        self._pixels: Any = None
        self._pressed: QPoint | None = None
        self._number = 0  # of the view under the pointer
        self._moved = False
        self._hover: QPoint | None = None
        self._frame, self._coarse = 0.0, False
        self.grip = SectionGrip(self)
        self.untouched = True  # nobody has moved the view since it showed everything
        self._settle = QTimer(self)
        self._settle.setSingleShot(True)
        self._settle.timeout.connect(self._settled)
        self._better = QTimer(self)
        self._better.setSingleShot(True)
        self._better.timeout.connect(self._work_better)
        self._working: BackgroundTask | None = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setObjectName("stage")
        self.setAccessibleName("Stage: picture of the shape and the flow")
        self.setMinimumSize(200, 160)

    def ensure(self) -> Picture:
        """Make the picture on first use; it takes a third of a second."""
        if self.picture is None:
            self.picture = Picture()
            self.picture.patient = False
        return self.picture

    def redraw(self) -> None:
        """Draw anew at the next paint."""
        self._image = None
        self.update()

    def _size(self) -> tuple[int, int]:
        ratio = self.devicePixelRatioF()
        return round(self.width() * ratio), round(self.height() * ratio)

    @property
    def pane(self) -> tuple[int, int]:
        """Width and height of one view, pixels: several beside each other share the stage."""
        views = len(self.picture.shown) if self.picture is not None else 1
        return max(self.width() // views, 8), self.height()

    def _within(self, at: QPoint) -> QPoint:
        """Give a pixel as counted in the view it lies in; in a drag, in the one it began in."""
        if self._pressed is None:
            self._number = at.x() // self.pane[0]
        return QPoint(at.x() - self._number * self.pane[0], at.y())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Draw anew in the new size; a view nobody has moved shows everything again."""
        self._image = None
        if self.untouched and self.picture is not None:
            self.picture.fit_later()

    def fit(self) -> None:
        """Show everything."""
        self.untouched = True
        self.ensure().fit(self.pane)
        self.redraw()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Copy the image and paint probe, pins and line over it."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is None:
            self._draw()
        if self._image is not None:
            painter.drawImage(
                QRectF(0, 0, self.width(), self.height()), self._image, QRectF(self._image.rect())
            )
        painter.setFont(font(10))
        if self.message:
            box = painter.fontMetrics().boundingRect(self.message).adjusted(-8, -3, 8, 3)
            box.moveTopRight(QPoint(self.width() - 10, 8))
            painter.setPen(QColor(self.tokens.line))
            painter.setBrush(QColor(self.tokens.card))
            painter.drawRoundedRect(box, 4, 4)
            painter.setPen(QColor(self.tokens.soft))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), self.message)
        if self.picture is not None:
            for number, what in enumerate(self.picture.shown):  # the same marks in every view
                painter.save()
                painter.translate(number * self.pane[0], 0)
                painter.setClipRect(0, 0, self.pane[0], self.height())
                if number:
                    painter.setPen(QColor(self.tokens.line))
                    painter.drawLine(0, 0, 0, self.height())
                self._paint_marks(painter, self.picture, what)
                painter.restore()
        painter.end()

    def _paint_marks(
        self,
        painter: QPainter,
        picture: Picture,
        what: str,
    ) -> None:
        """Paint what lies over one view: lines, handles, values."""
        if self.line is not None:
            self._paint_line(painter, self.line)
        for trail in self.trails:
            self._paint_line(painter, trail, self.tokens.amber, ends=len(self.trails) == 1)
        if self.lit:
            self._paint_lit(painter)
        if self.handling:
            shown = self._within_reach()
            places = {handle.path: picture.to_pixel(handle.at, self.pane) for handle in shown}
            ways = {handle.path: picture.way_seen(handle.pull) for handle in shown}
            paint_handles(
                painter,
                shown,
                places,
                ways,
                self._held,
                self._hover,
                self.tokens,
            )
        if self.tool is not None:
            self.tool.paint(painter)
        self.grip.paint(painter, self._hover)
        for place in self.pins:
            self._paint_value(painter, place, what, pinned=True)
        if self._hover is not None and self._pressed is None and not self.handling:
            under = self._place_at(self._hover)
            if under is not None:
                self._paint_value(painter, under, what, pinned=False)

    def _draw(self) -> None:
        try:
            size = self._size()
            ratio = self.devicePixelRatioF()
            began = time.monotonic()
            if self._coarse:
                self._pixels = self.ensure().image((size[0] // 2, size[1] // 2), ratio / 2)
            else:
                self._pixels = self.ensure().image(size, ratio)
                self._frame = time.monotonic() - began
        except RunError as problem:
            self.trouble.emit(str(problem))
            return
        if self.ensure().wanted:
            self._better.start(REST)
        height, width, _ = self._pixels.shape
        self._image = QImage(
            self._pixels.data,
            width,
            height,
            3 * width,
            QImage.Format.Format_RGB888,
        )

    def _hurry(self) -> None:
        """Draw at half the resolution while a slow picture is dragged, in full soon after."""
        self.untouched = False
        self._coarse = self._frame > SLOW_FRAME
        self._image = None
        if self._coarse:
            self._settle.start(SETTLE)

    def _work_better(self) -> None:
        """Work out beside the window what a picture at rest wants; then draw it better."""
        wanted = self.ensure().wanted
        if not wanted or (self._working is not None and self._working.running):
            return
        self._working = BackgroundTask(
            self,
            "",
            lambda _: [sampler.weights(places) for sampler, places in wanted],
            lambda _: self._worked_better(),
            lambda _: None,
        )

    def _worked_better(self) -> None:
        self.ensure().draw_better()
        self.redraw()

    def _settled(self) -> None:
        self._coarse = False
        self.redraw()

    def _paint_line(
        self,
        painter: QPainter,
        places: Any,
        ink: str = "",
        ends: bool = True,
    ) -> None:
        assert self.picture
        seen = [QPointF(*self.picture.to_pixel(np.asarray(place), self.pane)) for place in places]
        painter.setPen(QPen(QColor(ink or self.tokens.teal), 2, Qt.PenStyle.DashLine))
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPolyline(QPolygonF(seen))
        for end in (seen[0], seen[-1]) if ends else ():
            painter.drawEllipse(end, 4, 4)

    def light(self, edge: str) -> None:
        """Let an edge or a face light up, or none."""
        self.lit = edge
        if self.picture is not None and self.picture.surface is not None:
            self.picture.set_options(lit=edge)
            self._image = None
        self.update()

    def _within_reach(self) -> list[Handle]:
        """Give the handles that can be dragged as the shape is seen: not those that move towards the eye."""
        assert self.picture is not None
        return [
            handle
            for handle in self.handles
            if handle is self._held or np.hypot(*self.picture.way_seen(handle.pull)) > END_ON
        ]

    def _paint_lit(self, painter: QPainter) -> None:
        if self.picture is None or self.picture.shape is None:
            return
        size = self.pane
        painter.setPen(QPen(QColor(self.tokens.amber), 6, Qt.PenStyle.SolidLine, Qt.PenCapStyle.RoundCap))
        for start, end in self.picture.shape.edge(self.lit):
            painter.drawLine(
                QPointF(*self.picture.to_pixel(start, size)), QPointF(*self.picture.to_pixel(end, size))
            )

    def value_words(self, place: Any, what: str = "") -> str:
        """Give the value of a quantity (the one chosen) at a place in words, empty outside the wet space."""
        picture = self.picture
        if (
            picture is None
            or picture.answer is None
            or len(place) != len(picture.answer.mesh.ways)
            or not picture.answer.inside(place[None])[0]
        ):
            return ""
        if picture.surface is not None and not picture.options.layers & {"colours", "grid", "arrows"}:
            return ""
        what = what or picture.quantity
        words, dimension = picture.quantities[what]
        value = float(picture.answer.sampler(what, place[None])[0])
        length = preferred("length", self.units)
        at = ", ".join(
            f"{name} {show(value, 'length', length)}"
            for name, value in zip("xyz", place.tolist(), strict=False)
        )
        return f"{words} {show(value, dimension, preferred(dimension, self.units))}\n{at}"

    def _paint_value(
        self,
        painter: QPainter,
        place: Any,
        what: str,
        pinned: bool,
    ) -> None:
        words = self.value_words(place, what)
        if not words or self.picture is None:
            return
        x, y = self.picture.to_pixel(place, self.pane)
        metrics = painter.fontMetrics()
        box = metrics.boundingRect(self.rect(), 0, words).adjusted(-7, -4, 7, 4)
        box.moveTopLeft(QPoint(int(x) + 14, int(y) - box.height() - 8))
        box.moveLeft(max(4, min(box.left(), self.pane[0] - box.width() - 4)))
        box.moveTop(max(4, box.top()))
        painter.setPen(QColor(self.tokens.amber if pinned else self.tokens.line))
        painter.setBrush(QColor(self.tokens.card))
        painter.drawRoundedRect(box, 4, 4)
        painter.setPen(QColor(self.tokens.ink))
        painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)
        painter.setBrush(QColor(self.tokens.amber))
        painter.setPen(QColor(self.tokens.card))
        painter.drawEllipse(QPointF(x, y), 3.5, 3.5)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Begin a drag, or a line."""
        assert event
        at = self._within(event.pos())
        if self.tool is not None and event.button() == Qt.MouseButton.LeftButton:
            self.tool.press(at)
            return
        if event.button() == Qt.MouseButton.RightButton:
            return
        if self.grip.holds(at):
            self.grip.held = at
            return
        self._pressed = at
        self._moved = False
        self._held = self._handle_at(at)
        if self.drawing_line and self.picture is not None:
            place = self._place_at(at)
            self.line = None if place is None else (place, place)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Pan, stretch the line, or move the probe."""
        assert event
        at = self._within(event.pos())
        self._hover = at
        if self.tool is not None:
            self.tool.move(at)
        elif self.grip.held is not None:
            self.grip.move(at, bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier))
        elif (
            self._pressed is not None
            and event.buttons() & Qt.MouseButton.LeftButton
            and self.picture is not None
        ):
            self._moved = self._moved or (at - self._pressed).manhattanLength() > 3
            size = self.pane
            if self._held is not None:
                if self._moved:
                    self.handle_moved.emit(
                        self._held,
                        self.picture.dragged(
                            self._held.at,
                            self._held.pull,
                            at.x(),
                            at.y(),
                            size,
                        ),
                        False,
                    )
            elif self.drawing_line and self.line is not None:
                place = self._place_at(at)
                self.line = self.line if place is None else (self.line[0], place)
            elif (
                self._moved
                and self.picture.surface is not None
                and not event.modifiers() & Qt.KeyboardModifier.ShiftModifier
            ):
                step = at - self._pressed
                self.picture.orbit.turn(step.x(), step.y())
                self._pressed = at
                self._hurry()
            elif self._moved:
                before = self.picture.to_world(self._pressed.x(), self._pressed.y(), size)
                after = self.picture.to_world(at.x(), at.y(), size)
                self.picture.centre = self.picture.centre + before - after
                self._pressed = at
                self._hurry()
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """End a drag; a click pins a probe, or unpins one nearby."""
        assert event
        at = self._within(event.pos())
        if event.button() == Qt.MouseButton.RightButton:
            return
        if self.tool is not None:
            self.tool.release(at)
            return
        if self.grip.held is not None:
            self.grip.held = None
            self.update()
            return
        if self._held is not None and self.picture is not None:
            if self._moved:
                size = self.pane
                self.handle_moved.emit(
                    self._held,
                    self.picture.dragged(
                        self._held.at,
                        self._held.pull,
                        at.x(),
                        at.y(),
                        size,
                    ),
                    True,
                )
            self._held = None
        elif (
            self.handling
            and not self._moved
            and self.picture is not None
            and self.picture.surface is not None
        ):
            self.clicked.emit(at, bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier))
        elif self.handling and not self._moved:
            self.edge_picked.emit(self._edge_at(at))
        elif self.drawing_line and self.line is not None and self._moved:
            self.line_drawn.emit(*self.line)
        elif not self._moved and self.picture is not None and not self.drawing_line:
            size = self.pane
            place = self._place_at(at)
            near = [
                pin
                for pin in self.pins
                if np.hypot(*(np.subtract(self.picture.to_pixel(pin, size), (at.x(), at.y())))) < 8
            ]
            if near:
                self.pins = [pin for pin in self.pins if not any(pin is n for n in near)]
            elif place is not None and self.value_words(place):
                self.pins.append(place)
        self._pressed = None
        self.update()

    def _place_at(self, at: QPoint) -> Any:
        """Give the place (m) under a pixel: in a space on its section, or None."""
        assert self.picture
        size = self.pane
        return (
            self.picture.to_world(at.x(), at.y(), size)
            if self.picture.surface is None
            else self.picture.on_section(at.x(), at.y(), size)
        )

    def _handle_at(self, at: QPoint) -> Handle | None:
        """Give the handle under a pixel."""
        if not self.handling or self.picture is None:
            return None
        size = self.pane
        for handle in self._within_reach():
            if np.hypot(*np.subtract(self.picture.to_pixel(handle.at, size), (at.x(), at.y()))) < REACH:
                return handle
        return None

    def _edge_at(self, at: QPoint) -> str:
        """Give the edge within reach of a pixel, or ""."""
        picture = self.picture
        if picture is None or picture.shape is None:
            return ""
        size = self.pane
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

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Offer what can be done here."""
        assert event
        self.asked.emit(self._within(event.pos()), event.globalPos())

    def set_tool(self, tool: Any) -> None:
        """Let a tool take the presses of the pointer, or none."""
        self.tool = tool
        self.setCursor(Qt.CursorShape.CrossCursor if tool is not None else Qt.CursorShape.ArrowCursor)
        self.update()

    def mouseDoubleClickEvent(self, event: QMouseEvent | None) -> None:
        """Show everything."""
        self.fit()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pointer."""
        assert event
        if self.picture is not None:
            self.zoom(
                0.9 ** (event.angleDelta().y() / 120),
                event.position().x() % self.pane[0],
                event.position().y(),
            )

    def zoom(
        self,
        factor: float,
        x: float,
        y: float,
    ) -> None:
        """Change the height shown, keeping the place under a pixel."""
        picture = self.ensure()
        self.untouched = False
        size = self.pane
        before = picture.to_world(x, y, size)
        picture.height *= factor
        picture.centre = picture.centre + before - picture.to_world(x, y, size)
        self.redraw()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """Pan with the arrow keys, zoom with + and -, fit with F; Page keys, or Ctrl with up and down, move a
        section; Esc clears probes and line.
        """
        assert event
        picture = self.ensure()
        lifted = event.modifiers() & Qt.KeyboardModifier.ControlModifier and picture.surface is not None
        if (
            event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_PageDown)
            and picture.surface is not None
            or lifted
            and event.key() in (Qt.Key.Key_Up, Qt.Key.Key_Down)
        ):
            fine = 0.01 if event.modifiers() & Qt.KeyboardModifier.ShiftModifier else 0.05
            self.move_section(fine if event.key() in (Qt.Key.Key_PageUp, Qt.Key.Key_Up) else -fine)
            return
        step = {
            Qt.Key.Key_Left: (-1, 0),
            Qt.Key.Key_Right: (1, 0),
            Qt.Key.Key_Up: (0, 1),
            Qt.Key.Key_Down: (0, -1),
        }.get(Qt.Key(event.key()))
        if step:
            self.untouched = False
            picture.centre = picture.centre + 0.08 * picture.height * np.array(step)
            self.redraw()
        elif event.key() in (Qt.Key.Key_Plus, Qt.Key.Key_Equal, Qt.Key.Key_Minus):
            self.zoom(
                1.2 if event.key() == Qt.Key.Key_Minus else 1 / 1.2, self.pane[0] / 2, self.height() / 2
            )
        elif event.key() == Qt.Key.Key_H:
            self.handles_wanted.emit()
        elif event.key() == Qt.Key.Key_F:
            self.fit()
        elif event.key() == Qt.Key.Key_Escape and self.tool is not None:
            self.set_tool(None)
        elif event.key() == Qt.Key.Key_Escape:
            self.pins = []
            self.line = None
            self.update()
        else:
            super().keyPressEvent(event)

    def move_section(self, by: float) -> None:
        """Move the section of a space by a share of the way through it."""
        picture = self.ensure()
        picture.set_options(share=float(np.clip(picture.options.share + by, 0.01, 0.99)))
        self.redraw()

    def leaveEvent(self, event: Any) -> None:
        """Hide the probe."""
        self._hover = None
        self.update()
