"""One application for all tests of the window."""

from __future__ import annotations

import gc
from collections.abc import Callable, Iterator

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent, QTimer
from PyQt6.QtWidgets import QApplication, QMenu

from mop_lantern.desk import engine
from mop_lantern.desk.app import application


@pytest.fixture(scope="session")
def app() -> QApplication:
    """Keep one application: without a holder it would be taken away under the widgets."""
    found = application()
    gc.collect()
    gc.freeze()  # all that is loaded: looking through it after every test would take longer than most tests
    return found


@pytest.fixture(autouse=True)
def warm_windows(warm_workers: Callable[[], list[str]] | None, monkeypatch: pytest.MonkeyPatch) -> None:
    """Let windows have workers that need not load the solvers first."""
    if warm_workers is not None:
        monkeypatch.setattr(engine, "worker_command", warm_workers)


@pytest.fixture(autouse=True)
def swept(app: QApplication) -> Iterator[None]:
    """Let windows of a test go for good, and fail one that leaves a window open or a timer running.

    `processEvents` leaves deleted widgets, and every window left makes the next one slower.
    """
    before = {id(widget) for widget in app.topLevelWidgets()}
    gc.disable()  # as in the program: a window is never taken apart in the reviewer's thread
    yield
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.enable()
    gc.collect()
    left = [w for w in app.topLevelWidgets() if id(w) not in before and w.isVisible()]
    named = [type(widget).__name__ for widget in left if not isinstance(widget, QMenu)]
    running = [timer for timer in gc.get_objects() if isinstance(timer, QTimer) and _runs(timer)]
    gc.freeze()  # what is still there now lasts: the next test need not look through it again
    assert not named, "a window is left open"
    assert not running, "a timer is left running"


def _runs(timer: QTimer) -> bool:
    try:
        return timer.isActive()
    except RuntimeError:
        return False  # gone with its window
