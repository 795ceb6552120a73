"""Settings of the person, kept from one session to the next."""

from __future__ import annotations

from PyQt6.QtCore import QSettings


def remembered() -> QSettings:
    """Give the settings of this program."""
    return QSettings("mop-lantern", "desk")
