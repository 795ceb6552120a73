"""Asks how many openings a series shall have, and adds them in one step of undo."""

from __future__ import annotations

from typing import Any

from PyQt6.QtWidgets import QInputDialog

from mop_lantern.case.series import parse_series, series_edits, series_name

HOW = "How many over the face of {name}, along it and across it, with the opening at each:"
WHICH = "Go to the line of a patch on a face, or of an opening at one; then ask for a series of them."


def ask_series(window: Any) -> None:
    """Ask for the series of the patch or opening whose line has the focus."""
    document = window.document
    name = series_name(document.shown, window.sheet.focused()) if document.shown is not None else ""
    if not name:
        document.troubled.emit(WHICH)
        return
    text, sure = QInputDialog.getText(window, "In series", HOW.format(name=name), text="4 x 2")
    if not sure:
        return
    shape = document.review.shape if document.review else None
    document.work_out(lambda case: series_edits(case, shape, name, parse_series(text)), f"series of {name}")
