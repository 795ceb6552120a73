"""Curves of a network under its schematic: pressure along a way, duty points, where the heat goes."""

from __future__ import annotations

from typing import Any

import numpy as np
import pyqtgraph as pg
from PyQt6.QtCore import QObject
from PyQt6.QtGui import QFontMetricsF

from mop_lantern.case import duties
from mop_lantern.desk.document import Document
from mop_lantern.desk.network.networking import Networking
from mop_lantern.desk.results.traces import Traces
from mop_lantern.desk.theme import font
from mop_lantern.judge import NetworkResult, profile_along, way_through
from mop_lantern.units import convert, preferred, show
from mop_lantern.units.quantity import pretty_unit

GRAVITY = 9.80665
SLOT = 0.04  # share of a way that a fitting is drawn long
HEAT = {
    "entered": ("with fluid from outside", 1),
    "made": ("by friction and machines", 1),
    "brought": ("by heaters, exchangers, people", 1),
    "left": ("with fluid that leaves", -1),
    "lost": ("to the surroundings", -1),
    "stored": ("stored in tanks, rooms, pipes", -1),
}


class NetworkPages(QObject):
    """Three pages of the traces for networks."""

    def __init__(
        self,
        document: Document,
        networking: Networking,
        traces: Traces,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.document = document
        self.networking = networking
        self.traces = traces
        self.working: NetworkResult | None = None
        self.line = ""
        self._duty: dict[str, Any] | None = {}
        self._wanted: Any = None
        for name, draw, tip in (
            (
                "Path",
                self._draw_path,
                "Pressure along the way most of the fluid takes through the line chosen on the schematic",
            ),
            ("Duty", self._draw_duty, "Curves of pumps and fans, and what the network asks of them"),
            ("Heat", self._draw_heat, "Where the heat comes from and where it goes"),
        ):
            traces.add_page(name, draw, tip)
        networking.figures.connect(self.show)
        networking.stage.view.chosen.connect(self.choose)
        document.computed.connect(self._take_duty)

    def show(self, working: NetworkResult | None) -> None:
        """Draw what belongs to the figures shown."""
        same = working == self.working
        self.working = working
        networking = self.networking
        if not networking.on:
            self.traces.offer(("Residuals", "Readings", "Profile"))
            return
        heat = working is not None and "heat" in working.extra
        pages = (
            (["Readings"] if networking.in_time else [])
            + ["Path"]
            + ([] if networking.in_time else ["Duty"])
            + (["Heat"] if heat else [])
        )
        self.traces.offer(pages)
        if self.traces.page in ("Path", "Duty", "Heat") and not same:
            self.traces.redraw_soon()

    def choose(self, path: str) -> None:
        """Show the way through what was clicked."""
        if path.startswith("network.lines."):
            self.line = path.split(".")[2]
            self.traces.redraw()

    # --- a way through ---

    def _draw_path(self, item: Any) -> None:
        working = self.working
        case = self.document.shown
        traces = self.traces
        if working is None or case is None or "z" not in working.extra or not working.lines:
            traces.label(item, "Pressures along a way appear here when the network can be solved.", "")
            return
        largest = max(working.lines, key=lambda key: abs(working.lines[key]["mass_flow"]))
        line = self.line if self.line in working.lines else largest
        way = way_through(working, line)
        if set(working.lines) != set(case.network.lines) or any(
            not np.isfinite(working.nodes[node]["pressure"]) for key in way for node in working.ends[key]
        ):
            traces.label(item, f"Nothing sets the pressure along the way through {line}.", "")
            return
        order = {key: list(case.network.lines[key].parts) for key in way}
        slot = SLOT * (
            sum(working.extra["lengths"][f"{key}.{name}"] for key in way for name in order[key]) or 1.0
        )
        made = profile_along(working, way, order, slot)
        unit = preferred(made.dimension, case.units)
        length = preferred("length", case.units)
        gas = made.dimension == "pressure"
        along = convert(1.0, "length", length)
        factor = convert(1.0, made.dimension, unit)
        wide = show(slot, "length", length, 2)
        traces.label(
            item,
            (
                f"along {way[0] if len(way) == 1 else f'{way[0]} … {way[-1]}'}, {pretty_unit(length)} "
                f"(fittings and machines are drawn {wide} long)"
            ),
            f"{'gauge pressure' if gas else 'height of fluid'}, {pretty_unit(unit)}",
        )
        names = (
            ("total pressure", "static pressure") if gas else ("energy grade line", "hydraulic grade line")
        )
        for index, (name, values) in enumerate(zip(names, (made.total, made.still), strict=True)):
            item.plot(made.distance * along, values * factor, pen=traces.pen(index), name=name)
        if not gas:
            item.plot(
                made.distance * along,
                made.height * factor,
                pen=pg.mkPen(traces.tokens.soft, width=1),
                name="height of the pipes",
            )
        shown = np.concatenate([made.total, made.still, made.total[:0] if gas else made.height]) * factor
        low = float(shown.min())
        high = float(shown.max())
        span = (high - low) or 1.0
        item.setYRange(low - 0.05 * span, high + 0.62 * span, padding=0)
        item.setXRange(0.0, float(made.distance[-1]) * along, padding=0.03)
        self._mark(item, made.marks, along, (high + 0.26 * span, high + 0.02 * span))

    def _mark(
        self,
        item: Any,
        marks: list[tuple[float, str]],
        along: float,
        rows: tuple[float, float],
    ) -> None:
        """Name nodes, and what loses or gains most, in a row each over the curves; names that would touch are
        left out.
        """
        assert self.working is not None
        pixel = max((at for at, _ in marks), default=1.0) * along / max(self.traces.plot.width() - 80, 100)
        metrics = QFontMetricsF(font(9))
        taken: list[list[tuple[float, float]]] = [[], []]
        parts = self.working.parts
        for at, name in sorted(
            marks, key=lambda mark: -abs(parts[mark[1]]["loss"]) if mark[1] in parts else 0.0
        ):
            part = int(name in parts)
            words = name.rsplit(".", 1)[-1]
            half = 0.5 * (metrics.horizontalAdvance(words) + 6) * pixel
            if not part:
                item.addItem(pg.InfiniteLine(at * along, pen=pg.mkPen(self.traces.tokens.line, width=1)))
            if all(at * along + half < left or at * along - half > right for left, right in taken[part]):
                label = pg.TextItem(
                    words,
                    color=self.traces.tokens.soft if part else self.traces.tokens.ink,
                    anchor=(0.5, 1.0),
                )
                label.setFont(font(9))
                label.setPos(at * along, rows[part])
                item.addItem(label, ignoreBounds=True)
                taken[part].append((at * along - half, at * along + half))

    # --- duty points ---

    def _take_duty(self, what: str, answer: Any) -> None:
        if what == "duty":
            self._duty = answer
            self.traces.redraw()

    def _draw_duty(self, item: Any) -> None:
        working = self.working
        case = self.document.shown
        review = self.document.review
        traces = self.traces
        duty = working.extra.get("duty") if working is not None else None
        if (
            duty is None
            and review is not None
            and review.numbers is not None
            and case is not None
            and not review.faults
        ):
            if review is not self._wanted:
                self._wanted = review
                self._duty = None
                numbers = review.numbers
                variant = self.document.variant
                self.document.compute("duty", lambda: duties(case, variant, numbers))
            duty = self._duty
            if duty is None:
                traces.label(item, "The curves are being worked out …", "")
                return
        if not duty or case is None:
            traces.label(item, "Duty points appear here when a pump or fan runs.", "")
            return
        gas = next(iter(duty.values()))["density"] < 100
        dimension = "pressure" if gas else "length"
        flow = preferred("volume_flow", case.units)
        unit = preferred(dimension, case.units)
        traces.label(
            item,
            f"flow, {pretty_unit(flow)}",
            f"{'pressure rise' if gas else 'head'}, {pretty_unit(unit)}",
        )
        for index, (name, one) in enumerate(duty.items()):
            per = convert(1.0, dimension, unit) / (1.0 if gas else one["density"] * GRAVITY)
            wide = convert(1.0, "volume_flow", flow)
            item.plot(
                np.array(one["flow"]) * wide,
                np.array(one["gain"]) * per,
                pen=traces.pen(2 * index),
                name=name,
            )
            item.plot(
                np.array(one["system_flow"]) * wide,
                np.array(one["system_gain"]) * per,
                pen=traces.pen(2 * index + 1),
                name=f"asked of {name}",
            )
            at = one["at"][0] * wide, one["at"][1] * per
            item.plot(
                [at[0]],
                [at[1]],
                pen=None,
                symbol="o",
                symbolSize=9,
                symbolPen=traces.pen(2 * index).color(),
                symbolBrush=None,
            )
            words = pg.TextItem(
                (
                    f"{show(one['at'][0], 'volume_flow', flow, 3)} at "
                    f"{show(one['at'][1] / (1.0 if gas else one['density'] * GRAVITY), dimension, unit, 3)}"
                ),
                color=traces.tokens.ink,
                anchor=(0.5, -0.3 if index == 0 else 1.3),
            )
            words.setPos(*at)
            item.addItem(words, ignoreBounds=True)

    # --- heat ---

    def _draw_heat(self, item: Any) -> None:
        working = self.working
        case = self.document.shown
        traces = self.traces
        book = working.extra.get("heat") if working is not None else None
        if not book or case is None:
            traces.label(item, "Where the heat goes appears here when temperatures are followed.", "")
            return
        per_time = book["unit"] == "W"
        unit = "W" if per_time else "kJ"
        least = 1e-9 * max(abs(book.get(key, 0.0)) for key in HEAT)
        rows = [
            (words, sign * book[key] / (1.0 if per_time else 1e3), sign)
            for key, (words, sign) in HEAT.items()
            if abs(book.get(key, 0.0)) > least
        ]
        rows.reverse()
        for k, (_, value, sign) in enumerate(rows):
            item.addItem(
                pg.BarGraphItem(
                    x0=0.0,
                    y=k,
                    height=0.6,
                    width=value,
                    pen=None,
                    brush=traces.pen(0 if sign > 0 else 1).color(),
                )
            )
            words = pg.TextItem(
                f"{value:,.4g} {unit}", color=traces.tokens.ink, anchor=(0.0 if value >= 0 else 1.0, 0.5)
            )
            words.setPos(value, k)
            item.addItem(words, ignoreBounds=True)
        most = max((abs(value) for _, value, _ in rows), default=1.0)
        item.setXRange(-1.35 * most, 1.35 * most, padding=0)
        item.getAxis("left").setTicks([[(k, words) for k, (words, _, _) in enumerate(rows)]])
        of = "heat in (+) and out (−), counted from the air outside" + (
            "" if per_time else ", since the start"
        )
        traces.label(item, f"{of}, {unit}", "")
