"""Readings as a table that any spreadsheet reads."""

from __future__ import annotations

import csv
from pathlib import Path
from typing import Any

import numpy as np

from mop_lantern.errors import FileError
from mop_lantern.judge import FieldResult
from mop_lantern.results.profile import profile
from mop_lantern.units import DIMENSIONS


def write_readings(path: Path, columns: dict[str, dict[str, Any]]) -> None:
    """Write readings as CSV: id, title, unit, then one column of SI values for each run.

    Parameters
    ----------
    columns : name of each column to its readings by id.

    Raises
    ------
    FileError : it cannot be written.
    """
    first: dict[str, dict[str, Any]] = {}
    for readings in columns.values():
        for key, reading in readings.items():
            first.setdefault(key, reading)
    try:
        with path.open("w", newline="", encoding="utf-8") as out:
            table = csv.writer(out)
            table.writerow(["id", "title", "unit", *columns])
            for key, reading in first.items():
                values = [readings.get(key, {}).get("value", "") for readings in columns.values()]
                table.writerow([key, reading["title"], reading["unit"], *values])
    except OSError as problem:
        raise FileError(f"{path}: cannot be written ({problem.strerror}). Choose another folder.") from None


def write_profile(
    path: Path,
    answer: FieldResult,
    start: Any,
    end: Any,
    quantities: list[str],
    samples: int = 201,
) -> None:
    """Write quantities along a line as CSV: distance and place in m, then SI values, empty outside the space.

    Raises
    ------
    FileError : a quantity is not known, or it cannot be written.
    """
    unknown = [name for name in quantities if name not in answer.quantities]
    if unknown:
        raise FileError(f"there is no quantity “{unknown[0]}”. Known: {', '.join(answer.quantities)}.")
    ways = len(answer.mesh.ways)
    start = np.asarray(start, float)[:ways]
    end = np.asarray(end, float)[:ways]
    columns = [
        profile(
            answer,
            name,
            start,
            end,
            samples,
        )
        for name in quantities
    ]
    places = start + np.linspace(0.0, 1.0, samples)[:, None] * (end - start)
    try:
        with path.open("w", newline="", encoding="utf-8") as out:
            table = csv.writer(out)
            units = [DIMENSIONS[answer.quantities[name][1]].si for name in quantities]
            table.writerow(
                [
                    "distance [m]",
                    *(f"{axis} [m]" for axis in "xyz"[:ways]),
                    *(
                        f"{name} [{unit}]" if unit else name
                        for name, unit in zip(quantities, units, strict=True)
                    ),
                ]
            )
            for k, place in enumerate(places.tolist()):
                values = [values[k] for _, values in columns]
                table.writerow(
                    [columns[0][0][k], *place, *("" if np.isnan(value) else float(value) for value in values)]
                )
    except OSError as problem:
        raise FileError(f"{path}: cannot be written ({problem.strerror}). Choose another folder.") from None
