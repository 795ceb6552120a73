"""A line of the sheet: it paints its own words, mark and notes and hosts only the editors."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QPainter, QPaintEvent, QPolygonF
from PyQt6.QtWidgets import QPushButton, QWidget

from mop_lantern.case.sentences import Line, Slot
from mop_lantern.desk.sheet.editors import ChoiceButton, Commit, Offers, ValueEdit
from mop_lantern.desk.sheet.making import make_editor
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.desk.theme import Tokens, font

MARGIN = 26
GAP = 4
HIGH = 24


class Row(QWidget):
    """One sentence with its editors, its mark in the margin and the notes below it."""

    remedy = pyqtSignal(dict)
    hovered = pyqtSignal(str)
    asked = pyqtSignal(object)
    left = pyqtSignal()
    remove = pyqtSignal(str)
    add = pyqtSignal(str, QWidget)

    def __init__(
        self,
        line: Line,
        offers: Offers,
        commit: Commit,
        tokens: Tokens,
        parent: QWidget,
    ) -> None:
        super().__init__(parent)
        self.line = line
        self.tokens = tokens
        self.level = ""
        self.notes: list[tuple[str, str]] = []
        self.base: dict[str, str] = {}
        self._given: Any = None  # notes, paths at fault and base values set last
        self._remedies: list[QPushButton] = []
        self._words: list[tuple[QRect, str, bool]] = []
        self._note_rects: list[tuple[QRect, str, str]] = []
        self.editors: dict[str, QWidget] = {}
        self.setObjectName(f"line:{line.path}")
        for slot in line.slots:
            if slot.field != "id":
                editor = make_editor(slot, offers, commit, self)
                if isinstance(editor, TagEdit):
                    editor.hovered.connect(self.hovered)
                    editor.asked.connect(self.asked)
                    editor.left.connect(self.left)
                self.editors[slot.path] = editor
        self._cross: QPushButton | None = None
        if line.removable:
            self._cross = QPushButton("×", self)
            self._cross.setProperty("quiet", "true")
            self._cross.setToolTip(f"Remove {line.path.rsplit('.', 1)[-1]}")
            self._cross.setAccessibleName(f"Remove {line.path}")
            self._cross.setFixedSize(18, 20)
            self._cross.setFocusPolicy(Qt.FocusPolicy.NoFocus)
            self._cross.clicked.connect(lambda: self.remove.emit(line.path))
        self._plus: QPushButton | None = None
        if line.path.startswith("network.lines.") and line.path.count(".") == 2:
            self._plus = QPushButton("+", self)
            self._plus.setProperty("quiet", "true")
            self._plus.setToolTip(f"Add a component to {line.path.rsplit('.', 1)[-1]}")
            self._plus.setAccessibleName(f"Add a component to {line.path.rsplit('.', 1)[-1]}")
            self._plus.setObjectName(f"add:{line.path}.parts")
            self._plus.setFixedSize(18, 20)
            self._plus.clicked.connect(lambda: self.add.emit(line.path, self._plus))
        self.setAccessibleName(line.text())

    def show_line(self, line: Line) -> bool:
        """Show new values of the same line; tell whether anything changed."""
        if line == self.line:
            return False
        self.line = line
        for slot in line.slots:
            editor = self.editors.get(slot.path)
            if isinstance(editor, ValueEdit | ChoiceButton):
                editor.show_value(slot)
        self.setAccessibleName(line.text())
        return True

    def set_notes(
        self,
        notes: list[tuple[str, str, str, dict[str, Any]]],
        wrong: set[str],
        base: dict[str, str],
    ) -> bool:
        """Set the notes (level, text, remedy, edits), the paths at fault, and base values of slots a variant
        changed; tell whether that is anything new.
        """
        mine = {path for path in self.editors if any(f == path or f.startswith(path + ".") for f in wrong)}
        given = notes, mine, base
        if given == self._given:
            return False
        self._given = given
        self.notes = [(level, text) for level, text, _, _ in notes]
        self.base = base
        order = ("ready", "caution", "blocked")
        self.level = max((level for level, *_ in notes), key=order.index, default="")
        for button in self._remedies:
            button.setParent(None)
            button.deleteLater()
        self._remedies = []
        for _, _, words, edits in notes:
            if words:
                button = QPushButton(words, self)
                button.setProperty("remedy", "true")
                button.setFont(font(9.5))
                button.clicked.connect(lambda _=False, e=edits: self.remedy.emit(e))
                button.show()
                self._remedies.append(button)
        for path, editor in self.editors.items():
            state = "true" if path in mine else "false"
            if editor.property("wrong") != state:
                editor.setProperty("wrong", state)
                style = editor.style()
                assert style is not None
                style.unpolish(editor)
                style.polish(editor)
        self.update()
        return True

    def arrange(self, width: int) -> int:
        """Place words, editors and notes for a width; give the height."""
        metrics = QFontMetrics(font())
        bold = QFontMetrics(font(bold=True))
        x = MARGIN
        y = 3
        right = width - (22 if self._plus is None else 40)
        self._words = []

        def place(needed: int) -> int:
            nonlocal x, y
            if x + needed > right and x > MARGIN:
                x = MARGIN
                y = y + HIGH
            at = x
            x += needed
            return at

        for piece in self.line.pieces:
            if isinstance(piece, str):
                for word in piece.split():
                    glued = piece.startswith(word) and word[0] in ".,:;" and x > MARGIN
                    wide = metrics.horizontalAdvance(word)
                    if glued:  # a full stop stays with its word, even a little over the edge
                        at = x - GAP
                        x = at + wide
                    else:
                        at = place(wide)
                    self._words.append((QRect(at, y, wide, HIGH - 2), word, False))
                    x += GAP
            elif piece.field == "id":
                wide = bold.horizontalAdvance(str(piece.value))
                self._words.append((QRect(place(wide), y, wide, HIGH - 2), str(piece.value), True))
                x += GAP
            else:
                editor = self.editors[piece.path]
                at = place(editor.width())
                editor.setGeometry(at, y, editor.width(), HIGH - 3)
                x += GAP
                self._note_base(piece, metrics, place, y)
        y += HIGH
        y = self._arrange_notes(width, y)
        if self._cross:
            self._cross.move(width - 21, 2)
        if self._plus:
            self._plus.move(width - 39, 2)
        self.setFixedHeight(y + 3)
        return y + 3

    def _note_base(
        self,
        slot: Slot,
        metrics: QFontMetrics,
        place: Any,
        y: int,
    ) -> None:
        if slot.path in self.base:
            words = f"(was {self.base[slot.path]})"
            wide = metrics.horizontalAdvance(words)
            at = place(wide + GAP)
            editor = self.editors[slot.path]
            top = editor.y() if at > editor.x() else editor.y() + HIGH
            self._words.append((QRect(at, top, wide, HIGH - 2), words, False))

    def _arrange_notes(self, width: int, y: int) -> int:
        small = QFontMetrics(font(9.5))
        self._note_rects = []
        for level, text in self.notes:
            area = QRect(MARGIN, y, width - MARGIN - 14, 2000)
            box = small.boundingRect(area, int(Qt.TextFlag.TextWordWrap), text)
            self._note_rects.append((QRect(MARGIN, y, width - MARGIN - 14, box.height()), level, text))
            y += box.height() + 2
        for button in self._remedies:
            button.adjustSize()
            button.move(MARGIN, y + 1)
            y += button.height() + 4
        return y

    def sizeHint(self) -> QSize:
        """The height as arranged."""
        return QSize(320, self.height())

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint words, mark and notes."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        tokens = self.tokens
        for rect, word, bold in self._words:
            painter.setFont(font(bold=bold))
            painter.setPen(QColor(tokens.soft if word.startswith("(was") else tokens.ink))
            painter.drawText(rect, int(Qt.AlignmentFlag.AlignVCenter | Qt.TextFlag.TextDontClip), word)
        painter.setFont(font(9.5))
        colours = {
            "ready": tokens.soft,
            "caution": tokens.caution,
            "blocked": tokens.blocked,
        }
        for rect, level, text in self._note_rects:
            painter.setPen(QColor(colours[level]))
            painter.drawText(rect, int(Qt.TextFlag.TextWordWrap), text)
        self._paint_mark(painter, colours)
        painter.end()

    def _paint_mark(self, painter: QPainter, colours: dict[str, str]) -> None:
        """A dot for ready, a rising triangle for caution, a barred square for blocked: shape first, colour
        second.
        """
        if not self.level:
            return
        painter.setPen(Qt.PenStyle.NoPen)
        painter.setBrush(QColor(colours[self.level] if self.level != "ready" else self.tokens.teal))
        x, y = 12.0, 14.0
        if self.level == "ready":
            painter.drawEllipse(QPointF(x, y), 3.0, 3.0)
        elif self.level == "caution":
            painter.drawPolygon(
                QPolygonF(
                    [
                        QPointF(x - 6, y + 5),
                        QPointF(x + 6, y + 5),
                        QPointF(x, y - 6),
                    ]
                )
            )
        else:
            painter.drawRect(QRect(6, 8, 12, 12))
            painter.fillRect(QRect(8, 13, 8, 2), QColor(self.tokens.paper))
