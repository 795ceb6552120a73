"""The menus of the window: every action once, with its key and what comes of it."""

from __future__ import annotations

from typing import Any

from PyQt6.QtGui import QKeySequence

from mop_lantern.desk.actions import Deed
from mop_lantern.desk.files.exporting import to_clipboard
from mop_lantern.desk.results.comfort_page import show_comfort
from mop_lantern.desk.sheet.in_series import ask_series
from mop_lantern.desk.stage.face_list import show_faces


def deeds_of(window: Any) -> list[Deed]:
    """What can be done from the menus and by keys."""
    return [*_file(window), *_edit(window), *_network(window), *_solver(window)] + [
        Deed("View", "First page", None, window.show_starters, "Begin from nothing or from a starter"),
        Deed(
            "View",
            "Night",
            "Ctrl+Shift+N",
            lambda: window.set_night(not window.night),
            "Light on dark, or dark on light",
        ),
        Deed(
            "View",
            "Comfort of the room",
            "Ctrl+Alt+R",
            lambda: show_comfort(window),
            "Every judgement of comfort with its limits, solved variants side by side",
        ),
        Deed("Help", "Manual", "F1", window.show_manual, "The manual, at what concerns the line you are on"),
        Deed("Help", "Shortcuts …", "Ctrl+F1", window.show_shortcuts, "All keys"),
    ]


def _file(window: Any) -> list[Deed]:
    keys = QKeySequence.StandardKey
    files, bringing, exports = window.files, window.bringing, window.exports
    return [
        Deed("File/New", "Plane", keys.New, files.new, "A flow domain of passages in a plane"),
        Deed(
            "File/New",
            "Around an axis",
            None,
            lambda: files.new("axis"),
            "A flow domain that turns about the x axis",
        ),
        Deed(
            "File/New",
            "Three-dimensional",
            None,
            lambda: files.new("space"),
            "A flow domain of solid parts",
        ),
        Deed("File/New", "Network", None, lambda: files.new("network"), "Pipes or ducts between nodes"),
        Deed("File", "Open …", keys.Open, files.ask, "Open a case from its file"),
        Deed("File", "Save", keys.Save, files.save, "Save the case in its file"),
        Deed("File", "Save as …", "Ctrl+Shift+S", files.save_as, "Save the case in another file"),
        Deed(
            "File/Import",
            "Drawing (DXF) …",
            None,
            bringing.ask_drawing,
            "Outlines of a plane from a drawing",
        ),
        Deed(
            "File/Import",
            "Model (STEP, STL, OBJ, PLY, GLB) …",
            None,
            bringing.models.ask,
            "Closed surfaces from a model file",
        ),
        Deed(
            "File/Import",
            "Table (CSV) …",
            None,
            bringing.ask_table,
            "Numbers that values may use as a function",
        ),
        Deed(
            "File/Import",
            "Measured data (CSV) …",
            None,
            lambda: bringing.ask_measured(window.session.line),
            "Points to compare with, along the line on the stage or over time",
        ),
        Deed(
            "File/Export",
            "Readings …",
            "Ctrl+E",
            exports.ask_readings,
            "All readings of all variants, as CSV",
        ),
        Deed("File/Export", "Picture …", None, exports.ask_picture, "The stage as PNG"),
        Deed(
            "File/Export",
            "Geometry (STEP, STL, OBJ, PLY, GLB) …",
            None,
            exports.ask_geometry,
            "The fluid and the solids of a space, with their names",
        ),
        Deed("File/Export", "Animation …", None, exports.ask_animation, "The kept states as MP4 or GIF"),
        Deed("File", "Quit", keys.Quit, window.close, "Leave; unsaved changes are asked about", parted=True),
    ]


def _edit(window: Any) -> list[Deed]:
    keys = QKeySequence.StandardKey
    return [
        Deed("Edit", "Undo", keys.Undo, window.document.undo, "Take the last edit back"),
        Deed("Edit", "Redo", keys.Redo, window.document.redo, "Do again what was taken back"),
        Deed(
            "Edit",
            "Copy readings",
            "Ctrl+Shift+C",
            lambda: window.tell(to_clipboard(window.ledger.as_text(), "readings")),
            "The readings of all variants, for a spreadsheet",
            parted=True,
        ),
        Deed(
            "Edit",
            "Copy curves",
            "Ctrl+Alt+C",
            lambda: window.tell(to_clipboard(window.traces.as_text(), "curves")),
            "The curves under the stage, for a spreadsheet",
        ),
        Deed("Edit", "Title …", "F2", window.ask_title, "What the case is called", parted=True),
        Deed(
            "Edit",
            "Find a line",
            "Ctrl+F",
            window.sheet.filter.setFocus,
            "Show the lines of the sheet with a word",
        ),
        Deed(
            "Edit",
            "Faces …",
            "Ctrl+Shift+F",
            lambda: show_faces(window),
            "All faces with their size, place and form: find, rename, take together",
        ),
        Deed(
            "Edit",
            "In series …",
            "Ctrl+Shift+I",
            lambda: ask_series(window),
            "Spread the patch of this line, with its opening, evenly over its face",
        ),
        Deed(
            "Edit",
            "Next line that needs attention",
            "F8",
            window.sheet.next_attention,
            "Go to the next caution or fault",
        ),
    ]


def _network(window: Any) -> list[Deed]:
    building = window.building
    return [
        Deed(
            "Network",
            "Add lines from words …",
            "Ctrl+Shift+R",
            building.ask_lines,
            "Type a line as a sentence",
        ),
        Deed(
            "Network",
            "Components as a table …",
            "Ctrl+T",
            building.show_table,
            "All components, to type and paste",
        ),
        Deed(
            "Network",
            "Balance …",
            "Ctrl+B",
            building.ask_balance,
            "Find openings that give lines a wanted flow",
        ),
        Deed(
            "Network",
            "Size …",
            "Ctrl+Shift+B",
            building.ask_sizes,
            "Choose pipes and ducts for their flows",
        ),
    ]


def _solver(window: Any) -> list[Deed]:
    engine = window.engine
    return [
        Deed("Solver", "Solve", "Ctrl+Return", window.solve, "Solve the chosen variant"),
        Deed("Solver", "Follow", "Ctrl+L", window.bar.follow.toggle, "Solve again at every edit"),
        Deed(
            "Solver",
            "Continue",
            None,
            lambda: window.solve(carry=True),
            "Go on from the field the solver holds",
        ),
        Deed("Solver", "Pause or go on", None, engine.pause, "Let the solver wait, or go on"),
        Deed("Solver", "Stop", None, engine.stop, "Stop, and keep what there is"),
        Deed(
            "Solver",
            "Grid error of the readings",
            None,
            window.solve_for_grid_error,
            "Solve on two coarser grids and put a band on every reading",
            parted=True,
        ),
        Deed(
            "Solver",
            "Begin from the state shown",
            None,
            window.begin_from_shown,
            "Let the next solution begin from what the stage shows",
        ),
        Deed(
            "Solver",
            "Store the answer again",
            None,
            window.storing.again,
            "Write an answer that could not be stored, once there is room",
        ),
    ]
