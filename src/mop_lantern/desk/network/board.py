"""What a drawn network is, before hands and paint: the case, what happens in it, where everything lies."""

from __future__ import annotations

import numpy as np
from PyQt6.QtCore import QPointF
from PyQt6.QtGui import QPainterPath
from PyQt6.QtWidgets import QWidget

from mop_lantern.case import Case
from mop_lantern.desk.theme import Tokens
from mop_lantern.judge import NetworkResult
from mop_lantern.judge.network_result import NODE_FIGURES
from mop_lantern.scene.diagram import Diagram
from mop_lantern.units import preferred, show


class Board(QWidget):
    """A network and how it lies on the widget.

    Attributes
    ----------
    case, working : the network and what happens in it, if known. diagram : where everything lies, in units
    of the schematic. figure, at_node : what is shown of lines and nodes. scale, shift : pixels a unit, and of
    the origin. lit : what a tag on the sheet names. symbols : of every kind. pinned : offsets of gauges.
    """

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
        self.symbols: dict[str, QPainterPath] = {}
        self.pinned: dict[str, tuple[float, float]] = {}
        self._largest: tuple[NetworkResult | None, float] = (None, 0.0)  # kg/s of all lines, of what is shown

    def pixel(self, place: tuple[float, float]) -> QPointF:
        """Give the pixel of a place."""
        return QPointF(self.shift.x() + self.scale * place[0], self.shift.y() + self.scale * place[1])

    def place(self, pixel: QPointF) -> tuple[float, float]:
        """Give the place under a pixel."""
        return (pixel.x() - self.shift.x()) / self.scale, (pixel.y() - self.shift.y()) / self.scale

    def still(self, line: str) -> bool:
        """Whether next to nothing flows: a shut check valve leaks a little in theory."""
        assert self.working is not None
        if self._largest[0] is not self.working:
            self._largest = (
                self.working,
                max((abs(figures["mass_flow"]) for figures in self.working.lines.values()), default=0.0),
            )
        return abs(self.working.lines[line]["mass_flow"]) <= 1e-6 * self._largest[1]

    def node_figure(self, key: str = "") -> tuple[str, str]:
        """Give the words and the dimension of a figure of nodes, or of the one shown."""
        key = key or self.at_node
        if key.startswith("share."):
            species = (
                self.case.network.species.get(key.removeprefix("share.")) if self.case is not None else None
            )
            return (f"fraction of {species.title}" if species is not None else key), "fraction"
        return NODE_FIGURES[key]

    def is_junction(self, node: str) -> bool:
        """Whether lines only meet at a node."""
        assert self.case is not None
        return self.case.network.nodes[node].kind in ("junction", "tee", "wye")

    def number(self, value: float, dimension: str) -> str:
        """A value without its unit, which the legend and the strip tell."""
        return self.value(value, dimension).split(" ")[0] if np.isfinite(value) else ""

    def value(self, value: float, dimension: str) -> str:
        """A value with its unit."""
        return show(value, dimension, preferred(dimension, self.units), 3) if np.isfinite(value) else "–"
