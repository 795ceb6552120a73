"""The traces: residuals, readings and profiles as curves under the stage."""

from __future__ import annotations

import math
import time
from collections.abc import Callable, Sequence
from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import Qt, QTimer
from PyQt6.QtGui import QFontMetricsF
from PyQt6.QtWidgets import QHBoxLayout, QLabel, QMenu, QPushButton, QVBoxLayout, QWidget

from mop_lantern.desk.theme import Tokens, font
from mop_lantern.units import DIMENSIONS, convert, convert_all, preferred, worded_in, worded_unit
from mop_lantern.units.quantity import pretty_unit

PAGES = ("Residuals", "Readings", "Profile")
COURSES = ("Residuals", "Readings")  # pages that show how values came about
ALL = "all, scaled"
_FASTEST = 0.2  # s between redraws while a solve runs
_INKS = ("#8f5300", "#00666a", "#5b4a9c", "#a3231d", "#4d6b1f", "#8a4b74", "#3a6ea5", "#77715f")
_NIGHT_INKS = ("#ffb347", "#59cfc8", "#b7a6ff", "#ff8a80", "#b6d67a", "#e6a4cf", "#8fc1f2", "#c9c2ac")


def _mark_of(curve: Any) -> str:
    """Give the mark a curve has in the key: a dot where it has no line."""
    return "●" if curve.opts["pen"] is None else "<b>—</b>"


def _ink_of(curve: Any) -> str:
    pen = curve.opts["pen"] if curve.opts["pen"] is not None else curve.opts["symbolPen"]
    return str(pg.mkPen(pen).color().name())


class PlainAxis(pg.AxisItem):
    """An axis that never scales its figures behind the reader's back."""

    def updateAutoSIPrefix(self) -> None:
        """Leave the figures as they are."""
        self.autoSIPrefixScale = 1.0

    def logTickStrings(
        self,
        values: Any,
        scale: float,
        spacing: float | None,
    ) -> list[str]:
        """Between powers of ten only 2 and 5 bear figures: all would run into each other where there are few
        powers.
        """
        words = super().logTickStrings(values, scale, spacing)
        leading = [round(10.0 ** (value - math.floor(value + 1e-9))) for value in values]
        return [word if first in (1, 2, 5, 10) else "" for word, first in zip(words, leading, strict=True)]


