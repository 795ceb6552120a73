"""States a run in time has kept: one file each beside the run's record, newest N."""

from __future__ import annotations

import io
import zipfile
from pathlib import Path

import numpy as np

from mop_lantern.errors import FileError, because
from mop_lantern.grid import Mesh
from mop_lantern.judge import FieldResult
from mop_lantern.judge.packing import fitting, pack, unpack
from mop_lantern.results.whole import write_whole

FOLDER = "states"
NAME = "022.12f"  # of a state by its time in s: names in order, picoseconds apart


def keep_state(run: Path, answer: FieldResult, newest: int) -> None:
    """Store a state under its time and let the oldest beyond ``newest`` go.

    Raises
    ------
    FileError : it cannot be written.
    """
    folder = run / FOLDER
    try:
        folder.mkdir(exist_ok=True)
        made = io.BytesIO()
        np.savez(made, **pack(answer))
        write_whole(
            folder / f"{answer.time:{NAME}}.npz", made.getvalue(), f"the state at {answer.time:.6g} s"
        )
        for old in sorted(folder.glob("*.npz"))[:-newest]:
            old.unlink(missing_ok=True)
    except OSError as problem:
        raise FileError(
            f"{folder}: the state at {answer.time:.6g} s cannot be written ({problem.strerror}). Free "
            "some space."
        ) from None


def state_times(run: Path) -> list[float]:
    """Give the times of the states a run has kept, s, oldest first."""
    return sorted(_kept(run))


def _kept(run: Path) -> dict[float, Path]:
    """Give the files of the kept states by their time, s."""
    found = {}
    for path in (run / FOLDER).glob("*.npz"):
        try:
            found[float(path.stem)] = path
        except ValueError:
            continue
    return found


def open_state(run: Path, time: float, mesh: Mesh) -> FieldResult:
    """Read the kept state nearest to a time (s) on the run's mesh.

    Raises
    ------
    FileError : none was kept, or it cannot be read.
    """
    kept = _kept(run)
    if not kept:
        raise FileError(f"{run}: this solution has kept no states.")
    path = kept[min(kept, key=lambda there: abs(there - time))]
    try:
        size = path.stat().st_size
        with zipfile.ZipFile(path) as packed:
            if (
                sum(item.file_size for item in packed.infolist()) > size + 4096
            ):  # states are stored as they are: more is no state
                raise ValueError("it says it is larger than its file")
        with np.load(path) as stored:
            return fitting(unpack(mesh, {name: stored[name] for name in stored.files}))
    except Exception as problem:  # a damaged file makes the libraries fail in any way they like
        raise FileError(
            f"{path}: this state cannot be read{because(problem)}: the file is damaged. Choose another time."
        ) from None
