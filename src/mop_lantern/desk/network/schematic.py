"""The schematic on the stage: symbols, flows and values of a network; nodes can be dragged."""

from __future__ import annotations

import re
from typing import Any

import numpy as np
from PyQt6.QtCore import QPoint, QPointF, QRectF, Qt, pyqtSignal
from PyQt6.QtGui import (
    QColor,
    QContextMenuEvent,
    QFontMetricsF,
    QKeyEvent,
    QLinearGradient,
    QMouseEvent,
    QPainter,
    QPainterPath,
    QPaintEvent,
    QPen,
    QResizeEvent,
    QTransform,
    QWheelEvent,
)
from PyQt6.QtWidgets import QSizePolicy, QToolTip, QWidget

from mop_lantern.case import Case
from mop_lantern.declare import discover
from mop_lantern.desk.network import gauges
from mop_lantern.desk.theme import Tokens, font
from mop_lantern.judge import NetworkResult
from mop_lantern.judge.network_result import NODE_FIGURES, PART_FIGURES, RUN_FIGURES
from mop_lantern.network.component import Component
from mop_lantern.network.node import Node
from mop_lantern.scene.diagram import Diagram, laid_out
from mop_lantern.scene.maps import tables
from mop_lantern.units import preferred, show
from mop_lantern.units.quantity import pretty_unit

_STEP = re.compile(r"([MLAQZ])([^MLAQZ]*)")
_TEXT_FROM = 17.0  # pixels a unit: below, symbols go without their names
LEGEND, EDGE = 46, 40  # pixels kept free: below, and at the sides for names


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
        elif letter == "A":  # half circles only: from the present point to the one named
            here = path.currentPosition()
            middle = QPointF((here.x() + n[5]) / 2, (here.y() + n[6]) / 2)
            radius = n[0]
            start = float(np.degrees(np.arctan2(-(here.y() - middle.y()), here.x() - middle.x())))
            path.arcTo(
                QRectF(middle.x() - radius, middle.y() - radius, 2 * radius, 2 * radius), start, -180.0
            )
        else:
            path.closeSubpath()
    return path


