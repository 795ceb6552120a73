"""Shows what was solved: the field or the network on the stage, readings, curves and profiles."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal
from PyQt6.QtWidgets import QStackedWidget

from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.document import Document
from mop_lantern.desk.engine import Engine
from mop_lantern.desk.network.network_stage import NetworkStage
from mop_lantern.desk.network.networking import Networking
from mop_lantern.desk.results.history import History
from mop_lantern.desk.results.ledger import Ledger
from mop_lantern.desk.results.traces import Traces
from mop_lantern.desk.session import Session
from mop_lantern.desk.stage.measuring import Measuring
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.judge import FieldResult


@dataclass
class Panels:
    """Where results are shown."""

    stage: Stage
    network_stage: NetworkStage
    ledger: Ledger
    traces: Traces
    measuring: Measuring
    networking: Networking


class Showing(QObject):
    """Keeps all panels at the newest run of the variant chosen.

    Signals
    -------
    ledger_filled : the ledger has been filled anew.
    """

    ledger_filled = pyqtSignal()

    def __init__(
        self,
        document: Document,
        engine: Engine,
        session: Session,
        history: History,
        panels: Panels,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.engine = engine
        self.session = session
        self.archive = session.archive
        self.history = history
        self.panels = panels
        self.stages = QStackedWidget()
        self.stages.addWidget(panels.stage)
        self.stages.addWidget(panels.network_stage)
        self._taking: BackgroundTask | None = None
        panels.stage.quantity_changed.connect(self._on_quantity)
        panels.stage.view.lining.signals.drawn.connect(self.show_line)
        history.chosen.connect(self._on_history)

    def refresh(self) -> None:
        """Show everything as it stands."""
        case = self.document.case
        if case is None:
            return
        panels = self.panels
        self._refresh_traces()
        if self.engine.state != "solving":
            variant = self.document.variant
            stale = self.archive.stale(case, variant)
            self._share_scale()
            panels.stage.show_answer(
                self.archive.answer(variant), "the case has changed since this was solved" if stale else ""
            )
            self.history.show(variant, case.units)
            self._refresh_profiles()
            panels.measuring.show()
        self.stages.setCurrentWidget(panels.network_stage if panels.networking.on else panels.stage)
        panels.networking.show()
        panels.ledger.grid_error.setVisible(not panels.networking.on and case.shape.space != "space")
        self._refresh_readings()

    def _refresh_traces(self) -> None:
        case = self.document.case
        assert case is not None
        record = self.archive.records.get(self.document.variant)
        traces = self.panels.traces
        former = traces.readings, traces.units, traces.columns
        if self.engine.state not in ("solving", "paused"):
            traces.readings = {
                key: (reading["title"], reading["dimension"])
                for key, reading in (record.readings if record else {}).items()
            }
        traces.units = case.units
        if record is not None and self.engine.state != "solving":
            traces.columns = dict(record.traces)
        if former != (traces.readings, traces.units, traces.columns):
            traces.redraw_next()

    def _refresh_readings(self) -> None:
        """Fill the ledger: a column for every solved variant, and for the former grid on the stage."""
        case = self.document.case
        variant = self.document.variant
        records = self.archive.records
        if case is None:
            return
        columns = [key for key in ("", *case.variants) if key in records]
        stale = {key for key in columns if self.archive.stale(case, key)}
        readings = {key: self.archive.readings(case, key) for key in columns}
        self._take_later(columns)
        former = self.history.column(variant)
        if former is not None:
            columns.append(former[0])
            readings[former[0]] = former[1]
        record = records.get(variant)
        page = self.panels.ledger.page
        page.show_all(columns, readings, stale, record.trust if record else [], variant, case.units)
        self.panels.ledger.offer_remedies(record.trust if record and variant not in stale else [])
        self.panels.ledger.verdict.show_rows(record.verdict if record else [])
        self.panels.ledger.standard.show_readings(record.standard if record else {}, case.units)
        page.show_grid(
            record.grid if record else None, [cycle["cells"] for cycle in record.cycles] if record else []
        )
        self.ledger_filled.emit()

    def _take_later(self, columns: list[str]) -> None:
        """Take readings that were asked for after variants were solved on what was stored, in a thread."""
        case = self.document.case
        busy = self._taking is not None and self._taking.running
        if case is None or busy or self.engine.state in ("solving", "paused"):
            return
        wanted = ((variant, self.archive.not_taken(case, variant)) for variant in columns)
        variant, keys = next(((variant, keys) for variant, keys in wanted if keys), ("", []))
        if not keys:
            return
        record = self.archive.records[variant]
        stated, work = self.archive.taking(case, variant, keys)

        def take(told: dict[str, Any]) -> None:
            self.archive.keep_later(record, stated, told)
            self._taking = None
            self._refresh_readings()

        self._taking = BackgroundTask(self.panels.ledger, "", lambda _: work(), take, lambda _: take({}))

    def verdicts(self) -> dict[str, list[dict[str, Any]]]:
        """Give what the standard says of the comfort in every solved variant, by the words for it."""
        case = self.document.case
        found = {}
        for key in ("", *case.variants) if case is not None else ():
            record = self.archive.records.get(key)
            if case is None or record is None:
                continue
            words = f"{key}  {case.variants[key].title}".strip() if key else "Base"
            stale = " (the case has changed since)" if self.archive.stale(case, key) else ""
            found[words + stale] = record.verdict
        return found

    def _on_history(self, answer: FieldResult) -> None:
        self.panels.stage.show_answer(answer)
        self._refresh_readings()

    def _on_quantity(self) -> None:
        self._share_scale()
        self._refresh_profiles()

    def _share_scale(self) -> None:
        """Give all variants one scale, so that their pictures can be compared."""
        case = self.document.case
        picture = self.panels.stage.view.picture
        if case is None or picture is None:
            return
        low, high = self.session.shared_range(case, picture.quantity)
        picture.set_options(low=low, high=high)

    def show_line(self, start: Any, end: Any) -> None:
        """Show the profile along a line, ends in m."""
        self.session.line = (start, end)
        self._refresh_profiles()
        self.panels.stage.line_button.setChecked(False)

    def _refresh_profiles(self) -> None:
        case = self.document.case
        picture = self.panels.stage.view.picture
        self.session.line = self.session.line or self.panels.measuring.line()
        if picture is None or case is None:
            return
        what = picture.quantity
        curves = self.session.profiles(case, what)
        if curves:
            traces = self.panels.traces
            traces.shown_quantity = what
            traces.show_profiles(curves, picture.quantities[what])
