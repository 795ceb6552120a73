"""The components of a network as a table: edited cell by cell, copied to and pasted from a spreadsheet, read
from and written to CSV.
"""

from __future__ import annotations

import csv
import io
from pathlib import Path

from PyQt6.QtCore import Qt
from PyQt6.QtGui import QColor, QGuiApplication, QKeySequence, QShortcut
from PyQt6.QtWidgets import (
    QComboBox,
    QDialog,
    QFileDialog,
    QHBoxLayout,
    QLabel,
    QPushButton,
    QTableWidget,
    QTableWidgetItem,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.case import Review, edits_of, table_of
from mop_lantern.declare import declared, discover
from mop_lantern.desk.document import Document
from mop_lantern.errors import EditError, because
from mop_lantern.network.component import Component

FIXED = 5  # columns that say which component it is
ALL = "all components"


class TableEditor(QDialog):
    """A table of all components. What is typed or pasted becomes one edit by Apply; a refused cell is told
    with its line.
    """

    def __init__(self, document: Document, parent: QWidget) -> None:
        super().__init__(parent)
        self.document = document
        self.columns: list[str] = []
        self.changed = False
        self.setWindowTitle("Components as a table")
        self.resize(980, 560)
        self.only = QComboBox()
        self.only.setToolTip("Show one kind with its values only")
        self.only.currentTextChanged.connect(self._show_only)
        self.table = QTableWidget()
        self.table.setAccessibleName("Components of the network")
        self.table.itemChanged.connect(self._on_change)
        self.told = QLabel("")
        self.told.setWordWrap(True)
        top = QHBoxLayout()
        bottom = QHBoxLayout()
        top.addWidget(QLabel("Show"))
        top.addWidget(self.only)
        top.addStretch(1)
        for words, tip, slot in (
            ("Add a row", "A new component; give its line, name and kind", self.add_row),
            ("Copy", "Copy the cells chosen (Ctrl+C)", self.copy),
            ("Paste", "Paste cells from a spreadsheet (Ctrl+V)", self.paste),
            ("Read CSV …", "Fill the table from a file", self.ask_read),
            ("Write CSV …", "Write all rows to a file", self.ask_write),
        ):
            button = QPushButton(words)
            button.setToolTip(tip)
            button.setAutoDefault(False)
            button.clicked.connect(slot)
            top.addWidget(button)
        bottom.addWidget(self.told, 1)
        self.apply_button = QPushButton("Apply")
        self.apply_button.setDefault(True)
        self.apply_button.clicked.connect(self.apply)
        close = QPushButton("Close")
        close.setAutoDefault(False)
        close.clicked.connect(self.close)
        bottom.addWidget(self.apply_button)
        bottom.addWidget(close)
        layout = QVBoxLayout(self)
        layout.addLayout(top)
        layout.addWidget(self.table, 1)
        layout.addLayout(bottom)
        for keys, slot in (
            (QKeySequence.StandardKey.Copy, self.copy),
            (QKeySequence.StandardKey.Paste, self.paste),
        ):
            QShortcut(keys, self.table, slot, context=Qt.ShortcutContext.WidgetShortcut)
        document.changed.connect(lambda _: None if self.changed else self.fill())
        document.reviewed.connect(self._on_reviewed)
        self.fill()

    # --- contents ---

    def fill(self, text: str | None = None) -> None:
        """Show the case's components, or those of a table in CSV."""
        case = self.document.shown
        rows = list(
            csv.reader(io.StringIO(text if text is not None else table_of(case) if case is not None else ""))
        )
        self.columns = rows[0] if rows else []
        self.table.blockSignals(True)
        self.table.setColumnCount(len(self.columns))
        self.table.setHorizontalHeaderLabels(self.columns)
        self.table.setRowCount(max(len(rows) - 1, 0))
        for r, row in enumerate(rows[1:]):
            for c in range(len(self.columns)):
                self._put(r, c, row[c] if c < len(row) else "")
            self._grey(r)
        self.table.resizeColumnsToContents()
        self.table.blockSignals(False)
        kinds = sorted({row[4] for row in rows[1:] if len(row) > 4})
        shown = self.only.currentText()
        self.only.blockSignals(True)
        self.only.clear()
        self.only.addItems([ALL, *kinds])
        self.only.setCurrentText(shown if shown in kinds else ALL)
        self.only.blockSignals(False)
        self._show_only(self.only.currentText())
        self.changed = text is not None
        self._tell("")

    def _put(
        self,
        row: int,
        column: int,
        words: str,
    ) -> None:
        self.table.setItem(row, column, QTableWidgetItem(words))

    def _grey(self, row: int) -> None:
        """Close the cells of values this component has not."""
        kind = discover("mop_lantern.network.components", Component).get(self.cell(row, 4))
        fields = declared(kind) if kind is not None else {}
        for column in range(FIXED, len(self.columns)):
            item = self.table.item(row, column)
            if item is None:
                continue
            own = kind is None or self.columns[column] in fields
            item.setFlags(
                Qt.ItemFlag.ItemIsSelectable
                | Qt.ItemFlag.ItemIsEnabled
                | (Qt.ItemFlag.ItemIsEditable if own else Qt.ItemFlag.NoItemFlags)
            )
            item.setBackground(self.table.palette().base() if own else self.table.palette().window())
            rule = fields.get(self.columns[column])
            item.setToolTip(
                f"{rule.label}: {rule.help}" if rule is not None else "This component has no such value."
            )

    def cell(self, row: int, column: int) -> str:
        """Give the words of a cell."""
        item = self.table.item(row, column)
        return item.text().strip() if item is not None else ""

    def _show_only(self, kind: str) -> None:
        """Show one kind with its own columns."""
        rows = [row for row in range(self.table.rowCount()) if kind == ALL or self.cell(row, 4) == kind]
        for row in range(self.table.rowCount()):
            self.table.setRowHidden(row, row not in rows)
        model = discover("mop_lantern.network.components", Component).get(kind)
        for column, name in enumerate(self.columns):
            self.table.setColumnHidden(
                column, column >= FIXED and model is not None and name not in declared(model)
            )

    def text(self) -> str:
        """Give the table as CSV."""
        out = io.StringIO()
        writer = csv.writer(out, lineterminator="\n")
        writer.writerow(self.columns)
        for row in range(self.table.rowCount()):
            cells = [self.cell(row, column) for column in range(len(self.columns))]
            if any(cells):
                writer.writerow(cells)
        return out.getvalue()

    # --- hands ---

    def _on_change(self, item: QTableWidgetItem) -> None:
        self.changed = True
        self.table.blockSignals(True)
        if item.column() == 4:
            self._grey(item.row())
        item.setForeground(QColor(self.palette().link().color()))
        self.table.blockSignals(False)
        self._tell("Changed; press Apply to put it into the case.")

    def add_row(self) -> None:
        """Add an empty row below the one chosen, in its run."""
        row = self.table.currentRow() + 1 if self.table.currentRow() >= 0 else self.table.rowCount()
        self.table.blockSignals(True)
        self.table.insertRow(row)
        for column in range(len(self.columns)):
            self._put(row, column, self.cell(row - 1, column) if column < 3 and row > 0 else "")
        self.table.blockSignals(False)
        self.table.setCurrentCell(row, 3)
        self.changed = True

    def copy(self) -> None:
        """Copy the cells chosen, those hidden left out."""
        chosen = self.table.selectedIndexes()
        rows = sorted({index.row() for index in chosen})
        columns = sorted(
            {index.column() for index in chosen if not self.table.isColumnHidden(index.column())}
        )
        clipboard = QGuiApplication.clipboard()
        if rows and clipboard is not None:
            shown = [row for row in rows if not self.table.isRowHidden(row)]
            clipboard.setText(
                "\n".join("\t".join(self.cell(row, column) for column in columns) for row in shown)
            )
            self._tell(f"{len(shown)} × {len(columns)} cells are on the clipboard.")

    def paste(self) -> None:
        """Paste a block of cells from the one chosen on; one value fills all cells chosen."""
        clipboard = QGuiApplication.clipboard()
        block = [
            line.split("\t")
            for line in (clipboard.text() if clipboard is not None else "").rstrip("\n").splitlines()
        ]
        if not block or self.table.currentRow() < 0:
            self._tell("There is nothing to paste, or no cell is chosen.")
            return
        if len(block) == 1 and len(block[0]) == 1:
            places = [(index.row(), index.column(), block[0][0]) for index in self.table.selectedIndexes()]
        else:
            rows = [
                row
                for row in range(self.table.currentRow(), self.table.rowCount())
                if not self.table.isRowHidden(row)
            ]
            columns = [
                column
                for column in range(self.table.currentColumn(), len(self.columns))
                if not self.table.isColumnHidden(column)
            ]
            places = [
                (row, column, words)
                for row, line in zip(rows, block, strict=False)
                for column, words in zip(columns, line, strict=False)
            ]
        done = 0
        for row, column, words in places:
            item = self.table.item(row, column)
            if item is not None and item.flags() & Qt.ItemFlag.ItemIsEditable:
                item.setText(words.strip())
                done += 1
        self._tell(
            f"{done} cells pasted; press Apply to put them into the case."
            if done
            else "None of these cells can take a value."
        )

    def apply(self) -> bool:
        """Put what has changed into the case, in one step of undo."""
        case = self.document.shown
        if case is None:
            return False
        said: list[str] = []
        self.document.troubled.connect(said.append)
        try:
            edits = edits_of(self.text(), case)
            done = bool(edits) and self.document.edit(edits, "edit the table")
        except EditError as problem:
            self._tell(str(problem)[:600])
            return False
        finally:
            self.document.troubled.disconnect(said.append)
        if done or not edits:
            self.fill()
            self._tell(f"{len(edits)} values are in the case now." if edits else "Nothing has changed.")
        else:
            self._tell(f"Not taken: {' '.join(said)}"[:600])
        return done

    def _on_reviewed(self, result: Review) -> None:
        """Tell what is wrong with what the table holds."""
        faults = [str(fault) for fault in result.faults if fault.path.startswith("network.lines.")]
        if faults and self.isVisible():
            self._tell("\n".join(faults[:3]))

    def ask_read(self) -> None:
        """Ask for a CSV file and show it."""
        name, _ = QFileDialog.getOpenFileName(self, "Read components", "", "Tables (*.csv);;All files (*)")
        if name:
            self.read(Path(name))

    def read(self, path: Path) -> None:
        """Show the table of a file; Apply puts it into the case."""
        try:
            text = path.read_text(encoding="utf-8-sig")
        except (OSError, UnicodeDecodeError) as problem:
            self._tell(f"{path.name} cannot be read{because(problem)}. Choose a CSV file in UTF-8.")
            return
        self.fill(text)
        self._tell(f"{path.name} is shown; press Apply to put it into the case.")

    def ask_write(self) -> None:
        """Ask for a file and write the table."""
        name, _ = QFileDialog.getSaveFileName(self, "Write components", "components.csv", "Tables (*.csv)")
        if name:
            try:
                Path(name).write_text(self.text(), encoding="utf-8")
                self._tell(f"Written to {Path(name).name}.")
            except OSError as problem:
                self._tell(f"It cannot be written{because(problem)}. Choose another place.")

    def _tell(self, words: str) -> None:
        self.told.setText(words)
