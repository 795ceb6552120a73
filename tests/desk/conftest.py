"""One application for all tests of the window."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication

from mop_lantern.desk.app import application


@pytest.fixture(scope="session")
def app() -> QApplication:
    """Keep one application: without a holder it would be taken away under the widgets."""
    return application()
