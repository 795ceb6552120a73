"""The ledger: readings with a column per variant, differences to the base, and below it the trust list."""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QPointF, QRect, QSize, Qt, pyqtSignal
from PyQt6.QtGui import QColor, QFontMetrics, QMouseEvent, QPainter, QPaintEvent, QPolygonF, QResizeEvent
from PyQt6.QtWidgets import QMenu, QPushButton, QScrollArea, QVBoxLayout, QWidget

from mop_lantern.desk.results.standard import StandardPage
from mop_lantern.desk.results.verdict import VerdictPage
from mop_lantern.desk.theme import Tokens, font
from mop_lantern.judge.trust import FLAT_LIMIT, GUESS_LIMIT
from mop_lantern.results.told import LACKING, LATER
from mop_lantern.units import DIMENSIONS, convert, preferred, show, show_change, show_number
from mop_lantern.units.quantity import pretty_unit

ROW = 46
FIRST_ROW = 54
BASE_TITLE = "Base"

EMPTY = 64  # height of the words where there are no readings
UNSOLVED = "Nothing is solved yet. Press Solve (Ctrl+Return) to fill this ledger."
NONE_ASKED = "No readings are asked for: add them under Readings on the sheet, to follow and compare them."

GRAVEST = ("fails", "caution", "holds")  # in this order they are told


