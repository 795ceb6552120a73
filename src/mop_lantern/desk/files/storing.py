"""Results that came but could not be stored: shown all the same, and stored when there is room."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtCore import QObject

from mop_lantern.errors import LanternError
from mop_lantern.results import RunRecord

if TYPE_CHECKING:
    from mop_lantern.desk.window import Desk


class Storing(QObject):
    """Takes finished runs into the archive; the worker keeps one that could not be stored until another is
    solved.
    """

    def __init__(self, desk: Desk) -> None:
        super().__init__(desk)
        self.desk = desk
        self.waiting = False
        desk.engine.told.connect(self._on_event)

    def take(self, variant: str, event: dict[str, Any]) -> str:
        """Take a finished run; give what to say of it beside how it went."""
        archive = self.desk.archive
        self.waiting = not event["run"]
        if not self.waiting:
            try:
                archive.take(variant, event["run"])
                return ""
            except LanternError as problem:
                return f" {problem}"
        case = self.desk.document.case
        record = RunRecord(
            case=case.as_data() if case is not None else {},
            variant=variant,
            readings=event["readings"],
            trust=event["trust"],
            converged=event["converged"],
            iterations=event["iterations"],
            cells=event["cells"],
            seconds=event["seconds"],
            grid=event["grid"],
            versions={},
        )
        archive.keep(
            variant,
            record,
            self.desk.stage.view.picture.answer if self.desk.stage.view.picture is not None else None,
        )
        return (
            f" {event.get('unsaved', '')} The answer is kept: make room, then choose Store the answer again."
        )

    def again(self) -> None:
        """Ask the worker to store what it has kept."""
        if self.waiting:
            self.desk.engine.send({"do": "store"})
        else:
            self.desk.tell("Every answer is stored.")

    def _on_event(self, event: dict[str, Any]) -> None:
        if event.get("event") == "stored":
            self.waiting = False
            self.desk.archive.take(event["variant"], event["run"])
            self.desk.tell(f"Stored in {event['run']}.")
