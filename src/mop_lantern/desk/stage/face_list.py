"""The list of faces: every face of the space with its size, place, direction and form, to be found, shown,
renamed and taken together.
"""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt
from PyQt6.QtWidgets import (
    QDialog,
    QHBoxLayout,
    QInputDialog,
    QLabel,
    QLineEdit,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.case.faces import rename_edits
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.exporting import to_clipboard
from mop_lantern.desk.stage.face_tools import FaceTools
from mop_lantern.shape import Surface
from mop_lantern.shape.alike import chosen
from mop_lantern.shape.describing import FaceTold, faces_told
from mop_lantern.units import convert, preferred, show

HEADS = ("Face", "Area", "Middle", "Faces towards", "Form", "Layer", "Colour")
WORDS = (
    "Type a part of a name, or a pattern with * and ?; plane=, touching= or alike= with a face, layer= or "
    "colour= of the file."
)


class FaceList(QDialog):
    """Lists faces; a row that is chosen is marked on the stage."""

    def __init__(self, document: Document, tools: FaceTools, window: QWidget) -> None:
        super().__init__(window)
        self.document = document
        self.tools = tools
        self.setWindowTitle("Faces")
        self.resize(760, 460)
        self.search = QLineEdit()
        self.search.setObjectName("find-faces")
        self.search.setPlaceholderText("Find faces")
        self.search.setToolTip(WORDS)
        self.search.setClearButtonEnabled(True)
        self.count = QLabel()
        self.table = QTableWidget(0, len(HEADS))
        self.table.setHorizontalHeaderLabels(HEADS)
        self.table.setSelectionBehavior(QTableWidget.SelectionBehavior.SelectRows)
        self.table.setEditTriggers(QTableWidget.EditTrigger.NoEditTriggers)
        self.table.setSortingEnabled(False)
        head = self.table.verticalHeader()
        assert head is not None
        head.hide()
        buttons = QHBoxLayout()
        for words, tip, deed in (
            ("Rename…", "Give a face of a model another name, wherever it is named", self.rename),
            (
                "Take together…",
                "Make the rows that are chosen, or all that are found, one face",
                self.together,
            ),
            ("Copy", "Copy the rows as a table, lengths in the units shown", self.copy),
        ):
            button = QPushButton(words)
            button.setToolTip(tip)
            button.clicked.connect(deed)
            buttons.addWidget(button)
        buttons.addStretch(1)
        buttons.addWidget(self.count)
        layout = QVBoxLayout(self)
        layout.addWidget(self.search)
        layout.addWidget(self.table)
        layout.addLayout(buttons)
        self.search.textChanged.connect(self.fill)
        self.table.itemSelectionChanged.connect(self._mark)
        document.reviewed.connect(self.fill)
        self.faces: list[FaceTold] = []
        self.fill()

    def _surface(self) -> Surface | None:
        shape = self.tools.picture.surface
        return shape if isinstance(shape, Surface) else None

    def fill(self, *_: Any) -> None:
        """List the faces that fit what is typed."""
        surface = self._surface()
        case = self.document.shown
        every = faces_told(surface) if surface is not None else []
        found = self._found(surface)
        self.faces = [face for face in every if face.name in found]
        self.count.setText(f"{len(self.faces)} of {len(every)} faces")
        self.table.blockSignals(True)
        self.table.setRowCount(len(self.faces))
        units = case.units if case is not None else {}
        length = preferred("length", units)
        scale = convert(1.0, "length", length)
        for row, face in enumerate(self.faces):
            middle = ", ".join(f"{scale * each + 0.0:.4g}" for each in face.middle.round(9))
            way = ", ".join(f"{each + 0.0:.2g}" for each in face.direction.round(2))
            cells = (
                face.name,
                show(face.area, "area", preferred("area", units)),
                f"({middle}) {length}",
                f"({way})" if face.direction.any() else "all round",
                face.words,
                face.layer,
                face.colour,
            )
            for column, text in enumerate(cells):
                item = QTableWidgetItem(text)
                item.setToolTip(text)
                self.table.setItem(row, column, item)
        self.table.resizeColumnsToContents()
        self.table.blockSignals(False)

    def _found(self, surface: Surface | None) -> set[str]:
        typed = self.search.text().strip()
        if surface is None:
            return set()
        if not typed:
            return set(surface.edge_lengths)
        rule = typed if set("*?=") & set(typed) else f"*{typed}*"
        try:
            return set(chosen(surface, rule))
        except ValueError as problem:
            self.document.troubled.emit(str(problem).capitalize())
            return set()

    def _rows(self) -> list[FaceTold]:
        """Give the faces whose rows are chosen."""
        return [self.faces[row] for row in sorted({index.row() for index in self.table.selectedIndexes()})]

    def _mark(self) -> None:
        self.tools.choose([face.name for face in self._rows()])

    def rename(self) -> None:
        """Ask for another name of the face that is chosen."""
        rows = self._rows()
        if len(rows) != 1:
            self.document.troubled.emit("Choose one face to rename.")
            return
        own = rows[0].name.partition(".")[2]
        new, good = QInputDialog.getText(self, "Rename a face", f"{rows[0].name} is called", text=own)
        if good and new.strip() and self.document.shown is not None:
            self.document.work_out(
                lambda case: rename_edits(case, rows[0].name, new.strip()), "rename a face"
            )

    def together(self) -> None:
        """Make one face of those chosen, or of all that are found."""
        names = [face.name for face in self._rows() or self.faces]
        if len(names) < 2:
            self.document.troubled.emit("Choose two faces or more.")
            return
        self.tools.take_together(names)

    def copy(self) -> None:
        """Put the rows on the clipboard, tabs between cells."""
        lines = ["\t".join(HEADS)]
        for row in range(self.table.rowCount()):
            items = [self.table.item(row, column) for column in range(len(HEADS))]
            lines.append("\t".join(item.text() if item else "" for item in items))
        self.document.troubled.emit(to_clipboard("\n".join(lines), "faces"))

    def keyPressEvent(self, event: Any) -> None:  # noqa: N802
        """Delete the search by Escape first, then close."""
        if event.key() == Qt.Key.Key_Escape and self.search.text():
            self.search.clear()
            return
        super().keyPressEvent(event)


def show_faces(window: Any) -> FaceList | None:
    """Show the list for a window; words where there are no faces."""
    if not isinstance(window.faces.picture.surface, Surface):
        window.tell("Only a three-dimensional case has faces: add a part, or import a model.")
        return None
    listed = FaceList(window.document, window.faces, window)
    listed.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
    listed.show()
    return listed
