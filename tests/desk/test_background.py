"""Work behind the window: its result comes to the window, trouble comes in words, a stop brings nothing."""

from __future__ import annotations

import threading
import time
from typing import Any

import pytest
from PyQt6 import sip
from PyQt6.QtWidgets import QApplication, QWidget

from mop_lantern.desk.background import BackgroundTask
from mop_lantern.errors import FileError, LanternError
from tests.desk.test_window import wait


@pytest.fixture
def window(qapp: QApplication) -> Any:
    made = QWidget()
    yield made
    if not sip.isdeleted(made):
        made.deleteLater()


def test_the_result_comes_in_the_windows_own_thread(window: QWidget) -> None:
    got: list[Any] = []
    threads: list[str] = []
    work = BackgroundTask(
        window,
        "Counting …",
        lambda stop: (threads.append(threading.current_thread().name), 41 + 1)[1],
        lambda result: got.append((result, threading.current_thread() is threading.main_thread())),
        got.append,
    )
    assert work.running and not got, "not before the window turns to it"
    wait(lambda: not work.running)
    assert got == [(42, True)] and threads == ["behind"]


@pytest.mark.parametrize(
    ("raised", "says"),
    [
        (FileError("a.stl: it is damaged."), "a.stl: it is damaged."),
        (ZeroDivisionError("by nothing"), "could not be done: a fault of the program"),
    ],
)
def test_trouble_comes_in_words(window: QWidget, raised: Exception, says: str) -> None:
    told: list[LanternError] = []

    def fail(_: threading.Event) -> None:
        raise raised

    work = BackgroundTask(window, "", fail, lambda _: pytest.fail("there is no result"), told.append)
    assert work.dialog is None, "nothing need be shown"
    wait(lambda: not work.running)
    assert says in str(told[0])


def test_a_stop_is_felt_and_brings_nothing(window: QWidget) -> None:
    """The window ticks on meanwhile."""
    ended: list[float] = []

    def slow(stop: threading.Event) -> str:
        stop.wait(20)
        ended.append(time.monotonic())
        return "late"

    work = BackgroundTask(
        window,
        "Waiting …",
        slow,
        lambda _: pytest.fail("it was stopped"),
        lambda _: pytest.fail("it was stopped"),
    )
    began = time.monotonic()
    for _ in range(5):
        QApplication.processEvents()
    assert time.monotonic() - began < 2 and work.running
    assert work.dialog is not None
    work.dialog.canceled.emit()
    wait(lambda: not work.running)
    assert len(ended) == 1 and ended[0] - began < 10


def test_a_window_that_goes_takes_no_harm(window: QWidget) -> None:
    release = threading.Event()
    before = set(threading.enumerate())
    BackgroundTask(
        window,
        "",
        lambda _: release.wait(20),
        lambda _: pytest.fail("the window has gone"),
        lambda _: pytest.fail("the window has gone"),
    )
    thread = next(iter(set(threading.enumerate()) - before))
    window.deleteLater()
    QApplication.sendPostedEvents(None, 52)  # what is to be deleted later is deleted now
    release.set()
    thread.join(10)
    assert not thread.is_alive()
