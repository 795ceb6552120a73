"""Readings placed on the stage: at a point, along a line, over a box, through a section."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPoint
from PyQt6.QtWidgets import QMenu

from mop_lantern.case.reading_places import reading_edits
from mop_lantern.desk.document import Document
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.desk.stage.probe import ON_SECTION
from mop_lantern.desk.stage.tools.drawing import DrawingTool
from mop_lantern.desk.stage.view import View
from mop_lantern.errors import LanternError


class Placing:
    """Adds readings of the quantity that is shown; each is one step of undo."""

    def __init__(self, document: Document, view: View, sheet: Sheet) -> None:
        self.document = document
        self.view = view
        self.sheet = sheet

    def offer(self, menu: QMenu, at: QPoint) -> None:
        """Offer readings at a pixel of the view and about it."""
        picture = self.view.ensure()
        place = self.view.place_at(at)
        if place is None or (picture.surface is None and picture.shape is None):
            return
        words = picture.quantities[picture.quantity][0]
        plan = menu.addMenu(f"Place a reading of {words}")
        assert plan is not None
        if picture.surface is not None and not picture.options.layers & ON_SECTION:
            hint = plan.addAction("Show Colours first: readings are placed on the section")
            assert hint is not None
            hint.setEnabled(False)
            return
        within = picture.answer is None or bool(picture.answer.inside(place[None])[0])
        if within:
            plan.addAction("Point: here", lambda: self.add("point", [place]))
        plan.addAction("Line: drag from end to end", lambda: self.draw("line"))
        plan.addAction("Box: drag from corner to corner", lambda: self.draw("box"))
        if picture.surface is None:
            plan.addAction("What passes a section: drag from end to end", lambda: self.draw("section"))
        elif within:
            plan.addAction("What passes here through the section shown", lambda: self.add("passage", [place]))

    def draw(self, form: str) -> None:
        """Let the next drag draw a line, a box or a section."""

        def drawn(places: list[Any]) -> None:
            self.view.put_down()
            if places:
                self.add(form, places)
            else:
                self.document.troubled.emit("The section is seen edge on: turn the view first.")

        self.view.take_up(DrawingTool(self.view, form == "box", drawn))

    def add(self, form: str, places: list[Any]) -> str:
        """Add a reading at places, m; give its path, or "" where it cannot be."""
        case = self.document.shown
        picture = self.view.ensure()
        if case is None:
            return ""
        across = -1 if picture.surface is None else picture.across
        fineness = picture.height / max(self.view.height(), 1)
        try:
            edits, path = reading_edits(case, form, picture.quantity, places, fineness, across)
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return ""
        if not self.document.edit(edits, "place a reading"):
            return ""
        self.sheet.go_to(path)
        return path