class Traces(QWidget):
    """Pages of curves; the newest values while a solve runs, the stored ones afterwards."""

    def __init__(self, tokens: Tokens) -> None:
        super().__init__()
        self.tokens = tokens
        self.night = False
        self.columns: dict[str, list[float]] = {}
        self.readings: dict[str, tuple[str, str]] = {}
        self.profiles: list[tuple[str, Any, Any]] = []
        self.profile_axis = ("distance", "")
        self.units: dict[str, str] = {}
        self.measured: list[tuple[str, str, str, Any, Any, str]] = []  # kind, of, title, x, y (SI), words
        self.shown_quantity = ""
        self._last = 0.0
        self.setObjectName("traces")
        strip = QHBoxLayout()
        strip.setContentsMargins(8, 0, 8, 0)
        self.buttons: dict[str, QPushButton] = {}
        self._drawers: dict[str, Callable[[Any], None]] = {}
        self._strip = strip
        self.page = PAGES[0]
        strip.addStretch(1)
        self.key = QLabel("")
        self.key.setFont(font(9.5))
        strip.addWidget(self.key)
        self.group = ""
        self.of_button = QPushButton("")
        self.of_button.setProperty("layer", "true")
        self.of_button.setObjectName("traces:of")
        self.of_button.setToolTip(
            "Which readings are drawn over time: those of one kind in their unit, or all of them scaled"
        )
        self.of_button.clicked.connect(self._offer_groups)
        self.of_button.setVisible(False)
        strip.addWidget(self.of_button)
        self.measured_button = QPushButton("Measured ▾")
        self.measured_button.setProperty("layer", "true")
        self.measured_button.setObjectName("traces:measured")
        self.measured_button.setToolTip("Fit measured data to the model, or export both")
        self.measured_button.setVisible(False)
        strip.addWidget(self.measured_button)
        self.plot = pg.PlotWidget(axisItems={side: PlainAxis(side) for side in ("left", "bottom")})
        self.plot.setMenuEnabled(False)
        self.plot.hideButtons()
        layout = QVBoxLayout(self)
        layout.setContentsMargins(0, 2, 0, 0)
        layout.setSpacing(0)
        layout.addLayout(strip)
        layout.addWidget(self.plot, 1)
        self.setMinimumHeight(90)
        self._later = QTimer(self)
        self._later.setSingleShot(True)
        self._later.timeout.connect(self.redraw)
        self._next = QTimer(self)
        self._next.setSingleShot(True)
        self._next.timeout.connect(self.redraw)
        for name in PAGES:
            self.add_page(name, getattr(self, f"_draw_{name.lower()}"), f"{name} of the case")
        self.show_page(self.page)

    def add_page(
        self,
        name: str,
        draw: Callable[[Any], None],
        tip: str,
    ) -> None:
        """Add a page: a button, and what draws it onto the plot."""
        button = QPushButton(name)
        button.setProperty("layer", "true")
        button.setCheckable(True)
        button.setObjectName(f"traces:{name.lower()}")
        button.setToolTip(tip)
        button.setVisible(name in PAGES)
        button.clicked.connect(lambda _=False, n=name: self.show_page(n))
        self._strip.insertWidget(len(self.buttons), button)
        self.buttons[name] = button
        self._drawers[name] = draw

    def offer(self, pages: Sequence[str]) -> None:
        """Show the buttons of some pages only; the first is chosen when the present one is not among them."""
        for name, button in self.buttons.items():
            button.setVisible(name in pages)
        if self.page not in pages:
            self.show_page(pages[0])

    def redraw_next(self) -> None:
        """Draw the page again once what is going on now is done, however often this is asked for."""
        self._next.start(0)

    def redraw_soon(self) -> None:
        """Draw the page again, at most so often."""
        if not self._later.isActive():
            self._later.start(round(1e3 * _FASTEST))

    def show_page(self, name: str) -> None:
        """Show one of the pages."""
        self.page = name
        for key, button in self.buttons.items():
            button.setChecked(key == name)
        self.redraw()

    def set_tokens(self, tokens: Tokens, night: bool) -> None:
        """Change the theme."""
        self.tokens = tokens
        self.night = night
        self.redraw()

    def clear(self) -> None:
        """Forget the curves of the last solve."""
        self.columns = {}
        self.redraw()

    def add(self, event: dict[str, Any]) -> None:
        """Append the values of a progress event."""
        row = {
            "iteration": event["iteration"],
            **({"time": event["time"]} if "time" in event else {}),
            "momentum": event["momentum"],
            "mass": event["mass"],
            **event["readings"],
        }
        if self.columns.get("iteration") and row["iteration"] < self.columns["iteration"][-1]:
            self.columns = {}
        for name, value in row.items():
            column = self.columns.setdefault(name, [])
            missing = len(self.columns["iteration"]) - 1 - len(column) if name != "iteration" else 0
            column.extend([np.nan] * missing)
            column.append(np.nan if value is None else float(value))
        if time.monotonic() - self._last > _FASTEST:
            self.redraw()

    def redraw(self) -> None:
        """Draw the chosen page."""
        self._last = time.monotonic()
        item = self.plot.getPlotItem()
        item.clear()
        self.plot.setBackground(self.tokens.card)
        for side in ("left", "bottom"):
            axis = item.getAxis(side)
            axis.setPen(self.tokens.line)
            axis.setTextPen(self.tokens.soft)
            axis.setTickFont(font(9))
            axis.setTicks(None)
        item.setLogMode(False, self.page == "Residuals" and bool(self.columns))
        item.enableAutoRange()
        self.of_button.setVisible(False)
        residuals = any(any(self.columns.get(name, ())) for name in ("momentum", "mass"))
        if self.page in COURSES and len(set(self.columns.get("iteration", []))) == 1 and not residuals:
            self._say(item, "Solved in one go: nothing is iterated.")
        else:
            self._drawers[self.page](item)
            self._draw_measured(item)
        self._tell_curves(item)

    def _say(self, item: Any, words: str) -> None:
        """Write words in the middle of an empty plot."""
        text = pg.TextItem(words, color=self.tokens.soft, anchor=(0.5, 0.5))
        text.setFont(font(10))
        item.addItem(text)
        item.setLogMode(False, False)
        for side in ("left", "bottom"):
            item.getAxis(side).setTicks([])
            item.setLabel(side, "")
        item.setRange(xRange=(-1, 1), yRange=(-1, 1))

    def _tell_curves(self, item: Any) -> None:
        """Name the curves beside the buttons when there is room, else on the plot."""
        if item.legend is not None:
            item.legend.scene().removeItem(item.legend)
            item.legend = None
        named = [(curve.name(), curve) for curve in item.listDataItems() if curve.name()]
        room = (
            self.width()
            - sum(button.sizeHint().width() for button in self.buttons.values() if not button.isHidden())
            - 60
        )
        metrics = QFontMetricsF(font(9.5))
        fits = sum(metrics.horizontalAdvance(f"— {name}   ") for name, _ in named) < room - (
            0 if self.measured_button.isHidden() else 120
        ) - (0 if self.of_button.isHidden() else self.of_button.sizeHint().width())
        self.key.setText(
            "&nbsp;&nbsp; ".join(
                f'<span style="color:{_ink_of(curve)}">{_mark_of(curve)}</span> {name}'
                for name, curve in named
            )
            if fits
            else ""
        )
        if named and not fits:
            widest = max(metrics.horizontalAdvance(name) for name, _ in named)
            legend = item.addLegend(
                offset=(-8, 2),
                colCount=max(1, min(8, int((self.width() - 120) // (widest + 50)))),
                horSpacing=14,
                labelTextColor=self.tokens.ink,
                labelTextSize="9pt",
            )
            for name, curve in named:
                legend.addItem(curve, name)
            bounds = item.getViewBox().childrenBounds()[1]
            if (
                self.page == "Readings" and bounds is not None and bounds[1] > bounds[0]
            ):  # room for the names over the curves
                item.setYRange(bounds[0], bounds[1] + 0.25 * (bounds[1] - bounds[0]), padding=0.03)

    def _draw_measured(self, item: Any) -> None:
        """Points of the measured data that belong to this page, with their error figures as a title."""
        self.measured_button.setVisible(bool(self.measured))
        kind = {"Profile": "profile", "Readings": "trace"}.get(self.page)
        words = []
        for index, (of_kind, of, title, x, y, figures) in enumerate(self.measured):
            if (
                of_kind != kind
                or (kind == "profile" and of != self.shown_quantity)
                or (kind == "trace" and not self.columns.get("time"))
            ):
                continue
            if kind == "profile":
                dimension = self.profile_axis[1]
                bottom = ("length", preferred("length", self.units))
            else:
                dimension = self.readings.get(of, ("", "number"))[1]
                bottom = ("time", self._time_unit())
            if kind == "trace" and dimension != self._chosen_group():
                continue
            unit = preferred(dimension, self.units)
            shown = convert_all(y, dimension, unit)
            ink = self.pen(index + 3).color()
            item.plot(
                np.asarray(x) * convert(1.0, *bottom),
                shown,
                pen=None,
                symbol="o",
                symbolSize=7,
                symbolPen=ink,
                symbolBrush=None,
                name=title,
            )
            words.append(f"{title}: {figures}")
        item.setTitle("; ".join(words) or None, size="9pt", color=self.tokens.soft)

    def pen(self, index: int) -> Any:
        """Give the pen of a curve by its number."""
        inks = _NIGHT_INKS if self.night else _INKS
        return pg.mkPen(inks[index % len(inks)], width=2)

    def label(
        self,
        item: Any,
        bottom: str,
        left: str,
    ) -> None:
        """Name both axes."""
        style = {"color": self.tokens.soft, "font-size": "9pt"}
        item.setLabel("bottom", bottom, **style)
        item.setLabel("left", left, **style)

    def _draw_residuals(self, item: Any) -> None:
        self.label(
            item,
            "iteration or step" if self.columns else "Residuals appear here while a case is solved.",
            "scaled residual" if self.columns else "",
        )
        for index, name in enumerate(("momentum", "mass")):
            if self.columns.get(name):
                values = np.maximum(np.array(self.columns[name]), 1e-16)
                item.plot(self.columns["iteration"], values, pen=self.pen(index), name=name)

    def _draw_readings(self, item: Any) -> None:
        """Readings as they came about: those of one kind of quantity in their unit, or all over their largest
        magnitude.
        """
        if not self.columns:
            self.label(item, "Readings appear here while a case is solved.", "")
            return
        timed = bool(self.columns.get("time"))
        unit = self._time_unit()
        along = (
            convert_all(self.columns["time"], "time", unit)
            if timed
            else np.array(self.columns["iteration"], float)
        )
        self.of_button.setVisible(len(self._groups()) > 1)
        chosen = self._chosen_group()
        named = DIMENSIONS[chosen].label if chosen in DIMENSIONS else chosen
        self.of_button.setText(f"{named} ▾".capitalize())
        left = (
            "over its largest value"
            if chosen == ALL
            else pretty_unit(preferred(chosen, self.units)) or DIMENSIONS[chosen].label
        )
        self.label(item, f"time, {unit}" if timed else "iteration", left)
        drawn = []
        for index, (key, (title, dimension)) in enumerate(self.readings.items()):
            values = np.array(self.columns.get(key, []), float)
            if not len(values) or chosen not in (ALL, dimension):
                continue
            if chosen == ALL:
                values = values / (np.nanmax(np.abs(values), initial=0.0) or 1.0)
            else:
                values = convert_all(values, dimension, preferred(dimension, self.units))
            item.plot(along[: len(values)], values, pen=self.pen(index), name=title, connect="finite")
            drawn.append(values)
        if drawn and not timed:
            self._leave_beginnings_out(item, drawn)

    def _leave_beginnings_out(self, item: Any, curves: list[Any]) -> None:
        """Show values where they come to rest; the first iterations may be far off."""
        late = np.concatenate([values[len(values) // 3 :] for values in curves])
        late = late[np.isfinite(late)]
        if len(late):
            low, high = float(late.min()), float(late.max())
            room = 0.15 * (high - low) or 0.1 * abs(high) or 1.0
            item.setYRange(low - room, high + room, padding=0.0)

    def _time_unit(self) -> str:
        """Give the unit of the time axis: the one preferred, else one that keeps the figures small."""
        longest = max(self.columns.get("time", [0.0]), default=0.0)
        usual = "h" if longest > 3 * 3600 else "min" if longest > 600 else preferred("time", {})
        with worded_in(self.units):
            return worded_unit("time", usual)

    def _groups(self) -> list[str]:
        return list(dict.fromkeys(dimension for _, dimension in self.readings.values()))

    def _chosen_group(self) -> str:
        groups = self._groups()
        return self.group if self.group in (*groups, ALL) else (groups[0] if groups else ALL)

    def _offer_groups(self) -> None:
        """Offer the kinds of quantity there are among the readings."""
        menu = QMenu(self)
        for group in [*self._groups(), ALL]:
            menu.addAction(
                (DIMENSIONS[group].label if group in DIMENSIONS else group).capitalize(),
                lambda g=group: self.show_group(g),
            )
        menu.setAttribute(Qt.WidgetAttribute.WA_DeleteOnClose)
        menu.popup(self.of_button.mapToGlobal(self.of_button.rect().bottomLeft()))

    def show_group(self, group: str) -> None:
        """Show the readings of one kind of quantity over time, or all of them scaled."""
        self.group = group
        self.redraw()

    def _draw_profile(self, item: Any) -> None:
        words, dimension = self.profile_axis
        if not self.profiles:
            self.label(item, "Press Line above the stage and draw a line to see a profile here.", "")
            return
        length = preferred("length", self.units)
        unit = preferred(dimension, self.units)
        self.label(item, f"distance along the line, {pretty_unit(length)}", f"{words}, {pretty_unit(unit)}")
        along = convert(1.0, "length", length)
        curves = [convert_all(values, dimension, unit) for _, _, values in self.profiles]
        for index, ((name, distance, _), values) in enumerate(zip(self.profiles, curves, strict=True)):
            item.plot(distance * along, values, pen=self.pen(index), name=name, connect="finite")
        shown = np.concatenate(curves)
        if np.isfinite(shown).any():  # room above the curves for their names
            low = float(np.nanmin(shown))
            high = float(np.nanmax(shown))
            room = 0.9 if self.measured else 0.45  # the line of error figures takes its share of the height
            item.setYRange(low, high + room * ((high - low) or 1.0), padding=0.03)

    def show_profiles(self, profiles: list[tuple[str, Any, Any]], axis: tuple[str, str]) -> None:
        """Show profiles (name, distance m, values SI) of a quantity (words, dimension)."""
        self.profiles = profiles
        self.profile_axis = axis
        self.show_page("Profile")

    def as_text(self) -> str:
        """Give the curves shown as a table, a block of two columns each."""
        item = self.plot.getPlotItem()
        axes = [item.getAxis(side).labelText for side in ("bottom", "left")]
        blocks = []
        for curve in item.listDataItems():
            x, y = curve.getOriginalDataset()
            if x is not None and len(x):
                blocks.append(
                    "\n".join(
                        [
                            f"{axes[0]}\t{curve.name() or axes[1]}",
                            *(f"{a:.9g}\t{b:.9g}" for a, b in zip(x, y, strict=True)),
                        ]
                    )
                )
        return "\n\n".join(blocks)
