"""The time bar under the stage: a slider over the kept states of a run, and play."""

from __future__ import annotations

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QPushButton, QSlider, QWidget

from mop_lantern.units import preferred, show

PACE = 150  # ms a state while playing


class TimeBar(QWidget):
    """Shows only for runs that have kept states.

    Signals
    -------
    chosen : time of a kept state, s.
    """

    chosen = pyqtSignal(float)

    def __init__(self) -> None:
        super().__init__()
        self.times: list[float] = []
        self.units: dict[str, str] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 0, 8, 2)
        self.play = QPushButton("Play")
        self.play.setProperty("layer", "true")
        self.play.setCheckable(True)
        self.play.setObjectName("time:play")
        self.play.setToolTip("Play the kept states in turn (Space on the slider)")
        self.slider = QSlider(Qt.Orientation.Horizontal)
        self.slider.setObjectName("time:slider")
        self.slider.setAccessibleName("Time of the state shown")
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

    def show_times(self, times: list[float], units: dict[str, str]) -> None:
        """Offer the states of a run, the last one chosen; hide when there are none."""
        self.units = units
        if times == self.times:
            return
        self.times = times
        self.play.setChecked(False)
        self.slider.blockSignals(True)
        self.slider.setRange(0, max(len(times) - 1, 0))
        self.slider.setValue(len(times) - 1)
        self.slider.blockSignals(False)
        self.setVisible(len(times) > 1)
        self._tell()

    def _tell(self) -> None:
        if self.times:
            self.words.setText(f"t = {show(self.times[self.slider.value()], 'time', preferred('time', self.units))}")

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
        if 0 <= index < len(self.times):
            self._tell()
            self.chosen.emit(self.times[index])
