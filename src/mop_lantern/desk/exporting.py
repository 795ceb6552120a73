"""Exports from the window; each gives the words for the status line."""

from __future__ import annotations

import csv
from pathlib import Path

from mop_lantern.desk.stage import View
from mop_lantern.results import RunRecord


def export_readings(path: Path, records: dict[str, RunRecord]) -> str:
    """Write the readings of all variants as CSV in SI units."""
    if not records:
        return "There is nothing to export yet: solve first."
    keys = list(dict.fromkeys(key for record in records.values() for key in record.readings))
    try:
        with path.open("w", newline="", encoding="utf-8") as out:
            table = csv.writer(out)
            table.writerow(["id", "title", "unit", *(name or "as drawn" for name in records)])
            for key in keys:
                first = next(record.readings[key] for record in records.values() if key in record.readings)
                values = [record.readings.get(key, {}).get("value", "") for record in records.values()]
                table.writerow([key, first["title"], first["unit"], *values])
    except OSError as problem:
        return f"{path} cannot be written ({problem.strerror}). Choose another folder."
    return f"Readings are in {path}."


def export_picture(path: Path, view: View) -> str:
    """Write the stage as it is shown."""
    return f"The picture is in {path}." if view.grab().save(str(path)) else f"{path} cannot be written. Choose another folder."
