"""Exports from the window; each gives the words for the status line."""

from __future__ import annotations

from pathlib import Path

from mop_lantern.desk.stage import View
from mop_lantern.errors import FileError
from mop_lantern.results import RunRecord, write_readings


def export_readings(path: Path, records: dict[str, RunRecord]) -> str:
    """Write the readings of all variants as CSV in SI units."""
    if not records:
        return "There is nothing to export yet: solve first."
    try:
        write_readings(path, {name or "as drawn": record.readings for name, record in records.items()})
    except FileError as problem:
        return str(problem)
    return f"Readings are in {path}."


def export_picture(path: Path, view: View) -> str:
    """Write the stage as it is shown."""
    return f"The picture is in {path}." if view.grab().save(str(path)) else f"{path} cannot be written. Choose another folder."
