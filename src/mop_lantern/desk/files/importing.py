"""Bringing files into the case: drawings (DXF), models (STEP, STL, OBJ, PLY, GLB), tables and measured data
(CSV).
"""

from __future__ import annotations

from pathlib import Path
from typing import Any

from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QFileDialog, QInputDialog, QMessageBox, QWidget

from mop_lantern.case import Columns, fresh_key, quantities, read_columns
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.bringing_models import BringingModels
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.errors import LanternError
from mop_lantern.shape.drawing import METRES, Drawing, drawing_unit, parts_of, read_drawing
from mop_lantern.shape.model import ENDINGS
from mop_lantern.units import DIMENSIONS, UnitFault, read


class Importing(QObject):
    """Asks what must be asked, then makes one edit."""

    def __init__(
        self,
        document: Document,
        stage: Stage,
        window: QWidget,
    ) -> None:
        super().__init__(window)
        self.document = document
        self.stage = stage
        self.window = window
        self.models = BringingModels(document, stage, window)

    def takes(self, path: Path) -> bool:
        """Bring a dropped file in where it is a drawing or a model; tell whether it is."""
        ending = path.suffix.lower()
        if ending == ".dxf":
            self.bring_drawing(path)
        elif ending in ENDINGS:
            self.models.bring(path)
        return ending == ".dxf" or ending in ENDINGS

    def ask_drawing(self) -> None:
        """Ask for a drawing and bring it in."""
        name, _ = QFileDialog.getOpenFileName(
            self.window, "Import a drawing", "", "Drawings (*.dxf);;All files (*)"
        )
        if name:
            self.bring_drawing(Path(name))

    def bring_drawing(self, path: Path) -> bool:
        """Bring a drawing in: its spaces and islands become parts, replacing a shape that is still empty."""
        try:
            unit = drawing_unit(path)
            if not unit:
                unit, good = QInputDialog.getItem(
                    self.window,
                    "Unit of the drawing",
                    "The drawing does not say its unit. It is drawn in",
                    list(METRES),
                    2,
                    False,
                )
                if not good:
                    return False
            drawing = read_drawing(path, unit)
            if len(drawing.open_ends):
                drawing = self._sealed(path, unit, drawing)
        except LanternError as problem:
            QMessageBox.warning(self.window, "This drawing cannot be brought in", str(problem)[:2000])
            return False
        if not drawing.loops:
            self.document.troubled.emit(
                "The drawing has no closed outline, so nothing was brought in. Its open ends are "
                "marked on the stage."
            )
            return False
        case = self.document.shown
        assert case is not None
        edits = {}
        for key, part in parts_of(drawing, path.name).items():
            edits[
                f"shape.parts.{key if key not in case.shape.parts else fresh_key(case, 'shape.parts', key)}"
            ] = part
        done = self.document.edit(edits, "drawing")
        if done:
            read, left = (
                ", ".join(f"{count} {kind}" for kind, count in counts.items())
                for counts in (drawing.read, drawing.skipped)
            )
            self.document.troubled.emit(
                f"{len(drawing.loops)} outlines from {path.name}, of {read}."
                + (f" Excluded: {left}." if left else "")
            )
        return done

    def _sealed(
        self,
        path: Path,
        unit: str,
        drawing: Drawing,
    ) -> Drawing:
        """Show open ends on the stage and seal them if wanted."""
        self.stage.view.pins = list(drawing.open_ends)
        self.stage.view.update()
        widest = max((join[2] for join in drawing.joins), default=0.0)
        places = "; ".join(f"({1e3 * x:.4g}, {1e3 * y:.4g}) mm" for x, y in drawing.open_ends[:6])
        words = (
            f"{len(drawing.open_ends)} ends of lines are open, at {places}. Seal them with straight lines, "
            f"the longest {1e3 * widest:.3g} mm?"
        )
        buttons = QMessageBox.StandardButton
        if QMessageBox.question(self.window, "Open ends", words, buttons.Yes | buttons.No) == buttons.Yes:
            self.stage.view.pins = []
            return read_drawing(path, unit, seal=True)
        return drawing

    def ask_table(self) -> None:
        """Ask for a CSV file and make a table of it."""
        columns = self._ask_columns("Import a table")
        if columns is not None and self.document.shown is not None:
            key = fresh_key(self.document.shown, "tables")
            table = {
                "title": columns.names[1],
                "along": columns.units[0],
                "gives": columns.units[1],
                "rows": [list(row[:2]) for row in columns.rows],
            }
            if self.document.edit({f"tables.{key}": table}, "table"):
                self.document.troubled.emit(f"Use it in any value as = {key}(y), {key}(t), {key}(T) …")

    def _ask_columns(self, title: str) -> Columns | None:
        name, _ = QFileDialog.getOpenFileName(
            self.window, title, "", "Tables (*.csv *.txt *.tsv);;All files (*)"
        )
        if not name:
            return None
        try:
            return read_columns(Path(name))
        except LanternError as problem:
            QMessageBox.warning(self.window, "This table cannot be brought in", str(problem)[:2000])
            return None

    def ask_measured(self, line: tuple[Any, Any] | None) -> None:
        """Ask for measured data and what they belong to."""
        case = self.document.shown
        if case is None:
            return
        columns = self._ask_columns("Import measured data")
        if columns is None:
            return
        choices = {
            f"{words} along the line" if line else f"{words} along a line": ("profile", key)
            for key, (words, _) in quantities(case).items()
        }
        choices |= {f"{item.title or key} over time": ("trace", key) for key, item in case.readings.items()}
        chosen, good = QInputDialog.getItem(
            self.window,
            "Measured data",
            "What was measured?",
            list(choices),
            2,
            False,
        )
        if good:
            self.bring_measured(columns, *choices[chosen], line)

    def bring_measured(
        self,
        columns: Columns,
        kind: str,
        of: str,
        line: tuple[Any, Any] | None,
    ) -> str:
        """Add measured data; give its id, or "" with words of trouble."""
        case = self.document.shown
        assert case is not None
        known = quantities(case)
        dimension = known[of][1] if kind == "profile" and of in known else ""
        along = columns.units[0] or ("m" if kind == "profile" else "s")
        unit = columns.units[1] or (DIMENSIONS[dimension].si if dimension else "")
        try:
            read(f"1 {along}", "length" if kind == "profile" else "time")
            if dimension:
                read(f"1 {unit}", dimension)
        except UnitFault as fault:
            self.document.troubled.emit(f"The headings of the columns do not fit: {fault}")
            return ""
        key = fresh_key(case, "measured", "data")
        item: dict[str, Any] = {
            "title": columns.names[1],
            "kind": kind,
            "of": of,
            "along_unit": along,
            "unit": unit,
            "rows": [list(row[:2]) for row in columns.rows],
        }
        if line is not None and kind == "profile":
            item |= {
                name: [f"{float(value) * 1e3:.6g} mm" for value in place]
                for name, place in zip(("start", "end"), line, strict=True)
            }
        return key if self.document.edit({f"measured.{key}": item}, "measured data") else ""
