"""The first page: begin from nothing, or from a starter."""

from __future__ import annotations

import json
from dataclasses import dataclass
from pathlib import Path

from PyQt6.QtCore import QSize, Qt, pyqtSignal
from PyQt6.QtGui import QPixmap
from PyQt6.QtWidgets import (
    QGridLayout,
    QHBoxLayout,
    QLabel,
    QLineEdit,
    QPushButton,
    QScrollArea,
    QVBoxLayout,
    QWidget,
)

from mop_lantern.desk.symbols import icon_of
from mop_lantern.desk.theme import PAPER, Tokens, font

DEMOS = Path(__file__).parents[1] / "demos"
PICTURES = Path(__file__).parent / "assets" / "starters"
PICTURE = QSize(168, 105)
COLUMNS = 3
CARD = 122  # pixels high
ALL_OTHERS = "More"
JOBS: dict[str, tuple[str, ...]] = {
    "Share and lose: channels, orifices, valves": (
        "header",
        "oxygen-line",
        "outfall-step",
        "widening",
        "jet-nozzle",
        "air-plenum",
        "drain-valve",
        "sluice-gap",
        "valve-body",
        "butterfly",
        "inlet-box",
        "intake-elbow",
    ),
    "Mix and carry: species and temperature": (
        "choice-flume",
        "pulsed-line",
        "plate-start",
        "warm-junction",
        "outdoor-junction",
        "twisted-mixer",
    ),
    "Networks of pipes": ("rearing-loop", "gate-drive", "gravity-intake"),
    "Ducts and air": (
        "duct-tree",
        "nursery-air",
        "feed-store",
        "nursery-room",
        "visitors-gallery",
        "incubation-hall",
        "ozone-room",
    ),
    "Heat in solids": ("nursery-floor", "warm-line"),
}
"""What the starters are about, and their order."""


@dataclass(frozen=True)
class Beginning:
    """A way to begin from nothing: its key, words, what comes of it, its drawing."""

    key: str
    words: str
    help: str
    symbol: str


BEGINNINGS = (
    Beginning(
        "plane",
        "Plane",
        "Passages and obstacles in a plane of a given depth",
        "M-1,-0.5 L1,-0.5 M-1,0.5 L0.2,0.5 L0.2,0.1 L0.6,0.1 L0.6,0.5 L1,0.5",
    ),
    Beginning(
        "axis",
        "Around an axis",
        "Round pipes, orifices and nozzles",
        "M-1,0 L-0.6,0 M-0.4,0 L-0.1,0 M0.1,0 L0.5,0 M0.7,0 L1,0 M-1,-0.7 L0,-0.7 L0,-0.3 L1,-0.3 "
        "M-1,0.7 L0,0.7 L0,0.3 L1,0.3",
    ),
    Beginning(
        "space",
        "Three-dimensional",
        "Boxes, pipes, tees, blades, rooms",
        "M-0.9,-0.3 L0.3,-0.3 L0.3,0.8 L-0.9,0.8 Z "
        "M-0.9,-0.3 L-0.4,-0.8 L0.8,-0.8 L0.8,0.3 L0.3,0.8 M0.3,-0.3 L0.8,-0.8",
    ),
    Beginning(
        "network",
        "Network",
        "Pipes, ducts, pumps and fans between nodes",
        "M-1,0 L-0.5,0 M-0.5,0 A0.4,0.4 0 1 1 0.3,0 A0.4,0.4 0 1 1 -0.5,0 Z M0.3,0 L1,0 "
        "M0.7,0 L0.7,0.8 M0.4,0.8 L1,0.8",
    ),
    Beginning(
        "model",
        "Model file",
        "STEP, STL, OBJ, PLY or GLB",
        "M-0.7,-0.9 L0.3,-0.9 L0.7,-0.5 L0.7,0.9 L-0.7,0.9 Z "
        "M-0.4,0.1 L0.1,0.1 L0.1,0.6 L-0.4,0.6 Z M-0.4,0.1 L-0.1,-0.2 L0.4,-0.2 L0.4,0.3 L0.1,0.6",
    ),
    Beginning(
        "words",
        "Lines of words",
        "From tank A through pump P1, 12 m of DN50 to B",
        "M-0.9,-0.5 L0.9,-0.5 M-0.9,0 L0.5,0 M-0.9,0.5 L0.7,0.5",
    ),
)


