"""Exports from the window; each gives the words for the status line."""

from __future__ import annotations

import sys
from collections.abc import Callable
from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject, QProcess
from PyQt6.QtGui import QGuiApplication
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QWidget

from mop_lantern.desk.background import BackgroundTask
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.archive import Archive
from mop_lantern.desk.stage.view import View
from mop_lantern.errors import FileError
from mop_lantern.results import RunRecord, write_readings
from mop_lantern.shape import Surface
from mop_lantern.shape.geometry_out import regions_of, write_geometry


def export_readings(
    path: Path, records: dict[str, RunRecord], readings: dict[str, dict[str, dict[str, Any]]]
) -> str:
    """Write the readings of all variants, and the standard ones of their records, as CSV in SI units."""
    if not records:
        return "There is nothing to export yet: solve first."
    try:
        write_readings(
            path, {name or "base": readings[name] | record.standard for name, record in records.items()}
        )
    except FileError as problem:
        return str(problem)
    return f"Readings are in {path}."


def start_animation(
    run: str,
    path: Path,
    quantity: str,
    tell: Callable[[str], None],
    parent: QObject,
) -> QProcess:
    """Write an animation in a process of its own, so that a minute's work never blocks the window; ``tell``
    gets the words.
    """
    process = QProcess(parent)

    def ended(code: int) -> None:
        words = process.readAllStandardError().data().decode(errors="replace").strip()
        tell(
            f"The animation is in {path}." if code == 0 else f"The animation was not written: {words[-300:]}"
        )
        process.deleteLater()

    process.finished.connect(ended)
    process.start(
        sys.executable, ["-m", "mop_lantern", "export", run, "--to", str(path), "--quantity", quantity]
    )
    tell(f"Writing {path.name} …")
    return process


def export_picture(path: Path, view: View) -> str:
    """Write the stage as it is shown."""
    return (
        f"The picture is in {path}."
        if view.grab().save(str(path))
        else f"{path} cannot be written. Choose another folder."
    )


def to_clipboard(text: str, what: str) -> str:
    """Copy a text and give the words that tell it."""
    clipboard = QGuiApplication.clipboard()
    if clipboard is None or not text:
        return f"There are no {what} here to copy."
    clipboard.setText(text)
    return f"The {what} are on the clipboard."


class Exports(QObject):
    """Asks where to, writes, and tells."""

    def __init__(
        self,
        document: Document,
        archive: Archive,
        view: View,
        tell: Callable[[str], None],
        window: QWidget,
    ) -> None:
        super().__init__(window)
        self.document = document
        self.archive = archive
        self.view = view
        self.tell = tell
        self.window = window
        self.work: BackgroundTask | None = None

    def _ask(self, title: str, proposed: str, kinds: str) -> Path | None:
        name, _ = QFileDialog.getSaveFileName(self.window, title, proposed, kinds)
        return Path(name) if name else None

    def ask_readings(self) -> None:
        """Ask for a file and write the readings of all variants as CSV."""
        path = self._ask("Export readings", "readings.csv", "CSV (*.csv)")
        if path is not None:
            case = self.document.case
            records = self.archive.records if case is not None else {}
            readings = {name: self.archive.readings(case, name) for name in records if case is not None}
            self.tell(export_readings(path, records, readings))

    def ask_picture(self) -> None:
        """Ask for a file and write the stage as PNG."""
        path = self._ask("Export picture", "stage.png", "PNG (*.png)")
        if path is not None:
            self.tell(export_picture(path, self.view))

    def ask_animation(self) -> None:
        """Ask for a file and write the kept states of the variant shown as MP4 or GIF."""
        if not self.archive.times(self.document.variant):
            self.tell("There are no kept states to animate: follow the flow in time first.")
            return
        path = self._ask("Export animation", "flow.mp4", "MP4 (*.mp4);;GIF (*.gif)")
        if path is not None:
            self.animate(path)

    def animate(self, path: Path) -> QProcess:
        """Write the kept states of the variant shown; the status line tells when it is done."""
        folder = self.archive.records[self.document.variant].folder
        return start_animation(folder, path, self.view.ensure().quantity, self.tell, self)

    def ask_geometry(self) -> None:
        """Ask which region of the space shown, and for a file, and write it for others."""
        surface = self.view.ensure().surface
        if surface is None:
            self.tell("Only a three-dimensional case has geometry to write.")
            return
        regions = regions_of(surface)
        choices = {"all regions, each a part": tuple(regions)} | {name: (name,) for name in regions}
        chosen, good = QInputDialog.getItem(self.window, "Export geometry", "Write", list(choices), 0, False)
        if not good:
            return
        kinds = "STEP (*.step);;GLB (*.glb);;OBJ (*.obj)"
        if len(choices[chosen]) == 1:
            kinds += ";;STL (*.stl);;PLY (*.ply)"
        path = self._ask("Export geometry", "geometry.step", kinds)
        if path is not None:
            self.write_geometry({name: regions[name] for name in choices[chosen]}, path)

    def write_geometry(self, regions: dict[str, Surface], path: Path) -> None:
        """Write regions behind the window; the status line tells when it is done."""
        self.work = BackgroundTask(
            self.window,
            f"Writing {path.name} …",
            lambda stop: write_geometry(regions, path),
            lambda told: self.tell(f"The geometry is in {path}, in {told['unit']}."),
            lambda problem: self.tell(str(problem)),
        )
