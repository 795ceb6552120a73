"""Lost objects are collected in the window's thread only."""

from __future__ import annotations

import gc

from PyQt6.QtCore import QObject, QTimer

PAUSE = 1000  # ms


class Collector(QObject):
    """Collects lost objects now and then, in place of Python, which would do so in any thread.

    A window, a picture or a drawing context that the reviewer's thread takes apart can end the program.
    """

    def __init__(self, parent: QObject) -> None:
        super().__init__(parent)
        gc.disable()
        self._timer = QTimer(self)
        self._timer.timeout.connect(self.collect)
        self._timer.start(PAUSE)

    def collect(self) -> None:
        """Collect the oldest generation that is due."""
        due = [
            generation
            for generation, (count, most) in enumerate(zip(gc.get_count(), gc.get_threshold(), strict=True))
            if count > most
        ]
        if due:
            gc.collect(due[-1])

    def end(self) -> None:
        """Leave the collecting to Python again."""
        self._timer.stop()
        gc.enable()
