"""The main window: it joins document, engine and panels. Panels never call each other."""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QCloseEvent, QDragEnterEvent, QDropEvent
from PyQt6.QtWidgets import (
    QApplication,
    QInputDialog,
    QLabel,
    QMainWindow,
    QMenu,
    QMessageBox,
    QSplitter,
    QStackedWidget,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.case import Review, ways_stated
from mop_lantern.desk.actions import make_actions
from mop_lantern.desk.document import Document
from mop_lantern.desk.engine import Engine
from mop_lantern.desk.files.autosave import Autosave
from mop_lantern.desk.files.casefile import CaseFiles, recent_files
from mop_lantern.desk.files.exporting import Exports
from mop_lantern.desk.files.importing import Importing
from mop_lantern.desk.files.storing import Storing
from mop_lantern.desk.flows_label import FlowsLabel
from mop_lantern.desk.menus import deeds_of
from mop_lantern.desk.network.building import Building
from mop_lantern.desk.network.network_pages import NetworkPages
from mop_lantern.desk.network.network_stage import NetworkStage
from mop_lantern.desk.network.networking import Networking
from mop_lantern.desk.remembering import remembered
from mop_lantern.desk.results.history import History
from mop_lantern.desk.results.ledger import Ledger
from mop_lantern.desk.results.showing import Panels, Showing
from mop_lantern.desk.results.traces import Traces
from mop_lantern.desk.session import Session
from mop_lantern.desk.sheet.sheet import Sheet
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.desk.stage.cameras import Cameras
from mop_lantern.desk.stage.face_tools import FaceTools
from mop_lantern.desk.stage.following import Following
from mop_lantern.desk.stage.looks import Looks
from mop_lantern.desk.stage.measuring import Measuring
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.desk.starters import Starters
from mop_lantern.desk.theme import NIGHT, PAPER, apply_theme
from mop_lantern.desk.topbar import TopBar
from mop_lantern.field.device import drawn
from mop_lantern.judge import FieldResult, titles, verdict_in_words
from mop_lantern.shape import Plane


def _application() -> QApplication:
    present = QApplication.instance()
    assert isinstance(present, QApplication)
    return present


NARROWEST = 150  # pixels of a panel that can be worked with


class Desk(QMainWindow):
    """One window: sheet, stage, ledger, traces."""

    def __init__(self) -> None:
        super().__init__()
        self.night = remembered().value("night", "false") == "true"
        tokens = NIGHT if self.night else PAPER
        apply_theme(_application(), tokens)
        self.document, self.engine, self.session = Document(), Engine(self), Session()
        self.archive = self.session.archive
        self.bar, self.sheet, self.stage = TopBar(), Sheet(self.document, tokens), Stage(tokens)
        self.storing = Storing(self.document, self.engine, self.archive, self.stage.view, self.tell, self)
        self.ledger = Ledger(tokens)
        self.traces = Traces(tokens)
        self.starters = Starters()
        self._solving_variant = ""
        self.handbook: Any = None
        self.keeping = Autosave(self.document, self)
        self.files = CaseFiles(self.document, self.keeping, self)
        self.bringing = Importing(self.document, self.stage, self)
        self.history = History(self.archive, self.stage.times, self)
        self.measuring = Measuring(self.document, self.archive, self.traces, self)
        self.following = Following(
            self.document,
            self.engine,
            self.stage,
            self._before_follow,
            self,
        )
        self.setAcceptDrops(True)
        self.resize(1280, 800)
        self.network_stage = NetworkStage(tokens)
        self.networking = Networking(
            self.document,
            self.archive,
            self.engine,
            self.network_stage,
            self.sheet,
            self._before_follow,
            self,
        )
        self.network_pages = NetworkPages(self.document, self.networking, self.traces, self)
        self.cameras, self.faces = (
            Cameras(self.document, self.stage, self),
            FaceTools(
                self.document,
                self.stage,
                self.sheet,
                self,
                self.bringing.models,
            ),
        )
        self.exports = Exports(self.document, self.archive, self.stage.view, self.tell, self)
        self.looks = Looks(self.document, self.stage, self.tell, self)
        self.building = Building(self.document, self.network_stage, self.sheet, self)
        self.showing = Showing(
            self.document,
            self.engine,
            self.session,
            self.history,
            Panels(self.stage, self.network_stage, self.ledger, self.traces, self.measuring, self.networking),
            self,
        )
        self._lay_out()
        menu_bar = self.menuBar()
        assert menu_bar is not None
        self.menus, self.actions_ = make_actions(self, menu_bar, deeds_of(self))
        self.recent = QMenu("Open recent", self)
        self.menus["File"].insertMenu(self.actions_["Save"], self.recent)
        self.menus["File"].aboutToShow.connect(self._list_recent)
        self._join()
        self.set_night(self.night)
        self._refresh_buttons()
        QTimer.singleShot(50, self.engine.start)

    # --- building ---

    def _lay_out(self) -> None:
        centre = QSplitter(Qt.Orientation.Vertical)
        self.networking.switch.turned.connect(self.showing.refresh)
        stages = self.showing.stages
        shown = QWidget()
        above = QVBoxLayout(shown)
        above.setContentsMargins(0, 0, 0, 0)
        above.setSpacing(0)
        above.addWidget(self.networking.switch)
        above.addWidget(stages, 1)
        centre.addWidget(shown)
        centre.addWidget(self.traces)
        centre.setSizes([520, 180])
        centre.setStretchFactor(0, 1)
        self.across = QSplitter(Qt.Orientation.Horizontal)
        for panel in (self.sheet, centre, self.ledger):
            self.across.addWidget(panel)
        stored = [int(size) for size in remembered().value("panels", []) or []]
        self.across.setSizes(stored if len(stored) == 3 and min(stored) >= NARROWEST else [372, 620, 288])
        self.across.setStretchFactor(1, 1)
        self.pages = QStackedWidget()
        self.pages.addWidget(self.starters)
        self.pages.addWidget(self.across)
        holder = QWidget()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.setSpacing(0)
        layout.addWidget(self.bar)
        layout.addWidget(self.pages, 1)
        self.setCentralWidget(holder)
        self.status = QLabel("")
        self.cells = QLabel("")
        self.flows = FlowsLabel()
        bar = self.statusBar()
        assert bar is not None
        bar.addWidget(self.status, 1)
        bar.addPermanentWidget(self.flows)
        bar.addPermanentWidget(self.cells)
        bar.setSizeGripEnabled(False)

    def _join(self) -> None:
        bar = self.bar
        document = self.document
        engine = self.engine
        self.flows.linkActivated.connect(lambda _: self.faces.make_equal())
        bar.undo.clicked.connect(document.undo)
        bar.redo.clicked.connect(document.redo)
        bar.night.clicked.connect(self.set_night)
        bar.solve.clicked.connect(self.solve)
        bar.follow.toggled.connect(self.following.set_on)
        self.following.watch(self.sheet.focused)
        bar.carry.clicked.connect(lambda: self.solve(carry=True))
        bar.pause.clicked.connect(engine.pause)
        bar.stop.clicked.connect(engine.stop)
        bar.variant_chosen.connect(document.choose)
        bar.variant_added.connect(document.add_variant)
        bar.variant_removed.connect(document.remove_variant)
        bar.variant_renamed.connect(self._rename_variant)
        document.changed.connect(self._on_changed)
        document.reviewed.connect(self._on_reviewed)
        document.shaped.connect(self._on_shaped)
        document.troubled.connect(self.tell)
        engine.told.connect(self._on_event)
        engine.frame.connect(self._on_frame)
        engine.state_changed.connect(lambda _: self._refresh_buttons())
        engine.state_changed.connect(lambda _: self._bring_runs())
        self.networking.began.connect(lambda: self.traces.show_page("Readings"))
        self.sheet.import_wanted.connect(self._import)
        self.traces.measured_button.clicked.connect(
            lambda: self.measuring.offer(
                self.traces.measured_button.mapToGlobal(self.traces.measured_button.rect().bottomLeft())
            )
        )
        self.sheet.hovered.connect(self.stage.view.light)
        self.sheet.asked.connect(self._ask_stage)
        self.sheet.left.connect(self.faces.ask_no_more)
        self.ledger.page.trust_asked.connect(self._on_trust)
        self.ledger.remedy.connect(lambda edits: document.edit(edits, "remedy"))
        self.ledger.grid_error.clicked.connect(self.solve_for_grid_error)
        self.ledger.page.unit_chosen.connect(
            lambda dimension, unit: document.edit({f"units.{dimension}": unit}, "unit")
        )
        bar.case.clicked.connect(self.ask_title)
        self.stage.view.trouble.connect(self.tell)
        self.starters.chosen.connect(self.open)
        self.starters.own.connect(self.files.ask)
        self.starters.begun.connect(self._begin_with)
        self.files.began.connect(self._begin)
        self.files.saved.connect(self._bring_runs)

    # --- files ---

    def _begin(self) -> None:
        assert self.document.case is not None
        self.archive.read(self.document.case, self.document.runs)
        if self.archive.skipped:
            self.tell(f"A stored solution could not be read and was skipped. {self.archive.skipped[0]}")
        self.cells.setText("")
        self.stage.view.picture = None
        self.stage.view.pins, self.stage.view.line, self.session.line = [], None, None
        self.stage.set_tokens(self.stage.view.tokens, self.night)
        self.stage.view.ensure().set_options(night=self.night)
        self.pages.setCurrentWidget(self.across)
        self.sheet.refresh()
        self.showing.refresh()
        self._refresh_buttons()

    def open(self, path: Path) -> bool:
        """Open a case file; trouble is told in words and the present case stays."""
        return self.files.open(path)

    def _bring_runs(self) -> None:
        """Take along runs from before the case had a file; not while one is being made."""
        case = self.document.case
        if case is not None and self.engine.state not in ("solving", "paused") and self.document.bring_runs():
            self.archive.read(case, self.document.runs)
            self.showing.refresh()

    def recover(self) -> None:
        """Offer unsaved work that a killed program left behind."""
        if self.files.recover():
            self.tell("This is what was typed before the program ended; it is not saved yet.")

    def show_starters(self) -> None:
        """Show the starters."""
        self.pages.setCurrentWidget(self.starters)

    def _ask_stage(self, tag: TagEdit) -> None:
        """Let a click on the stage answer a tag; the tag itself may be gone by then."""
        path = tag.slot.path
        self.faces.ask(lambda name: self.document.edit({path: name}, "edit"))
        self.tell("Choose from the list, type, or click on the stage.")

    def _list_recent(self) -> None:
        self.recent.clear()
        names = recent_files()
        for name in names:
            action = self.recent.addAction(Path(name).name, lambda n=name: self.open(Path(n)))
            assert action is not None
            action.setToolTip(name)
        self.recent.setEnabled(bool(names))

    def _import(self, what: str) -> None:
        """Ask for a file that the list behind "+" was asked to bring in."""
        {
            "table": self.bringing.ask_table,
            "drawing": self.bringing.ask_drawing,
            "model": self.bringing.models.ask,
        }[what]()

    def _begin_with(self, what: str) -> None:
        """Begin from nothing, as the first page says: a dimension, a network, a model, lines of words."""
        begun = self.files.new({"model": "space", "words": "network"}.get(what, what))
        if begun and what == "model":
            self.bringing.models.ask()
        if begun and what == "words":
            self.document.edit(
                {"network.nodes.source": None, "network.nodes.drain": None}, "begin with words"
            )
            self.building.ask_lines()

    def begin_from_shown(self) -> None:
        """Let the next run begin from the state the stage shows."""
        record = self.archive.records.get(self.document.variant)
        picture = self.stage.view.picture
        if record is None or picture is None or picture.answer is None:
            self.tell("There is no solution to begin from: solve first.")
            return
        times = self.archive.times(self.document.variant)
        name = f"{record.folder}@{picture.answer.time:.6g}" if times else record.folder
        if self.document.edit({"field.start.solution": name}, "begin from a state"):
            self.tell(f"The next solution begins from {name}.")

    def show_manual(self, anchor: str = "") -> None:
        """Open the manual at what concerns the focused line, or at an anchor."""
        from mop_lantern.desk.handbook import Handbook
        from mop_lantern.manual import anchor_of

        if self.handbook is None:
            self.handbook = Handbook(self.sheet.tokens, self)
        path = self.sheet.focused()
        case = self.document.shown
        self.handbook.show()
        self.handbook.raise_()
        self.handbook.go_to(anchor or (anchor_of(case, path) if case is not None and path else "begin"))

    def _on_trust(self, item: str) -> None:
        from mop_lantern.manual import trust_anchor

        self.show_manual(trust_anchor(item))

    def show_shortcuts(self) -> None:
        """List the shortcuts."""
        rows = [
            f"{action.shortcut().toString()}\t{words}"
            for words, action in self.actions_.items()
            if not action.shortcut().isEmpty()
        ]
        rows += [
            "F\tShow everything (on the stage)",
            "H\tHandles (on the stage)",
            "Arrows, +, −\tPan and zoom (on the stage)",
            "Esc\tRestore a value; clear probes",
        ]
        QMessageBox.information(self, "Shortcuts", "\n".join(rows))

    # --- solving ---

    def solve_for_grid_error(self) -> None:
        """Solve on three grids, so that every reading gets a band."""
        self.solve(carry=True, edits={"field.solver.grids": "3"})

    def solve(self, carry: bool = False, edits: dict[str, Any] | None = None) -> None:
        """Solve the chosen variant, or go to the first line that forbids it; ``edits`` count for this time
        only.
        """
        document = self.document
        if document.case is None or document.shown is None:
            return
        result = document.review
        if result is not None and result.case == document.shown and result.blocked:
            blocked = [fault.path for fault in result.faults] + [
                note.path for note in result.notes if note.level == "blocked"
            ]
            self.tell(
                f"The case cannot be solved yet: {len(blocked)} "
                f"{'line is' if len(blocked) == 1 else 'lines are'} blocked."
            )
            self.sheet.go_to(blocked[0])
            return
        self._before_follow(document.variant)
        self.following.solved()
        self.engine.solve(
            document.case.as_data(),
            document.variant,
            document.runs,
            carry,
            edits=edits,
        )

    def _before_follow(self, variant: str) -> None:
        result = self.document.review
        if result is not None and result.numbers is not None and not result.faults:
            self.traces.readings = titles(result.numbers.readings)
        self.traces.clear()
        self._solving_variant = variant

    def _on_event(self, event: dict[str, Any]) -> None:
        kind = event.get("event")
        if kind == "stage":
            self.tell(f"{event['text'].capitalize()} …")
            if event.get("cells"):
                self.cells.setText(f"{event['cells']:,} cells")
        elif kind == "progress":
            self._on_progress(event)
        elif kind == "note":
            self.tell(event["text"])
        elif kind == "finished":
            self._on_finished(event)
        elif kind == "failed":
            says = " ".join(
                part for part in (event["error"], event.get("where", ""), event.get("remedy", "")) if part
            )
            self.tell(f"Not solved: {says}")
        elif kind in ("paused", "resumed"):
            self.tell("Paused." if kind == "paused" else "Going on …")

    def _on_progress(self, event: dict[str, Any]) -> None:
        left = f", about {event['eta']:.0f} s left" if event.get("eta") is not None else ""
        where = " on a coarser grid" if event.get("coarse") else ""
        if "time" in event:
            self.tell(
                f"Following in time: {event['time']:.4g} of {event['until']:.4g} s, step "
                f"{event['iteration']}{left}"
            )
        else:
            self.tell(
                f"Solving{where}: iteration {event['iteration']}, residual {event['momentum']:.1e}{left}"
            )
        self.traces.add(event)

    def _on_finished(self, event: dict[str, Any]) -> None:
        verdict = verdict_in_words(event["trust"], event["converged"], event["stopped"])
        seconds = event["seconds"]
        of_cells = f"{event['cells']:,} cells · about {event['cells'] * 1.5e-3:.0f} MB"
        self.cells.setText(f"{event['cells']:,} lines" if self.networking.on else of_cells)
        more = self.storing.take(self._solving_variant, event)
        self.showing.refresh()
        self.traces.redraw()
        self.tell(
            f"{(self._solving_variant or 'Base').strip()}: {verdict} in {seconds:.1f} s, "
            f"{event['iterations']} {'iteration' if event['iterations'] == 1 else 'iterations'}.{more}"
        )

    def _on_frame(self, answer: FieldResult) -> None:
        if self._solving_variant == self.document.variant:
            self.stage.show_answer(answer, "solving" if self.engine.state == "solving" else "")

    # --- showing ---

    def _on_changed(self, paths: list[str]) -> None:
        case = self.document.case
        self.bar.show_variants(case, self.document.variant)
        if case is not None:
            mark = " •" if self.document.dirty else ""
            self.bar.show_title(case.title or "Untitled case", mark)
            self.setWindowTitle(f"{case.title}{mark} – Mop Lantern")
        self.showing.refresh()
        self._refresh_buttons()

    def _on_shaped(self, shape: Plane) -> None:
        case = self.document.shown
        if case is not None:
            self.stage.show_shape(shape, ways_stated(case), case.units)

    def _on_reviewed(self, result: Review) -> None:
        units = result.case.units
        ways = ways_stated(result.case, result.facts)
        if result.shape is not None:
            flat = result.case.shape.space != "space"
            devices = [] if result.numbers is None else result.numbers.devices.values()
            marks = tuple(line for device in devices for line in drawn(device, flat))
            self.stage.show_shape(result.shape, ways, units, marks)
            self.following.show_handles()
        self.flows.tell(result)
        self.stage.view.trails = [line for fault in result.faults for line in fault.lines]
        self.showing.refresh()
        self._refresh_buttons()
        if result.blocked:
            count = len(result.faults) + sum(note.level == "blocked" for note in result.notes)
            self.tell(
                f"{count} {'line needs' if count == 1 else 'lines need'} fixing before this case can "
                "be solved (F8)."
            )
        elif self.engine.state not in ("solving", "paused"):
            cautions = sum(note.level == "caution" for note in result.notes)
            case = self.document.case
            variant = self.document.variant
            solved = (
                case is not None and variant in self.archive.records and not self.archive.stale(case, variant)
            )
            self.tell(
                ("The answer is up to date." if solved else "Ready to solve.")
                + (
                    f" {cautions} margin {'note' if cautions == 1 else 'notes'} to read (F8)."
                    if cautions
                    else ""
                )
            )
            if result.facts is not None:
                self.cells.setText(f"about {result.facts.cells:,} cells")

    def _refresh_buttons(self) -> None:
        state = self.engine.state
        case = self.document.case
        busy = state in ("solving", "paused")
        self.bar.solve.setEnabled(case is not None)
        self.bar.solve.setVisible(not busy)
        self.bar.carry.setVisible(
            not busy
            and self.document.variant in self.archive.records
            and state == "idle"
            and not self.networking.on
        )
        self.bar.pause.setVisible(busy)
        self.bar.stop.setVisible(busy)
        self.bar.pause.setText("Go on" if state == "paused" else "Pause")
        shown = self.document.shown
        self.ledger.grid_error.setVisible(
            shown is not None
            and shown.field.time.mode == "steady"
            and not busy
            and not self.networking.on
            and shown.shape.space != "space"
        )
        self.bar.undo.setEnabled(bool(self.document._undo))
        self.bar.redo.setEnabled(bool(self.document._redo))

    def ask_title(self) -> None:
        """Ask for the case's title."""
        if self.document.case is not None:
            title, good = QInputDialog.getText(
                self, "Title of the case", "What is this case called?", text=self.document.case.title
            )
            if good:
                self.document.edit({"title": title}, "title")

    def _rename_variant(self, key: str) -> None:
        assert self.document.case is not None
        title, good = QInputDialog.getText(
            self, f"Variant {key}", "What does it try?", text=self.document.case.variants[key].title
        )
        if good:
            self.document.edit({f"variants.{key}.title": title}, "rename")

    def tell(self, words: str) -> None:
        """Say something on the status line."""
        self.status.setText(words)
        self.status.setToolTip(words)

    def set_night(self, on: bool) -> None:
        """Change to the dark theme or back."""
        self.night = bool(on)
        tokens = NIGHT if on else PAPER
        apply_theme(_application(), tokens)
        self.bar.night.setChecked(self.night)
        self.bar.night.setText("Paper" if on else "Night")
        self.sheet.set_tokens(tokens)
        self.starters.set_tokens(tokens)
        self.stage.set_tokens(tokens, self.night)
        self.network_stage.set_tokens(tokens)
        self.traces.set_tokens(tokens, self.night)
        self.ledger.set_tokens(tokens)
        remembered().setValue("night", "true" if on else "false")

    # --- window ---

    def dragEnterEvent(self, event: QDragEnterEvent | None) -> None:
        """Accept one case file."""
        data = event.mimeData() if event is not None else None
        if event is not None and data is not None and data.hasUrls():
            event.acceptProposedAction()

    def dropEvent(self, event: QDropEvent | None) -> None:
        """Open a dropped case file, or bring a dropped drawing or model in."""
        data = event.mimeData() if event is not None else None
        if data is not None and data.urls():
            path = Path(data.urls()[0].toLocalFile())
            if self.document.case is None or not self.bringing.takes(path):
                self.open(path)

    def closeEvent(self, event: QCloseEvent | None) -> None:
        """Ask about unsaved changes, then end worker and reviewer."""
        assert event is not None
        if not self.files.may_leave():
            event.ignore()
            return
        self.keeping.close()
        self.engine.close()
        self.document.close()
        if self.across.isVisible():  # behind the first page they have no widths of their own
            remembered().setValue("panels", self.across.sizes())
        event.accept()
