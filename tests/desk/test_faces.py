"""Faces of a space under the hand, in the real window: picked, opened, read, taken together, patched, hidden;
handles dragged.
"""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, Qt
from PyQt6.QtGui import QContextMenuEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu

from mop_lantern.desk.stage.tools.patch import PatchTool
from mop_lantern.desk.window import Desk
from mop_lantern.shape.alike import in_plane_with, named_alike, touching
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_space_stage import mouse
from tests.desk.test_window import wait

pytestmark = [
    pytest.mark.filterwarnings("ignore::DeprecationWarning"),
    pytest.mark.parametrize("desk", ["inlet-box"], indirect=True),
]


def pixel(desk: Desk, place: Any) -> QPoint:  # noqa: F811
    """Give the pixel of a place (m)."""
    view = desk.stage.view
    return QPoint(
        *(round(part) for part in view.ensure().to_pixel(np.asarray(place), (view.width(), view.height())))
    )


def settled(desk: Desk) -> Any:  # noqa: F811
    """Wait for the review of the case as it stands, and give the case."""
    wait(lambda: desk.document.review is not None and desk.document.review.case == desk.document.shown, 20.0)
    return desk.document.shown


def entries(menu: QMenu | None) -> dict[str, Any]:
    """Give the entries of a menu and its submenus by their words."""
    assert menu is not None
    found = {}
    for action in menu.actions():
        found[action.text()] = action
        if action.menu():
            found |= entries(action.menu())
    return found


def test_a_face_is_picked_and_made_an_opening(desk: Desk) -> None:  # noqa: F811
    view, faces = desk.stage.view, desk.faces
    desk.stage.handles_button.setChecked(True)
    at = pixel(desk, [0.06, 0.24, 0.02])  # on the far wall
    bare = view.ensure().image((400, 300)).copy()
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert (
        faces.chosen == ["box.north"] and "box.north" in desk.status.text() and desk.following.part == "box"
    )
    assert (view.ensure().image((400, 300)) != bare).any(), "the chosen face is marked"
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=at)
    assert faces.chosen != ["box.north"], "the same spot again takes the face behind"
    menu = entries(faces.menu_at(at))
    menu["Given volume flow"].trigger()
    case = settled(desk)
    [opening] = [item for item in case.field.openings.values() if item.edge == "box.north"]
    assert opening.kind == "volume_flow" and opening.way == "in"
    entries(faces.menu_at(at))["Let it flow out"].trigger()
    case = settled(desk)
    [(key, opening)] = [(key, item) for key, item in case.field.openings.items() if item.edge == "box.north"]
    assert opening.way == "out"
    entries(faces.menu_at(at))[f"Close its opening {key}"].trigger()
    assert settled(desk).field.openings.keys() == {"feed", "left", "middle", "right"}
    for _ in range(3):
        desk.document.undo()
    settled(desk)
    assert not desk.document.dirty or desk.document.case == desk.document._saved


