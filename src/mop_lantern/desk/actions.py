"""What can be done from the menu and by keys."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QWidget


@dataclass(frozen=True)
class Deed:
    """Something that can be done: its words, its key (None for none), what does it, and whether it stands in
    the menu.
    """

    words: str
    key: Any
    do: Callable[[], Any]
    listed: bool = True


def make_actions(owner: QWidget, deeds: Sequence[Deed]) -> tuple[QMenu, dict[str, QAction]]:
    """Make the menu of a window and every action by its words."""
    menu = QMenu(owner)
    actions = {}
    for deed in deeds:
        action = QAction(deed.words, owner)
        if deed.key is not None:
            action.setShortcut(QKeySequence(deed.key))
        action.triggered.connect(lambda _=False, do=deed.do: do())
        owner.addAction(action)
        actions[deed.words] = action
        if deed.listed:
            menu.addAction(action)
    return menu, actions
