"""Readings: numbers taken from a solved field, tracked while it runs and recomputed from stored results."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace
from typing import Any, ClassVar

import numpy as np

from mop_lantern.declare import Kind, discover
from mop_lantern.judge.field_result import COMFORT, MOIST, FieldResult
from mop_lantern.judge.network_result import NetworkResult


class Reading(Kind):
    """A number taken from the field.

    ``take(numbers, answer)`` gives its SI value; ``dimension_of(numbers)`` the dimension it is shown in;
    one that is ``over_time`` gives ``follow(numbers, times, values)`` from the course of another instead of
    ``take``. ``without`` says why it may have no value.
    """

    sentence: ClassVar[str] = ""
    on: ClassVar[str] = "field"
    over_time: ClassVar[bool] = False
    IN_OTHER: ClassVar[tuple[str, ...]] = ()  # fields in the unit of the reading it follows
    IN_QUANTITY: ClassVar[tuple[str, ...]] = ()  # fields in the unit of what is read
    without: ClassVar[str] = "its place lies outside the space, or it divides by nothing."

    @classmethod
    def take(cls, numbers: Any, answer: FieldResult) -> float:
        """Give the SI value; nan where the place lies outside the wet space."""
        raise NotImplementedError

    @classmethod
    def reads(cls, numbers: Any) -> str:
        """Give what of the field it is taken from, "" for the flow itself: what is carried on the finished
        flow has no value before; comfort has that of the temperature.
        """
        name = str(getattr(numbers, "quantity", ""))
        return "T" if name in (*COMFORT, *MOIST, "radiant") else name

    @classmethod
    def follow(
        cls,
        numbers: Any,
        times: Any,
        values: Any,
    ) -> float:
        """Give the SI value from the course of the reading ``swings``: times (k,) s and values (k,) SI; nan
        where it has none.
        """
        raise NotImplementedError

    @classmethod
    def swing(
        cls,
        numbers: Any,
        times: Any,
        values: Any,
    ) -> float:
        """Give how far that reading swings to either side of what `follow` gives, SI; 0 where nothing is
        said.
        """
        return 0.0

    @classmethod
    def drift(
        cls,
        numbers: Any,
        times: Any,
        values: Any,
    ) -> float:
        """Give how far what `follow` gives still moves with the time followed, as a share of it; 0 where
        nothing is said.
        """
        return 0.0

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Give the dimension of the value."""
        raise NotImplementedError


@dataclass(frozen=True)
class Measured:
    """A reading taken: SI value, dimension, title in words; ``swing`` : how far to either side a mean of
    iterations that never came to rest swings, SI.
    """

    value: float
    dimension: str
    title: str
    swing: float = 0.0


def measure(readings: dict[str, Any], answer: FieldResult | NetworkResult) -> dict[str, Measured]:
    """Take the readings of a case that are taken on a field, or on a network."""
    on = "network" if isinstance(answer, NetworkResult) else "field"
    kinds = discover("mop_lantern.judge.readings", Reading)
    taken = {}
    for key, numbers in readings.items():
        kind: Any = kinds[numbers.kind]
        if kind.on != on:
            continue
        value = float("nan") if kind.over_time else float(kind.take(numbers, answer))
        taken[key] = Measured(value, kind.dimension_of(numbers), numbers.title or key)
    return taken


def followed(
    readings: dict[str, Any],
    taken: dict[str, Measured],
    columns: Mapping[str, Sequence[float]],
    time: float,
) -> dict[str, Measured]:
    """Add what readings over time make of the courses so far (``columns`` by name, time in s) and of the
    values taken now.
    """
    kinds = discover("mop_lantern.judge.readings", Reading)
    made = dict(taken)
    for key, numbers in readings.items():
        if key not in taken or not kinds[numbers.kind].over_time or numbers.swings not in taken:
            continue
        times, values = (
            np.array([*columns.get(name, ()), now])
            for name, now in (("time", time), (numbers.swings, taken[numbers.swings].value))
        )
        kind: Any = kinds[numbers.kind]
        made[key] = replace(
            taken[key],
            value=float(kind.follow(numbers, times, values)),
            swing=float(kind.swing(numbers, times, values)),
        )
    return made


def drifts(readings: dict[str, Any], columns: Mapping[str, Sequence[float]]) -> dict[str, float]:
    """Give how far readings over time still move with the time followed, as shares, of courses (``columns``
    by name, time in s).
    """
    kinds = discover("mop_lantern.judge.readings", Reading)
    times = np.array(columns.get("time", ()), float)
    return {
        key: float(kinds[numbers.kind].drift(numbers, times, np.array(columns[numbers.swings], float)))
        for key, numbers in readings.items()
        if kinds[numbers.kind].over_time and numbers.swings in columns
    }


def why_none(numbers: Any) -> str:
    """Say why a reading may have no value."""
    kind = discover("mop_lantern.judge.readings", Reading)[numbers.kind]
    return str(kind.without)


def titles(readings: dict[str, Any]) -> dict[str, tuple[str, str]]:
    """Give title and dimension of every reading of a case, before it is solved."""
    kinds = discover("mop_lantern.judge.readings", Reading)
    return {
        key: (numbers.title or key, kinds[numbers.kind].dimension_of(numbers))
        for key, numbers in readings.items()
    }


def pick(how: str, values: Any, weights: Any) -> float:
    """Reduce values by ``mean``, ``min``, ``max`` or ``integral``; weights are areas, lengths or volumes."""
    if not len(values):
        return float("nan")
    if how in ("mean", "flow_mean"):
        total = weights.sum()
        return float((values * weights).sum() / total) if total else float("nan")
    if how == "integral":
        return float((values * weights).sum())
    return float(np.min(values) if how == "min" else np.max(values))
