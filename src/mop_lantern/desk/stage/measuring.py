"""Measured data beside the model: points on the profile or trace they belong to, error figures, fitting,
export.
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QMenu, QWidget

from mop_lantern.case import quantities
from mop_lantern.case.resolve import Resolver
from mop_lantern.declare import Numbers
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.archive import Archive
from mop_lantern.desk.results.traces import Traces
from mop_lantern.errors import FileError
from mop_lantern.results import deviation, fit, profile, write_comparison
from mop_lantern.units import UnitFault, preferred, read, show

FITS = {
    "Fit scale": "scale",
    "Fit shift": "shift",
    "Fit scale and shift": "both",
    "Fit shift along": "along",
    "Undo shift and scale": "",
}


class Measuring(QObject):
    """Joins measured data, stored answers and the traces."""

    def __init__(
        self,
        document: Document,
        archive: Archive,
        traces: Traces,
        window: QWidget,
    ) -> None:
        super().__init__(window)
        self.document = document
        self.archive = archive
        self.traces = traces
        self.window = window

    def resolved(self, key: str) -> Numbers | None:
        """Give measured data with their numbers worked out, or None while something in them is wrong."""
        case = self.document.shown
        if case is None or key not in case.measured:
            return None
        resolver = Resolver(case)
        numbers = resolver.record(case.measured[key], f"measured.{key}")
        return None if resolver.faults else numbers

    def points(self, numbers: Numbers, raw: bool = False) -> tuple[Any, Any]:
        """Give places (m or s) and values (SI), shifted and scaled unless ``raw``."""
        rows = np.array(numbers.rows, float).reshape(-1, 2)
        x = rows[:, 0] + (0.0 if raw else numbers.along)
        y = rows[:, 1] if raw else numbers.scale * rows[:, 1] + numbers.shift
        dimension = self.dimension(numbers)
        x_si = read(f"1 {numbers.along_unit}", "length" if numbers.kind == "profile" else "time") * x
        if dimension == "temperature":
            return x_si, np.array([read(f"{value!r} {numbers.unit}", dimension) for value in y.tolist()])
        return x_si, read(f"1 {numbers.unit}", dimension) * y

    def dimension(self, numbers: Numbers) -> str:
        """Give the dimension of what was measured."""
        case = self.document.shown
        if numbers.kind == "profile":
            return (
                quantities(case)[numbers.of][1]
                if case is not None and numbers.of in quantities(case)
                else "number"
            )
        record = self.archive.records.get(self.document.variant)
        return (
            record.readings[numbers.of]["dimension"]
            if record is not None and numbers.of in record.readings
            else "number"
        )

    def curve(self, numbers: Numbers) -> tuple[Any, Any] | None:
        """Give the model's curve the data belong to, SI."""
        record = self.archive.records.get(self.document.variant)
        answer = self.archive.answer(self.document.variant)
        if numbers.kind == "trace":
            columns = record.traces if record is not None else {}
            if "time" not in columns or numbers.of not in columns:
                return None
            return np.array(columns["time"]), np.array(columns[numbers.of])
        if answer is None or numbers.of not in answer.quantities:
            return None
        return profile(answer, numbers.of, numbers.start, numbers.end)

    def line(self) -> tuple[Any, Any] | None:
        """Give the line of the first measured profile, so that it is compared without being drawn by hand."""
        case = self.document.shown
        for key in case.measured if case is not None else ():
            numbers = self.resolved(key)
            if numbers is not None and numbers.kind == "profile":
                return numbers.start, numbers.end
        return None

    def show(self) -> None:
        """Give the traces all points that belong to what they show."""
        case = self.document.shown
        shown = []
        for key in case.measured if case is not None else ():
            numbers = self.resolved(key)
            if numbers is None:
                continue
            try:
                x, y = self.points(numbers)
            except UnitFault:
                continue
            shown.append((numbers.kind, numbers.of, numbers.title or key, x, y, self.words(numbers, x, y)))
        if shown or self.traces.measured:
            self.traces.measured = shown
            self.traces.redraw_next()

    def words(
        self,
        numbers: Numbers,
        x: Any,
        y: Any,
    ) -> str:
        """Give the error figures in words."""
        curve = self.curve(numbers)
        case = self.document.shown
        off = deviation(x, y, *curve) if curve is not None else None
        if off is None or case is None:
            return "no model curve to compare with yet"
        dimension = self.dimension(numbers)
        unit = preferred(dimension, case.units) if dimension != "temperature" else "K"
        bias, rms, worst = (show(value, dimension, unit, 3) for value in (off.bias, off.rms, off.worst))
        return f"model − measured: bias {bias}, RMS {rms}, worst {worst} ({off.count} points)"

    def offer(self, at: Any) -> None:
        """Offer fits of every set of measured data, and the export."""
        case = self.document.shown
        menu = QMenu(self.window)
        for key in case.measured if case is not None else ():
            part = menu.addMenu(case.measured[key].title or key) if case is not None else None
            for words, what in FITS.items():
                assert part is not None
                part.addAction(words, lambda k=key, w=what: self.fit(k, w))
        menu.addAction("Export curves and points (CSV) …", self.ask_export)
        menu.popup(at)

    def fit(self, key: str, what: str) -> bool:
        """Fit shift or scale of measured data to the model, as one edit."""
        numbers = self.resolved(key)
        path = f"measured.{key}"
        if numbers is None:
            return False
        if not what:
            return self.document.edit(
                {
                    f"{path}.scale": "1",
                    f"{path}.shift": "0",
                    f"{path}.along": "0",
                },
                "fit",
            )
        curve = self.curve(numbers)
        if curve is None:
            self.document.troubled.emit("There is no model curve to fit to: solve first.")
            return False
        x, y = self.points(numbers, raw=True)
        unit_x = read(f"1 {numbers.along_unit}", "length" if numbers.kind == "profile" else "time")
        unit_y = (
            1.0
            if self.dimension(numbers) == "temperature"
            else read(f"1 {numbers.unit}", self.dimension(numbers))
        )
        try:
            scale, shift, along = fit(x, y, *curve, what)
        except ValueError as problem:
            self.document.troubled.emit(f"Nothing was fitted: {problem}")
            return False
        return self.document.edit(
            {
                f"{path}.scale": f"{scale:.6g}",
                f"{path}.shift": f"{shift / unit_y:.6g}",
                f"{path}.along": f"{along / unit_x:.6g}",
            },
            "fit",
        )

    def ask_export(self) -> None:
        """Ask for a file and write curves and points together."""
        name, _ = QFileDialog.getSaveFileName(
            self.window, "Export curves and points", "comparison.csv", "CSV (*.csv)"
        )
        if name:
            self.document.troubled.emit(self.export(Path(name)))

    def export(self, path: Path) -> str:
        """Write what the profile page shows, SI; give words for the status line."""
        curves = {name: (x, y) for name, x, y in self.traces.profiles}
        points = {title: (x, y) for _, _, title, x, y, _ in self.traces.measured}
        for key in self.document.shown.measured if self.document.shown is not None else ():
            numbers = self.resolved(key)
            curve = self.curve(numbers) if numbers is not None else None
            if numbers is not None and curve is not None:
                curves.setdefault(f"model for {numbers.title or key}", curve)
        if not curves and not points:
            return "There is nothing to export yet: draw a line, or import measured data."
        try:
            write_comparison(path, ("along (m or s)", "value (SI)"), curves, points)
        except FileError as problem:
            return str(problem)
        return f"Curves and points are in {path}."