class Starters(QWidget):
    """Ways to begin from nothing, then the starters by what they are about.

    Signals
    -------
    chosen : path of a starter. own : open a file. begun : from nothing, the key of a `Beginning`.
    """

    chosen = pyqtSignal(object)
    own = pyqtSignal()
    begun = pyqtSignal(str)

    def __init__(self, tokens: Tokens = PAPER) -> None:
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
        self._rows = QVBoxLayout(page)
        self._rows.setContentsMargins(36, 18, 36, 24)
        self._rows.setSpacing(8)
        self.beginnings: dict[str, QPushButton] = {}
        self.cards: dict[str, QPushButton] = {}
        self._words: dict[str, str] = {}
        self._groups: dict[str, tuple[QLabel, QGridLayout, list[str]]] = {}
        self._begin(tokens)
        self._search()
        for job, names in _jobs().items():
            self._group(job, names)
        self.nothing = _soft("No starter holds these words.")
        self.nothing.hide()
        self._rows.addWidget(self.nothing)
        self._rows.addStretch(1)

    def set_tokens(self, tokens: Tokens) -> None:
        """Change the theme."""
        for each in BEGINNINGS:
            self.beginnings[each.key].setIcon(icon_of(each.symbol, tokens.ink, 34))

    def _begin(self, tokens: Tokens) -> None:
        self._rows.addWidget(_title("Begin from nothing"))
        grid = QGridLayout()
        grid.setSpacing(8)
        for column, each in enumerate(BEGINNINGS):
            button = QPushButton(each.words)
            button.setProperty("card", "true")
            button.setObjectName(f"begin:{each.key}")
            button.setIcon(icon_of(each.symbol, tokens.ink, 34))
            button.setIconSize(QSize(34, 34))
            button.setToolTip(each.help)
            button.setAccessibleName(f"{each.words}: {each.help}")
            button.setMinimumHeight(58)
            button.clicked.connect(lambda _=False, key=each.key: self.begun.emit(key))
            grid.addWidget(button, 0, column)
            self.beginnings[each.key] = button
        self._rows.addLayout(grid)

    def _search(self) -> None:
        row = QHBoxLayout()
        row.addWidget(_title("Starters of the Grebe Sound hatchery"))
        row.addStretch(1)
        self.search = QLineEdit()
        self.search.setPlaceholderText("Find a starter")
        self.search.setAccessibleName("Find a starter")
        self.search.setClearButtonEnabled(True)
        self.search.setFixedWidth(220)
        self.search.textChanged.connect(self._find)
        row.addWidget(self.search)
        opened = QPushButton("Open a file …")
        opened.setProperty("plain", "true")
        opened.setObjectName("open-file")
        opened.setToolTip("Open a case from its file (Ctrl+O)")
        opened.clicked.connect(self.own)
        row.addWidget(opened)
        self._rows.addSpacing(4)
        self._rows.addLayout(row)

    def _group(self, job: str, names: list[str]) -> None:
        label = QLabel(job)
        label.setFont(font(11, bold=True))
        self._rows.addWidget(label)
        grid = QGridLayout()
        grid.setSpacing(10)
        for column in range(COLUMNS):
            grid.setColumnStretch(column, 1)
        for name in names:
            data = json.loads((DEMOS / f"{name}.lantern").read_text("utf-8"))
            notes = data["notes"].removeprefix("Grebe Sound hatchery: ")
            card = _card(name, data["title"], notes[:1].upper() + notes[1:])
            card.clicked.connect(lambda _=False, n=name: self.chosen.emit(DEMOS / f"{n}.lantern"))
            self.cards[name] = card
            self._words[name] = f"{data['title']} {data['notes']} {job}".lower()
        self._rows.addLayout(grid)
        self._groups[job] = (label, grid, names)
        self._place(grid, names)

    def _place(self, grid: QGridLayout, names: list[str]) -> None:
        """Put the cards that are shown side by side."""
        while grid.takeAt(0) is not None:
            pass
        for place, name in enumerate(names):
            grid.addWidget(self.cards[name], place // COLUMNS, place % COLUMNS)

    def _find(self, typed: str) -> None:
        """Show the starters that hold all words typed."""
        wanted = typed.lower().split()
        shown = {name for name, words in self._words.items() if all(word in words for word in wanted)}
        for label, grid, names in self._groups.values():
            here = [name for name in names if name in shown]
            for name in names:
                self.cards[name].setVisible(name in shown)
            label.setVisible(bool(here))
            self._place(grid, here)
        self.nothing.setVisible(not shown)


def _jobs() -> dict[str, list[str]]:
    """Give the starters there are by what they are about; those of no job come last."""
    there = sorted(path.stem for path in DEMOS.glob("*.lantern"))
    jobs = {job: [name for name in names if name in there] for job, names in JOBS.items()}
    others = [name for name in there if not any(name in names for names in jobs.values())]
    return {job: names for job, names in (*jobs.items(), (ALL_OTHERS, others)) if names}


def _title(words: str) -> QLabel:
    label = QLabel(words)
    label.setFont(font(15, bold=True))
    return label


def _soft(words: str) -> QLabel:
    label = QLabel(words)
    label.setProperty("soft", "true")
    label.setWordWrap(True)
    return label


def _card(name: str, title: str, notes: str) -> QPushButton:
    """Make the card of a starter: the picture of its result, its title and what it is; all of it in its
    tip.
    """
    card = QPushButton()
    card.setProperty("card", "true")
    card.setObjectName(f"starter:{name}")
    card.setFixedHeight(CARD)
    card.setAccessibleName(title)
    card.setToolTip(f"<b>{title}</b><br>{notes}")
    across = QHBoxLayout(card)
    across.setContentsMargins(8, 8, 10, 8)
    across.setSpacing(10)
    picture = QLabel()
    picture.setFixedSize(PICTURE)
    shot = QPixmap(str(PICTURES / f"{name}.png"))
    if not shot.isNull():
        shot.setDevicePixelRatio(shot.width() / PICTURE.width())
        picture.setPixmap(shot)
    across.addWidget(picture)
    words = QVBoxLayout()
    head = QLabel(title)
    head.setFont(font(11, bold=True))
    head.setWordWrap(True)
    words.addWidget(head)
    body = _soft(_shortened(notes, 92 if len(title) < 26 else 58))
    body.setFont(font(9.5))
    words.addWidget(body, 1)
    body.setAlignment(Qt.AlignmentFlag.AlignTop)
    across.addLayout(words, 1)
    for label in (picture, head, body):
        label.setAttribute(Qt.WidgetAttribute.WA_TransparentForMouseEvents)
    return card


def _shortened(notes: str, most: int) -> str:
    """Give the first sentence, or as much of it as has room on a card."""
    first = notes.split(". ")[0].split("; ")[0].rstrip(".")
    return f"{first}." if len(first) <= most else f"{first[:most].rsplit(' ', 1)[0]} …"
