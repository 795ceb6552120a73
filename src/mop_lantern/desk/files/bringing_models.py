"""Models brought into the case: their unit, their open rims and where the fluid is are asked for."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from mop_lantern.case.insides import WAYS, around_edits, fluid_edits, hollows_of_part, inside_edits, told
from mop_lantern.case.models import model_edits, rim_edits, rims_in, stored_model, wrap_edits
from mop_lantern.case.resolve import resolve
from mop_lantern.case.splitting import small_bodies, split_edits
from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.document import Document
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.errors import LanternError
from mop_lantern.shape.model import UNITS, Model, length
from mop_lantern.shape.model_files import EXACT, SAID
from mop_lantern.shape.mouths import Hollows
from mop_lantern.shape.reading import extent_of, likely_unit, read_model
from mop_lantern.shape.wrapping import BRIDGE, likely_feature, plan_of
from mop_lantern.units import UnitFault, preferred, read, show

MOST_SHOWN = 60  # triangles marked on the stage


class BringingModels(QObject):
    """Asks what must be asked, then makes one edit."""

    def __init__(self, document: Document, stage: Stage, window: QWidget) -> None:
        super().__init__(window)
        self.document = document
        self.stage = stage
        self.window = window
        self.work: BackgroundTask | None = None

    def ask(self) -> None:
        """Ask for a model and bring it in."""
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Import a model", "", "Models (*.step *.stp *.stl *.obj *.ply *.glb);;All files (*)"
        )
        if name:
            self.bring(Path(name))

    def bring(self, path: Path) -> None:
        """Bring a model in as a part, or in place of a former state of it, behind the window; tell what was
        found, and ask what the file does not say.
        """
        ending = path.suffix.lower()
        if ending in EXACT or ending in SAID:
            self._read(path, "")
            return
        self.work = BackgroundTask(
            self.window,
            f"Measuring {path.name} …",
            lambda stop: extent_of(path),
            lambda extent: self._ask_unit(path, extent),
            self._refuse,
        )

    def _ask_unit(self, path: Path, extent: Any) -> None:
        """Ask for the unit, with the size the model has in each; the likely one comes first."""
        guess = likely_unit(float(np.linalg.norm(extent)))
        units = [guess, *(unit for unit in UNITS if unit != guess)]
        choices = {
            f"{unit}: it is {' x '.join(length(each * UNITS[unit]) for each in extent)}": unit
            for unit in units
        }
        chosen, good = QInputDialog.getItem(
            self.window,
            "Unit of the model",
            "Files of triangles do not say their unit. The model is in",
            list(choices),
            0,
            False,
        )
        if good:
            self._read(path, choices.get(chosen, chosen))

    def _read(self, path: Path, unit: str) -> None:
        self.work = BackgroundTask(
            self.window,
            f"Reading {path.name} …",
            lambda stop: read_model(path, unit, stop),
            lambda model: self._take(path, model),
            self._refuse,
        )

    def _refuse(self, problem: LanternError) -> None:
        QMessageBox.warning(self.window, "This model cannot be brought in", str(problem)[:2000])

    def _take(self, path: Path, model: Model) -> None:
        """Put a model that has been read into the case."""
        case = self.document.shown
        if case is None:
            return
        former = next(
            (key for key, part in case.shape.solids.items() if getattr(part, "source", None) == path.name), ""
        )
        seal = bool(model.rims) and self._asked_to_seal(model)
        edits, words = model_edits(
            case,
            model,
            path.name,
            seal,
            former,
        )
        if not self.document.edit(edits, "model"):
            return
        self.document.troubled.emit(f"{path.name}: " + " ".join(words))
        self.stage.view.trails = [
            triangle[[0, 1, 2, 0]] for triangle in model.marked[:MOST_SHOWN]
        ]  # until the review has its own to show
        key = former or next(path.split(".")[2] for path in edits if path.startswith("shape.solids."))
        if not former and not rims_in(self.document.shown or case, key):
            self.look_inside(key)

    def look_inside(self, key: str) -> None:
        """Find what a part encloses, behind the window, and ask where the fluid is if that is anything."""
        case = self.document.shown
        if case is not None:
            self.work = BackgroundTask(
                self.window,
                "",
                lambda stop: hollows_of_part(case, key),
                lambda hollows: self._ask_where(key, hollows),
                lambda problem: None,  # what is wrong with the part the sheet tells
            )

    def _ask_where(self, key: str, hollows: Hollows) -> None:
        """Show the open ends on the stage and ask."""
        if not len(hollows.places) or self.document.shown is None:
            return
        self.show_mouths(hollows)
        ends = sum(mouth.cavity == 0 for mouth in hollows.mouths)
        asked = QMessageBox(self.window)
        asked.setWindowTitle("Where is the fluid?")
        asked.setText(
            f"{' and '.join((key, *hollows.also))} enclose{'' if hollows.also else 's'} a space. "
            "Where is the fluid?"
        )
        asked.setInformativeText("\n".join(told(hollows)))
        roles = QMessageBox.ButtonRole
        close = f" (close {ends} end{'s' if ends > 1 else ''})" if ends else ""
        inside = asked.addButton(f"Inside it{close}", roles.AcceptRole)
        around = asked.addButton("Around it", roles.AcceptRole)
        itself = asked.addButton("It is the fluid", roles.RejectRole)
        asked.setEscapeButton(itself)
        asked.setDefaultButton(inside)
        asked.exec()
        for button, way in ((inside, "inside"), (around, "around")):
            if asked.clickedButton() is button:
                self.put_fluid(key, way, hollows)

    def show_mouths(self, hollows: Hollows) -> None:
        """Draw the rims of what is open to the outside."""
        self.stage.view.trails = [
            np.vstack([mouth.rim, mouth.rim[:1]]) for mouth in hollows.mouths if mouth.cavity == 0
        ]
        self.stage.view.update()

    def put_fluid(self, key: str, way: str, hollows: Hollows | None = None) -> None:
        """Put the fluid inside a part, around it, or let it be the fluid: one step of undo."""
        assert way in WAYS
        case = self.document.shown
        if case is None:
            return
        if way == "inside" and hollows is None:
            self.work = BackgroundTask(
                self.window,
                f"Looking for open ends of {key} …",
                lambda stop: hollows_of_part(case, key),
                lambda found: self.put_fluid(key, way, found),
                lambda problem: self.document.troubled.emit(str(problem)),
            )
            return
        try:
            if way == "inside":
                assert hollows is not None
                edits = inside_edits(case, key, hollows)
            else:
                edits = around_edits(case, key) if way == "around" else fluid_edits(case, key)
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return
        if self.document.edit(edits, "place of the fluid") and hollows is not None:
            self.document.troubled.emit(" ".join(told(hollows)))

    def ask_wrap(self, key: str, inside: bool) -> None:
        """Ask for a feature size and wrap a model of the case, from outside or about the wet point."""
        case = self.document.shown
        if case is None:
            return
        try:
            model = stored_model(case, key)
            numbers = resolve(case)[0].shape
            scale = numbers.solids[key].scale
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return
        feature = likely_feature(model.points)
        plan = plan_of(model.points, feature)
        unit = preferred("length", case.units)
        words = (
            "Gaps narrower than the feature size are closed, features smaller than it are lost, and edges "
            f"are rounded by a third of it.\nAt {show(feature * scale, 'length', unit)} it takes about "
            f"{plan.seconds:.0f} s and {plan.memory / 1e9:.1f} GB; half the size takes eight times as much."
            "\n\nFeature size:"
        )
        default = show(feature * scale, "length", unit, 2)
        typed, good = QInputDialog.getText(self.window, f"Wrap {key} watertight", words, text=default)
        if not good:
            return
        try:
            size = read(typed, "length")
        except UnitFault as fault:
            self.document.troubled.emit(f"Feature size: {fault}")
            return
        self.wrap(key, size, numbers.wet[0] if inside and len(numbers.wet) else None)

    def wrap(self, key: str, feature: float, within: Any = None) -> None:
        """Wrap a model of the case at a feature size (m), from outside or about a place."""
        case = self.document.shown
        if case is not None:
            self.work = BackgroundTask(
                self.window,
                f"Wrapping {key} …",
                lambda stop: wrap_edits(case, key, feature, within, stop, stop.say),
                lambda made: self._take_wrap(key, *made),
                self._refuse_wrap,
            )

    def _take_wrap(self, key: str, edits: dict[str, Any], words: list[str]) -> None:
        if not self.document.edit(edits, "wrap") or self.document.shown is None:
            return
        self.document.troubled.emit(f"{key}: " + " ".join(words))
        model = stored_model(self.document.shown, key)
        if BRIDGE in model.names:  # what closes gaps is drawn until the review has its own to show
            bridging = model.triangles[model.face == model.names.index(BRIDGE)][:MOST_SHOWN]
            self.stage.view.trails = [model.points[triangle[[0, 1, 2, 0]]] for triangle in bridging]
            self.stage.view.update()

    def _refuse_wrap(self, problem: LanternError) -> None:
        faults = getattr(problem, "faults", ())
        self.stage.view.trails = [line for fault in faults for line in fault.lines]
        self.stage.view.update()
        QMessageBox.warning(self.window, "This model cannot be wrapped so", str(problem)[:2000])

    def split(self, key: str, by: str) -> None:
        """Make every body or layer of a model a part of its own."""
        self.document.work_out(lambda case: split_edits(case, key, by), "part a model")

    def ask_least(self, key: str) -> None:
        """Ask under what size bodies of a model are excluded, and tell what that changes."""
        case = self.document.shown
        if case is None:
            return
        part: Any = case.shape.solids[key]
        typed, good = QInputDialog.getText(
            self.window,
            "Exclude small bodies",
            f"Bodies of {key} whose box has a diagonal shorter than this are excluded (0 for none):",
            text=part.least,
        )
        if not good:
            return
        try:
            count, every, share = small_bodies(case, key, read(typed, "length"))
        except (UnitFault, LanternError) as problem:
            self.document.troubled.emit(str(problem))
            return
        if self.document.edit({f"shape.solids.{key}.least": typed.strip()}, "exclude small bodies"):
            self.document.troubled.emit(
                f"{count} of {every} bodies of {key} are excluded: {share:.2%} of its volume."
            )

    def close_rims(self, key: str, only: int | None) -> None:
        """Close one open rim (its number) of a model in the case, or all."""
        case = self.document.shown
        if case is None:
            return
        try:
            edits, words = rim_edits(case, key, only)
        except LanternError as problem:
            self.document.troubled.emit(str(problem))
            return
        if self.document.edit(edits, "close a rim"):
            self.document.troubled.emit(f"{key}: " + " ".join(words))

    def _asked_to_seal(self, model: Model) -> bool:
        words = "\n".join(model.report) + (
            "\n\nClose all open rims? They become faces that openings can sit on; small holes become "
            "part of the face around them.\nWith No the model comes in open: rims are then closed one "
            "by one from the menu of the stage."
        )
        buttons = QMessageBox.StandardButton
        return QMessageBox.question(self.window, "Open rims", words, buttons.Yes | buttons.No) == buttons.Yes
