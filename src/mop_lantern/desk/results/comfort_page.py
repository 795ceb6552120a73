"""The comfort of a room on a page of its own: every judgement with the limits of the standard, all solved
variants side by side.
"""

from __future__ import annotations

from collections.abc import Mapping
from html import escape
from typing import Any

from PyQt6.QtCore import QMimeData
from PyQt6.QtWidgets import (
    QApplication,
    QDialog,
    QHBoxLayout,
    QPushButton,
    QTextBrowser,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.desk.theme import NIGHT, PAPER, Tokens
from mop_lantern.units import show_place, worded_in

Rows = list[dict[str, Any]]
NOTHING = (
    "There is nothing to judge yet. Turn comfort on at Transported quantities, with temperature solved, and "
    "solve: the room is then judged by the categories of ISO 7730."
)


def page_of(title: str, verdicts: Mapping[str, Rows], tokens: Tokens) -> str:
    """Give the page as HTML.

    Parameters
    ----------
    title : of the case. verdicts : rows of a verdict by the words for its variant; empty ones are left away.
    """
    judged = {words: rows for words, rows in verdicts.items() if rows}
    head = f'<h2 style="color:{tokens.amber}">Comfort: {escape(title)}</h2>'
    if not judged:
        return f"{head}<p>{NOTHING}</p>"
    said = "".join(
        f"<p><b>{escape(words)}</b>: {escape(rows[0]['text'])}</p>" for words, rows in judged.items()
    )
    names = list(dict.fromkeys(row["id"] for rows in judged.values() for row in rows[1:]))
    top = "".join(f'<th align="left">{words}</th>' for words in ("", "A", "B", "C", *map(escape, judged)))
    lines = "".join(_line(name, judged, tokens) for name in names)
    return f'{head}{said}<table cellpadding="5" cellspacing="0"><tr>{top}</tr>{lines}</table>'


def _line(name: str, judged: Mapping[str, Rows], tokens: Tokens) -> str:
    """Give the line of one judgement: the limits, then what every variant has."""
    found = {words: next((row for row in rows if row["id"] == name), None) for words, rows in judged.items()}
    limits = next((row["limits"] for row in found.values() if row and row.get("limits")), ("", "", ""))
    cells = [f"<td>{escape(name)}</td>"]
    cells += [f'<td style="color:{tokens.soft}">{escape(limit)}</td>' for limit in limits]
    cells += [_cell(row, tokens) for row in found.values()]
    return f"<tr>{''.join(cells)}</tr>"


def _cell(row: dict[str, Any] | None, tokens: Tokens) -> str:
    if row is None:
        return "<td></td>"
    colour = {"A": tokens.teal, "B": tokens.teal, "C": tokens.caution}.get(row["category"], tokens.blocked)
    place = show_place(row["place"], "m", 3) if row["place"] else ""
    at = f' <span style="color:{tokens.soft}">at {place}</span>' if place else ""
    return (
        f'<td><b style="color:{colour}">{escape(row["category"])}</b>&nbsp; '
        f"{escape(row.get('found', ''))}{at}</td>"
    )


class ComfortPage(QDialog):
    """Shows the page; it stays open beside the window and follows it."""

    def __init__(self, parent: QWidget) -> None:
        super().__init__(parent)
        self.setObjectName("comfort-page")
        self.setWindowTitle("Comfort")
        self.resize(900, 560)
        self.text = QTextBrowser()
        self.text.setAccessibleName("Comfort of the room, by the categories of the standard")
        copy = QPushButton("Copy")
        copy.setToolTip("Put the page on the clipboard, as a table")
        copy.clicked.connect(self._copy)
        close = QPushButton("Close")
        close.clicked.connect(self.close)
        for button in (copy, close):
            button.setProperty("plain", "true")
        row = QHBoxLayout()
        row.addStretch(1)
        row.addWidget(copy)
        row.addWidget(close)
        layout = QVBoxLayout(self)
        layout.addWidget(self.text)
        layout.addLayout(row)

    def follow(self, window: Any) -> None:
        """Show what the window's variants have, now and whenever its ledger changes."""

        def refresh() -> None:
            case = window.document.case
            title = "" if case is None else case.title or "Untitled case"
            with worded_in({} if case is None else case.units):
                self.show_verdicts(title, window.showing.verdicts(), NIGHT if window.night else PAPER)

        window.showing.ledger_filled.connect(refresh)
        refresh()

    def show_verdicts(self, title: str, verdicts: Mapping[str, Rows], tokens: Tokens) -> None:
        """Show what every solved variant has."""
        self.text.setHtml(page_of(title, verdicts, tokens))

    def _copy(self) -> None:
        data = QMimeData()
        data.setHtml(self.text.toHtml())
        data.setText(self.text.toPlainText())
        clipboard = QApplication.clipboard()
        if clipboard is not None:
            clipboard.setMimeData(data)


def show_comfort(window: Any) -> ComfortPage:
    """Open the page of a window, or bring it to the front."""
    page = window.findChild(ComfortPage, "comfort-page")
    if page is None:
        page = ComfortPage(window)
        page.follow(window)
    page.show()
    page.raise_()
    return page