def test_faces_are_chosen_together_read_and_hidden(desk: Desk) -> None:  # noqa: F811
    view, faces = desk.stage.view, desk.faces
    desk.stage.handles_button.setChecked(True)
    surface = view.ensure().surface
    assert surface is not None
    assert set(touching(surface, "box.top")) == {"box.top", "box.north", "box.south", "box.west", "box.east"}
    assert set(in_plane_with(surface, "left.face")) == {"left.face", "middle.face", "right.face", "box.east"}
    assert set(named_alike(surface, "left.face")) == {"left.face", "middle.face", "right.face"}
    first, second = pixel(desk, [0.06, 0.24, 0.02]), pixel(desk, [0.11, 0.12, 0.0])
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, pos=first)
    QTest.mouseClick(view, Qt.MouseButton.LeftButton, Qt.KeyboardModifier.ControlModifier, second)
    assert faces.chosen == ["box.north", "box.bottom"]
    words = next(
        action
        for action in entries(faces.menu_at(first)).values()
        if action.text().startswith("Take these 2")
    )
    words.trigger()
    assert settled(desk).shape.solids["faces1"].faces == ("box.north", "box.bottom") and faces.chosen == [
        "faces1.face"
    ]
    wait(lambda: view.ensure().surface is not surface, 10.0)
    assert "faces1.face" in view.ensure().surface.edge_lengths  # type: ignore[union-attr]
    path = faces.condition("readings", "force", ["faces1.face"])
    assert path and settled(desk).readings[path.split(".")[1]].edge == "faces1.face"
    shown = view.ensure().image((400, 300)).copy()
    entries(faces.menu_at(first))["Hide it"].trigger()
    assert (view.ensure().image((400, 300)) != shown).any() and "faces1.face" not in [
        one.name for one in faces.under(first)
    ]
    entries(faces.menu_at(first))["Show all faces"].trigger()
    assert (view.ensure().image((400, 300)) == shown).all()
    entries(faces.menu_at(first))["as translucent"].trigger()
    assert (view.ensure().image((400, 300)) != shown).any()


def test_a_patch_is_drawn_on_a_face(desk: Desk) -> None:  # noqa: F811
    view, faces = desk.stage.view, desk.faces
    desk.stage.handles_button.setChecked(True)
    corners = pixel(desk, [0.03, 0.24, 0.03]), pixel(desk, [0.08, 0.24, 0.06])
    entries(faces.menu_at(corners[0]))["Rectangle: drag from corner to corner"].trigger()
    assert isinstance(view.tool, PatchTool)
    mouse(view, QEvent.Type.MouseButtonPress, corners[0].x(), corners[0].y())
    mouse(view, QEvent.Type.MouseMove, corners[1].x(), corners[1].y())
    view.grab()
    mouse(view, QEvent.Type.MouseButtonRelease, corners[1].x(), corners[1].y())
    case = settled(desk)
    patch = case.shape.solids["patch1"]
    assert (
        (patch.on, patch.outline) == ("box.north", "rectangular")
        and faces.chosen == ["patch1.face"]
        and view.tool is view.hands
    )
    assert desk.document.review is not None and desk.document.review.shape is not None
    assert desk.document.review.shape.edge_lengths["patch1.face"] == pytest.approx(0.05 * 0.03, rel=0.08), (
        "to a pixel"
    )
    assert desk.document.review.shape.face("patch1.face")[0] == pytest.approx(
        [0.055, 0.24, 0.045], abs=1.5e-3
    )
    entries(faces.menu_at(corners[0]))["Disc: drag from its centre to its edge"].trigger()
    QTest.keyClick(view, Qt.Key.Key_Escape)
    assert view.tool is view.hands, "Esc lays nothing"


def test_a_part_is_moved_and_scaled_by_its_handles(desk: Desk) -> None:  # noqa: F811
    view = desk.stage.view
    desk.stage.handles_button.setChecked(True)
    desk.following.pick("baffle.front")
    wait(lambda: any(handle.path.endswith("baffle.height") for handle in view.hands.handles), 10.0)
    handle = next(handle for handle in view.hands.handles if handle.path.endswith("baffle.height"))
    begin = pixel(desk, handle.at)
    end = pixel(desk, handle.at + 0.01 * handle.pull / np.linalg.norm(handle.pull))  # type: ignore[operator, arg-type]
    mouse(view, QEvent.Type.MouseButtonPress, begin.x(), begin.y())
    mouse(view, QEvent.Type.MouseMove, end.x(), end.y())
    mouse(view, QEvent.Type.MouseButtonRelease, end.x(), end.y())
    height = float(settled(desk).shape.solids["baffle"].height.split()[0])
    assert height == pytest.approx(60 + 20, abs=2.0), (
        "the edge goes with the pointer, both edges move: to a pixel"
    )
    desk.document.undo()
    assert settled(desk).shape.solids["baffle"].height == "60 mm", "one drag is one step"


