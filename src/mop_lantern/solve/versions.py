"""What a run was made with."""

from __future__ import annotations

import platform
from importlib.metadata import PackageNotFoundError, version

import numpy as np


def versions() -> dict[str, str]:
    """Give the versions of the program and of what it computes with."""
    try:
        own = version("mop-lantern")
    except PackageNotFoundError:
        own = "checkout"
    return {
        "mop-lantern": own,
        "python": platform.python_version(),
        "numpy": np.__version__,
    }
