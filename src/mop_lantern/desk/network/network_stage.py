"""The stage of a network: the schematic with its strip of choices and a slider for what was clicked."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QSlider, QVBoxLayout, QWidget

from mop_lantern.desk.network.schematic import Schematic
from mop_lantern.desk.theme import Tokens
from mop_lantern.judge.network_result import LINE_FIGURES, NODE_FIGURES
from mop_lantern.units import preferred
from mop_lantern.units.quantity import pretty_unit


class NetworkStage(QWidget):
    """The schematic with its strip of choices."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.view = Schematic(tokens)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        strip = QHBoxLayout()
        strip.setContentsMargins(8, 4, 8, 4)
        self.figure = self._menu(
            "Lines show", lambda: list(LINE_FIGURES.items()), lambda key: setattr(self.view, "figure", key)
        )
        self.at_node = self._menu(
            "Nodes show", self._node_figures, lambda key: setattr(self.view, "at_node", key)
        )
        self.pace = 60.0
        self.operate = QPushButton("Operate")
        self.operate.setCheckable(True)
        self.operate.setToolTip(
            "Let the network run by the clock and work its valves, pumps and set points meanwhile"
        )
        self.speed = QPushButton()
        self.speed.setToolTip("How much faster than the clock it runs")
        self._offer_paces()
        self.restore = QPushButton("Lay out")
        self.restore.setToolTip("Let the program place all nodes again")
        self.fit = QPushButton("Fit")
        self.fit.setToolTip("Show everything (F)")
        self.fit.clicked.connect(self.view.fit)
        for button in (self.operate, self.speed, self.restore, self.fit):
            button.setProperty("layer", "true")
        strip.addWidget(self.figure)
        strip.addWidget(self.at_node)
        strip.addStretch(1)
        strip.addWidget(self.operate)
        strip.addWidget(self.speed)
        strip.addWidget(self.restore)
        strip.addWidget(self.fit)
        layout.addLayout(strip)
        layout.addWidget(self.view, 1)
        layout.addWidget(self._knob_row())

    def _node_figures(self) -> list[tuple[str, tuple[str, str]]]:
        """Give what nodes can show: figures, and the share of every species."""
        species = self.view.case.network.species if self.view.case is not None else {}
        return [
            *NODE_FIGURES.items(),
            *((f"share.{key}", self.view.node_figure(f"share.{key}")) for key in species),
        ]

    def _menu(
        self,
        tip: str,
        figures: Callable[[], list[tuple[str, tuple[str, str]]]],
        choose: Callable[[str], None],
    ) -> QPushButton:
        button = QPushButton("")
        button.setToolTip(tip)

        def take(key: str) -> None:
            choose(key)
            self.show_units()

        def offer() -> None:
            menu = QMenu(button)
            for key, (words, _) in figures():
                menu.addAction(words.capitalize(), lambda k=key: take(k))
            menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
            menu.popup(button.mapToGlobal(button.rect().bottomLeft()))

        button.clicked.connect(offer)
        return button

    def _offer_paces(self) -> None:
        menu = QMenu(self.speed)
        for pace in (1.0, 10.0, 60.0, 600.0):
            action = menu.addAction(f"{pace:g} times as fast as the clock")
            assert action is not None
            action.triggered.connect(lambda _=False, p=pace: self.set_pace(p))
        self.set_pace(self.pace)
        self.speed.clicked.connect(lambda: menu.popup(self.speed.mapToGlobal(self.speed.rect().bottomLeft())))

    def set_pace(self, pace: float) -> None:
        """Choose how much faster than the clock the network runs."""
        self.pace = pace
        self.speed.setText(f"{pace:g} × ▾")

    def _knob_row(self) -> QWidget:
        """Make the slider that turns what was clicked."""
        self.knob = QWidget()
        row = QHBoxLayout(self.knob)
        row.setContentsMargins(12, 2, 12, 6)
        self.knob_name = QLabel("")
        self.knob_value = QLabel("")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("network:slider")
        self.slider.setAccessibleName("Opening or speed of what was clicked")
        self.slider.valueChanged.connect(lambda value: self.knob_value.setText(f"{value} %"))
        self.knob_value.setMinimumWidth(50)
        for widget in (self.knob_name, self.slider, self.knob_value):
            row.addWidget(widget, 1 if widget is self.slider else 0)
        self.knob.setVisible(False)
        return self.knob

    def show_knob(
        self,
        name: str,
        value: int,
        most: int,
    ) -> None:
        """Offer the slider for a thing, or hide it when the name is empty."""
        self.knob.setVisible(bool(name))
        self.slider.blockSignals(True)
        self.slider.setRange(0, most)
        self.slider.setValue(value)
        self.slider.blockSignals(False)
        self.knob_name.setText(name)
        self.knob_value.setText(f"{value} %")

    def show_units(self) -> None:
        """Say on the strip what is shown, and in which unit."""
        if self.view.at_node not in dict(self._node_figures()):
            self.view.at_node = "pressure"
        for button, (words, dimension) in (
            (self.figure, LINE_FIGURES[self.view.figure]),
            (self.at_node, self.view.node_figure()),
        ):
            unit = preferred(dimension, self.view.units)
            button.setText(f"{words.capitalize()}{', ' + pretty_unit(unit) if unit else ''} ▾")
        self.view.update()

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        self.view.tokens = tokens
        self.view.update()
