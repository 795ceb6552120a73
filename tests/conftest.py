"""Shared by all tests: a home of their own, small cases, and a watch on leaked threads."""

from __future__ import annotations

import os
import threading
from collections.abc import Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

settings.register_profile("any_machine", deadline=None)  # no absolute times: another job may hold the cores
settings.load_profile("any_machine")

DEMOS = Path(__file__).parents[1] / "src" / "mop_lantern" / "demos"


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Keep settings and runs of a test out of the person's own."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "HOME"):
        monkeypatch.setenv(name, str(tmp_path / "home"))


LASTING = ("block", "execnet", "pytest", "Dummy", "asyncio")  # pools that live as long as the program


@pytest.fixture(autouse=True)
def no_leaked_threads() -> Iterator[None]:
    """Fail a test that leaves a thread behind."""
    before = set(threading.enumerate())
    yield
    left = [t for t in threading.enumerate() if t not in before and not t.name.startswith(LASTING)]
    for thread in left:
        thread.join(timeout=5)
    assert not [thread.name for thread in left if thread.is_alive()]


@pytest.fixture
def channel() -> dict[str, Any]:
    """Give a small channel case as plain data: 40 mm long, 10 mm wide, developed inflow, one outlet."""
    return {
        "title": "channel",
        "units": {"length": "mm", "pressure": "Pa"},
        "parameters": {"gap": {"value": "10 mm"}},
        "media": {"water": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
        "shape": {
            "depth": "1 m",
            "parts": {
                "run": {"kind": "straight", "start": ["0 mm", "0 mm"], "length": "40 mm", "width": "= gap"}
            },
        },
        "field": {
            "openings": {
                "in": {
                    "kind": "velocity",
                    "edge": "run.start",
                    "velocity": "10 mm/s",
                    "profile": "developed",
                },
                "out": {"kind": "static_pressure", "edge": "run.end", "pressure": "0 Pa"},
            },
            "grid": {"cell": "1.25 mm", "across": "4"},
            "solver": {"coarse": "0"},
        },
        "readings": {
            "drop": {"kind": "drop", "title": "Drop", "edge": "run.start", "to": "run.end"},
            "flow": {"kind": "flow", "title": "Outflow", "edge": "run.end"},
        },
        "variants": {"B": {"title": "wider", "edits": {"parameters.gap.value": "14 mm"}}},
    }
