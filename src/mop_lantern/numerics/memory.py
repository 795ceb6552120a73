"""Memory: whether there is room before it is taken, and giving back what making a grid took for a moment."""

from __future__ import annotations

import ctypes
import ctypes.util
from functools import cache
from pathlib import Path
from typing import Any

from mop_lantern.errors import RunError

A_CELL = 1500.0  # bytes a cell of a flow takes, grid and solver together (measured)
SPARE = 0.9  # of what is free
UNKNOWN = 8e9  # bytes taken to be free where the system does not tell


@cache
def _library() -> Any:
    name = ctypes.util.find_library("c")
    return ctypes.CDLL(name) if name else None


def trim_heap() -> None:
    """Return freed memory to the system, where its library can."""
    trim = getattr(_library(), "malloc_trim", None)
    if trim is not None:
        trim(0)


def free_memory() -> float:
    """Give the memory that can still be had, bytes: of the machine, and of the group this process is in."""
    found = [UNKNOWN]
    try:
        for line in Path("/proc/meminfo").read_text("ascii").splitlines():
            if line.startswith("MemAvailable:"):
                found = [1024.0 * int(line.split()[1])]
        limit = Path("/sys/fs/cgroup/memory.max").read_text("ascii").strip()
        if limit != "max":
            found.append(
                max(0.0, float(limit) - float(Path("/sys/fs/cgroup/memory.current").read_text("ascii")))
            )
    except (OSError, ValueError, IndexError):
        pass
    return min(found)


def room_for_cells(cells: float, remedy: str = "Make the cells larger.") -> None:
    """Let a grid be made only if there is room for it and for its flow.

    Raises
    ------
    RunError : there is not; it says how much would be needed.
    """
    needed = cells * A_CELL
    free = free_memory()
    if needed > SPARE * free:
        raise RunError(
            (
                f"about {cells:.2g} cells would need {needed / 1e9:.3g} GB, and {free / 1e9:.3g} GB of "
                "memory are free."
            ),
            "field.grid",
            remedy,
        )
