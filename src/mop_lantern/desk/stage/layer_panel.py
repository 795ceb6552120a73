"""The options of a layer, in a panel made from what the layer declares."""

from __future__ import annotations

from PyQt6.QtCore import QPoint, Qt, pyqtSignal
from PyQt6.QtWidgets import QFrame, QGridLayout, QLabel, QPushButton, QWidget

from mop_lantern.case.sentences import Slot
from mop_lantern.declare import declared
from mop_lantern.desk.document import Document
from mop_lantern.desk.sheet.editors import make_editor
from mop_lantern.desk.theme import font
from mop_lantern.scene.options import PLACE, layer_options, record_of


class LayerPanel(QFrame):
    """A panel that floats under the button of a layer; every value is an edit of ``views.layers.NAME``.

    Signals
    -------
    told : words for the person, such as why a value was not taken.
    """

    told = pyqtSignal(str)

    def __init__(self, document: Document, name: str, parent: QWidget) -> None:
        super().__init__(parent, Qt.WindowType.Popup)
        self.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        self.setFrameShape(QFrame.Shape.StyledPanel)
        self.document = document
        self.name = name
        self._grid = QGridLayout(self)
        self._grid.setContentsMargins(12, 10, 12, 10)
        self._fill()

    def _fill(self) -> None:
        """Lay out a row for every option, with the value as it was typed."""
        record = record_of(self.document.case, self.name)
        title = QLabel(type(record).caption)
        title.setFont(font(11, bold=True))
        self._grid.addWidget(title, 0, 0, 1, 2)
        for row, (key, rule) in enumerate(declared(type(record)).items(), 1):
            words = QLabel(rule.label)
            words.setToolTip(rule.help)
            slot = Slot(f"{PLACE}.{self.name}.{key}", key, rule, getattr(record, key))
            editor = make_editor(slot, lambda _: [], self._commit, self)
            editor.setMinimumWidth(90)
            self._grid.addWidget(words, row, 0)
            self._grid.addWidget(editor, row, 1)
        back = QPushButton("As usual")
        back.setProperty("quiet", "true")
        back.setToolTip("Give every option of this layer its usual value")
        back.setObjectName("layer:usual")
        back.clicked.connect(self._forget)
        self._grid.addWidget(back, self._grid.rowCount(), 0, 1, 2)

    def _commit(self, path: str, value: object) -> bool:
        """Take a value, unless the layer cannot have it."""
        case = self.document.case
        if case is None:
            return False
        kept = case.views.get("layers")
        options = dict(kept) if isinstance(kept, dict) else {}
        own = options.get(self.name)
        key = path.rpartition(".")[2]
        options[self.name] = {**(own if isinstance(own, dict) else {}), key: value}
        tried = case.model_copy(update={"views": {**case.views, "layers": options}})
        wrong = [fault for fault in layer_options(tried)[1] if fault.path == path]
        if wrong:
            self.told.emit(f"{wrong[0].says} {wrong[0].remedy}")
            return False
        return self.document.edit({PLACE: options}, "option of a layer")

    def _forget(self) -> None:
        case = self.document.case
        kept = case.views.get("layers") if case is not None else None
        if isinstance(kept, dict) and self.name in kept:
            rest = {name: options for name, options in kept.items() if name != self.name}
            self.document.edit({PLACE: rest or None}, "option of a layer")
        self.close()

    def open_below(self, widget: QWidget) -> None:
        """Show it under a widget."""
        self.adjustSize()
        self.move(widget.mapToGlobal(QPoint(0, widget.height())))
        self.show()
