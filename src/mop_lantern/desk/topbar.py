"""The top bar: the case and its menu, variant chips, undo, and the solve buttons."""

from __future__ import annotations

from PyQt6.QtCore import QEvent, QObject, QSize, Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QFontMetrics, QResizeEvent, QWheelEvent
from PyQt6.QtWidgets import QFrame, QHBoxLayout, QMenu, QPushButton, QScrollArea, QWidget

from mop_lantern.case import Case
from mop_lantern.case.document import Variant
from mop_lantern.desk.theme import font

WIDEST = 620  # pixels for the titles of all variants
LONGEST = 260  # pixels of the title of the case
RENAMES = "The title of the case; a click changes it (F2)"
LEAST = 220  # pixels of chips in the narrowest window


class _Strip(QScrollArea):
    """A row of chips as wide as there is room; the wheel moves what does not fit.

    Signals
    -------
    crowded : whether some do not fit.
    """

    crowded = pyqtSignal(bool)

    def __init__(self) -> None:
        super().__init__()
        self.setFrameShape(QFrame.Shape.NoFrame)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setVerticalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.setFocusPolicy(Qt.FocusPolicy.NoFocus)
        inside = QWidget()
        inside.setObjectName("chips")
        self.row = QHBoxLayout(inside)
        self.row.setContentsMargins(0, 0, 0, 0)
        self.row.setSpacing(5)
        self.setWidget(inside)
        inside.installEventFilter(self)

    def eventFilter(self, watched: QObject | None, event: QEvent | None) -> bool:
        """Chips that have come or gone change the room wanted; a scrolled area does not pass it on."""
        if event is not None and event.type() == QEvent.Type.LayoutRequest:
            self.updateGeometry()
            self.tell()
        return super().eventFilter(watched, event)

    def sizeHint(self) -> QSize:
        """As wide as all chips."""
        return self.row.sizeHint()

    def minimumSizeHint(self) -> QSize:
        """Two chips."""
        return QSize(min(LEAST, self.row.sizeHint().width()), self.row.sizeHint().height())

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """There may be more room or less."""
        super().resizeEvent(event)
        self.tell()

    def tell(self) -> None:
        """Emit ``crowded``."""
        self.crowded.emit(self.row.sizeHint().width() > self.width())

    def wheelEvent(self, event: QWheelEvent | None) -> None:
        """Move along the row."""
        bar = self.horizontalScrollBar()
        if event is not None and bar is not None:
            turned = event.angleDelta()
            bar.setValue(bar.value() - (turned.x() or turned.y()))
            event.accept()


