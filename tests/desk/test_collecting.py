"""Lost objects are collected in the window's thread only."""

from __future__ import annotations

import gc
import threading
from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QObject
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.collecting import Collector


class Lost:
    """Holds itself, and notes the thread it goes in."""

    went: list[str] = []

    def __init__(self) -> None:
        self.self = self

    def __del__(self) -> None:
        self.went.append(threading.current_thread().name)


@pytest.fixture
def collector(app: QApplication) -> Iterator[Collector]:
    """Collect during one test, often."""
    thresholds = gc.get_threshold()
    parent = QObject()
    made = Collector(parent)
    gc.set_threshold(20, 1, 1)
    Lost.went.clear()
    yield made
    made.end()
    gc.set_threshold(*thresholds)


def test_lost_objects_wait_for_the_windows_thread(collector: Collector) -> None:
    def work() -> None:
        Lost()
        _ = [[number] for number in range(5000)]

    thread = threading.Thread(target=work, name="elsewhere")
    thread.start()
    thread.join()
    assert not Lost.went
    _ = [[number] for number in range(5000)]
    for _ in range(5):
        collector.collect()
    assert Lost.went == ["MainThread"]


def test_nothing_is_done_while_nothing_is_due(collector: Collector, monkeypatch: pytest.MonkeyPatch) -> None:
    gc.set_threshold(10_000_000, 10_000, 10_000)
    with monkeypatch.context() as patched:
        patched.setattr(gc, "collect", lambda generation: pytest.fail("collected"))
        collector.collect()


def test_python_collects_again_afterwards(collector: Collector) -> None:
    assert not gc.isenabled()
    collector.end()
    assert gc.isenabled()
