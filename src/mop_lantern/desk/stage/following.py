"""Live revision: handles on the stage edit the case, and with Follow on every edit is solved at once."""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, QTimer
from PyQt6.QtWidgets import QApplication

from mop_lantern.case import Case, Handle, handles
from mop_lantern.case.fresh_place import PLACED
from mop_lantern.case.handles import placed_handles
from mop_lantern.desk.document import Document
from mop_lantern.desk.engine import Engine
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.errors import LanternError
from mop_lantern.results.told import physics_of

PATIENCE = 40  # ms an edit waits for the next: a drag sends many
DRAG = "drag"


class Following(QObject):
    """Joins handles, edits and the solver.

    Parameters
    ----------
    before_solve : called before a following solve is sent, with the variant it is for.
    """

    def __init__(
        self,
        document: Document,
        engine: Engine,
        stage: Stage,
        before_solve: Any,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.engine = engine
        self.stage = stage
        self.before_solve = before_solve
        self.on = False
        self.part = ""
        self.item = ""  # what stands somewhere without being a part: its path
        self._focused: Callable[[], str] = str
        self._dragging: Handle | None = None
        self._solved: Any = None
        self._clock = QTimer(self)
        self._clock.setSingleShot(True)
        self._clock.setInterval(PATIENCE)
        self._clock.timeout.connect(self._solve)
        document.changed.connect(lambda _: self._on_changed())
        document.shaped.connect(lambda _: self.show_handles())
        stage.handles_toggled.connect(self._on_handles)
        stage.view.hands.signals.edge.connect(self.pick)
        stage.view.hands.signals.moved.connect(self._on_drag)

    # --- follow ---

    def set_on(self, on: bool) -> None:
        """Turn following on or off; on, the present case is solved when it has changed."""
        self.on = on
        if on:
            self._on_changed()

    def _state(self) -> Any:
        case = self.document.shown
        return None if case is None else (self.document.variant, physics_of(case))

    def solved(self) -> None:
        """Note that the case as it stands has been sent to the solver."""
        self._solved = self._state()

    def _on_changed(self) -> None:
        if self.on and self.document.case is not None and self._state() != self._solved:
            self._clock.start()

    def _solve(self) -> None:
        case = self.document.case
        if not self.on or case is None:
            return
        self._solved = self._state()
        self.before_solve(self.document.variant)
        self.engine.solve(
            case.as_data(),
            self.document.variant,
            self.document.runs,
            True,
            follow=True,
        )

    # --- handles ---

    def pick(self, edge: str) -> None:
        """Show the handles of the part an edge belongs to."""
        part = edge.split(".")[0]
        if part in self._parts():
            self.part, self.item = part, ""
            self.show_handles()

    def watch(self, focused: Callable[[], str]) -> None:
        """Follow the line of the sheet that has the focus, as a function gives it."""
        self._focused = focused
        app = QApplication.instance()
        assert isinstance(app, QApplication)
        app.focusChanged.connect(self._on_focus)

    def _on_focus(self) -> None:
        self.go_along(self._focused())

    def go_along(self, line: str) -> None:
        """Show the handles of what a line of the sheet is about; a line about no place changes nothing."""
        key = line.removeprefix("shape.solids.").removeprefix("shape.parts.").split(".")[0]
        if line.startswith("shape.") and key in self._parts():
            if (key, "") == (self.part, self.item):
                return
            self.part, self.item = key, ""
        elif line != self.item and line.startswith(tuple(f"{section}." for section in PLACED)):
            self.item = line
        else:
            return
        self.show_handles()

    def _on_handles(self, on: bool) -> None:
        if on and self.part not in self._parts():
            self.part = next(iter(self._parts()), "")
        self.show_handles()

    def _parts(self) -> dict[str, Any]:
        """Give the parts of the case as shown."""
        case = self.document.shown
        return {} if case is None else case.shape.solids if case.shape.space == "space" else case.shape.parts

    def show_handles(self) -> None:
        """Refresh the handles of the chosen part, but not under a drag."""
        view = self.stage.view
        case = self.document.shown
        if self._dragging is not None or view.tool is not view.hands:
            return
        try:
            view.hands.handles = [] if case is None else self._handles(case)
        except LanternError:
            view.hands.handles = []
        view.update()

    def _handles(self, case: Case) -> list[Handle]:
        return placed_handles(case, self.item) or handles(case, self.part)

    def _on_drag(
        self,
        handle: Handle,
        place: Any,
        done: bool,
    ) -> None:
        view = self.stage.view
        assert view.picture is not None
        first = self._dragging is None
        self._dragging = handle
        self.document.edit(
            handle.edit(place, view.picture.height / max(view.height(), 1)),
            f"{DRAG} {handle.path}",
            merge=not first,
        )
        view.hands.handles = [self._moved(other, handle, place) for other in view.hands.handles]
        if done:
            self._dragging = None
            self.document.close_step()
            self.show_handles()

    @staticmethod
    def _moved(other: Handle, held: Handle, place: Any) -> Handle:
        """Let the painted handle follow the pointer along its way."""
        if other.path != held.path:
            return other
        at = place
        if held.pull is not None:
            way = held.pull
            at = held.at + ((place - held.at) @ way) / (way @ way) * way
        return Handle(
            other.path,
            at,
            other.pull,
            other.value,
            other.unit,
            other.dimension,
            other.label,
            other.base,
        )
