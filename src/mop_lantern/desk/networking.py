"""Joins the schematic with document, sheet and archive."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject

from mop_lantern.case import is_network
from mop_lantern.desk.archive import Archive
from mop_lantern.desk.document import Document
from mop_lantern.desk.schematic import NetworkStage
from mop_lantern.desk.sheet import Sheet


class Networking(QObject):
    """What happens in a network is shown as soon as it is reviewed, so while the case is written."""

    def __init__(self, document: Document, archive: Archive, stage: NetworkStage, sheet: Sheet, parent: QObject) -> None:
        super().__init__(parent)
        self.document, self.archive, self.stage, self.sheet = document, archive, stage, sheet
        stage.view.chosen.connect(sheet.go_to)
        stage.view.placed.connect(self._place)
        stage.restore.clicked.connect(lambda: self.document.edit({"views.places": None}, "lay out"))
        sheet.hovered.connect(stage.view.light)

    @property
    def on(self) -> bool:
        """Whether the open case is a network alone."""
        return self.document.shown is not None and is_network(self.document.shown)

    def show(self) -> None:
        """Show the network of the variant chosen, with the newest figures there are."""
        case, review = self.document.shown, self.document.review
        if case is None or not self.on:
            return
        live = review.working if review is not None and review.case == case else None
        self.stage.view.show_case(case, live or self.archive.working(self.document.variant))
        self.stage.show_units()

    def _place(self, places: dict[str, Any]) -> None:
        self.document.edit({"views.places": places}, "move")
