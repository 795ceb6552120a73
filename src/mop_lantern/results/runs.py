"""Run folders ``NAME.runs/VARIANT/NNN``: what was solved, on what, how it went, how far to trust it."""

from __future__ import annotations

import csv
import io
import json
import os
import re
import shutil
from dataclasses import dataclass, field, fields
from pathlib import Path
from typing import Any

from mop_lantern.case.migrations import migrated
from mop_lantern.errors import FileError, because
from mop_lantern.judge import FieldResult, NetworkResult
from mop_lantern.results.cellfile import read_field, write_field
from mop_lantern.results.whole import write_whole
from mop_lantern.units import DIMENSIONS

BASE = "base"
FORMER_BASE = "as-drawn"  # what the base was called
LARGEST = 400_000_000  # bytes of a record or of traces
MANY = 500  # lines of a network
_NUMBER = re.compile(r"[0-9]{1,9}")


@dataclass(frozen=True)
class RunRecord:
    """The record of a run, as stored in ``run.json``.

    Attributes
    ----------
    case : the document as solved (its variant not applied). variant : id or "". readings : by id, SI value,
    unit, title.
    standard : readings nobody asked for, by WHERE.WHAT, kept as the readings are. verdict : rows of what a
    standard says of the comfort in a room.
    cycles : cells, size (m) and readings of every grid of an adapted solve, coarsest first.
    trust : items of the trust list. traces : column name to values, one an iteration tracked.
    """

    case: dict[str, Any]
    variant: str
    readings: dict[str, Any]
    trust: list[dict[str, Any]]
    converged: bool
    iterations: int
    cells: int
    seconds: float
    grid: dict[str, Any]
    versions: dict[str, str]
    traces: dict[str, list[float]] = field(default_factory=dict)
    edits: dict[str, Any] = field(default_factory=dict)
    cycles: list[dict[str, Any]] = field(default_factory=list)
    standard: dict[str, Any] = field(default_factory=dict)
    verdict: list[dict[str, Any]] = field(default_factory=list)
    folder: str = ""


def state_folder() -> Path:
    """Give the folder of what the program keeps for itself."""
    state = Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state")
    return state / "mop-lantern"


def runs_folder(case_path: Path) -> Path:
    """Give the folder runs of a case go to: beside its file, or for demos a state folder."""
    package = Path(__file__).parents[1]
    whole = case_path.resolve()
    if package not in whole.parents and os.access(whole.parent, os.W_OK):
        return whole.with_suffix(".runs")
    return state_folder() / f"{case_path.stem}.runs"


def variant_folder(folder: Path, variant: str) -> Path:
    """Give the folder runs of a variant go to; one that is called as the base's gets a mark no id may
    have. What was stored for the base under its former name is gone on with.
    """
    if not variant and not (folder / BASE).is_dir() and (folder / FORMER_BASE).is_dir():
        return folder / FORMER_BASE
    return folder / (BASE if not variant else variant if variant != BASE else f"{BASE}+")


def numbered(parent: Path) -> list[tuple[int, Path]]:
    """Give the run folders in a folder by number, lowest first; whatever else lies there is passed over."""
    if not parent.is_dir():
        return []
    found = [
        (int(path.name), path) for path in parent.iterdir() if _NUMBER.fullmatch(path.name) and path.is_dir()
    ]
    return sorted(found)


def new_run(folder: Path, variant: str) -> Path:
    """Make the next run folder of a variant.

    Raises
    ------
    FileError : it cannot be made.
    """
    parent = variant_folder(folder, variant)
    try:
        parent.mkdir(parents=True, exist_ok=True)
        number = max((number for number, _ in numbered(parent)), default=0)
        while True:
            number += 1
            made = parent / f"{number:03d}"
            try:
                made.mkdir()
                break
            except FileExistsError:  # another process, or a file of that name
                continue
    except OSError as problem:
        raise FileError(
            f"{parent}: no folder for the solution can be made here ({problem.strerror}). Choose another "
            f"with --out."
        ) from None
    return made


def save_run(
    folder: Path,
    record: RunRecord,
    answer: FieldResult,
    keep: int,
) -> None:
    """Write a run; the oldest beyond the newest ``keep`` of its variant go.

    Raises
    ------
    FileError : it cannot be written.
    """
    write_field(folder / "field.vtkhdf", answer)
    _store(folder, record, keep)


def save_network(
    folder: Path,
    record: RunRecord,
    working: NetworkResult,
    keep: int,
) -> None:
    """Write the run of a network; the oldest beyond the newest ``keep`` of its variant go.

    Raises
    ------
    FileError : it cannot be written.
    """
    write_whole(folder / "network.json", _as_json(working.as_data(), len(working.lines)), "the network")
    _store(folder, record, keep)


def save_both(
    folder: Path,
    record: RunRecord,
    answer: FieldResult,
    working: NetworkResult,
    keep: int,
) -> None:
    """Write the run of a case that has a space and a network; the oldest beyond the newest ``keep`` go.

    Raises
    ------
    FileError : it cannot be written.
    """
    write_field(folder / "field.vtkhdf", answer)
    save_network(folder, record, working, keep)


