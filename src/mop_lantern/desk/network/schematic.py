"""The schematic on the stage: symbols, flows and values of a network; nodes can be dragged."""

from __future__ import annotations

from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QKeyEvent,
    QMouseEvent,
    QPainter,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip

from mop_lantern.case import Case
from mop_lantern.declare import discover
from mop_lantern.desk.network.board import Board
from mop_lantern.desk.network.gauges import anchor, gauges, hit
from mop_lantern.desk.network.painting import paint
from mop_lantern.desk.symbols import path_of
from mop_lantern.desk.theme import Tokens
from mop_lantern.judge import NetworkResult
from mop_lantern.judge.network_result import LINE_FIGURES, NODE_FIGURES, PART_FIGURES
from mop_lantern.network.component import Component
from mop_lantern.network.node import Node
from mop_lantern.scene.diagram import laid_out

LEGEND, EDGE = 46, 40  # pixels kept free: below, and at the sides for names


class Schematic(Board):
    """A network drawn by symbols. Drag the ground to pan, a node to move it, turn the wheel to zoom; F shows
    everything.

    Signals
    -------
    chosen : path of what was clicked. placed : nodes and where they stand now, after a drag. gauged : where
    gauges stand after one.
    asked : path of what a menu is asked for (gauge.KEY for a gauge) and where. drawn : node a line was drawn
    from, node it leads to or an empty text, and the place then.
    """

    chosen = pyqtSignal(str)
    placed = pyqtSignal(dict)
    gauged = pyqtSignal(dict)
    asked = pyqtSignal(str, QPoint)
    drawn = pyqtSignal(str, str, object)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__(tokens)
        self.from_node = ""  # where a line is being drawn from
        self._here = QPointF()
        self._gauge = ""
        self._grip = QPointF()
        self._grabbed: str | None = None
        self._pressed: QPoint | None = None
        self._moved: dict[str, tuple[float, float]] = {}
        self._dragging = False
        self._last = QPoint()
        self._fitted = False
        self._drawn: Any = None
        self.setMouseTracking(True)
        self.setFocusPolicy(Qt.FocusPolicy.StrongFocus)
        self.setSizePolicy(QSizePolicy.Policy.Expanding, QSizePolicy.Policy.Expanding)
        self.setMinimumSize(200, 150)
        self.setAccessibleName("Schematic of the network")

    # --- what is shown ---

    def show_case(self, case: Case, working: NetworkResult | None) -> None:
        """Show a network, with what happens in it when that is known."""
        network = case.network
        before = set(self.diagram.nodes), set(self.diagram.lines)
        self.case = case
        self.units = case.units
        self.working = working if working is not None and set(working.lines) == set(network.lines) else None
        kinds = discover("mop_lantern.network.components", Component) | discover(
            "mop_lantern.network.nodes", Node
        )
        self.symbols = {name: path_of(kind.symbol) for name, kind in kinds.items()}
        places = case.views.get("places", {})
        self._moved = (
            {key: (float(place[0]), float(place[1])) for key, place in places.items() if key in network.nodes}
            if isinstance(places, dict)
            else {}
        )
        pins = case.views.get("gauges", {})
        self.pinned = (
            {key: (float(place[0]), float(place[1])) for key, place in pins.items() if key in case.readings}
            if isinstance(pins, dict)
            else {}
        )
        ends = {
            key: (line.start, line.end)
            for key, line in network.lines.items()
            if line.start in network.nodes and line.end in network.nodes
        }
        self._lay(ends)
        if not self._fitted or before != (set(self.diagram.nodes), set(self.diagram.lines)):
            self.fit()
        self.update()

    def show_working(self, working: NetworkResult) -> None:
        """Show what happens now in the network as it is drawn."""
        if set(working.lines) == set(self.diagram.lines):
            self.working = working
            self.update()

    def fit(self) -> None:
        """Show everything."""
        x0, y0, x1, y1 = self.diagram.size
        room = max(self.height() - LEGEND, 50)
        self.scale = float(
            np.clip(min((self.width() - EDGE) / max(x1 - x0, 1e-9), room / max(y1 - y0, 1e-9)), 1.0, 34.0)
        )
        self.shift = QPointF(
            self.width() / 2 - self.scale * (x0 + x1) / 2, room / 2 - self.scale * (y0 + y1) / 2
        )
        self._fitted = True
        self.update()

    def light(self, name: str) -> None:
        """Light up what a tag on the sheet names."""
        self.lit = name
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint lines, symbols, nodes, then words."""
        painter = QPainter(self)
        paint(self, painter)
        if self.from_node in self.diagram.nodes:
            painter.setPen(QPen(QColor(self.tokens.amber), 2, Qt.PenStyle.DashLine))
            painter.drawLine(self.pixel(self.diagram.nodes[self.from_node]), self._here)
        painter.end()

    # --- hands ---

    def found(self, pixel: QPointF) -> str:
        """Give the path of what lies under a pixel, or an empty text."""
        x, y = self.place(pixel)
        for node, place in self.diagram.nodes.items():
            if max(abs(x - place[0]), abs(y - place[1])) < 0.95:
                return f"network.nodes.{node}"
        for item in self.diagram.symbols:
            if abs(x - item.at[0]) < 1.1 and abs(y - item.at[1]) < 0.95:
                line, _, part = item.name.partition(".")
                return f"network.lines.{line}.parts.{part}"
        for line, places in self.diagram.lines.items():
            for a, b in zip(places, places[1:], strict=False):
                if (
                    min(a[0], b[0]) - 0.3 < x < max(a[0], b[0]) + 0.3
                    and min(a[1], b[1]) - 0.3 < y < max(a[1], b[1]) + 0.3
                ):
                    return f"network.lines.{line}"
        return ""

    def figures(self, path: str) -> str:
        """Give what is known of a thing, a line each."""
        steps = path.split(".")
        if self.working is None or len(steps) < 3:
            return path.removeprefix("network.")
        name = steps[2] if len(steps) == 3 else f"{steps[2]}.{steps[4]}"
        table, names = (
            (self.working.nodes, NODE_FIGURES)
            if steps[1] == "nodes"
            else (self.working.lines, LINE_FIGURES)
            if len(steps) == 3
            else (self.working.parts, PART_FIGURES)
        )
        own = {
            key: self.node_figure(key) if key.startswith("share.") else names.get(key)
            for key in table.get(name, {})
        }
        rows = [
            f"{pair[0]}: {self.value(table[name][key], pair[1])}"
            for key, pair in own.items()
            if pair is not None and np.isfinite(table[name][key])
        ]
        return "\n".join([name, *rows])

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Take hold of a node, or of the ground."""
        assert event
        path = self.found(event.position())
        if event.button() != Qt.MouseButton.LeftButton:
            return
        self._gauge = hit(self, event.position())
        box = next((gauge.box for gauge in gauges(self) if gauge.key == self._gauge), None)
        self._grip = event.position() - box.center() if box is not None else QPointF()
        self._grabbed = path.rsplit(".", 1)[1] if path.startswith("network.nodes.") else None
        self._pressed = event.position().toPoint()
        self._dragging = False

    def mouseMoveEvent(self, event: QMouseEvent | None) -> None:
        """Move what is held; else tell what lies under the pointer."""
        assert event
        self._here = event.position()
        if self.from_node:
            self.update()
        if self._pressed is None:
            path = self.found(event.position())
            QToolTip.showText(event.globalPosition().toPoint(), self.figures(path) if path else "", self)
            return
        here = event.position().toPoint()
        if not self._dragging and (here - self._pressed).manhattanLength() < 5:
            return
        if self._gauge:
            place, (x, y) = anchor(self, self._gauge), self.place(event.position() - self._grip)
            if place is not None:
                self.pinned = {**self.pinned, self._gauge: (round(x - place[0], 2), round(y - place[1], 2))}
        elif self._grabbed is None:
            self.shift += QPointF(here - self._pressed) if not self._dragging else QPointF(here - self._last)
        else:
            x, y = self.place(event.position())
            self._moved = {**self._moved, self._grabbed: (round(2 * x) / 2, round(2 * y) / 2)}
            self._relay()
        self._dragging = True
        self._last = here
        self.update()

    def _relay(self) -> None:
        assert self.case is not None
        self._lay({key: (line.start, line.end) for key, line in self.case.network.lines.items()})

    def _lay(self, ends: dict[str, tuple[str, str]]) -> None:
        """Lay the network out, unless it is laid out already."""
        assert self.case is not None
        network = self.case.network
        sources = [
            key
            for key, node in network.nodes.items()
            if node.sets_pressure() and getattr(node, "steady", "keeps") == "keeps"
        ]
        parts = {key: list(line.parts) for key, line in network.lines.items()}
        drawn = (ends, parts, list(network.nodes), sources, self._moved)
        if drawn != self._drawn:
            self.diagram = laid_out(*drawn)
            self._drawn = drawn

    def mouseReleaseEvent(self, event: QMouseEvent | None) -> None:
        """Let go: a node stays where it is, a click chooses."""
        assert event
        if self._pressed is not None and not self._dragging:
            path = self.found(event.position())
            if self.from_node:
                first = self.from_node
                self.from_node = ""
                node = path.removeprefix("network.nodes.") if path.startswith("network.nodes.") else ""
                self.drawn.emit(first, node, [round(2 * value) / 2 for value in self.place(event.position())])
            elif self._gauge:
                self.chosen.emit(f"readings.{self._gauge}")
            elif path:
                self.chosen.emit(path)
        elif self._gauge:
            self.gauged.emit({key: [x, y] for key, (x, y) in self.pinned.items()})
        elif self._grabbed is not None:
            self.placed.emit({key: [x, y] for key, (x, y) in self._moved.items()})
        self._pressed = self._grabbed = None
        self._gauge = ""

    def contextMenuEvent(self, event: QContextMenuEvent | None) -> None:
        """Ask for the menu of what lies under the pointer."""
        assert event
        place = QPointF(event.pos())
        gauge = hit(self, place)
        self.asked.emit(f"gauge.{gauge}" if gauge else self.found(place), event.globalPos())

    def draw_line_from(self, node: str) -> None:
        """Let the next click say where a line from a node leads; Esc gives up."""
        self.from_node, self._here = node, self.pixel(self.diagram.nodes[node])
        self.setFocus()
        self.update()

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Zoom about the pointer."""
        assert event
        self.zoom(1.15 ** (event.angleDelta().y() / 120), event.position())

    def zoom(self, factor: float, about: QPointF) -> None:
        """Zoom, a pixel staying where it is."""
        factor = float(np.clip(self.scale * factor, 1.0, 80.0)) / self.scale
        self.shift = about + (self.shift - about) * factor
        self.scale *= factor
        self.update()

    def keyPressEvent(self, event: QKeyEvent | None) -> None:
        """F fits, arrows pan, plus and minus zoom."""
        assert event
        moves = {
            Qt.Key.Key_Left: (40, 0),
            Qt.Key.Key_Right: (-40, 0),
            Qt.Key.Key_Up: (0, 40),
            Qt.Key.Key_Down: (0, -40),
        }
        centre = QPointF(self.width() / 2, self.height() / 2)
        key = Qt.Key(event.key()) if event.key() in [item.value for item in Qt.Key] else None
        if key == Qt.Key.Key_Escape and self.from_node:
            self.from_node = ""
        elif key == Qt.Key.Key_F:
            self.fit()
        elif key in moves:
            self.shift += QPointF(*moves[key])
        elif key in (Qt.Key.Key_Plus, Qt.Key.Key_Equal):
            self.zoom(1.2, centre)
        elif key == Qt.Key.Key_Minus:
            self.zoom(1 / 1.2, centre)
        else:
            super().keyPressEvent(event)
        self.update()

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Keep everything in view."""
        self.fit()
