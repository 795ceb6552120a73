"""Joins the schematic with document, sheet, archive and engine: live figures, and networks worked while they
line.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from mop_lantern.case import Case, is_network
from mop_lantern.case.edits import value_at
from mop_lantern.desk.document import Document
from mop_lantern.desk.engine import Engine
from mop_lantern.desk.files.archive import Archive
from mop_lantern.desk.network.network_stage import NetworkStage
from mop_lantern.desk.network.stage_switch import StageSwitch, has_both
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.judge import NetworkResult

KNOBS = {
    "opening": 100,
    "speed": 150,
    "position": 100,
    "dirt": 100,
}  # what a slider turns, and its largest value in per cent


def knob_of(case: Case, path: str) -> tuple[str, int, int] | None:
    """Give what a slider may turn at a component: path, value and largest value in per cent; a parameter
    where one stands there.
    """
    for name, most in KNOBS.items():
        text = value_at(case, f"{path}.{name}")
        if not isinstance(text, str):
            continue
        where = f"{path}.{name}"
        if text.strip().startswith("="):
            where = f"parameters.{text.strip()[1:].strip()}.value"
            text = value_at(case, where)
        try:
            share = float(str(text).replace("%", "").strip().replace(",", ".")) * (
                1 if "%" in str(text) else 100
            )
        except ValueError:
            continue
        return where, round(share), most
    return None


class Networking(QObject):
    """What happens in a network is shown as soon as it is reviewed, so while the case is written; or as it
    lines.

    Signals
    -------
    began : the network runs by the clock from now on. figures : what is shown of the network at work, or
    None.
    """

    began = pyqtSignal()
    figures = pyqtSignal(object)

    def __init__(
        self,
        document: Document,
        archive: Archive,
        engine: Engine,
        stage: NetworkStage,
        sheet: Sheet,
        prepare: Callable[[str], None],
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.archive = archive
        self.engine = engine
        self.stage = stage
        self.sheet = sheet
        self._prepare = prepare
        self.switch = StageSwitch()
        self.live: NetworkResult | None = None
        self.operating = False
        self._knob: tuple[str, int, int] | None = None
        stage.view.chosen.connect(self._choose)
        stage.view.placed.connect(lambda places: self.document.edit({"views.places": places}, "move"))
        stage.restore.clicked.connect(lambda: self.document.edit({"views.places": None}, "lay out"))
        stage.operate.toggled.connect(self.operate)
        stage.slider.valueChanged.connect(self._turn)
        sheet.hovered.connect(stage.view.light)
        document.changed.connect(self._pass_on)
        engine.told.connect(self._hear)

    @property
    def on(self) -> bool:
        """Whether the network is shown: the open case is one alone, or it is chosen beside the space."""
        case = self.document.shown
        return case is not None and (is_network(case) or (has_both(case) and self.switch.network))

    @property
    def in_time(self) -> bool:
        """Whether the network shown is followed in time, or worked live."""
        case = self.document.shown
        return self.on and case is not None and (self.operating or case.network.time.mode != "steady")

    def show(self) -> None:
        """Show the network of the variant chosen, with the newest figures there are."""
        case = self.document.shown
        review = self.document.review
        self.switch.show_case(case)
        if case is None or not self.on:
            self.figures.emit(None)
            return
        variant = self.document.variant
        ended = (
            self.archive.working(variant)
            if self.in_time
            and self.document.case is not None
            and not self.archive.stale(self.document.case, variant)
            else None
        )
        now = review.working if review is not None and review.case == case else None
        # until the review is there, nothing flickers
        before = self.stage.view.working if review is None or review.case != case else None
        self.stage.view.show_case(case, self.live or ended or now or before or self.archive.working(variant))
        self.figures.emit(self.stage.view.working)
        self.stage.show_units()

    def operate(self, on: bool) -> None:
        """Let the network run by the clock, so that it can be worked; or stop it."""
        document = self.document
        if on and document.case is not None and self.on and self.engine.state in ("idle", "dead"):
            self.operating = document.brief = True
            self._prepare(document.variant)
            self.show()
            self.began.emit()
            self.engine.solve(
                document.case.as_data(),
                document.variant,
                document.runs,
                False,
                pace=self.stage.pace,
            )
        elif not on and self.operating:
            self.engine.stop()

    def _hear(self, event: dict[str, Any]) -> None:
        kind = event.get("event")
        if kind == "progress" and event.get("working") and self.document.shown is not None:
            self.live = NetworkResult.of(event["working"])
            self.stage.view.show_working(self.live)
            self.figures.emit(self.live)
            self._show_planned(event.get("planned", {}))
        elif kind in ("finished", "failed"):
            was, self.operating, self.document.brief, self.live = self.operating, False, False, None
            if was:
                self.document.recheck()
            self.stage.operate.blockSignals(True)
            self.stage.operate.setChecked(False)
            self.stage.operate.blockSignals(False)

    def _pass_on(self, paths: list[str]) -> None:
        """Send what was edited while the network runs to the solver: sliders, sheet and undo alike."""
        if not self.operating or self.document.shown is None:
            return
        for path in paths:
            value = value_at(self.document.shown, path)
            if path.startswith(("network.lines.", "network.nodes.", "parameters.")) and isinstance(
                value, str
            ):
                self.engine.send(
                    {
                        "do": "work",
                        "path": path,
                        "value": value,
                    }
                )

    def _choose(self, path: str) -> None:
        """Go to the line of what was clicked, and offer its slider."""
        self.sheet.go_to(path)
        case = self.document.shown
        self._knob = knob_of(case, path) if case is not None and ".parts." in path else None
        name = path.removeprefix("network.lines.").replace(".parts.", ".")
        if self._knob is None:
            self.stage.show_knob("", 0, 100)
            return
        turned = self._knob[0]
        turned = turned.split(".")[1] if turned.endswith("value") else turned.rsplit(".", 1)[1]
        self.stage.show_knob(f"{name}, {turned}", *self._knob[1:])

    def _show_planned(self, planned: dict[str, str]) -> None:
        """Let the slider stand where an operation has put its value."""
        if self._knob is None or self._knob[0] not in planned or self.stage.slider.isSliderDown():
            return
        text = str(planned[self._knob[0]])
        try:
            share = round(float(text.replace("%", "").strip()) * (1 if "%" in text else 100))
        except ValueError:
            return
        if share != self.stage.slider.value():
            self.stage.show_knob(self.stage.knob_name.text(), share, self._knob[2])

    def _turn(self, value: int) -> None:
        if self._knob is not None:
            self.document.edit({self._knob[0]: f"{value} %"}, "turn", merge=True)
