"""What a run has kept besides its end: states in time, or the grids of an adapted solve; one is chosen on the
bar.
"""

from __future__ import annotations

from typing import Any

from PyQt6.QtCore import QObject, pyqtSignal

from mop_lantern.desk.files.archive import Archive
from mop_lantern.desk.stage.timebar import TimeBar
from mop_lantern.judge import FieldResult
from mop_lantern.units import preferred, show


class History(QObject):
    """Joins the bar under the stage with the archive.

    Signals
    -------
    chosen : a kept field (Answer) is to be shown, and its readings beside those of the end.
    """

    chosen = pyqtSignal(object)

    def __init__(
        self,
        archive: Archive,
        bar: TimeBar,
        parent: QObject,
    ) -> None:
        super().__init__(parent)
        self.archive = archive
        self.bar = bar
        self.variant = ""
        self._times: list[float] = []
        self._grids: list[dict[str, Any]] = []
        bar.chosen.connect(self._choose)

    def show(self, variant: str, units: dict[str, str]) -> None:
        """Offer what the newest run of a variant has kept."""
        record = self.archive.records.get(variant)
        self.variant = variant
        self._times = self.archive.times(variant)
        self._grids = (
            record.cycles if record is not None and not self._times and len(record.cycles) > 1 else []
        )
        unit = preferred("time", units)
        grids = [f"grid {k}: {grid['cells']:,} cells" for k, grid in enumerate(self._grids, 1)]
        states = [f"t = {show(time, 'time', unit)}" for time in self._times]
        final = self.archive.answer(variant) if states else None
        if final is not None and final.since is not None:
            states.append(f"mean from {show(final.since, 'time', unit)} to {show(final.time, 'time', unit)}")
        self.bar.show_states(states or grids)

    def column(self, variant: str) -> tuple[str, dict[str, Any]] | None:
        """Give title and readings of the former grid shown, or None when the end of the run is."""
        record = self.archive.records.get(variant)
        place = self.bar.slider.value()
        if record is None or variant != self.variant or not 0 <= place < len(self._grids) - 1:
            return None
        values = self._grids[place]["readings"]
        readings = {
            key: {name: part for name, part in reading.items() if name not in ("grid_error", "grid_guess")}
            | {"value": values.get(key)}
            for key, reading in record.readings.items()
        }
        return f"grid {place + 1}", readings

    def _choose(self, place: int) -> None:
        answer: FieldResult | None
        if place < len(self._times):
            answer = self.archive.state(self.variant, self._times[place])
        elif self._times or place == len(self._grids) - 1:
            answer = self.archive.answer(self.variant)
        else:
            answer = self.archive.grid_step(self.variant, place)
        if answer is not None:
            self.chosen.emit(answer)
