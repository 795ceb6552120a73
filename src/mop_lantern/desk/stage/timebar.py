"""The bar under the stage: a slider over what a run has kept, and play."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSlider, QWidget

PACE = 150  # ms a state while playing


class TimeBar(QWidget):
    """Shows only for runs that have kept more than their end.

    Signals
    -------
    chosen : place of the state in the list shown.
    """

    chosen = pyqtSignal(int)

    def __init__(self) -> None:
        super().__init__()
        self.states: list[str] = []
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 8, 2)
        self.play = QPushButton("Play")
        self.play.setProperty("layer", "true")
        self.play.setCheckable(True)
        self.play.setObjectName("time:play")
        self.play.setToolTip("Play the kept states in turn (Space on the slider)")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("time:slider")
        self.slider.setAccessibleName("State shown")
        self.words = QLabel("")
        self.words.setMinimumWidth(110)
        for widget in (self.play, self.slider, self.words):
            row.addWidget(widget, 1 if widget is self.slider else 0)
        self._clock = QTimer(self)
        self._clock.setInterval(PACE)
        self._clock.timeout.connect(self._next)
        self.play.toggled.connect(self._toggle)
        self.slider.valueChanged.connect(self._move)
        self.setVisible(False)

    def show_states(self, states: list[str]) -> None:
        """Offer states by their words, the last one chosen; hide when there are none to choose from."""
        if states == self.states:
            return
        self.states = states
        self.play.setChecked(False)
        self.slider.blockSignals(True)
        self.slider.setRange(0, max(len(states) - 1, 0))
        self.slider.setValue(len(states) - 1)
        self.slider.blockSignals(False)
        self.setVisible(len(states) > 1)
        self._tell()

    def _tell(self) -> None:
        if self.states:
            self.words.setText(self.states[self.slider.value()])

    def _toggle(self, on: bool) -> None:
        self.play.setText("Halt" if on else "Play")
        if on:
            if self.slider.value() == self.slider.maximum():
                self.slider.setValue(0)
            self._clock.start()
        else:
            self._clock.stop()

    def _next(self) -> None:
        if self.slider.value() >= self.slider.maximum():
            self.play.setChecked(False)
        else:
            self.slider.setValue(self.slider.value() + 1)

    def _move(self, index: int) -> None:
        if 0 <= index < len(self.states):
            self._tell()
            self.chosen.emit(index)