class Schematic(QWidget):
    """A network drawn by symbols. Drag the ground to pan, a node to move it, turn the wheel to zoom; F shows
    everything.

    Signals
    -------
    chosen : path of what was clicked. placed : nodes and where they stand now, after a drag. gauged : where
    gauges stand after one.
    asked : path of what a menu is asked for (gauge.KEY for a gauge) and where. drawn : node a run was drawn
    from, node it leads to or an empty text, and the place then.
    """

    chosen = pyqtSignal(str)
    placed = pyqtSignal(dict)
    gauged = pyqtSignal(dict)
    asked = pyqtSignal(str, QPoint)
    drawn = pyqtSignal(str, str, object)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.case: Case | None = None
        self.working: NetworkResult | None = None
        self.diagram = Diagram({}, {})
        self.figure, self.at_node = "volume_flow", "pressure"
        self.units: dict[str, str] = {}
        self.scale = 20.0
        self.shift = QPointF(0, 0)
        self.lit = ""
        self._symbols: dict[str, QPainterPath] = {}
        self.pinned: dict[str, tuple[float, float]] = {}
        self.from_node = ""  # where a run is being drawn from
        self._here = QPointF()
        self._gauge = ""
        self._grip = QPointF()
        self._grabbed: str | None = None
        self._pressed: QPoint | None = None
        self._moved: dict[str, tuple[float, float]] = {}
        self._dragging = False
        self._last = QPoint()
        self._fitted = False
        self._largest: tuple[NetworkResult | None, float] = (None, 0.0)  # kg/s of all runs, of what is shown
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
        self.working = working if working is not None and set(working.runs) == set(network.runs) else None
        kinds = discover("mop_lantern.network.components", Component) | discover(
            "mop_lantern.network.nodes", Node
        )
        self._symbols = {name: path_of(kind.symbol) for name, kind in kinds.items()}
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
            key: (run.start, run.end)
            for key, run in network.runs.items()
            if run.start in network.nodes and run.end in network.nodes
        }
        self._lay(ends)
        if not self._fitted or before != (set(self.diagram.nodes), set(self.diagram.lines)):
            self.fit()
        self.update()

    def show_working(self, working: NetworkResult) -> None:
        """Show what happens now in the network as it is drawn."""
        if set(working.runs) == set(self.diagram.lines):
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

    def pixel(self, place: tuple[float, float]) -> QPointF:
        """Give the pixel of a place."""
        return QPointF(self.shift.x() + self.scale * place[0], self.shift.y() + self.scale * place[1])

    def _place(self, pixel: QPointF) -> tuple[float, float]:
        return (pixel.x() - self.shift.x()) / self.scale, (pixel.y() - self.shift.y()) / self.scale

    # --- painting ---

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint lines, symbols, nodes, then words."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        painter.fillRect(self.rect(), QColor(self.tokens.paper))
        if not self.diagram.nodes:
            painter.setPen(QColor(self.tokens.soft))
            painter.setFont(font(11))
            painter.drawText(
                self.rect(), int(Qt.AlignmentFlag.AlignCenter), "Add nodes and runs on the sheet."
            )
            painter.end()
            return
        low, high, inks = self._inks()
        for run, line in self.diagram.lines.items():
            self._paint_run(painter, run, line, inks.get(run, QColor(self.tokens.ink)))
        for item in self.diagram.symbols:
            self._paint_symbol(
                painter,
                item.name,
                item.at,
                item.turn,
                inks.get(item.name.split(".")[0], QColor(self.tokens.ink)),
            )
        for node, place in self.diagram.nodes.items():
            self._paint_node(painter, node, place)
        self._paint_words(painter)
        gauges.paint(self, painter)
        if self.from_node in self.diagram.nodes:
            painter.setPen(QPen(QColor(self.tokens.amber), 2, Qt.PenStyle.DashLine))
            painter.drawLine(self.pixel(self.diagram.nodes[self.from_node]), self._here)
        if self.working is not None:
            self._paint_legend(painter, low, high)
        painter.end()

    def _inks(self) -> tuple[float, float, dict[str, QColor]]:
        """Give the range of the figure shown, and the colour of every run."""
        if self.working is None:
            return 0.0, 1.0, {}
        values = {
            run: abs(figures[self.figure])
            for run, figures in self.working.runs.items()
            if np.isfinite(figures.get(self.figure, np.nan))
        }
        low = 0.0
        high = max(values.values(), default=1.0) or 1.0
        table = tables()["batlow"]
        made = {}
        for run, value in values.items():
            made[run] = self._ink(table, float(np.clip((value - low) / (high - low), 0, 1)))
        return low, high, made

    def _ink(self, table: Any, share: float) -> QColor:
        """Give a colour of the map; its end that is lost on the ground is left out."""
        dark = QColor(self.tokens.paper).lightness() < 128
        r, g, b = table[int((0.35 + 0.65 * share if dark else 0.85 * share) * (len(table) - 1))][:3]
        return QColor.fromRgbF(float(r), float(g), float(b))

    def _paint_run(
        self,
        painter: QPainter,
        run: str,
        line: list[tuple[float, float]],
        ink: QColor,
    ) -> None:
        wide = 2.4 if self.lit not in (run, f"network.runs.{run}") else 5.0
        still = self.working is not None and self._still(run)
        painter.setPen(
            QPen(
                QColor(self.tokens.soft) if still else ink,
                wide,
                Qt.PenStyle.DotLine if still else Qt.PenStyle.SolidLine,
            )
        )
        corners = [self.pixel(place) for place in line]
        for a, b in zip(corners, corners[1:], strict=False):
            painter.drawLine(a, b)
        if self.working is None or still:
            return
        ahead = self.working.runs[run]["mass_flow"] > 0
        first, second = (corners[-2], corners[-1]) if ahead else (corners[1], corners[0])
        delta = second - first
        length = float(np.hypot(delta.x(), delta.y())) or 1.0
        unit = delta / length
        tip = second - delta / length * 0.75 * self.scale
        size = float(np.clip(0.45 * self.scale, 4, 9))
        side = QPointF(-unit.y(), unit.x()) * size * 0.6
        path = QPainterPath(tip)
        path.lineTo(tip - unit * size + side)
        path.lineTo(tip - unit * size - side)
        path.closeSubpath()
        painter.fillPath(path, ink)

    def _still(self, run: str) -> bool:
        """Whether next to nothing flows: a shut check valve leaks a little in theory."""
        assert self.working is not None
        if self._largest[0] is not self.working:
            self._largest = (
                self.working,
                max((abs(figures["mass_flow"]) for figures in self.working.runs.values()), default=0.0),
            )
        return abs(self.working.runs[run]["mass_flow"]) <= 1e-6 * self._largest[1]

    def _paint_symbol(
        self,
        painter: QPainter,
        name: str,
        at: tuple[float, float],
        turn: int,
        ink: QColor,
    ) -> None:
        assert self.case is not None
        run, _, part = name.partition(".")
        found = self.case.network.runs[run].parts.get(part)
        if found is None:
            return
        middle = self.pixel(at)
        shape = (
            QTransform()
            .translate(middle.x(), middle.y())
            .rotate(turn)
            .scale(0.95 * self.scale, 0.95 * self.scale)
            .map(self._symbols[found.kind])
        )
        box = shape.boundingRect()
        if found.kind not in ("pipe", "duct"):
            painter.fillRect(box, QColor(self.tokens.paper))
        painter.setPen(
            QPen(
                QColor(self.tokens.amber) if self.lit.endswith(f"{run}.parts.{part}") else ink.darker(110),
                1.6,
            )
        )
        painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(shape)

    def _paint_node(
        self,
        painter: QPainter,
        node: str,
        place: tuple[float, float],
    ) -> None:
        assert self.case is not None
        middle = self.pixel(place)
        kind = self.case.network.nodes[node].kind
        shape = (
            QTransform()
            .translate(middle.x(), middle.y())
            .scale(self.scale, self.scale)
            .map(self._symbols[kind])
        )
        painter.setPen(
            QPen(
                QColor(
                    self.tokens.amber
                    if self.lit == node or self.lit.endswith(f".{node}")
                    else self.tokens.ink
                ),
                1.8,
            )
        )
        painter.setBrush(QColor(self.tokens.ink) if kind == "junction" else QColor(self.tokens.paper))
        if kind != "junction":
            painter.fillRect(shape.boundingRect(), QColor(self.tokens.paper))
            painter.setBrush(Qt.BrushStyle.NoBrush)
        painter.drawPath(shape)
        painter.setBrush(Qt.BrushStyle.NoBrush)

    def words(self) -> list[tuple[QRectF, str, bool]]:
        """Give every label that fits: its box, its words, and whether it is a value; earlier ones keep their
        place.
        """
        metrics = QFontMetricsF(font(9.5))
        made = []
        high = metrics.height()
        half = 0.95 * self.scale
        taken = [gauge.box for gauge in gauges.gauges(self)]
        for place, of in [(item.at, "") for item in self.diagram.symbols] + [
            (place, node) for node, place in self.diagram.nodes.items()
        ]:
            at = self.pixel(place)
            reach = 0.3 * half if of and self._is_junction(of) else half
            taken.append(QRectF(at.x() - reach, at.y() - 0.7 * reach, 2 * reach, 1.4 * reach))
        rows = [
            (self.pixel((at[0], at[1] - 1.0)) - QPointF(0, high), node, False)
            for node, at in self.diagram.nodes.items()
        ]
        if self.working is not None:
            flows = {
                run: 0.0
                if self._still(run) and "flow" in self.figure
                else figures.get(self.figure, float("nan"))
                for run, figures in self.working.runs.items()
            }
            rows += [
                (self.pixel(at), self._number(flows[run], RUN_FIGURES[self.figure][1]), True)
                for run, at in self.diagram.labels.items()
            ]
            rows += [
                (
                    self.pixel((at[0], at[1] + 1.0)),
                    self._number(
                        self.working.nodes[node].get(self.at_node, float("nan")), self.node_figure()[1]
                    ),
                    True,
                )
                for node, at in self.diagram.nodes.items()
            ]
        if self.scale > _TEXT_FROM:
            rows += [
                (
                    self.pixel(
                        (
                            item.at[0] + (1.6 if item.turn == 90 else 0.0),
                            item.at[1] + (-0.4 if item.turn == 90 else 1.0),
                        )
                    ),
                    item.name.partition(".")[2],
                    False,
                )
                for item in self.diagram.symbols
            ]
        rows += self._openings(metrics)
        for top, words, value in rows:
            wide = metrics.horizontalAdvance(words) + 4
            beside = half + wide / 2 + 2
            named = words in self.diagram.nodes and not value
            tries = (
                [
                    (0.0, 0.0),
                    (0.0, -0.5 * high),
                    (-beside, half + 0.5 * high),
                    (beside, half + 0.5 * high),
                    (0.0, -high),
                    (0.0, 2 * half + high),
                    (0.0, 2 * half + 2 * high),
                ]
                if named
                else [
                    (0.0, 0.0),
                    (0.0, 0.5 * high),
                    (0.0, high),
                ]
            )
            for right, lift in tries:
                box = QRectF(top.x() - wide / 2 + right, top.y() + lift, wide, high)
                if words and not any(box.intersects(other) for other in taken):
                    taken.append(box)
                    made.append((box, words, value))
                    break
        return made

    def _openings(self, metrics: QFontMetricsF) -> list[tuple[QPointF, str, bool]]:
        """Give how far valves and dampers are open: over their symbol, or beside it where the run goes
        down.
        """
        assert self.case is not None
        rows = []
        for item in self.diagram.symbols if self.scale > 0.5 * _TEXT_FROM else []:
            run, _, part = item.name.partition(".")
            words = str(getattr(self.case.network.runs[run].parts.get(part), "opening", ""))
            if words and not words.startswith("="):
                at = self.pixel(item.at)
                aside = QPointF(
                    0.95 * self.scale + 0.5 * metrics.horizontalAdvance(words) + 4, -0.5 * metrics.height()
                )
                rows.append(
                    (
                        at
                        + (aside if item.turn == 90 else QPointF(0.0, -0.7 * self.scale - metrics.height())),
                        words,
                        False,
                    )
                )
        return rows

    def node_figure(self, key: str = "") -> tuple[str, str]:
        """Give the words and the dimension of a figure of nodes, or of the one shown."""
        key = key or self.at_node
        if key.startswith("share."):
            species = (
                self.case.network.species.get(key.removeprefix("share.")) if self.case is not None else None
            )
            return (f"share of {species.title}" if species is not None else key), "fraction"
        return NODE_FIGURES[key]

    def _is_junction(self, node: str) -> bool:
        assert self.case is not None
        return self.case.network.nodes[node].kind in ("junction", "tee", "wye")

    def _number(self, value: float, dimension: str) -> str:
        """A value without its unit, which the legend and the strip tell."""
        return self._value(value, dimension).split(" ")[0] if np.isfinite(value) else ""

    def _value(self, value: float, dimension: str) -> str:
        return show(value, dimension, preferred(dimension, self.units), 3) if np.isfinite(value) else "–"

    def _paint_words(self, painter: QPainter) -> None:
        if self.scale < 0.4 * _TEXT_FROM:
            return
        painter.setFont(font(9.5))
        for box, words, value in self.words():
            ground = QColor(self.tokens.paper)
            ground.setAlpha(205)
            painter.fillRect(box, ground)
            painter.setPen(QColor(self.tokens.ink if value else self.tokens.soft))
            painter.drawText(box, int(Qt.AlignmentFlag.AlignCenter), words)

    def _paint_legend(
        self,
        painter: QPainter,
        low: float,
        high: float,
    ) -> None:
        label, dimension = RUN_FIGURES[self.figure]
        unit = preferred(dimension, self.units)
        table = tables()["batlow"]
        left = 18
        top = self.height() - 24
        wide = 200
        painter.setPen(QColor(self.tokens.ink))
        painter.setFont(font(9.5, bold=True))
        painter.drawText(left, top - 6, f"{label}, {pretty_unit(unit)}" if unit else label)
        ramp = QLinearGradient(left, 0, left + wide, 0)
        for k in range(17):
            ramp.setColorAt(k / 16, self._ink(table, k / 16))
        painter.fillRect(
            left,
            top,
            wide,
            8,
            ramp,
        )
        painter.setFont(font(9))
        painter.drawText(
            QRectF(left - 20, top + 8, 60, 14),
            int(Qt.AlignmentFlag.AlignCenter),
            show(low, dimension, unit, 3).split(" ")[0],
        )
        painter.drawText(
            QRectF(left + wide - 40, top + 8, 60, 14),
            int(Qt.AlignmentFlag.AlignCenter),
            show(high, dimension, unit, 3).split(" ")[0],
        )

    # --- hands ---

    def found(self, pixel: QPointF) -> str:
        """Give the path of what lies under a pixel, or an empty text."""
        x, y = self._place(pixel)
        for node, place in self.diagram.nodes.items():
            if max(abs(x - place[0]), abs(y - place[1])) < 0.95:
                return f"network.nodes.{node}"
        for item in self.diagram.symbols:
            if abs(x - item.at[0]) < 1.1 and abs(y - item.at[1]) < 0.95:
                run, _, part = item.name.partition(".")
                return f"network.runs.{run}.parts.{part}"
        for run, line in self.diagram.lines.items():
            for a, b in zip(line, line[1:], strict=False):
                if (
                    min(a[0], b[0]) - 0.3 < x < max(a[0], b[0]) + 0.3
                    and min(a[1], b[1]) - 0.3 < y < max(a[1], b[1]) + 0.3
                ):
                    return f"network.runs.{run}"
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
            else (self.working.runs, RUN_FIGURES)
            if len(steps) == 3
            else (self.working.parts, PART_FIGURES)
        )
        own = {
            key: self.node_figure(key) if key.startswith("share.") else names.get(key)
            for key in table.get(name, {})
        }
        rows = [
            f"{pair[0]}: {self._value(table[name][key], pair[1])}"
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
        self._gauge = gauges.hit(self, event.position())
        box = next((gauge.box for gauge in gauges.gauges(self) if gauge.key == self._gauge), None)
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
            place, (x, y) = gauges.anchor(self, self._gauge), self._place(event.position() - self._grip)
            if place is not None:
                self.pinned = {**self.pinned, self._gauge: (round(x - place[0], 2), round(y - place[1], 2))}
        elif self._grabbed is None:
            self.shift += QPointF(here - self._pressed) if not self._dragging else QPointF(here - self._last)
        else:
            x, y = self._place(event.position())
            self._moved = {**self._moved, self._grabbed: (round(2 * x) / 2, round(2 * y) / 2)}
            self._relay()
        self._dragging = True
        self._last = here
        self.update()

    def _relay(self) -> None:
        assert self.case is not None
        self._lay({key: (run.start, run.end) for key, run in self.case.network.runs.items()})

    def _lay(self, ends: dict[str, tuple[str, str]]) -> None:
        """Lay the network out, unless it is laid out already."""
        assert self.case is not None
        network = self.case.network
        sources = [
            key
            for key, node in network.nodes.items()
            if node.sets_pressure() and getattr(node, "steady", "keeps") == "keeps"
        ]
        parts = {key: list(run.parts) for key, run in network.runs.items()}
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
                self.drawn.emit(
                    first, node, [round(2 * value) / 2 for value in self._place(event.position())]
                )
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
        gauge = gauges.hit(self, place)
        self.asked.emit(f"gauge.{gauge}" if gauge else self.found(place), event.globalPos())

    def draw_run_from(self, node: str) -> None:
        """Let the next click say where a run from a node leads; Esc gives up."""
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
