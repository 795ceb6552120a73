"""Choosing an edge of a plane or a face of a space, for a tag of the sheet that asks for one."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt, QTimer
from PyQt6.QtGui import QPainter

from mop_lantern.desk.stage.tools.tool import Canvas, Pull, Tool


class ChoosingTool(Tool):
    """Lights what lies under the pointer; a click chooses it, a drag moves the view.

    Parameters
    ----------
    under : gives the name under a pixel, or "". light : lights a name, or "" for none. chosen : is told the
    name.
    """

    cursor = Qt.CursorShape.PointingHandCursor
    alone = True

    def __init__(
        self,
        view: Canvas,
        looking: Tool,
        under: Callable[[QPoint], str],
        light: Callable[[str], None],
        chosen: Callable[[str], None],
    ) -> None:
        self.view = view
        self.looking = looking
        self.under = under
        self.light = light
        self.chosen = chosen
        self._lit = ""

    def press(self, pull: Pull) -> None:
        """A press begins."""
        self.looking.press(pull)

    def drag(self, pull: Pull) -> None:
        """Move the view."""
        if pull.moved:
            self.looking.drag(pull)

    def release(self, pull: Pull) -> None:
        """Choose, if it was a click on something."""
        name = "" if pull.moved else self.under(pull.at)
        if name:
            self.light("")
            self.chosen(name)

    def paint(self, painter: QPainter, hover: QPoint | None) -> None:
        """Light what lies under the pointer."""
        name = self.under(hover) if hover is not None else ""
        if name != self._lit:
            self._lit = name
            QTimer.singleShot(0, lambda: self.light(name))  # never while a picture is being painted
