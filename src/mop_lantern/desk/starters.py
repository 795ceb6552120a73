"""The empty state: ready cases to begin from."""

from __future__ import annotations

import json
from pathlib import Path

from PyQt6.QtCore import Qt, pyqtSignal
from PyQt6.QtWidgets import QGridLayout, QLabel, QPushButton, QScrollArea, QVBoxLayout, QWidget

from mop_lantern.desk.theme import font

DEMOS = Path(__file__).parents[1] / "demos"


class Starters(QWidget):
    """Cards of the demo cases, an empty one, and a file of one's own.

    Signals
    -------
    chosen : path of a starter. own : open a file. empty : begin with nothing.
    """

    chosen = pyqtSignal(object)
    own = pyqtSignal()
    empty = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.setObjectName("starters")
        outer = QVBoxLayout(self)
        outer.setContentsMargins(0, 0, 0, 0)
        area = QScrollArea()
        page = QWidget()
        area.setWidgetResizable(True)
        area.setFrameShape(QScrollArea.Shape.NoFrame)
        area.setWidget(page)
        outer.addWidget(area)
        layout = QVBoxLayout(page)
        layout.setContentsMargins(60, 30, 60, 30)
        title = QLabel("Begin with a case")
        title.setFont(font(20, bold=True))
        layout.addWidget(title)
        words = QLabel(
            "Each starter is a whole case of the Grebe Sound hatchery: read it, solve it, change it, "
            "keep it under your own name."
        )
        words.setProperty("soft", "true")
        words.setWordWrap(True)
        layout.addWidget(words)
        layout.addSpacing(14)
        grid = QGridLayout()
        grid.setSpacing(14)
        self.cards: dict[str, QPushButton] = {}
        for index, path in enumerate(sorted(DEMOS.glob("*.lantern"))):
            data = json.loads(path.read_text("utf-8"))
            card = self._card(data["title"], data["notes"])
            card.setObjectName(f"starter:{path.stem}")
            card.clicked.connect(lambda _=False, p=path: self.chosen.emit(p))
            grid.addWidget(card, index // 2, index % 2)
            self.cards[path.stem] = card
        layout.addLayout(grid)
        layout.addSpacing(10)
        row = QGridLayout()
        for column, (name, tip, signal) in enumerate(
            (("Open a file …", "Ctrl+O", self.own), ("Begin with an empty case", "Ctrl+N", self.empty))
        ):
            button = QPushButton(name)
            button.setProperty("plain", "true")
            button.setToolTip(tip)
            button.clicked.connect(signal)
            row.addWidget(button, 0, column)
        row.setColumnStretch(2, 1)
        layout.addLayout(row)
        layout.addStretch(1)

    @staticmethod
    def _card(title: str, notes: str) -> QPushButton:
        card = QPushButton()
        card.setProperty("card", "true")
        card.setMinimumHeight(122)
        card.setAccessibleName(title)
        inner = QVBoxLayout(card)
        inner.setContentsMargins(16, 12, 16, 12)
        head = QLabel(title)
        body = QLabel(notes)
        head.setFont(font(13, bold=True))
        body.setWordWrap(True)
        body.setProperty("soft", "true")
        body.setAlignment(Qt.AlignmentFlag.AlignTop)
        for label in (head, body):
            label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
        inner.addWidget(head)
        inner.addWidget(body, 1)
        return card
