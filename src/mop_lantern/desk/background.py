"""Work done behind the window, with words on what it is and a way to stop it."""

from __future__ import annotations

import threading
from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, Qt, pyqtSignal
from PyQt6.QtWidgets import QProgressDialog, QWidget

from mop_lantern.errors import LanternError, because

SHOWN_AFTER = 400  # ms: quicker work shows nothing


class Stop(threading.Event):
    """Set when work is to stop; ``say`` tells how far it is."""

    def __init__(self, say: Callable[[str], None]) -> None:
        super().__init__()
        self.say = say


class BackgroundTask(QObject):
    """Runs one piece of work in a thread of its own.

    Parameters
    ----------
    words : what is being done; "" where nothing need be shown. work : is given an event that is set when it
    is to stop. then : gets the result, in the window's thread.
    failed : gets what went wrong. Neither is called after a stop.
    """

    _done = pyqtSignal(object, object)
    _said = pyqtSignal(str)

    def __init__(
        self,
        window: QWidget,
        words: str,
        work: Callable[[Stop], Any],
        then: Callable[[Any], None],
        failed: Callable[[LanternError], None],
    ) -> None:
        super().__init__(window)
        self._then = then
        self._failed = failed
        self.words = words
        self.stop = Stop(self._said.emit)
        self.running = True
        self.dialog = self._dialog(words, window) if words else None
        self._done.connect(self._take)
        self._said.connect(self._tell)
        self._thread = threading.Thread(
            target=self._run,
            args=(work,),
            name="behind",
            daemon=True,
        )
        self._thread.start()

    def _dialog(self, words: str, window: QWidget) -> QProgressDialog:
        made = QProgressDialog(
            words,
            "Stop",
            0,
            0,
            window,
        )
        made.setWindowTitle("Mop Lantern")
        made.setWindowModality(Qt.WindowModality.NonModal)
        made.setMinimumDuration(SHOWN_AFTER)
        made.setAutoClose(False)
        made.setAutoReset(False)
        made.canceled.connect(self.cancel)
        return made

    def _run(self, work: Callable[[Stop], Any]) -> None:
        result, problem = None, None
        try:
            result = work(self.stop)
        except LanternError as told:
            problem = told
        except Exception as told:  # a fault of ours is told in words, too
            problem = LanternError(
                f"This could not be done{because(told)}: a fault of the program. The case is safe."
            )
        try:
            self._done.emit(result, problem)
        except RuntimeError:
            return  # the window has gone

    def cancel(self) -> None:
        """Stop, and forget what comes of it."""
        self.stop.set()

    def _tell(self, words: str) -> None:
        """Show how far the work is."""
        if self.dialog is not None:
            self.dialog.setLabelText(f"{self.words}\n{words}")

    def _take(self, result: Any, problem: LanternError | None) -> None:
        self.running = False
        if self.dialog is not None:
            self.dialog.deleteLater()
        self.deleteLater()
        if self.stop.is_set():
            return
        if problem is not None:
            self._failed(problem)
        else:
            self._then(result)
