"""Run folders ``NAME.runs/VARIANT/NNN``: what was solved, on what, how it went, how far to trust it."""

from __future__ import annotations

import csv
import json
import os
import shutil
from dataclasses import asdict, dataclass, field
from pathlib import Path
from typing import Any

from mop_lantern.errors import FileError
from mop_lantern.judge import Answer, Working
from mop_lantern.results.cellfile import read_field, write_field

BASE = "as-drawn"


@dataclass(frozen=True)
class RunRecord:
    """The record of a run, as stored in ``run.json``.

    Attributes
    ----------
    case : the document as solved (its variant not applied). variant : id or "". readings : by id, SI value, unit, title.
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
    folder: str = ""


def runs_folder(case_path: Path | None) -> Path:
    """Give the folder runs of a case go to: beside its file, or the state folder for demos and unsaved cases."""
    package = Path(__file__).parents[1]
    if case_path is not None and package not in case_path.resolve().parents and os.access(case_path.resolve().parent, os.W_OK):
        return case_path.resolve().with_suffix(".runs")
    state = Path(os.environ.get("XDG_STATE_HOME") or Path.home() / ".local" / "state")
    return state / "mop-lantern" / f"{case_path.stem if case_path else 'unsaved'}.runs"


def new_run(folder: Path, variant: str) -> Path:
    """Make the next run folder of a variant.

    Raises
    ------
    FileError : it cannot be made.
    """
    parent = folder / (variant or BASE)
    try:
        parent.mkdir(parents=True, exist_ok=True)
        number = max((int(p.name) for p in parent.iterdir() if p.name.isdigit()), default=0) + 1
        made = parent / f"{number:03d}"
        made.mkdir()
    except OSError as problem:
        raise FileError(f"{parent}: no run folder can be made here ({problem.strerror}). Choose another with --out.") from None
    return made


def save_run(folder: Path, record: RunRecord, answer: Answer, keep: int) -> None:
    """Write a run; the oldest beyond the newest ``keep`` of its variant go.

    Raises
    ------
    FileError : it cannot be written.
    """
    write_field(folder / "field.vtkhdf", answer)
    _store(folder, record, keep)


def save_network(folder: Path, record: RunRecord, working: Working, keep: int) -> None:
    """Write the run of a network; the oldest beyond the newest ``keep`` of its variant go.

    Raises
    ------
    FileError : it cannot be written.
    """
    try:
        (folder / "network.json").write_text(json.dumps(working.as_data(), indent=1), "utf-8")
    except OSError as problem:
        raise FileError(f"{folder}: the run cannot be written ({problem.strerror}).") from None
    _store(folder, record, keep)


def open_working(folder: Path) -> Working:
    """Read the network of a run.

    Raises
    ------
    FileError : there is none.
    """
    try:
        return Working.of(json.loads((folder / "network.json").read_text("utf-8")))
    except (OSError, ValueError, TypeError, KeyError) as problem:
        raise FileError(f"{folder}: no network can be read here ({problem}).") from None


def _store(folder: Path, record: RunRecord, keep: int) -> None:
    try:
        with (folder / "traces.csv").open("w", newline="", encoding="utf-8") as out:
            table = csv.writer(out)
            table.writerow(record.traces)
            table.writerows(zip(*record.traces.values(), strict=True))
        stored = asdict(record)
        stored.pop("traces")
        stored.pop("folder")
        (folder / "run.json").write_text(json.dumps(stored, indent=1, ensure_ascii=False), "utf-8")
    except OSError as problem:
        raise FileError(f"{folder}: the run cannot be written ({problem.strerror}).") from None
    old = sorted(p for p in folder.parent.iterdir() if p.name.isdigit())[:-keep]
    for run in old:
        shutil.rmtree(run, ignore_errors=True)


def load_run(folder: Path) -> RunRecord:
    """Read the record of a run.

    Raises
    ------
    FileError : the folder holds no run.
    """
    try:
        stored = json.loads((folder / "run.json").read_text("utf-8"))
        traces: dict[str, list[float]] = {}
        if (folder / "traces.csv").exists():
            with (folder / "traces.csv").open(encoding="utf-8") as file:
                rows = list(csv.reader(file))
            traces = {name: [float(row[k]) for row in rows[1:]] for k, name in enumerate(rows[0])} if rows else {}
        return RunRecord(**stored, traces=traces, folder=str(folder))
    except (OSError, ValueError, TypeError) as problem:
        raise FileError(f"{folder}: this is not the folder of a run ({problem}).") from None


def open_answer(folder: Path) -> Answer:
    """Read the field of a run."""
    return read_field(folder / "field.vtkhdf")


def keep_step(folder: Path, number: int, answer: Answer) -> None:
    """Store the field on a grid of an adapted solve (0 the first)."""
    write_field(folder / f"step{number}.vtkhdf", answer)


def open_step(folder: Path, number: int) -> Answer:
    """Read a field stored by `keep_step`."""
    return read_field(folder / f"step{number}.vtkhdf")


def latest(folder: Path, variant: str) -> Path | None:
    """Give the newest complete run of a variant, or None."""
    parent = folder / (variant or BASE)
    if not parent.is_dir():
        return None
    runs = sorted(p for p in parent.iterdir() if p.name.isdigit() and (p / "run.json").exists())
    return runs[-1] if runs else None
