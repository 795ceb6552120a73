"""Means of whole fields over time, of a flow that is followed: what a room with restless jets is like."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.judge import FieldResult, Measured, Trust
from mop_lantern.judge.field_result import CARRIED, Scalar
from mop_lantern.judge.packing import FIELDS
from mop_lantern.judge.swing import counted, drift_of
from mop_lantern.judge.trust import graded

Floats = NDArray[np.float64]
FEWEST = 4  # steps whose fields make a mean
LITTLE = 1e-2  # of what is usual: a reading that is less counts as so much
DRIFT_LIMIT = 0.02  # of a mean over time, from half to half
FIELD_DRIFT_LIMIT = 0.05  # of the mean velocity, all over the space; common practice, no source
SWING = "swing"
MOVE = ("mean_field", "means")
REMEDY = "Go on in time, twice as long"
_SQUARED = {"square": "velocity", "wall_square": "wall_velocity"}


class FieldMeans:
    """Sums of fields over time from ``begin`` (s) on, of its earlier half up to ``middle`` and of its later
    one; trapezoids between steps.

    Attributes
    ----------
    steps : whose fields count. since, until : where the sums begin and end, s.
    """

    def __init__(self, begin: float, end: float) -> None:
        self.begin = begin
        self.middle = 0.5 * (begin + end)
        self.steps = 0
        self.since = begin
        self.until = begin
        self._last: dict[str, Floats] = {}
        self._sums: tuple[dict[str, Floats], dict[str, Floats]] = ({}, {})
        self._lasted = [0.0, 0.0]

    def add(self, answer: FieldResult) -> None:
        """Take the field at the end of a time step."""
        if answer.time < self.begin * (1 - 1e-12):
            return
        self.steps += 1
        now = {name: values.copy() for name, values in (_linear(answer) | _squares(answer)).items()}
        before, self._last = self._last, now  # a copy: the flow goes on in the same arrays
        if not before:
            self.since = self.until = answer.time
            return
        half = int(answer.time > self.middle * (1 + 1e-12))
        lasted = answer.time - self.until
        self.until = answer.time
        self._lasted[half] += lasted
        sums = self._sums[half]
        for name, values in now.items():
            sums[name] = sums.get(name, 0.0) + 0.5 * lasted * (before[name] + values)

    @property
    def enough(self) -> bool:
        """Whether the fields of some steps are in the mean."""
        return self.steps >= FEWEST

    def swing(self, answer: FieldResult) -> Scalar:
        """Give how far the velocity swings about its mean so far, the root of its mean square, m/s; 0 before
        there is a mean.
        """
        parts = {}
        for part, squares in _squares(answer).items():
            mean = self._mean(_SQUARED[part])
            found = np.zeros(len(squares))
            if mean is not None:
                found = np.sqrt(np.maximum(self._known(part) - (mean**2).sum(axis=1), 0.0))
            parts[part] = found
        nothing = np.zeros(answer.mesh.n_boundary)
        return Scalar(parts["square"], parts["wall_square"], nothing, *CARRIED[SWING])

    def answer(self, last: FieldResult) -> FieldResult:
        """Give the mean of all fields, with what is said about them as ``last`` has it."""
        plain: dict[str, Any] = {name: self._known(name) for name in FIELDS}
        scalars = {
            name: replace(
                scalar,
                cells=self._known(f"{name}/cells"),
                boundary=self._known(f"{name}/boundary"),
                leaving=self._known(f"{name}/leaving"),
            )
            for name, scalar in last.scalars.items()
            if name != SWING
        }
        return replace(last, **plain, scalars=scalars | {SWING: self.swing(last)}, since=self.since)

    def _known(self, name: str) -> Floats:
        mean = self._mean(name)
        assert mean is not None
        return mean

    def _mean(self, name: str) -> Floats | None:
        whole = sum(self._lasted)
        sums = [each[name] for each in self._sums if name in each]
        return sum(sums[1:], sums[0]) / whole if sums and whole > 0 else None

    def drift(self, volume: Floats) -> float | None:
        """Give how far the mean velocity of the earlier and of the later half differ all over the space (the
        root of the mean square over cells of ``volume``, m3), as a share of the mean or of the swing,
        whichever is more; None where one half is missing.
        """
        if min(self._lasted) <= 0:
            return None
        early, late = (
            sums["velocity"] / lasted for sums, lasted in zip(self._sums, self._lasted, strict=True)
        )
        apart, level, squares = (
            float(np.average(values, weights=volume))
            for values in (
                ((late - early) ** 2).sum(axis=1),
                (self._known("velocity") ** 2).sum(axis=1),
                self._known("square"),
            )
        )
        scale = max(level, squares - level)
        return float(np.sqrt(apart / scale)) if scale > 0 else 0.0

    def trust(self, volume: Floats) -> list[Trust]:
        """Judge whether the mean fields stand still, over cells of ``volume`` (n_cells,) m3."""
        if not self.enough:
            text = (
                f"The mean over time was to begin at {self.begin:.6g} s, and too few steps were done after "
                "it: the flow at the end is shown. Follow it longer, or let the mean begin earlier."
            )
            return [Trust("mean_field", "fails", self.steps, FEWEST, text)]
        when = f"from {self.since:.6g} s to {self.until:.6g} s"
        apart = self.drift(volume)
        if apart is None:
            text = f"All fields are means {when}, too short to be judged by their halves. Follow it longer."
            return [Trust("mean_field", "caution", 0.0, FIELD_DRIFT_LIMIT, text)]
        longer = " Follow it longer, or let the mean begin later." if apart > FIELD_DRIFT_LIMIT else ""
        text = (
            f"All fields are means {when}: the velocities of the earlier and the later half differ by "
            f"{apart:.1%}.{longer}"
        )
        return [graded("mean_field", apart, FIELD_DRIFT_LIMIT, np.inf, text)]

    def longer(self, items: list[Trust], folder: Path | None) -> list[Trust]:
        """Offer, with means that still move, to go on from the last state of a run's ``folder``: the new mean
        is over twice the time of this one.
        """
        if folder is None or not self.enough:
            return items
        edits = {
            "field.start.solution": f"{folder}@{self.until!r}",
            "field.time.until": f"{self.until + 2 * (self.until - self.since):.6g} s",
            "field.time.mean_from": f"{self.until:.6g} s",
        }
        return [
            replace(item, remedy=REMEDY, edits=edits) if item.id in MOVE and item.verdict != "holds" else item
            for item in items
        ]

    def drifts(
        self,
        readings: Mapping[str, Measured],
        columns: Mapping[str, Sequence[float]],
        levels: Mapping[str, float],
    ) -> dict[str, float]:
        """Give how far the halves of the courses of readings differ, as shares (``columns`` by name);
        ``levels`` : by dimension, what is not little (SI); of temperatures their spread in the space.
        """
        if not self.enough:
            return {}
        level = {
            key: levels[item.dimension] if item.dimension == "temperature" else above(item, levels)
            for key, item in readings.items()
        }
        return {key: drift_of(*course(columns, key, self.begin), level[key]) for key in readings}

    def with_swing(
        self, readings: Mapping[str, Measured], columns: Mapping[str, Sequence[float]]
    ) -> dict[str, Measured]:
        """Give readings taken on the mean with how far they swung about it."""
        courses = {key: course(columns, key, self.begin)[1] for key in readings}
        return {
            key: replace(item, swing=float(np.ptp(courses[key]) / 2)) if len(courses[key]) else item
            for key, item in readings.items()
        }


def levels_of(answer: FieldResult) -> dict[str, float]:
    """Give what is not little, by dimension, SI: how far temperatures differ, and all that passes."""
    return {
        "temperature": answer.spread() if answer.has("T") else 0.0,
        "volume_flow": answer.passing,
        "mass_flow": answer.density * answer.passing,
    }


def above(item: Measured, levels: Mapping[str, float]) -> float | None:
    """Give what a reading of next to nothing is measured against; None where it is more than that."""
    least = LITTLE * levels.get(item.dimension, 0.0)
    return least if abs(item.value) < least else None


def course(columns: Mapping[str, Sequence[float]], key: str, begin: float) -> tuple[Floats, Floats]:
    """Give times (s) and values of what was tracked from ``begin`` on."""
    times, values = (np.array(columns.get(name, ()), float) for name in ("time", key))
    return counted(times, values, begin) if len(times) == len(values) else (times[:0], times[:0])


def means_trust(moved: Mapping[str, float]) -> list[Trust]:
    """Judge means of readings over time by how far their halves differ, as shares by key."""
    worst = max(moved, key=lambda key: moved[key], default="")
    if not moved.get(worst):
        return []
    longer = " Follow it longer, or let it begin later." if moved[worst] > DRIFT_LIMIT else ""
    words = (
        f"Means over time: the earlier and the later half of {worst} differ by {moved[worst]:.1%} of its "
        "mean (a temperature: of what differs in the space), or of four times its swing where that is more."
    )
    return [graded("means", moved[worst], DRIFT_LIMIT, np.inf, words + longer)]


def _squares(answer: FieldResult) -> dict[str, Floats]:
    """Give the squares of the speed in cells and on the boundary, by name."""
    return {part: (getattr(answer, name) ** 2).sum(axis=1) for part, name in _SQUARED.items()}


def _linear(answer: FieldResult) -> dict[str, Floats]:
    """Give all arrays of a field by name."""
    found = {name: getattr(answer, name) for name in FIELDS}
    for name, scalar in answer.scalars.items():
        if name != SWING:
            found |= {f"{name}/{part}": getattr(scalar, part) for part in ("cells", "boundary", "leaving")}
    return found
