"""The sheet: the whole case as one readable page of sentences with the values edited in place."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import Qt, QTimer, pyqtSignal
from PyQt6.QtGui import QColor, QPainter, QPaintEvent, QResizeEvent
from PyQt6.QtWidgets import QLineEdit, QPushButton, QScrollArea, QVBoxLayout, QWidget

from mop_lantern.case import Case, Review, fresh_item, fresh_key, lines, quantities
from mop_lantern.case.bodies import solid_parts
from mop_lantern.case.fresh import network_names
from mop_lantern.case.fresh_place import moved_along
from mop_lantern.case.offers import Offer, components, offers
from mop_lantern.case.ready_part import PLACE, ready_edits
from mop_lantern.case.sections import offered_under
from mop_lantern.case.sentences import SECTIONS, Choice, Line, sections_of
from mop_lantern.desk.document import Document
from mop_lantern.desk.sheet.add_list import AddList
from mop_lantern.desk.sheet.editors import ValueEdit
from mop_lantern.desk.sheet.row import Row
from mop_lantern.desk.sheet.tags import TagEdit
from mop_lantern.desk.theme import Tokens, font
from mop_lantern.errors import CaseError

HEADING = 34
MOST = 250  # nodes, and runs, of a network that get lines at once
NOTED = 60  # lines with faults or cautions that get one in any case


def _sentence(words: str) -> str:
    words = words.strip()
    return words[:1].upper() + words[1:]


class Page(QWidget):
    """Stacks headings and rows itself; a layout manager would try every width twice."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.items: list[tuple[str, Any]] = []
        self._headings: list[tuple[int, str]] = []

    def stack(self, width: int, hidden: set[str]) -> None:
        """Place everything below each other."""
        y = 8
        self._headings = []
        for kind, item in self.items:
            if kind == "heading":
                number, title, button = item
                self._headings.append((y, f"{number}  {title}"))
                if button is not None:
                    button.setGeometry(width - 34, y + 6, 26, 24)
                y += HEADING
            else:
                item.setVisible(item.line.path not in hidden)
                if item.line.path in hidden:
                    continue
                height = item.arrange(width)
                item.setGeometry(0, y, width, height)
                y += height
        self.setFixedHeight(y + 30)
        self.update()

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint the headings."""
        painter = QPainter(self)
        painter.setFont(font(11.5, bold=True))
        for y, words in self._headings:
            painter.setPen(QColor(self.tokens.amber))
            painter.drawText(8, y + 24, words)
        painter.end()


class Sheet(QWidget):
    """The page in a scroll area with a filter above it.

    Signals
    -------
    hovered : name of the edge whose tag the pointer is on, or "". asked : a tag wants an edge. left : none
    does. import_wanted : a "table", "drawing" or "model" shall be imported.
    """

    hovered = pyqtSignal(str)
    asked = pyqtSignal(object)
    left = pyqtSignal()
    import_wanted = pyqtSignal(str)

    def __init__(self, document: Document, tokens: Tokens) -> None:
        super().__init__()
        self.document = document
        self.tokens = tokens
        self.edges: list[str] = []
        self._shape: Any = None  # of the last review: new items are placed in it
        self.rows: dict[str, Row] = {}
        self._signature: Any = None
        # the words of the case as drawn, while a variant is shown: of which case, with which lines
        self._shown_line = ""  # path of the line that was gone to
        self._late = QTimer(self)  # once the page has its new size
        self._late.setSingleShot(True)
        self._late.timeout.connect(self._bring)
        self._drawn: tuple[Case, frozenset[str], dict[str, str]] | None = None
        self.filter = QLineEdit()
        self.filter.setPlaceholderText("Find a line (Ctrl+F)")
        self.filter.setObjectName("filter")
        self.filter.setAccessibleName("Find a line")
        self.filter.setClearButtonEnabled(True)
        self.filter.textChanged.connect(lambda _: self._find())
        self._also: frozenset[str] = frozenset()  # lines that are shown however many there are
        self.area = QScrollArea()
        self.area.setWidgetResizable(False)
        self.area.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)
        self.page = Page(tokens)
        self.area.setWidget(self.page)
        layout = QVBoxLayout(self)
        layout.setContentsMargins(6, 6, 0, 0)
        layout.addWidget(self.filter)
        layout.addWidget(self.area)
        document.changed.connect(lambda _: self.refresh())
        document.reviewed.connect(self.mark)

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        self.tokens = self.page.tokens = tokens
        for row in self.rows.values():
            row.tokens = tokens
        self.page.update()
        self.restack()

    def refresh(self) -> None:
        """Show the document; rows are kept while the lines are the same."""
        case = self.document.shown
        if case is None:
            return
        shape = self.document.review.shape if self.document.review else None
        choice = Choice(MOST, self.filter.text().strip().lower() if self._many else "", self._also)
        made = lines(case, shape.edge_lengths if shape else None, choice)
        signature = [
            (
                line.path,
                tuple(str(piece) for piece in line.pieces if isinstance(piece, str)),
                tuple(slot.path for slot in line.slots),
                tuple(type(slot.value) for slot in line.slots),
            )
            for line in made
        ]
        fresh = signature != self._signature
        held = self._in_hand() if fresh else None
        if fresh:
            self._build(made, sections_of(case))
            self._signature = signature
        changed = [self.rows[line.path] for line in made if self.rows[line.path].show_line(line)]
        width = self._width()
        if fresh or any(row.height() != row.arrange(width) for row in changed):
            self.restack()
        if held is not None:
            self._take_up(*held)

    def _in_hand(self) -> tuple[str, str, str | None, int] | None:
        """Give the line and the value that have the focus, what is typed there and not taken yet (else None),
        and where the cursor stands.
        """
        focus = self.focusWidget()
        for path, row in self.rows.items():
            for place, editor in row.editors.items():
                if editor is focus and isinstance(editor, ValueEdit) and editor.isModified():
                    return path, place, editor.text(), editor.cursorPosition()
                if editor is focus:
                    return path, place, None, 0
        return None

    def _take_up(
        self,
        path: str,
        place: str,
        words: str | None,
        cursor: int,
    ) -> None:
        """Go on where the hand was, when lines were made anew under it."""
        row = self.rows.get(path)
        editor = row.editors.get(place) if row is not None else None
        if editor is None:
            return
        editor.setFocus(Qt.FocusReason.OtherFocusReason)
        if isinstance(editor, ValueEdit):
            if words is None:
                editor.selectAll()
            else:
                editor.setText(words)
                editor.setModified(True)
                editor.setCursorPosition(cursor)

    @property
    def _many(self) -> bool:
        """Whether there are more nodes and runs than get lines."""
        case = self.document.shown
        return case is not None and max(len(case.network.nodes), len(case.network.lines)) > MOST

    def _find(self) -> None:
        """Show the lines that hold what is looked for; of a large network those whose names do."""
        if self._many:
            self.refresh()
        self.restack()

    def _build(self, made: list[Line], sections: tuple[str, ...]) -> None:
        for kind, item in self.page.items:
            widget = item if kind == "row" else item[2]
            if widget is not None:
                widget.setParent(None)
                widget.deleteLater()
        self.page.items, self.rows = [], {}
        for section in sections:
            number = SECTIONS.index(section) + 1  # as in the manual, also where some are left out
            button = self._adder(section) if offered_under(section) else None
            self.page.items.append(("heading", (number, section, button)))
            for line in made:
                if line.section == section:
                    row = Row(
                        line,
                        self._offers,
                        self._commit,
                        self.tokens,
                        self.page,
                    )
                    row.remedy.connect(lambda edits: self.document.edit(edits, "remedy"))
                    row.hovered.connect(self.hovered)
                    row.asked.connect(self.asked)
                    row.left.connect(self.left)
                    row.add.connect(self.offer_components)
                    row.remove.connect(lambda path: self.document.edit({path: None}, "remove"))
                    row.show()
                    self.rows[line.path] = row
                    self.page.items.append(("row", row))

    def _offers(self, of: str) -> list[tuple[str, str]]:
        """Give what a reference may name, with words."""
        case = self.document.shown
        if of == "edge" or case is None:
            return [(edge, edge) for edge in self.edges]
        if of == "quantity":
            return [(key, words) for key, (words, _) in quantities(case).items()]
        if of in ("node", "medium", "line", "component"):
            return [*([("", "named first")] if of == "medium" else []), *network_names(case, of)]
        if of == "body":
            return [(key, key) for key in solid_parts(case)]
        if of == "network_species":
            return [(key, key) for key in case.network.species]
        if of == "species":
            return [(key, item.title or key) for key, item in case.field.species.items()]
        if of == "reading":
            return [
                (key, item.title or key)
                for key, item in case.readings.items()
                if type(item).on == "field" and not type(item).over_time
            ]
        return []

    def _adder(self, section: str) -> QPushButton:
        button = QPushButton("+", self.page)
        button.setProperty("quiet", "true")
        button.setFont(font(13, bold=True))
        button.setToolTip(
            "Choose another fluid (type to find it)" if section == "Fluid" else f"Add to {section.lower()}"
        )
        button.setObjectName(f"add:{offered_under(section)[0]}")
        button.setAccessibleName(f"Add to {section}")
        button.clicked.connect(lambda: self._offer(section, button))
        button.show()
        return button

    def _offer(self, section: str, button: QPushButton) -> None:
        case = self.document.shown
        if section == "Parameters":
            self.add("parameters", "")
        elif section == "Tables":
            self.import_wanted.emit("table")
        elif case is not None:
            focus = self.focused()
            line = focus.split(".")[2] if focus.startswith("network.lines.") else ""
            self._show_offers(offers(case, section, line), button)

    def _show_offers(self, what: list[Offer], button: QWidget) -> None:
        """Let the person choose among offers, and add the one chosen."""
        self.adding = AddList(what, self.tokens, self)
        self.adding.chosen.connect(self._take_offer)
        self.adding.show_under(button)

    def _take_offer(self, offer: Offer) -> None:
        if offer.imported:
            self.import_wanted.emit(offer.imported)
        else:
            self.add(offer.place, offer.kind)

    def offer_components(self, path: str, button: QWidget) -> None:
        """Offer the components that can be added to a line of the network."""
        self._show_offers(components(path.split(".")[2]), button)

    def add(self, place: str, kind: str) -> str:
        """Add a new item of a kind to a section and bring its line into view; give its path."""
        case = self.document.shown
        assert case is not None
        if place == PLACE:
            return self._add_ready(case, kind)
        key = fresh_key(
            case, place, "value" if place == "parameters" else kind if place.endswith(".parts") else ""
        )
        nodes = list(case.network.nodes)[-2:] or [""]
        line = {
            "start": nodes[0],
            "end": nodes[-1],
            "parts": {"pipe1": {"kind": "pipe", "size": "DN50"}},
        }
        plain: dict[str, dict[str, Any]] = {
            "parameters": {"value": "1 mm"},
            "field.species": {},
            "network.lines": line,
            "network.species": {},
            "network.releases": {"species": next(iter(case.network.species), ""), "node": nodes[0]},
            "network.operations": {
                "at": "60 s",
                "path": "network.lines.LINE.parts.PART.opening",
                "value": "50 %",
            },
        }
        item = plain[place] if place in plain else fresh_item(case, place, kind, self.edges, self._shape)
        if place == "media" and not case.network.lines:  # there is one fluid: the new one takes its place
            key = next(iter(case.media), key)
        path = f"{place}.{key}"
        if self.document.edit({path: item}, f"add {kind or 'parameter'}"):
            self.go_to(path)
        return path

    def _add_ready(self, case: Case, kind: str) -> str:
        """Add a part of a room with its load in one step; where it has no place, say why."""
        try:
            edits = ready_edits(case, self._shape, kind)
        except CaseError as problem:
            self.document.troubled.emit(str(problem))
            return ""
        path = next(iter(edits))
        if self.document.edit(edits, f"add {kind.replace('_', ' ')}"):
            self.go_to(path)
        return path

    def go_to(self, path: str) -> None:
        """Bring the line of a path into view and give the value at the path the focus, or the line's first
        one.
        """
        value = path
        owner = ".".join(path.split(".")[:3])
        if owner not in self.rows and self._many and path.startswith("network."):
            self._also |= {owner}
            self.refresh()
        while path and path not in self.rows:
            path = path.rpartition(".")[0]
        if path:
            row = self.rows[path]
            typed = next(
                (
                    each
                    for each in row.editors.values()
                    if isinstance(each, ValueEdit) and not isinstance(each, TagEdit)
                ),
                None,
            )
            first = row.editors.get(value) or typed or next(iter(row.editors.values()), None)
            if first is not None:
                first.setFocus(Qt.FocusReason.ShortcutFocusReason)
            if isinstance(first, ValueEdit):
                first.selectAll()
            self._shown_line = path
            self._show_line()

    def _show_line(self) -> None:
        """Keep the line that was gone to in view while it has the focus: notes above it may push it away."""
        self._bring()
        self._late.start(0)

    def _bring(self) -> None:
        row = self.rows.get(self._shown_line)
        focus = self.focusWidget()
        if row is None or focus is None or not row.isAncestorOf(focus):
            self._shown_line = ""
        else:
            self.area.ensureWidgetVisible(row, 0, 60)
            self.area.ensureWidgetVisible(focus, 0, 4)  # of a line taller than the view, the value in hand

    def focused(self) -> str:
        """Give the path of the line that has the focus, or ""."""
        focus = self.focusWidget()
        return next(
            (path for path, row in self.rows.items() if focus is not None and row.isAncestorOf(focus)), ""
        )

    def next_attention(self) -> str:
        """Go to the next line that is not ready (F8); give its path."""
        wanting = [path for path, row in self.rows.items() if row.level in ("caution", "blocked")]
        if not wanting:
            return ""
        order = list(self.rows)
        focus = self.focusWidget()
        here = next(
            (
                order.index(path)
                for path, row in self.rows.items()
                if focus is not None and row.isAncestorOf(focus)
            ),
            -1,
        )
        path = next((path for path in wanting if order.index(path) > here), wanting[0])
        self.go_to(path)
        return path

    def _commit(self, path: str, value: Any) -> bool:
        case = self.document.shown
        along = {} if case is None else moved_along(case, path, value, self._shape)
        return self.document.edit({path: value, **along}, "edit")

    def mark(self, result: Review) -> None:
        """Show marks and notes of a review."""
        self._shape = result.shape
        edges = list(result.shape.all_edges) if result.shape else self.edges
        if edges != self.edges:
            self.edges = edges
            self._signature = None
        if self._many:
            first: list[Any] = [*result.faults, *(note for note in result.notes if note.level != "ready")][
                :NOTED
            ]
            self._also = frozenset(".".join(item.path.split(".")[:3]) for item in first)
        self.refresh()
        told: dict[str, list[tuple[str, str, str, dict[str, Any]]]] = {}
        for fault in result.faults:
            told.setdefault(self._owner(fault.path), []).append(
                ("blocked", _sentence(f"{fault.says} {fault.remedy}"), "", {})
            )
        for note in result.notes:
            told.setdefault(self._owner(note.path), []).append(
                (note.level, note.text, note.remedy, note.edits)
            )
        faulty = {fault.path for fault in result.faults}
        before = self._before()
        changed = [
            row
            for path, row in self.rows.items()
            if row.set_notes(told.get(path, []), faulty, self._base_values(row, before))
        ]
        width = self._width()
        if any(row.height() != row.arrange(width) for row in changed):
            self.restack()
            if self._shown_line:
                self._show_line()

    def _owner(self, path: str) -> str:
        while path and path not in self.rows:
            path = path.rpartition(".")[0]
        return path or next(iter(self.rows), "")

    def _before(self) -> dict[str, str]:
        """Give the words of all values of the case as drawn, while a variant is shown."""
        case = self.document.case
        if case is None or not self.document.variant:
            return {}
        if self._drawn is None or self._drawn[0] is not case or self._drawn[1] != self._also:
            made = lines(case, None, Choice(MOST, "", self._also))
            self._drawn = case, self._also, {slot.path: slot.words() for line in made for slot in line.slots}
        return self._drawn[2]

    def _base_values(self, row: Row, before: dict[str, str]) -> dict[str, str]:
        """Give the values of a line that the variant changes, as they were."""
        return {
            slot.path: before[slot.path]
            for slot in row.line.slots
            if slot.path in before and before[slot.path] != slot.words()
        }

    def _width(self) -> int:
        """Width there is for the lines, in pixels."""
        shown = self.area.viewport()
        assert shown is not None
        return shown.width()

    def restack(self) -> None:
        """Place all lines for the present width and filter."""
        wanted = self.filter.text().strip().lower()
        hidden = {path for path, row in self.rows.items() if wanted and wanted not in row.line.text().lower()}
        width = self._width()
        self.page.setFixedWidth(width)
        self.page.stack(width, hidden)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Flow the sentences anew."""
        super().resizeEvent(event)
        self.restack()
