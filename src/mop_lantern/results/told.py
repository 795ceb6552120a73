"""Readings as records keep them, also those a case asks for only after it was solved: they are taken on what
was stored.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

import numpy as np

from mop_lantern.case.document import Case, parse_case
from mop_lantern.case.resolve import resolve
from mop_lantern.errors import CaseError, Fault
from mop_lantern.judge import FieldResult, Measured, NetworkResult, measure
from mop_lantern.results.runs import RunRecord
from mop_lantern.units import DIMENSIONS

NOTHING = 1e-100  # in SI units: a sum that cancels leaves as much
LATER = "later"  # marks a reading that was taken after the solution: TAKEN, or LACKING where it could not be
TAKEN, LACKING = "taken", "lacking"


def readings_told(taken: Mapping[str, Measured]) -> dict[str, dict[str, Any]]:
    """Give readings as records keep them: SI value (None for none), unit, title, dimension."""
    return {
        key: {
            "value": _plain(item.value),
            "unit": DIMENSIONS[item.dimension].si,
            "title": item.title,
            "dimension": item.dimension,
            **({"swing": item.swing} if item.swing else {}),
        }
        for key, item in taken.items()
    }


def _plain(value: float) -> float | None:
    """Give a value without -0.0 and what rounding alone left; None for none."""
    return (0.0 if abs(value) < NOTHING else value) if np.isfinite(value) else None


def physics_of(case: Case) -> dict[str, Any]:
    """Give what a result depends on; of readings those that need the course of another."""
    data = case.as_data()
    for name in ("title", "notes", "units", "variants", "views", "measured", "readings"):
        data.pop(name, None)
    over_time = {key: item for key, item in case.readings.items() if type(item).over_time}
    followed = {getattr(item, "swings", "") for item in over_time.values()}
    needed = over_time | {key: item for key, item in case.readings.items() if key in followed}
    return {**data, "over_time": {key: _stated(item) for key, item in needed.items()}}


def asked_later(case: Case, solved: Case) -> list[str]:
    """Give the readings of a case that were not stated so when it was ``solved`` (variants applied to both);
    a new title alone changes nothing. One that follows another over time needs its course: it is none.
    """
    return [
        key
        for key, item in case.readings.items()
        if not type(item).over_time and _stated(item) != _stated(solved.readings.get(key))
    ]


def _stated(item: Any) -> dict[str, Any]:
    return {} if item is None else item.model_dump(exclude={"title"}, mode="json")


def take_later(
    case: Case, keys: list[str], answers: list[FieldResult | NetworkResult]
) -> dict[str, dict[str, Any]]:
    """Take readings of a case (its variant applied) on the stored ``answers`` of its field and its network,
    as records keep them. One of a quantity that was not solved, or that has a fault, is marked as lacking.

    What is taken so was not watched while it was solved, and no other grid tells how far cells move it; of a
    flow that swings it is the last look, not the mean.
    """
    numbers, faults = resolve(case)
    faulty = {fault.path.split(".")[1] for fault in faults if fault.path.startswith("readings.")}
    readings = {key: numbers.readings[key] for key in keys if key not in faulty}
    found: dict[str, Measured] = {}
    for answer in answers:
        known = {
            key: item
            for key, item in readings.items()
            if isinstance(answer, NetworkResult) or answer.has(getattr(item, "quantity", "pressure"))
        }
        found |= measure(known, answer)
    told = {key: {**one, LATER: TAKEN} for key, one in readings_told(found).items()}
    nothing = {"value": None, "unit": DIMENSIONS["number"].si, "dimension": "number", LATER: LACKING}
    return {key: told.get(key, {**nothing, "title": case.readings[key].title or key}) for key in keys}


def joined(
    case: Case, solved: Case, record: RunRecord, later: Mapping[str, dict[str, Any]]
) -> dict[str, dict[str, Any]]:
    """Give the readings a case asks for (its variant applied) in its order: as they were when it was
    ``solved``, or as they were taken ``later``; those not taken yet are missing.
    """
    fresh = set(asked_later(case, solved))
    told = {}
    for key, item in case.readings.items():
        one = later.get(key) if key in fresh else record.readings.get(key)
        if one is not None:
            told[key] = {**one, "title": item.title or key}
    return told


def asked_now(case: Case, record: RunRecord, answers: list[FieldResult | NetworkResult]) -> dict[str, Any]:
    """Give the readings a case asks for now (the variant of the record applied) of a stored result.

    Raises
    ------
    CaseError : the case has changed otherwise.
    """
    solved = parse_case(record.case)
    if physics_of(case) != physics_of(solved):
        says = "the case has changed in more than its readings since it was solved."
        raise CaseError([Fault("", says, "Solve it again.")])
    later = take_later(case, asked_later(case, solved), answers)
    return joined(case, solved, record, later)
