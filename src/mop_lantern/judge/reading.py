"""Readings: numbers taken from a solved field, tracked while it runs and recomputed from stored results."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Any, ClassVar

import numpy as np

from mop_lantern.declare import Kind, discover
from mop_lantern.judge.answer import Answer
from mop_lantern.judge.working import Working


class Reading(Kind):
    """A number taken from the field.

    ``take(numbers, answer)`` gives its SI value; ``dimension_of(numbers)`` the dimension it is shown in;
    ``edges_of(numbers)`` the edges it needs.
    """

    sentence: ClassVar[str] = ""
    on: ClassVar[str] = "field"

    @classmethod
    def take(cls, numbers: Any, answer: Answer) -> float:
        """Give the SI value; nan where the place lies outside the wet space."""
        raise NotImplementedError

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """Give the dimension of the value."""
        raise NotImplementedError


@dataclass(frozen=True)
class Measured:
    """A reading taken: SI value, dimension, title in words."""

    value: float
    dimension: str
    title: str


def measure(readings: dict[str, Any], answer: Answer | Working) -> dict[str, Measured]:
    """Take the readings of a case that are taken on a field, or on a network."""
    on = "network" if isinstance(answer, Working) else "field"
    kinds = discover("mop_lantern.judge.readings")
    taken = {}
    for key, numbers in readings.items():
        kind: Any = kinds[numbers.kind]
        if kind.on != on:
            continue
        taken[key] = Measured(float(kind.take(numbers, answer)), kind.dimension_of(numbers), numbers.title or key)
    return taken


def titles(readings: dict[str, Any]) -> dict[str, tuple[str, str]]:
    """Give title and dimension of every reading of a case, before it is solved."""
    kinds: Any = discover("mop_lantern.judge.readings")
    return {key: (numbers.title or key, kinds[numbers.kind].dimension_of(numbers)) for key, numbers in readings.items()}


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
