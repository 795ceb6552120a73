"""The picture of the stage: the shape and the field, drawn off screen and shown as an image, with what tools
paint over it.
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

from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.stage.probe import paint_value, value_words
from mop_lantern.desk.stage.tools.handles import HandleTool
from mop_lantern.desk.stage.tools.line import LineTool
from mop_lantern.desk.stage.tools.looking import Looking
from mop_lantern.desk.stage.tools.section import SectionGrip
from mop_lantern.desk.stage.tools.tool import Pull, Tool
from mop_lantern.desk.theme import Tokens, font
from mop_lantern.errors import RunError
from mop_lantern.scene import Picture

SLOW_FRAME = 0.04  # s: a picture that takes longer is drawn coarser while it is dragged
SETTLE = 180  # ms
EMPTY = (
    "Nothing is drawn yet. Press + beside Shape on the sheet to add a part,\n"
    "or drop a drawing (DXF) or a model (STEP, STL, OBJ, PLY, GLB) here."
)
REST = 250  # ms without a new picture, before it is drawn better


class View(QWidget):
    """The picture itself.

    Signals
    -------
    trouble : words when nothing can be drawn. handles_wanted : by their key. asked : the menu of a place,
    with where to show it.

    Attributes
    ----------
    tool : takes the presses of the pointer; `looking`, `lining` and `hands` are there for good.
    """

    trouble = pyqtSignal(str)
    handles_wanted = pyqtSignal()
    asked = pyqtSignal(QPoint, QPoint)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.picture: Picture | None = None
        self.units: dict[str, str] = {}
        self.line: tuple[Any, Any] | None = None
        self.pins: list[Any] = []
        self.trails: list[Any] = []  # places (m) of lines that show a fault
        self.lit = ""
        self.message = ""
        self._image: QImage | None = None
        self._pixels: Any = None
        self._pull: Pull | None = None
        self._number = 0  # of the view under the pointer
        self._hover: QPoint | None = None
        self._frame, self._coarse = 0.0, False
        self.looking, self.lining, self.hands = Looking(self), LineTool(self), HandleTool(self)
        self.grip = SectionGrip(self)
        self.tool: Tool = self.looking
        self._before: Tool = self.looking
        self._taker: Tool = self.looking
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

    @property
    def at_rest(self) -> bool:
        """Whether no press is being held."""
        return self._pull is None

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
        if self._pull is None:
            self._number = at.x() // self.pane[0]
        return QPoint(at.x() - self._number * self.pane[0], at.y())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Draw anew in the new size; a view nobody has moved shows everything again."""
        self._image = None
        if self.untouched and self.at_rest and self.picture is not None:
            self.picture.fit_later()

    def fit(self) -> None:
        """Show everything."""
        self.untouched = True
        self.ensure().fit(self.pane)
        self.redraw()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Copy the image and paint probe, pins and line over it."""
        if self._image is None:
            self._draw()  # before painting begins: a fault here must not leave a painter behind
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        if self._image is not None:
            painter.drawImage(
                QRectF(0, 0, self.width(), self.height()), self._image, QRectF(self._image.rect())
            )
        painter.setFont(font(10))
        if self.picture is None or (self.picture.shape is None and self.picture.surface is None):
            painter.setPen(QColor(self.tokens.soft))
            flags = Qt.AlignmentFlag.AlignCenter | Qt.TextFlag.TextWordWrap
            painter.drawText(self.rect().adjusted(40, 40, -40, -40), int(flags), EMPTY)
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
        self.tool.paint(painter, self._hover)
        self.grip.paint(painter, self._hover)
        for place in self.pins:
            self._paint_value(painter, place, what, pinned=True)
        if self._hover is not None and self._pull is None and self.tool is not self.hands:
            under = self.place_at(self._hover)
            if under is not None:
                self._paint_value(painter, under, what, pinned=False)

    def _paint_value(self, painter: QPainter, place: Any, what: str, pinned: bool) -> None:
        words = self.value_words(place, what)
        if words and self.picture is not None:
            ink = self.tokens.amber if pinned else self.tokens.line
            spot = self.picture.to_pixel(place, self.pane)
            paint_value(painter, words, spot, (self.pane[0], self.height()), ink, self.tokens)

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

    def hurry(self) -> None:
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
        return value_words(self.picture, place, what, self.units)

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Let a tool take the press: the grip of the section where it lies, else the one chosen."""
        assert event
        if event.button() == Qt.MouseButton.RightButton or self.picture is None:
            return
        at = self._within(event.pos())
        self._pull = Pull(at, at, at)
        self._taker = self.grip if not self.tool.alone and self.grip.holds(at) else self.tool
        self._taker.press(self._pull)

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Let the tool follow, or move the probe."""
        assert event
        at = self._within(event.pos())
        self._hover = at
        pull = self._pull
        if pull is not None and event.buttons() & Qt.MouseButton.LeftButton:
            pull.go(at)
            pull.shift = bool(event.modifiers() & Qt.KeyboardModifier.ShiftModifier)
            self._taker.drag(pull)
            if pull.moved:
                pull.last = at
        self.update()

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let the tool end what it does."""
        assert event
        pull = self._pull
        if event.button() == Qt.MouseButton.RightButton or pull is None:
            return
        pull.go(self._within(event.pos()))
        pull.control = bool(event.modifiers() & Qt.KeyboardModifier.ControlModifier)
        self._pull = None
        self._taker.release(pull)
        self.update()

    def place_at(self, at: QPoint) -> Any:
        """Give the place (m) under a pixel: in a space on its section, or None."""
        assert self.picture
        size = self.pane
        return (
            self.picture.to_world(at.x(), at.y(), size)
            if self.picture.surface is None
            else self.picture.on_section(at.x(), at.y(), size)
        )

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Offer what can be done here."""
        assert event
        self.asked.emit(self._within(event.pos()), event.globalPos())

    def take_up(self, tool: Tool) -> None:
        """Let a tool take the presses of the pointer; what another has in hand is let go."""
        pull = self._pull
        self._pull = None
        if pull is not None and not self._taker.alone:
            self._taker.release(pull)
        if not self.tool.alone:
            self._before = self.tool
        self.tool = tool
        self.setCursor(tool.cursor)
        self.update()

    def put_down(self) -> None:
        """Go back to looking, or from a tool that does one thing to the one before."""
        self.take_up(self._before if self.tool.alone else self.looking)

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
        elif event.key() == Qt.Key.Key_Escape and self.tool.alone:
            self.put_down()
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
