"""What a case keeps of a layer or a scale, in a panel made from what it declares."""

from __future__ import annotations

from collections.abc import Callable

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QPushButton, QWidget

from mop_lantern.case import Case
from mop_lantern.case.sentences import Slot
from mop_lantern.declare import Record, declared
from mop_lantern.desk.document import Document
from mop_lantern.desk.sheet.making import make_editor
from mop_lantern.desk.theme import font
from mop_lantern.errors import Fault
from mop_lantern.scene.options import kept_at, record_at


class OptionsPanel(QFrame):
    """A panel that floats under a button; every value is an edit of ``PLACE.NAME``.

    Parameters
    ----------
    place, name : where the case keeps the options. kind : what may be kept. title : over them. faults : tells
    what is wrong in a case with a value of these.

    Signals
    -------
    told : words for the person, such as why a value was not taken.
    """

    told = pyqtSignal(str)

    def __init__(
        self,
        document: Document,
        place: str,
        name: str,
        kind: type[Record],
        title: str,
        faults: Callable[[Case], list[Fault]],
        parent: QWidget,
    ) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.document = document
        self.place = place
        self.name = name
        self.kind = kind
        self._faults = faults
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(12, 10, 12, 10)
        self._fill(title)

    def _fill(self, title: str) -> None:
        """Lay out a row for every option, with the value as it was typed."""
        record = record_at(self.document.case, self.place, self.name, self.kind)
        heading = QLabel(title)
        heading.setFont(font(11, bold=True))
        self._grid.addWidget(heading, 0, 0, 1, 2)
        for row, (key, rule) in enumerate(declared(self.kind).items(), 1):
            words = QLabel(rule.label)
            words.setToolTip(rule.help)
            slot = Slot(f"{self.place}.{self.name}.{key}", key, rule, getattr(record, key))
            editor = make_editor(slot, lambda _: [], self._commit, self)
            editor.setMinimumWidth(90)
            self._grid.addWidget(words, row, 0)
            self._grid.addWidget(editor, row, 1)
        back = QPushButton("As usual")
        back.setProperty("quiet", "true")
        back.setToolTip("Give every value here its usual one")
        back.setObjectName("options:usual")
        back.clicked.connect(self._forget)
        self._grid.addWidget(back, self._grid.rowCount(), 0, 1, 2)

    def _commit(self, path: str, value: object) -> bool:
        """Take a value, unless it cannot be."""
        case = self.document.case
        if case is None:
            return False
        own = kept_at(case, self.place, self.name)
        key = path.rpartition(".")[2]
        every = self._every(case) | {self.name: {**(own if isinstance(own, dict) else {}), key: value}}
        section = self.place.rpartition(".")[2]
        tried = case.model_copy(update={"views": {**case.views, section: every}})
        before = self._faults(case)
        wrong = [fault for fault in self._faults(tried) if fault not in before]
        if wrong:
            self.told.emit(f"{wrong[0].says} {wrong[0].remedy}")
            return False
        return self.document.edit({self.place: every}, "how it is drawn")

    def _every(self, case: Case) -> dict[str, object]:
        kept = case.views.get(self.place.rpartition(".")[2])
        return dict(kept) if isinstance(kept, dict) else {}

    def _forget(self) -> None:
        case = self.document.case
        if case is not None and kept_at(case, self.place, self.name) is not None:
            rest = {name: options for name, options in self._every(case).items() if name != self.name}
            self.document.edit({self.place: rest or None}, "how it is drawn")
        self.close()

    def open_below(self, widget: QWidget) -> None:
        """Show it under a widget."""
        self.adjustSize()
        self.move(widget.mapToGlobal(QPoint(0, widget.height())))
        self.show()