class TopBar(QWidget):
    """Case menu, chips and buttons.

    Signals
    -------
    variant_chosen, variant_removed, variant_renamed : id. variant_added : none.
    """

    variant_chosen = pyqtSignal(str)
    variant_removed = pyqtSignal(str)
    variant_renamed = pyqtSignal(str)
    variant_added = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("topbar")
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 6, 8, 6)
        row.setSpacing(6)
        self.case = QPushButton("Case")
        self.case.setProperty("plain", "true")
        self.case.setObjectName("case-title")
        self.case.setToolTip(RENAMES)
        self.case.setFont(font(11, bold=True))
        room = self.case.sizePolicy()
        room.setRetainSizeWhenHidden(True)  # or the stage would change its size when it shows
        self.case.setSizePolicy(room)
        self.case.hide()  # until there is one
        row.addWidget(self.case)
        row.addSpacing(10)
        self._strip = _Strip()
        self._chips = self._strip.row
        row.addWidget(self._strip)
        self.all = self._plain("▾", "variants")
        self.all.setToolTip("All variants of this case")
        self.all.setAccessibleName("All variants")
        self.all.clicked.connect(self._list_all)
        self.all.hide()
        self._strip.crowded.connect(self.all.setVisible)
        row.addWidget(self.all)
        row.addStretch(1)
        self.undo, self.redo = self._plain("Undo", "undo"), self._plain("Redo", "redo")
        self.night = self._plain("Night", "night")
        self.night.setCheckable(True)
        self.follow = self._plain("Follow", "follow")
        self.follow.setCheckable(True)
        self.follow.setToolTip(
            "Solve again at every edit, from the field there is (Ctrl+L); off: solve when told to"
        )
        self.pause, self.stop = self._plain("Pause", "pause"), self._plain("Stop", "stop")
        self.carry = self._plain("Continue", "continue")
        self.carry.setToolTip("Go on from the field the solver holds")
        self.solve = QPushButton("Solve")
        self.solve.setProperty("main", "true")
        self.solve.setObjectName("solve")
        self.solve.setToolTip("Solve the chosen variant (Ctrl+Return)")
        for button in (
            self.undo,
            self.redo,
            self.night,
            self.follow,
            self.pause,
            self.stop,
            self.carry,
            self.solve,
        ):
            row.addWidget(button)
        self.chips: dict[str, QPushButton] = {}
        self._stand: dict[str, Variant] | None = None  # the variants chips were made for
        self._placed = QTimer(self)  # by then all chips have their places
        self._placed.setSingleShot(True)
        self._placed.timeout.connect(self._bring)

    def _plain(self, words: str, name: str) -> QPushButton:
        button = QPushButton(words)
        button.setProperty("plain", "true")
        button.setObjectName(name)
        return button

    def show_title(self, title: str, mark: str) -> None:
        """Show the title of the case, as much of it as there is room for, and a mark behind it."""
        short = QFontMetrics(self.case.font()).elidedText(title, Qt.TextElideMode.ElideRight, LONGEST)
        self.case.setText(short + mark)
        self.case.setToolTip(f"{title}: a click changes it (F2)" if short != title else RENAMES)
        self.case.show()

    def show_variants(self, case: Case | None, chosen: str) -> None:
        """Show a chip for the base, each variant, and one to add another; they are made anew only when
        variants have changed.
        """
        stand = None if case is None else case.variants
        if self.chips and stand is not None and stand == self._stand:
            for key, chip in self.chips.items():
                chip.setChecked(key == chosen)
            self._placed.start()
            return
        self._stand = stand
        while (item := self._chips.takeAt(0)) is not None:
            widget = item.widget()
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        self.chips = {}
        if case is None:
            return
        for key, title in [
            ("", "Base"),
            *((key, variant.title) for key, variant in case.variants.items()),
        ]:
            words = title if not key else f"{key}  {title}".strip()
            chip = QPushButton()
            room = max(
                WIDEST // max(len(case.variants) + 1, 4), 60
            )  # many or long titles must not widen the window
            chip.setText(QFontMetrics(chip.font()).elidedText(words, Qt.TextElideMode.ElideRight, room))
            chip.setAccessibleName(words)
            chip.setProperty("chip", "true")
            chip.setCheckable(True)
            chip.setChecked(key == chosen)
            chip.setObjectName(f"variant:{key or 'base'}")
            if key:
                changes = "\n".join(
                    f"{path} = {value}" for path, value in list(case.variants[key].edits.items())[:12]
                )
                chip.setToolTip(f"Variant {words}\n{changes or 'no change yet'}")
                menu = QMenu(chip)
                menu.addAction("Rename …", lambda k=key: self.variant_renamed.emit(k))
                menu.addAction("Remove", lambda k=key: self.variant_removed.emit(k))
                chip.customContextMenuRequested.connect(lambda at, m=menu, c=chip: m.popup(c.mapToGlobal(at)))
                chip.setContextMenuPolicy(Qt.ContextMenuPolicy.CustomContextMenu)
            chip.clicked.connect(lambda _=False, k=key: self.variant_chosen.emit(k))
            self._chips.addWidget(chip)
            self.chips[key] = chip
        add = QPushButton("+")
        add.setProperty("chip", "true")
        add.setObjectName("variant:add")
        add.setToolTip("Add a variant: its edits are kept apart from the base")
        add.setAccessibleName("Add a variant")
        add.clicked.connect(self.variant_added)
        self._chips.addWidget(add)
        self._strip.updateGeometry()
        self._placed.start()

    def _bring(self) -> None:
        """Bring the chosen chip in sight."""
        self._strip.tell()
        chosen = next((chip for chip in self.chips.values() if chip.isChecked()), None)
        if chosen is not None:
            self._strip.ensureWidgetVisible(chosen, 0, 0)

    def _list_all(self) -> None:
        """List all variants with their whole titles."""
        menu = QMenu(self.all)
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        for key, chip in self.chips.items():
            action = menu.addAction(chip.accessibleName(), lambda k=key: self.variant_chosen.emit(k))
            if action is not None:
                action.setCheckable(True)
                action.setChecked(chip.isChecked())
        menu.popup(self.all.mapToGlobal(self.all.rect().bottomLeft()))
