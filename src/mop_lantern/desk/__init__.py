"""The window. It never solves: a worker process does."""

from __future__ import annotations

from pathlib import Path


def show(file: Path | None, shot: Path | None = None) -> int:
    """Open the window on a case file, or on the starters; with ``shot`` draw it into a picture and exit."""
    from mop_lantern.desk.app import run

    return run(file, shot)