class LedgerPage(QWidget):
    """Paints readings, variants and the trust list.

    Signals
    -------
    unit_chosen : dimension and unit; a click on a reading offers the units of its dimension. trust_asked : id
    of an item clicked.
    """

    unit_chosen = pyqtSignal(str, str)
    trust_asked = pyqtSignal(str)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.columns: list[str] = []
        self.readings: dict[str, dict[str, Any]] = {}
        self.titles: dict[str, tuple[str, str]] = {}
        self.stale: set[str] = set()
        self.trust: list[dict[str, Any]] = []
        self.variant = ""
        self.units: dict[str, str] = {}
        self.grid: list[str] = []
        self._trust_boxes: list[tuple[str, QRect]] = []
        self.setObjectName("ledger")
        self.setToolTip("Click a reading to choose its unit, an item of the trust list to read what it means")

    def show_all(
        self,
        columns: list[str],
        readings: dict[str, dict[str, Any]],
        stale: set[str],
        trust: list[dict[str, Any]],
        variant: str,
        units: dict[str, str],
    ) -> None:
        """Show readings by variant (id, "" the base), which of them are out of date, and a trust list."""
        self.columns = columns
        self.readings = readings
        self.stale = stale
        self.trust = sorted(
            trust, key=lambda item: GRAVEST.index(item["verdict"]) if item["verdict"] in GRAVEST else 0
        )
        self.variant = variant
        self.units = units
        self.titles = {}
        for column in columns:
            for key, reading in readings.get(column, {}).items():
                self.titles.setdefault(key, (reading["title"], reading["dimension"]))
        self.setAccessibleName(self.as_text())
        self.setMinimumHeight(self.sizeHint().height())
        self.updateGeometry()
        self.update()

    def mousePressEvent(self, event: QMouseEvent | None) -> None:
        """Offer the units of the reading under the pointer."""
        assert event
        asked = next((key for key, box in self._trust_boxes if box.contains(event.pos())), "")
        if asked:
            self.trust_asked.emit(asked)
            return
        row = (event.pos().y() - FIRST_ROW) // ROW
        if event.pos().y() < FIRST_ROW or row >= len(self.titles):
            return
        _, dimension = list(self.titles.values())[row]
        menu = QMenu(self)
        for unit in DIMENSIONS[dimension].units:
            if unit:
                action = menu.addAction(pretty_unit(unit))
                assert action is not None
                action.setCheckable(True)
                action.setChecked(unit == preferred(dimension, self.units))
                action.triggered.connect(lambda _=False, u=unit: self.unit_chosen.emit(dimension, u))
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        if menu.actions():
            menu.popup(event.globalPosition().toPoint())

    def value_words(self, key: str, column: str) -> str:
        """Give a value in the preferred unit, without it."""
        reading = self.readings.get(column, {}).get(key)
        if reading is None or reading["value"] is None:
            return "–"
        dimension = reading["dimension"]
        return show_number(convert(reading["value"], dimension, preferred(dimension, self.units)), 4)

    def difference_words(self, key: str, column: str) -> str:
        """Give the difference to the base in per cent; of temperatures as it is."""
        base, own = (self.readings.get(c, {}).get(key, {}).get("value") for c in ("", column))
        if base is None or own is None or column == "" or not base:
            return ""
        dimension = self.readings[column][key].get("dimension", "")
        if dimension == "temperature":
            change = show_change(abs(own - base), dimension, preferred(dimension, self.units), 3)
            return f"{'+' if own >= base else '−'}{change}"
        change = 100 * (own - base) / abs(base)
        return (
            f"{'+' if change >= 0 else '−'}{abs(change):.1f} %"
            if abs(change) < 1000
            else f"×{own / base:.3g}"
        )

    def band_words(self, key: str, column: str) -> str:
        """Give how far a value swings, or its grid error, as ± per cent, where it is known, or what was
        guessed of it where that is much; of temperatures as it is.
        """
        reading = self.readings.get(column, {}).get(key, {})
        if reading.get(LATER):
            return "solve to have it" if reading[LATER] == LACKING else "taken afterwards"
        span = reading.get("span") or abs(reading.get("value") or 0.0)
        if span and reading.get("swing", 0.0) > FLAT_LIMIT * span:
            swing = reading["swing"]
            return f"swings ± {self._share_words(reading, swing / span, f'{100 * swing / span:.2g}')}"
        band = reading.get("grid_error")
        if band:
            share = band.get("band") or band["index"]
            return f"grid ± {self._share_words(reading, share, f'{100 * share:.1f}')}"
        guess = reading.get("grid_guess")
        if guess is None or guess <= GUESS_LIMIT:
            return ""
        return f"cells: off by about {self._share_words(reading, guess, f'{100 * guess:.0f}')}"

    def _share_words(self, reading: dict[str, Any], share: float, percent: str) -> str:
        """Give a share of a reading in per cent, or of what temperatures differ by in K."""
        span = reading.get("span")
        if not span:
            return f"{percent} %"
        dimension = reading["dimension"]
        return show_change(share * span, dimension, preferred(dimension, self.units))

    def as_text(self) -> str:
        """Give the ledger as tab-separated text."""
        head = ["reading", "unit", *(column or BASE_TITLE for column in self.columns)]
        rows = ["\t".join(head)]
        for key, (title, dimension) in self.titles.items():
            unit = preferred(dimension, self.units)
            rows.append(
                "\t".join(
                    [
                        title,
                        unit,
                        *(self.value_words(key, column).replace("−", "-") for column in self.columns),
                    ]
                )
            )
        rows += [f"{item['verdict']}\t{item['text']}" for item in self.trust]
        return "\n".join(rows)

    def resizeEvent(self, event: QResizeEvent | None) -> None:
        """Words wrap anew: ask for the room they need."""
        super().resizeEvent(event)
        self.setMinimumHeight(self.sizeHint().height())

    def sizeHint(self) -> QSize:
        """Room for all rows."""
        metrics = QFontMetrics(font(10))
        width = max(self.width(), 220) - 40
        trust = sum(
            metrics.boundingRect(QRect(0, 0, width, 999), int(Qt.TextFlag.TextWordWrap), t["text"]).height()
            + 7
            for t in self.trust
        )
        return QSize(
            260,
            44
            + (ROW * len(self.titles) or EMPTY)
            + 40
            + trust
            + 20
            + (34 + 19 * len(self.grid) if self.grid else 0),
        )

    def paintEvent(self, event: QPaintEvent | None) -> None:
        """Paint everything."""
        painter = QPainter(self)
        painter.setRenderHint(QPainter.RenderHint.Antialiasing)
        t = self.tokens
        painter.setPen(QColor(t.amber))
        painter.setFont(font(11.5, bold=True))
        painter.drawText(10, 22, "Readings")
        y = 32
        if not self.titles:
            painter.setPen(QColor(t.soft))
            painter.setFont(font(10))
            area = QRect(10, y, self.width() - 20, EMPTY)
            painter.drawText(area, int(Qt.TextFlag.TextWordWrap), NONE_ASKED if self.columns else UNSOLVED)
            y += EMPTY
        else:
            y = self._paint_readings(painter, y)
        y = self._paint_trust(painter, y + 10)
        if self.grid:
            painter.setPen(QColor(self.tokens.amber))
            painter.setFont(font(11.5, bold=True))
            painter.drawText(10, y + 20, "Grid")
            painter.setPen(QColor(self.tokens.ink))
            painter.setFont(font(10))
            for index, words in enumerate(self.grid):
                painter.drawText(10, y + 42 + 19 * index, words)
        painter.end()

    def show_grid(self, report: dict[str, Any] | None, cycles: list[int]) -> None:
        """Show the grid report of the chosen variant's run, and the cells of its adapted grids."""
        self.grid = []
        if report:
            length = preferred("length", self.units)
            sizes = " to ".join(show(report[name], "length", length, 3) for name in ("smallest", "largest"))
            self.grid = [
                f"{report['cells']:,} cells, {report['faces']:,} faces",
                f"cell size {sizes}",
                f"least square face {report['worst_angle']:.0f}° off",
                f"neighbours differ up to {report['volume_ratio']:.1f} times",
                *(
                    [f"adapted: {' → '.join(f'{count:,}' for count in cycles[-4:])}"]
                    if len(cycles) > 1
                    else []
                ),
            ]
        self.setMinimumHeight(self.sizeHint().height())
        self.update()

    def _paint_readings(self, painter: QPainter, y: int) -> int:
        t = self.tokens
        wide = (self.width() - 16) // max(len(self.columns), 1)
        painter.setFont(font(10, bold=True))
        for k, column in enumerate(self.columns):
            cell = QRect(8 + k * wide, y, wide - 4, 18)
            if column == self.variant:
                painter.fillRect(
                    QRect(8 + k * wide, y - 2, wide - 2, 22 + ROW * len(self.titles)), QColor(t.value)
                )
            painter.setPen(QColor(t.ink))
            painter.drawText(
                cell,
                int(Qt.AlignmentFlag.AlignRight),
                (column or BASE_TITLE) + ("*" if column in self.stale else ""),
            )
        y += 22
        for key, (title, dimension) in self.titles.items():
            painter.setPen(QColor(t.line))
            painter.drawLine(8, y, self.width() - 8, y)
            painter.setPen(QColor(t.soft))
            painter.setFont(font(9.5))
            unit = preferred(dimension, self.units)
            heading = title + (f", {pretty_unit(unit)}" if unit else "")
            painter.drawText(
                QRect(10, y + 1, self.width() - 18, 16),
                int(Qt.AlignmentFlag.AlignLeft),
                QFontMetrics(font(9.5)).elidedText(heading, Qt.TextElideMode.ElideRight, self.width() - 18),
            )
            for k, column in enumerate(self.columns):
                painter.setPen(QColor(t.soft if column in self.stale else t.ink))
                painter.setFont(font(10.5))
                painter.drawText(
                    QRect(8 + k * wide, y + 14, wide - 4, 17),
                    int(Qt.AlignmentFlag.AlignRight),
                    self.value_words(key, column),
                )
                painter.setPen(QColor(t.teal))
                painter.setFont(font(8.5))
                below = QRect(8 + k * wide, y + 30, wide - 4, 14)
                words = "  ".join(
                    part
                    for part in (self.difference_words(key, column), self.band_words(key, column))
                    if part
                )
                if QFontMetrics(font(8.5)).horizontalAdvance(words) > wide:
                    words = self.difference_words(key, column) or self.band_words(key, column)
                painter.drawText(below, int(Qt.AlignmentFlag.AlignRight), words)
            y += ROW
        if self.stale:
            painter.setPen(QColor(t.caution))
            painter.setFont(font(9))
            painter.drawText(10, y + 12, "* the case has changed since")
            y += 16
        return y

    def _paint_trust(self, painter: QPainter, y: int) -> int:
        self._trust_boxes = []
        if not self.trust:
            return y
        t = self.tokens
        painter.setPen(QColor(t.amber))
        painter.setFont(font(11.5, bold=True))
        painter.drawText(10, y + 16, f"Trust, {self.variant or BASE_TITLE.lower()}")
        y += 26
        painter.setFont(font(10))
        metrics = QFontMetrics(font(10))
        for item in self.trust:
            area = QRect(30, y, self.width() - 40, 999)
            box = metrics.boundingRect(area, int(Qt.TextFlag.TextWordWrap), item["text"])
            colour = {
                "holds": t.teal,
                "caution": t.caution,
                "fails": t.blocked,
            }[item["verdict"]]
            painter.setPen(Qt.PenStyle.NoPen)
            painter.setBrush(QColor(colour))
            middle = QPointF(17, y + 9)
            if item["verdict"] == "holds":
                painter.drawEllipse(middle, 4, 4)
            elif item["verdict"] == "caution":
                painter.drawPolygon(
                    QPolygonF(
                        [
                            middle + QPointF(-6, 5),
                            middle + QPointF(6, 5),
                            middle + QPointF(0, -6),
                        ]
                    )
                )
            else:
                painter.drawRect(QRect(11, y + 3, 12, 12))
            painter.setPen(QColor(t.ink if item["verdict"] == "holds" else colour))
            painter.drawText(area, int(Qt.TextFlag.TextWordWrap), item["text"])
            self._trust_boxes.append((item["id"], QRect(8, y, self.width() - 16, box.height() + 4)))
            y += box.height() + 7
        return y


