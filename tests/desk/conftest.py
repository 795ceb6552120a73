"""One application for all tests of the window."""

from __future__ import annotations

import gc
from collections.abc import Iterator

import pytest
from PyQt6.QtCore import QCoreApplication, QEvent
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.app import application


@pytest.fixture(scope="session")
def app() -> QApplication:
    """Keep one application: without a holder it would be taken away under the widgets."""
    return application()


@pytest.fixture(autouse=True)
def swept(app: QApplication) -> Iterator[None]:
    """Let windows of a test go for good: `processEvents` leaves them, and every window left makes the next
    one slower.
    """
    yield
    QCoreApplication.sendPostedEvents(None, QEvent.Type.DeferredDelete)
    gc.collect()
