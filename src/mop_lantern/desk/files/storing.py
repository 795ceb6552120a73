"""Results that came but could not be stored: shown all the same, and stored when there is room."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject

from mop_lantern.desk.document import Document
from mop_lantern.desk.engine import Engine
from mop_lantern.desk.files.archive import Archive
from mop_lantern.desk.stage.view import View
from mop_lantern.errors import LanternError
from mop_lantern.results import RunRecord


class Storing(QObject):
    """Takes finished runs into the archive; the worker keeps one that could not be stored until another is
    solved.
    """

    def __init__(
        self,
        document: Document,
        engine: Engine,
        archive: Archive,
        view: View,
        tell: Callable[[str], None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.engine = engine
        self.archive = archive
        self.view = view
        self.tell = tell
        self.waiting = False
        engine.told.connect(self._on_event)

    def take(self, variant: str, event: dict[str, Any]) -> str:
        """Take a finished run; give what to say of it beside how it went."""
        archive = self.archive
        self.waiting = not event["run"]
        if not self.waiting:
            try:
                archive.take(variant, event["run"])
                return ""
            except LanternError as problem:
                return f" {problem}"
        case = self.document.case
        record = RunRecord(
            case=case.as_data() if case is not None else {},
            variant=variant,
            readings=event["readings"],
            standard=event["standard"],
            trust=event["trust"],
            converged=event["converged"],
            iterations=event["iterations"],
            cells=event["cells"],
            seconds=event["seconds"],
            grid=event["grid"],
            versions={},
        )
        picture = self.view.picture
        archive.keep(variant, record, picture.answer if picture is not None else None)
        return (
            f" {event.get('unsaved', '')} The answer is kept: make room, then choose Store the answer again."
        )

    def again(self) -> None:
        """Ask the worker to store what it has kept."""
        if self.waiting:
            self.engine.send({"do": "store"})
        else:
            self.tell("Every answer is stored.")

    def _on_event(self, event: dict[str, Any]) -> None:
        if event.get("event") == "stored":
            self.waiting = False
            self.archive.take(event["variant"], event["run"])
            self.tell(f"Stored in {event['run']}.")
