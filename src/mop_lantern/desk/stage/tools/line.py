"""Drawing a line: along it a profile is shown."""

from __future__ import annotations

from PyQt6.QtCore import QObject, Qt, pyqtSignal

from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool


class LineSignals(QObject):
    """``drawn`` : two places (m)."""

    drawn = pyqtSignal(object, object)


class LineTool(Tool):
    """A line from where the pointer is pressed to where it is let go; in a space on its section."""

    cursor = Qt.CursorShape.CrossCursor

    def __init__(self, view: Canvas) -> None:
        self.view = view
        self.signals = LineSignals()

    def press(self, pull: Pull) -> None:
        """Begin."""
        place = self.view.place_at(pull.at)
        self.view.line = None if place is None else (place, place)

    def drag(self, pull: Pull) -> None:
        """Stretch."""
        place = self.view.place_at(pull.at)
        if self.view.line is not None and place is not None:
            self.view.line = (self.view.line[0], place)

    def release(self, pull: Pull) -> None:
        """Tell."""
        if self.view.line is not None and pull.moved:
            self.signals.drawn.emit(*self.view.line)
