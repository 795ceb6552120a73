"""What can be done from the menus and by keys."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass
from typing import Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu, QMenuBar, QWidget


@dataclass(frozen=True)
class Deed:
    """Something that can be done.

    Attributes
    ----------
    menu : where it is listed, as "File" or "File/Import". words : what it is called. key : None for none.
    do : does it. help : what comes of it. parted : a line is drawn before it.
    """

    menu: str
    words: str
    key: Any
    do: Callable[[], Any]
    help: str
    parted: bool = False


def make_actions(
    owner: QWidget, bar: QMenuBar, deeds: Sequence[Deed]
) -> tuple[dict[str, QMenu], dict[str, QAction]]:
    """Make the menus of a window, by their place, and every action, by its words."""
    menus: dict[str, QMenu] = {}
    actions = {}
    for deed in deeds:
        menu = _menu(owner, bar, menus, deed.menu)
        if deed.parted:
            menu.addSeparator()
        action = QAction(deed.words, owner)
        if deed.key is not None:
            action.setShortcut(QKeySequence(deed.key))
        action.setToolTip(deed.help)
        action.setStatusTip(deed.help)
        action.triggered.connect(lambda _=False, do=deed.do: do())
        owner.addAction(action)
        menu.addAction(action)
        actions[deed.words] = action
    return menus, actions


def _menu(owner: QWidget, bar: QMenuBar, menus: dict[str, QMenu], place: str) -> QMenu:
    """Give the menu of a place, made when it is first asked for."""
    if place not in menus:
        above, _, name = place.rpartition("/")
        made = QMenu(name, owner)
        made.setToolTipsVisible(True)
        if above:
            _menu(owner, bar, menus, above).addMenu(made)
        else:
            bar.addMenu(made)
        menus[place] = made
    return menus[place]