def open_working(folder: Path) -> NetworkResult:
    """Read the network of a run.

    Raises
    ------
    FileError : there is none.
    """
    try:
        return NetworkResult.of(_json(folder / "network.json"))
    except Exception as problem:  # damaged data fail in any way they like
        raise FileError(f"{folder}: no network can be read here{because(problem)}. Solve again.") from None


def _store(folder: Path, record: RunRecord, keep: int) -> None:
    """Write traces and record, the record last: a run without one is not complete, and passed over."""
    out = io.StringIO(newline="")
    table = csv.writer(out)
    table.writerow(record.traces)
    table.writerows(zip(*record.traces.values(), strict=True))
    write_whole(folder / "traces.csv", out.getvalue().encode(), "the solution")
    stored = {
        item.name: getattr(record, item.name)
        for item in fields(record)
        if item.name not in ("traces", "folder")
    }
    write_whole(
        folder / "run.json",
        _as_json(stored, len(record.case.get("network", {}).get("lines", ()))),
        "the solution",
    )
    for _, run in numbered(folder.parent)[: -max(keep, 1)]:
        if run != folder:
            shutil.rmtree(run, ignore_errors=True)


def load_run(folder: Path) -> RunRecord:
    """Read the record of a run.

    Raises
    ------
    FileError : the folder holds no run.
    """
    try:
        stored = _json(folder / "run.json")
        stored["case"] = migrated(stored["case"])
        known = {item.name for item in fields(RunRecord)} - {"traces", "folder"}
        record = RunRecord(
            **{name: value for name, value in stored.items() if name in known},
            traces=_traces(folder / "traces.csv"),
            folder=str(folder),
        )
        return _whole(record)
    except Exception as problem:  # damaged data fail in any way they like
        raise FileError(
            f"{folder}: this is not the folder of a solution, or it is damaged{because(problem)}. Solve "
            f"again."
            ""
        ) from None


def _as_json(data: Any, size: int) -> bytes:
    """Write data for people to read, or fast where they are many."""
    return json.dumps(data, indent=1 if size < MANY else None, ensure_ascii=False).encode("utf-8", "replace")


def _json(path: Path) -> Any:
    if path.stat().st_size > LARGEST:
        raise ValueError("the file is larger than a record can be")
    return json.loads(path.read_text("utf-8"))


def _traces(path: Path) -> dict[str, list[float]]:
    if not path.exists():
        return {}
    if path.stat().st_size > LARGEST:
        raise ValueError("the traces are larger than they can be")
    with path.open(encoding="utf-8", newline="") as file:
        rows = list(csv.reader(file))
    if not rows:
        return {}
    if any(len(row) != len(rows[0]) for row in rows):
        raise ValueError("the traces are ragged")
    return {name: [float(row[k]) for row in rows[1:]] for k, name in enumerate(rows[0])}


def _whole(record: RunRecord) -> RunRecord:
    """Give the record if it holds what a record holds.

    Raises
    ------
    ValueError, KeyError, TypeError : it does not.
    """
    number = (int, float)
    for key, reading in (*record.readings.items(), *record.standard.items()):
        if (
            reading["dimension"] not in DIMENSIONS
            or not isinstance(reading["title"], str)
            or not isinstance(reading["value"], (*number, type(None)))
        ):
            raise ValueError(f"the reading {key} is damaged")
    for item in record.trust:
        if not (
            isinstance(item["id"], str)
            and isinstance(item["text"], str)
            and item["verdict"] in ("holds", "caution", "fails")
        ):
            raise ValueError("the trust list is damaged")
    kinds = {
        "case": dict,
        "variant": str,
        "grid": dict,
        "versions": dict,
        "edits": dict,
        "cycles": list,
        "converged": bool,
        "iterations": int,
        "cells": int,
        "seconds": number,
    }
    for name, kind in kinds.items():
        if not isinstance(getattr(record, name), kind):  # type: ignore[arg-type]
            raise ValueError(f"{name} is damaged")
    for cycle in record.cycles:
        if not (isinstance(cycle["cells"], int) and isinstance(cycle["readings"], dict)):
            raise ValueError("the grids are damaged")
    return record


def open_answer(folder: Path) -> FieldResult:
    """Read the field of a run."""
    return read_field(folder / "field.vtkhdf")


def keep_step(folder: Path, number: int, answer: FieldResult) -> None:
    """Store the field on a grid of an adapted solve (0 the first)."""
    write_field(folder / f"step{number}.vtkhdf", answer)


def open_step(folder: Path, number: int) -> FieldResult:
    """Read a field stored by `keep_step`."""
    return read_field(folder / f"step{number}.vtkhdf")


def latest(folder: Path, variant: str) -> Path | None:
    """Give the folder of the newest run of a variant that can be read, or None."""
    record, _ = newest_record(folder, variant)
    return Path(record.folder) if record is not None else None


def newest_record(folder: Path, variant: str) -> tuple[RunRecord | None, list[str]]:
    """Give the newest run of a variant that can be read, or None, and what was wrong with newer ones."""
    skipped: list[str] = []
    for _, run in reversed(numbered(variant_folder(folder, variant))):
        if not (run / "run.json").exists():
            continue  # never completed
        try:
            return load_run(run), skipped
        except FileError as problem:
            skipped.append(str(problem))
    return None, skipped
