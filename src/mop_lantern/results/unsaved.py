"""Runs of cases that have no file yet: a folder of their own each, gone with the case, moved along when it is
saved.
"""

from __future__ import annotations

import itertools
import os
import re
import shutil
from pathlib import Path

from mop_lantern.results.runs import numbered, state_folder

_NAME = re.compile(r"unsaved-(\d+)-\d+\.runs")
_numbers = itertools.count(1)


def unsaved_folder() -> Path:
    """Give the folder for the runs of one more case without a file; it is made by the first run."""
    return state_folder() / f"unsaved-{os.getpid()}-{next(_numbers)}.runs"


def forget_runs(folder: Path) -> None:
    """Let the runs of a case that was given up go."""
    if _NAME.fullmatch(folder.name):
        shutil.rmtree(folder, ignore_errors=True)


def sweep_unsaved() -> None:
    """Let runs go whose program has ended without doing so itself."""
    base = state_folder()
    for folder in base.glob("unsaved-*.runs") if base.is_dir() else ():
        found = _NAME.fullmatch(folder.name)
        if found and not _alive(int(found[1])):
            shutil.rmtree(folder, ignore_errors=True)


def move_runs(folder: Path, into: Path) -> bool:
    """Move runs to the folder of the file their case has now, behind those that are there; tell whether all
    went.
    """
    if not folder.is_dir():
        return True
    try:
        for variant in sorted(path for path in folder.iterdir() if path.is_dir()):
            goal = into / variant.name
            goal.mkdir(parents=True, exist_ok=True)
            last = max((number for number, _ in numbered(goal)), default=0)
            for number, (_, run) in enumerate(numbered(variant), last + 1):
                shutil.move(run, goal / f"{number:03d}")
    except OSError:
        return False
    shutil.rmtree(folder, ignore_errors=True)
    return True


def _alive(process: int) -> bool:
    try:
        os.kill(process, 0)
    except ProcessLookupError:
        return False
    except OSError:
        return True
    return True
