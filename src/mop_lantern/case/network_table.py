"""The components of a network as a table (CSV): one row each, to be worked over in a spreadsheet and read
back.
"""

from __future__ import annotations

import csv
import io
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.declare import declared, discover
from mop_lantern.errors import EditError, Fault
from mop_lantern.network.component import Component

_FORMER = {"run": "line"}  # what a column was called before
_HEAD = ["line", "from", "to", "component", "kind"]


def table_of(case: Case) -> str:
    """Give the lines of a case as CSV text; a column for every value any component has."""
    rows: list[dict[str, str]] = []
    columns: list[str] = []
    for key, line in case.network.lines.items():
        for name, part in line.parts.items():
            row = {
                "line": key,
                "from": line.start,
                "to": line.end,
                "component": name,
                "kind": part.kind,
            }
            kind: Any = type(part)
            for field, rule in declared(kind).items():
                if rule.form == "points":
                    continue
                row[field] = str(getattr(part, field))
                if field not in columns:
                    columns.append(field)
            rows.append(row)
    out = io.StringIO()
    writer = csv.DictWriter(out, [*_HEAD, *columns], lineterminator="\n")
    writer.writeheader()
    writer.writerows(rows)
    return out.getvalue()


def edits_of(text: str, case: Case) -> dict[str, Any]:
    """Turn a table into edits: known components get the values of their row, others are added; nothing is
    removed.

    Raises
    ------
    EditError : rows that make no sense, each told with its number.
    """
    try:
        reader = csv.DictReader(io.StringIO(text, newline=""))
        reader.fieldnames = [_FORMER.get(name, name) for name in reader.fieldnames or []]
        head = reader.fieldnames or []
        rows = list(reader)
    except csv.Error:
        raise EditError([Fault("table", "this is not a table.", "Save it again as CSV.")]) from None
    missing = [name for name in _HEAD if name not in head]
    if missing:
        raise EditError(
            [
                Fault(
                    "line 1",
                    f"the columns {', '.join(missing)} are missing.",
                    f"A table begins with the columns {', '.join(_HEAD)}.",
                )
            ]
        )
    kinds = discover("mop_lantern.network.components", Component)
    edits: dict[str, Any] = {}
    faults: list[Fault] = []
    seen: dict[tuple[str, str], int] = {}
    for number, row in enumerate(rows, 2):
        line, name, kind = (str(row[column] or "").strip() for column in ("line", "component", "kind"))
        before = seen.setdefault((line, name), number)
        if before != number:
            faults.append(
                Fault(
                    f"line {number}",
                    f"“{name}” of the line “{line}” is on line {before} already.",
                    "Give one of the two another name.",
                )
            )
            continue
        if kind not in kinds:
            faults.append(
                Fault(f"line {number}", f"“{kind}” is not a known component.", f"Known: {', '.join(kinds)}.")
            )
            continue
        for node in (str(row["from"] or "").strip(), str(row["to"] or "").strip()):
            if node and node not in case.network.nodes:
                edits.setdefault(f"network.nodes.{node}", {"kind": "junction"})
        if line not in case.network.lines and f"network.lines.{line}" not in edits:
            edits[f"network.lines.{line}"] = {
                "start": str(row["from"]).strip(),
                "end": str(row["to"]).strip(),
                "parts": {},
            }
        fields = declared(kinds[kind])
        values = {
            field: _typed(value, fields[field].form)
            for field, value in row.items()
            if field in fields and value not in (None, "")
        }
        known = case.network.lines[line].parts.get(name) if line in case.network.lines else None
        if known is not None and known.kind == kind:
            edits |= {
                f"network.lines.{line}.parts.{name}.{field}": value
                for field, value in values.items()
                if str(getattr(known, field)) != str(value)
            }
        else:
            edits[f"network.lines.{line}.parts.{name}"] = {"kind": kind, **values}
    if faults:
        raise EditError(faults)
    return edits


def _typed(value: str, form: str) -> Any:
    return value.strip().lower() == "true" if form == "flag" else value.strip()
