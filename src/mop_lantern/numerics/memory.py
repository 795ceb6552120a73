"""Giving memory back: what making a grid takes for a moment must not stand beside the solver's own arrays."""

from __future__ import annotations

import ctypes
import ctypes.util
from functools import cache
from typing import Any


@cache
def _library() -> Any:
    name = ctypes.util.find_library("c")
    return ctypes.CDLL(name) if name else None


def give_back() -> None:
    """Return freed memory to the system, where its library can."""
    trim = getattr(_library(), "malloc_trim", None)
    if trim is not None:
        trim(0)
