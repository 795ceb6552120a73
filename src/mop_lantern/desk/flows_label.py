"""Keeps in view how much enters a space and leaves it in all."""

from __future__ import annotations

from PyQt6.QtWidgets import QLabel

from mop_lantern.case import Review
from mop_lantern.judge.totals import totals_of
from mop_lantern.units import preferred


class FlowsLabel(QLabel):
    """Total flow in and out at the edge of the window; where both are given and differ, with a link that
    makes them equal (``linkActivated``).
    """

    def __init__(self) -> None:
        super().__init__("")
        self.setObjectName("flows")

    def tell(self, result: Review) -> None:
        """Tell the flows of a case that has been looked through; nothing where none is given."""
        if result.facts is None:
            self.clear()
            self.setToolTip("")
            return
        totals = totals_of(result.facts)
        unit = preferred("volume_flow", result.case.units)
        equal = ' · <a href="equal">make equal</a>' if totals.unequal else ""
        self.setText(totals.briefly(unit) + equal)
        self.setToolTip(totals.told(unit))