class Ledger(QScrollArea):
    """The ledger page in a scroll area.

    Signals
    -------
    remedy : edits that a button below the trust list makes.
    """

    remedy = pyqtSignal(dict)

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.page = LedgerPage(tokens)
        self.verdict = VerdictPage(tokens)
        self.standard = StandardPage(tokens)
        self.grid_error = QPushButton("Grid error of the readings")
        self.grid_error.setProperty("plain", "true")
        self.grid_error.setObjectName("grid-error")
        self.grid_error.setToolTip(
            "Solve on two coarser grids too and show a band on every reading (Celik et al. 2008)"
        )
        holder = QWidget()
        layout = QVBoxLayout(holder)
        layout.setContentsMargins(0, 0, 0, 0)
        layout.addWidget(self.page)
        self._offers = QVBoxLayout()
        self._offers.setContentsMargins(8, 0, 8, 4)
        layout.addLayout(self._offers)
        layout.addWidget(self.verdict)
        layout.addWidget(self.standard)
        layout.addStretch(1)
        layout.addWidget(self.grid_error)
        self.setWidget(holder)
        self.setWidgetResizable(True)
        self.setHorizontalScrollBarPolicy(Qt.ScrollBarPolicy.ScrollBarAlwaysOff)

    def offer_remedies(self, trust: list[dict[str, Any]]) -> None:
        """Offer what items of the trust list propose, a button for each different proposal."""
        while (item := self._offers.takeAt(0)) is not None:
            if (former := item.widget()) is not None:
                former.hide()  # it would be drawn once more before it goes
                former.deleteLater()
        offered = {item["remedy"]: item["edits"] for item in trust if item.get("remedy")}
        for words, edits in offered.items():
            button = QPushButton(words)
            button.setProperty("remedy", "true")
            button.setToolTip("\n".join(f"{path} = {value}" for path, value in edits.items()))
            button.clicked.connect(lambda _=False, e=edits: self.remedy.emit(e))
            self._offers.addWidget(button)

    def set_tokens(self, tokens: Tokens) -> None:
        """Paint in the colours of a theme."""
        for page in (self.page, self.verdict, self.standard):
            page.tokens = tokens
            page.update()

    def as_text(self) -> str:
        """Give readings, trust list, verdict on comfort and standard readings as tab-separated text."""
        parts = (self.page.as_text(), self.verdict.as_text(), self.standard.as_text())
        return "\n".join(part for part in parts if part)
