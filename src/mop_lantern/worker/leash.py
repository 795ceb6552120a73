"""A process that ends with the one that started it, also while it cannot listen yet."""

from __future__ import annotations

import ctypes
import signal

PARENT_DEATH = 1  # PR_SET_PDEATHSIG of Linux, prctl(2)


def end_with_caller(on: bool) -> None:
    """Let the system end this process when its caller ends, or no longer."""
    ctypes.CDLL(None).prctl(PARENT_DEATH, signal.SIGKILL if on else 0)
