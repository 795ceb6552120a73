"""Shared by all tests: a home of their own, small cases, and a watch on leaked threads."""

from __future__ import annotations

import os
import threading
from collections.abc import Callable, Iterator
from pathlib import Path
from typing import Any

import pytest
from hypothesis import settings

from mop_lantern.jobs import client
from tests.warm.brooding import Nest

os.environ.setdefault("QT_QPA_PLATFORM", "offscreen")
os.environ.setdefault("OPENBLAS_NUM_THREADS", "1")

settings.register_profile("any_machine", deadline=None)  # no absolute times: another job may hold the cores
settings.load_profile("any_machine")

DEMOS = Path(__file__).parents[1] / "src" / "mop_lantern" / "demos"


LONG = Path(__file__).with_name("long.txt")


def pytest_addoption(parser: pytest.Parser) -> None:
    """Let the long ones be asked for."""
    parser.addoption("--all", action="store_true", help="run the long tests (tests/long.txt) too")


def pytest_collection_modifyitems(config: pytest.Config, items: list[pytest.Item]) -> None:
    """Leave the long tests to ``--all``, unless one is asked for by its name or its file."""
    if config.getoption("--all") or any(".py" in word for word in config.args):
        return
    long = set(LONG.read_text("utf-8").splitlines())
    config.hook.pytest_deselected(items=[item for item in items if item.nodeid in long])
    items[:] = [item for item in items if item.nodeid not in long]


@pytest.fixture(autouse=True)
def own_home(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    """Keep settings and runs of a test out of the person's own."""
    for name in ("XDG_STATE_HOME", "XDG_CONFIG_HOME", "HOME"):
        monkeypatch.setenv(name, str(tmp_path / "home"))


@pytest.fixture(scope="session")
def nest() -> Iterator[Nest]:
    """Keep one process that all workers are forked from."""
    made = Nest()
    yield made
    made.close()


@pytest.fixture(autouse=True)
def warm_workers(
    request: pytest.FixtureRequest, nest: Nest, monkeypatch: pytest.MonkeyPatch
) -> Callable[[], list[str]] | None:
    """Let runs have workers that need not load the solvers first; not those of tests marked ``cold``."""
    if request.node.get_closest_marker("cold"):
        return None
    monkeypatch.setattr(client, "worker_command", nest.command)
    return nest.command


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
    return channel_case()


def channel_case() -> dict[str, Any]:
    """Give the channel, for what several tests share."""
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
