"""What can be done from the menu and by keys: words, key, deed."""

from __future__ import annotations

from typing import TYPE_CHECKING, Any

from PyQt6.QtGui import QAction, QKeySequence
from PyQt6.QtWidgets import QMenu

if TYPE_CHECKING:
    from mop_lantern.desk.window import Desk


def make_actions(desk: Desk) -> tuple[QMenu, dict[str, QAction]]:
    """Make the menu of a window and every action by its words; some have keys only."""
    keys = QKeySequence.StandardKey
    plan: list[tuple[str, Any, Any, bool]] = [
        ("New, empty", keys.New, desk.new, True),
        ("Starters …", None, desk.show_starters, True),
        ("Open …", keys.Open, desk.ask_open, True),
        ("Save", keys.Save, desk.save, True),
        ("Save as …", QKeySequence("Ctrl+Shift+S"), desk.save_as, True),
        ("Import drawing (DXF) …", None, desk.bringing.ask_drawing, True),
        ("Import model (STEP, STL, OBJ, PLY, GLB) …", None, desk.bringing.ask_model, True),
        ("Import table (CSV) …", None, desk.bringing.ask_table, True),
        ("Import measured data (CSV) …", None, lambda: desk.bringing.ask_measured(desk.session.line), True),
        ("Add runs from lines …", QKeySequence("Ctrl+Shift+R"), desk.building.ask_lines, True),
        ("Balance …", QKeySequence("Ctrl+B"), desk.building.ask_balance, True),
        ("Size …", QKeySequence("Ctrl+Shift+B"), desk.building.ask_sizes, True),
        ("Components as a table …", QKeySequence("Ctrl+T"), desk.building.show_table, True),
        ("Title …", QKeySequence("F2"), desk.ask_title, True),
        ("Export readings …", QKeySequence("Ctrl+E"), desk.ask_export_readings, True),
        ("Export picture …", None, desk.ask_export_picture, True),
        ("Export animation …", None, desk.ask_export_animation, True),
        ("Begin from the state shown", None, desk.begin_from_shown, True),
        ("Store the answer again", None, desk.storing.again, True),
        ("Copy readings", QKeySequence("Ctrl+Shift+C"), desk.copy_readings, True),
        ("Copy curves", QKeySequence("Ctrl+Alt+C"), desk.copy_curves, True),
        ("Manual", QKeySequence("F1"), desk.show_manual, True),
        ("Shortcuts …", QKeySequence("Ctrl+F1"), desk.show_shortcuts, True),
        ("Quit", keys.Quit, desk.close, True),
        ("Undo", keys.Undo, desk.document.undo, False),
        ("Redo", keys.Redo, desk.document.redo, False),
        ("Solve", QKeySequence("Ctrl+Return"), desk.solve, False),
        ("Next line that needs attention", QKeySequence("F8"), desk.sheet.next_attention, False),
        ("Find a line", QKeySequence("Ctrl+F"), desk.sheet.filter.setFocus, False),
        ("Follow", QKeySequence("Ctrl+L"), desk.bar.follow.toggle, False),
        ("Night", QKeySequence("Ctrl+Shift+N"), lambda: desk.set_night(not desk.night), False),
    ]
    menu = QMenu(desk)
    actions = {}
    for words, key, slot, listed in plan:
        action = QAction(words, desk)
        if key is not None:
            action.setShortcut(QKeySequence(key))
        action.triggered.connect(lambda _=False, s=slot: s())
        desk.addAction(action)
        actions[words] = action
        if listed:
            menu.addAction(action)
    return menu, actions
