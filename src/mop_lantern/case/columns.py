"""Columns of numbers from CSV files: units in the heading, any usual separator, decimal commas; faults name
the row.
"""

from __future__ import annotations

import csv
import io
import re
from dataclasses import dataclass
from pathlib import Path

from mop_lantern.errors import FileError
from mop_lantern.numerics.doors import read_text
from mop_lantern.units import UnitFault
from mop_lantern.units.quantity import unit
from mop_lantern.units.trade import doubtful

LARGEST = 20_000_000  # bytes
MOST_ROWS = 200_000
_HEADING = re.compile(r"\s*(.*?)\s*(?:[\[(]\s*([^\])]*)\s*[\])]|,\s*([^,]*))?\s*\Z", re.S)
_NUMBER = re.compile(r"[+-]?(?:\d+(?:[.,]\d*)?|[.,]\d+)(?:[eE][+-]?\d{1,3})?\Z")


@dataclass(frozen=True)
class Columns:
    """What a file holds: a name and a unit ("" when none is given) for every column, and rows of numbers."""

    names: tuple[str, ...]
    units: tuple[str, ...]
    rows: tuple[tuple[float, ...], ...]


def read_columns(path: Path) -> Columns:
    """Read a CSV file.

    Raises
    ------
    FileError : it cannot be read, or has no numbers; a bad row is named.
    """
    return parse_columns(read_text(path, LARGEST, "utf-8-sig"), str(path))


def parse_columns(text: str, name: str) -> Columns:
    """Read CSV text; ``name`` stands in messages."""
    lines = [line for line in text.splitlines() if line.strip() and not line.lstrip().startswith("#")]
    if not lines:
        raise FileError(f"{name}: the file is empty.")
    separator = max(";\t,", key=lambda mark: (min(line.count(mark) for line in lines[:20]), mark != ","))
    try:
        rows = list(csv.reader(io.StringIO("\n".join(lines)), delimiter=separator))
    except csv.Error:
        raise FileError(f"{name}: this is not a CSV table. Save it again as CSV.") from None
    first = [cell.strip() for cell in rows[0]]
    headed = not all(_NUMBER.match(cell) for cell in first if cell) or not any(first)
    body = rows[1:] if headed else rows
    names, units = _headings(first if headed else [f"column {k + 1}" for k in range(len(first))], name)
    numbers = []
    for number, row in enumerate(body, 2 if headed else 1):
        cells = [cell.strip() for cell in row]
        if len(cells) < len(names) or not all(_NUMBER.match(cell) for cell in cells[: len(names)]):
            shown = separator.join(row)[:60]
            raise FileError(
                f"{name}: row {number} is not {len(names)} numbers: “{shown}”. Correct it, or begin it "
                "with #."
            )
        values = tuple(float(cell.replace(",", ".")) for cell in cells[: len(names)])
        if not all(abs(value) < 1e250 for value in values):
            raise FileError(f"{name}: row {number} holds a number that is too large.")
        numbers.append(values)
        if len(numbers) > MOST_ROWS:
            raise FileError(f"{name}: there are more than {MOST_ROWS:,} rows. Thin the table out.")
    _no_thousands([[cell.strip() for cell in row] for row in body], len(names), name)
    if len(numbers) < 2:
        raise FileError(f"{name}: at least two rows of numbers are needed.")
    return Columns(names, units, tuple(numbers))


def _no_thousands(rows: list[list[str]], columns: int, name: str) -> None:
    """Refuse a column of commas that may part thousands: none of its numbers shows that they are decimal."""
    for column in range(columns):
        cells = [row[column] for row in rows if "," in row[column]]
        found = next((cell for cell in cells if doubtful(cell)), None)
        if found is not None and all(doubtful(cell) for cell in cells):
            low, high = found.replace(",", "."), found.replace(",", "")
            raise FileError(f"{name}: “{found}” may be {low} or {high}. Write its column without commas.")


def _headings(cells: list[str], name: str) -> tuple[tuple[str, ...], tuple[str, ...]]:
    """Split "y [mm]", "y (mm)" or "y, mm" into name and unit."""
    names: list[str] = []
    units: list[str] = []
    while cells and not cells[-1]:
        cells = cells[:-1]
    if len(cells) < 2:
        raise FileError(f"{name}: at least two columns are needed, separated by comma, semicolon or tab.")
    for cell in cells:
        found = _HEADING.match(cell)
        words, of = (found[1], found[2] or found[3] or "") if found else (cell, "")
        try:
            unit(of)
        except UnitFault:
            raise FileError(f"{name}: the heading “{cell}” gives a unit that is not known: “{of}”.") from None
        names.append(words or f"column {len(names) + 1}")
        units.append(of)
    return tuple(names), tuple(units)
