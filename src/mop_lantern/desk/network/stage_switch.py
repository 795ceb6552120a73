"""Chooses between the stage of the space and that of the network, where a case has both."""

from __future__ import annotations

from PyQt6.QtCore import pyqtSignal
from PyQt6.QtWidgets import QButtonGroup, QHBoxLayout, QPushButton, QWidget

from mop_lantern.case import Case

TIPS = {
    "Space": "Show the space and its field (both are solved together)",
    "Network": "Show the network and what flows in it (both are solved together)",
}


class StageSwitch(QWidget):
    """Two buttons over the stages; hidden where there is nothing to choose."""

    turned = pyqtSignal()

    def __init__(self) -> None:
        super().__init__()
        self.buttons: dict[str, QPushButton] = {}
        row = QHBoxLayout(self)
        row.setContentsMargins(8, 2, 8, 0)
        row.setSpacing(2)
        self._group = QButtonGroup(self)
        for words, tip in TIPS.items():
            button = QPushButton(words)
            button.setProperty("layer", "true")
            button.setCheckable(True)
            button.setToolTip(tip)
            button.setObjectName(f"stage:{words.lower()}")
            self._group.addButton(button)
            self.buttons[words] = button
            row.addWidget(button)
        self.buttons["Space"].setChecked(True)
        row.addStretch(1)
        self._group.buttonClicked.connect(lambda _: self.turned.emit())
        self.hide()

    @property
    def network(self) -> bool:
        """Whether the network is wanted."""
        return self.buttons["Network"].isChecked()

    def show_case(self, case: Case | None) -> None:
        """Offer the choice where a case has both."""
        self.setVisible(case is not None and has_both(case))


def has_both(case: Case) -> bool:
    """Whether a case has a space and a network."""
    return bool(case.network.lines) and bool(case.shape.parts or case.shape.solids)
