"""Readings as a table that any spreadsheet reads."""

from __future__ import annotations

import csv
from pathlib import Path
from typing import Any

from mop_lantern.errors import FileError


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