def test_the_menu_of_the_stage(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    view, faces = desk.stage.view, desk.faces
    shown: list[QMenu] = []
    monkeypatch.setattr(QMenu, "popup", lambda menu, *_: shown.append(menu))
    at = pixel(desk, [0.11, 0.12, 0.045])
    QApplication.sendEvent(view, QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, view.mapToGlobal(at)))
    entries(shown[0])["The fluid is here (wet point on the section)"].trigger()
    assert [float(text.split()[0]) for text in settled(desk).shape.wet[0]] == pytest.approx(
        [110, 120, 45], abs=1.0
    )
    faces.make_equal()
    assert "no opening is given a flow to leave" in desk.status.text()
    desk.document.edit(
        {"field.openings.left": {"kind": "volume_flow", "edge": "left.face", "way": "out", "flow": "1 mL/s"}}
    )
    settled(desk)
    faces.make_equal()
    assert "equal to what enters" in desk.status.text()


def test_readings_are_placed_on_the_section(desk: Desk) -> None:  # noqa: F811
    view, faces = desk.stage.view, desk.faces
    desk.stage.set_layer("colours", False)
    at = pixel(desk, [0.06, 0.12, 0.02])
    hint = next(text for text in entries(faces.menu_at(at)) if text.startswith("Show Colours first"))
    assert not entries(faces.menu_at(at))[hint].isEnabled()
    desk.stage.set_layer("colours", True)
    place = view.place_at(at)
    before = set(settled(desk).readings)
    entries(faces.menu_at(at))["Point: here"].trigger()
    case = settled(desk)
    [key] = set(case.readings) - before
    assert case.readings[key].quantity == view.ensure().quantity
    typed = desk.document.review.numbers.readings[key].at  # type: ignore[union-attr]
    assert typed == pytest.approx(place, abs=2e-3)
    entries(faces.menu_at(at))["What passes here through the section shown"].trigger()
    [other] = set(settled(desk).readings) - before - {key}
    assert desk.document.shown.readings[other].kind == "cross_section"  # type: ignore[union-attr]
    entries(faces.menu_at(at))["Box: drag from corner to corner"].trigger()
    away = at + QPoint(40, 30)
    mouse(view, QEvent.Type.MouseButtonPress, at.x(), at.y())
    mouse(view, QEvent.Type.MouseMove, away.x(), away.y())
    assert len(view.tool.corners()) == 5  # type: ignore[attr-defined]
    view.grab()
    mouse(view, QEvent.Type.MouseButtonRelease, away.x(), away.y())
    [box] = set(settled(desk).readings) - before - {key, other}
    assert desk.document.shown.readings[box].extent == "box"  # type: ignore[union-attr]
    entries(faces.menu_at(at))["Line: drag from end to end"].trigger()
    mouse(view, QEvent.Type.MouseButtonPress, at.x(), at.y())
    mouse(view, QEvent.Type.MouseButtonRelease, at.x(), at.y())
    assert "no length" in desk.status.text() and view.tool is view.looking
    for _ in range(3):
        desk.document.undo()
    assert set(settled(desk).readings) == before


def test_what_enters_and_leaves_in_all_stays_in_view(desk: Desk) -> None:  # noqa: F811
    settled(desk)
    assert desk.flows.text().startswith("in ") and "make equal" not in desk.flows.text()
    drawn = {"kind": "volume_flow", "edge": "left.face", "way": "out", "flow": "1 mL/s"}
    desk.document.edit({"field.openings.left": drawn})
    settled(desk)
    wait(lambda: "make equal" in desk.flows.text())
    assert "differ" in desk.flows.text() and "the difference of" in desk.flows.toolTip()
    desk.flows.linkActivated.emit("equal")
    settled(desk)
    wait(lambda: desk.flows.text().startswith("in and out"))
    desk.document.edit({"field.openings.left.flow": "much"})
    wait(lambda: not desk.flows.text())
