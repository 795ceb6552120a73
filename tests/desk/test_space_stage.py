"""The stage of a space in the real window: every layer, the section walked and cut away, views, the level
slider, values under the pointer.
"""

from __future__ import annotations

from dataclasses import replace
from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPoint, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QMenu, QMessageBox

from mop_lantern.desk.window import Desk
from mop_lantern.scene.scale import value_at
from mop_lantern.units import show
from tests.desk.test_depth import solve
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_window import wait
from tests.shape.test_models import corners_of, written

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def mouse(view: object, kind: QEvent.Type, x: float, y: float, held: bool = True) -> None:
    where = QPointF(x, y)
    buttons = Qt.MouseButton.LeftButton if held else Qt.MouseButton.NoButton
    QApplication.sendEvent(
        view,
        QMouseEvent(
            kind,
            where,
            view.mapToGlobal(where),
            Qt.MouseButton.LeftButton if held else Qt.MouseButton.NoButton,
            buttons,
            Qt.KeyboardModifier.NoModifier,
        ),
    )  # type: ignore[attr-defined, arg-type]


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_every_layer_of_a_space_is_seen(desk: Desk) -> None:  # noqa: F811
    stage, view = desk.stage, desk.stage.view
    picture = view.picture
    assert picture is not None
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    assert desk.archive.records[""].converged
    size = (500, 400)
    for button in stage.layer_buttons.values():
        button.setChecked(False)
    bare = picture.image(size)
    for name, button in stage.layer_buttons.items():
        button.setChecked(True)
        changed = (picture.image(size) != bare).mean()
        # plates without thickness have nothing to hatch, and nothing is moist
        nothing = name == "dew" or (name == "solids" and not picture.surface.solids)
        assert changed > 0.002 or (nothing and changed == 0), name
        button.setChecked(False)
    stage.layer_buttons["level"].setChecked(True)
    level = stage.space_tools.level
    assert not level.isHidden() and "mm/s" in level.words.text()
    field = picture.answer
    assert field is not None
    beyond = field.cells("speed") > value_at(picture.table_of("speed")[1], picture.options.level)
    above = float(field.mesh.volume[beyond].sum())
    assert 0 < above < field.mesh.volume.sum()
    unit = level.units.get("volume", "mL" if above < 1e-3 else "m3")
    assert level.words.text().endswith(show(above, "volume", unit, 3))
    before = picture.image(size)
    stage.space_tools.level.slider.setValue(20)
    assert (picture.image(size) != before).any() and picture.options.level == 0.2
    stage.layer_buttons["level"].setChecked(False)
    assert stage.space_tools.level.isHidden()
    stage.layer_buttons["parts"].setChecked(True)
    stage.layer_buttons["colours"].setChecked(True)
    stage.space_tools.lay(1)
    whole = picture.image(size)
    stage.space_tools.cut(True)
    assert (picture.image(size) != whole).mean() > 0.01, "the model before the section is gone"
    for _, azimuth, elevation in (("", -90.0, 0.0), ("", 0.0, 0.0)):
        stage.space_tools.look(azimuth, elevation)
        assert picture.orbit.elevation == elevation
    for offer in (stage.space_tools._offer_sections, stage.space_tools._offer_views):
        offer()
        menu = QApplication.activePopupWidget()
        assert isinstance(menu, QMenu) and len(menu.actions()) >= 5
        menu.close()


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_the_pointer_reads_values_on_the_section(desk: Desk) -> None:  # noqa: F811
    stage, view = desk.stage, desk.stage.view
    picture = view.picture
    assert picture is not None
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    stage.space_tools.lay(1)
    stage.space_tools.look(-90.0, 0.0)
    place = np.array([0.01, 0.12, 0.045])
    size = (view.width(), view.height())
    x, y = picture.to_pixel(place, size)
    found = picture.on_section(x, y, size)
    assert found == pytest.approx(place, abs=1e-6)
    assert "mm/s" in view.value_words(found) and "z 45 mm" in view.value_words(found)
    mouse(view, QEvent.Type.MouseButtonPress, x, y)
    mouse(view, QEvent.Type.MouseButtonRelease, x, y)
    assert len(view.pins) == 1 and not view.value_words(np.array([0.01, 0.12, 0.5]))
    share = picture.options.share
    QTest.keyClick(view, Qt.Key.Key_PageUp, Qt.KeyboardModifier.ShiftModifier)
    assert picture.options.share == pytest.approx(share + 0.01)
    view._frame = 1.0  # as after a picture that took a second
    mouse(view, QEvent.Type.MouseButtonPress, 200, 200)
    mouse(view, QEvent.Type.MouseMove, 230, 190)
    assert view._coarse
    mouse(view, QEvent.Type.MouseButtonRelease, 230, 190)
    wait(lambda: not view._coarse)
    stage.space_tools.look(0.0, 0.0)
    assert picture.on_section(x, y, size) is None, "seen edge on"


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_a_dropped_model_becomes_a_part(desk: Desk, tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    """The unit is asked for, open rims are told and sealed; brought in again it keeps its place; a bad file
    changes nothing.
    """
    corners, names, _ = corners_of()
    path = written(tmp_path / "pipe.stl", corners[np.isin(names, ["p.before", "p.bend", "p.after"])], 1e3)
    told: list[str] = []
    monkeypatch.setattr(
        "mop_lantern.desk.files.bringing_models.QInputDialog.getItem", lambda *_: ("mm", True)
    )
    monkeypatch.setattr(
        "mop_lantern.desk.files.bringing_models.QMessageBox.question",
        lambda _w, _t, words, _b: told.append(words) or QMessageBox.StandardButton.Yes,
    )
    monkeypatch.setattr(
        "mop_lantern.desk.files.bringing_models.QMessageBox.warning", lambda _w, _t, words: told.append(words)
    )
    document = desk.document

    def brought(path: Path) -> None:
        assert desk.bringing.takes(path) and desk.bringing.models.work is not None
        wait(lambda: not desk.bringing.models.work.running)

    brought(path)
    assert "2 open rims" in told[0]
    assert document.shown is not None
    part = document.shown.shape.solids["model1"]
    assert set(part.names) == {"face1", "rim1", "rim2"}
    document.edit(
        {
            "shape.solids.model1.x": "-60 mm",
            "shape.solids.model1.y": "120 mm",
            "shape.solids.model1.z": "70 mm",
        }
    )
    brought(path)
    assert document.shown.shape.solids["model1"].x == "-60 mm" and "model2" not in document.shown.shape.solids
    (tmp_path / "bad.ply").write_bytes(b"nothing")
    brought(tmp_path / "bad.ply")
    assert "cannot be read" in told[-1]
    assert not desk.bringing.takes(tmp_path / "other.lantern")


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_rims_of_an_open_model_are_shown_and_closed_one_by_one(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Not sealed when brought in: its line says so, the stage shows the rims, its menu closes the one
    nearest; a stopped reading brings nothing.
    """
    corners, names, _ = corners_of()
    path = written(tmp_path / "pipe.stl", corners[np.isin(names, ["p.before", "p.bend", "p.after"])])
    monkeypatch.setattr("mop_lantern.desk.files.bringing_models.QInputDialog.getItem", lambda *_: ("m", True))
    monkeypatch.setattr(
        "mop_lantern.desk.files.bringing_models.QMessageBox.question",
        lambda *_: QMessageBox.StandardButton.No,
    )
    document, view = desk.document, desk.stage.view
    desk.bringing.models.bring(path)
    desk.bringing.models.work.cancel()
    wait(lambda: not desk.bringing.models.work.running)
    assert document.shown is not None and "model1" not in document.shown.shape.solids, "stopped"
    document.edit({f"shape.solids.{key}": None for key in document.shown.shape.solids})
    desk.bringing.models.bring(path)
    wait(lambda: not desk.bringing.models.work.running)
    wait(lambda: document.review is not None and len(view.trails) == 2)
    assert any("open rims" in fault.says for fault in document.review.faults)
    picture = view.picture
    assert picture is not None and picture.surface is not None and picture.surface.open_edges
    view.fit()
    rim = np.asarray(view.trails[1])
    inside = rim.mean(axis=0) + 0.6 * (rim[0] - rim.mean(axis=0)) + [0.0, 0.0, 0.0]
    spots = [
        QPoint(*(int(c) for c in picture.to_pixel(inside + step, view.pane)))
        for step in np.vstack(
            [np.zeros(3), 2e-3 * np.eye(3), -2e-3 * np.eye(3), 6e-3 * np.eye(3), -6e-3 * np.eye(3)]
        )
    ]
    at = next(spot for spot in spots if desk.faces.under(spot))
    menu = desk.faces.menu_at(at)
    words = {action.text(): action for action in menu.actions()}
    assert "Close all 2 open rims of model1" in words
    words["Close the open rim nearest to here"].trigger()
    wait(
        lambda: (
            document.review is not None and document.review.case == document.shown and len(view.trails) == 1
        )
    )
    assert "rim1" in document.shown.shape.solids["model1"].names
    left = np.asarray(view.trails[0]).mean(axis=0)
    assert np.linalg.norm(left - rim.mean(axis=0)) > 0.02, "the other one is left"
    desk.faces.models.close_rims("model1", None)
    wait(lambda: document.review is not None and document.review.case == document.shown and not view.trails)
    assert not [fault for fault in document.review.faults if fault.path.startswith("shape.solids")]
    document.undo()
    assert document.shown.shape.solids["model1"].names.count("rim2") == 0


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_views_beside_each_other_and_kept_by_name(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    stage, view, tools = desk.stage, desk.stage.view, desk.stage.space_tools
    picture = view.picture
    assert picture is not None
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    for name, button in stage.layer_buttons.items():
        button.setChecked(name in ("colours", "parts"))
    alone = picture.image((600, 400)).copy()
    menu = tools.view_menu()
    words = {action.text(): action for sub in menu.actions() if sub.menu() for action in sub.menu().actions()}
    words["Static pressure"].trigger()
    assert picture.shown == ("speed", "pressure")
    both = picture.image((600, 400)).copy()
    assert view.pane[0] == view.width() // 2 and (both != alone).any()
    stage.set_quantity("pressure")
    tools.set_beside("pressure", False)
    tools.set_beside("pressure", True)
    twice = picture.image((600, 400))
    assert (twice[:, 2:298] == twice[:, 302:598]).mean() > 0.999, (
        "one camera: the same quantity looks the same in both views"
    )
    tools.set_beside("pressure", False)
    picture.orbit.azimuth = 11.0
    monkeypatch.setattr(
        "mop_lantern.desk.stage.cameras.QInputDialog.getText", lambda *_, **__: ("From the feed", True)
    )
    desk.cameras.ask()
    kept = picture.image((300, 200)).copy()
    tools.look(90.0, 10.0)
    stage.set_quantity("speed")
    stage.layer_buttons["grid"].setChecked(True)
    assert (picture.image((300, 200)) != kept).any()
    {action.text(): action for action in tools.view_menu().actions()}["From the feed"].trigger()
    assert (picture.image((300, 200)) == kept).all() and picture.quantity == "pressure"
    desk.document.edit({"views.cameras": {"Broken": {"azimuth": "north"}}})
    desk.cameras.show("Broken")
    assert "is damaged" in desk.status.text()
    desk.cameras.forget("Broken")
    assert desk.cameras.kept == {}


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_lines_profiles_and_cell_figures_of_a_space(desk: Desk) -> None:  # noqa: F811
    stage, view, tools = desk.stage, desk.stage.view, desk.stage.space_tools
    picture = view.picture
    assert picture is not None
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    begin, end = (
        picture.to_pixel(np.array(place), view.pane) for place in ([0.02, 0.12, 0.045], [0.11, 0.12, 0.045])
    )
    stage.line_button.setChecked(True)
    mouse(view, QEvent.Type.MouseButtonPress, *begin)
    mouse(view, QEvent.Type.MouseMove, *end)
    mouse(view, QEvent.Type.MouseButtonRelease, *end)
    assert desk.session.line is not None and desk.session.line[0] == pytest.approx(
        [0.02, 0.12, 0.045], abs=2e-3
    )
    assert desk.traces.shown_quantity == "speed"
    frames = []
    for name, button in stage.layer_buttons.items():
        button.setChecked(name == "streamlines")
    for seeds in ("openings", "line", "section", "space"):
        tools.begin(seeds)
        frames.append(picture.image((400, 300)).copy())
    assert all((one != other).any() for one, other in zip(frames[:-1], frames[1:], strict=True))
    answer = desk.archive.answer("")
    assert answer is not None
    angle, jump = answer.cells("cell.angle"), answer.cells("cell.jump")
    report = desk.archive.records[""].grid
    assert np.degrees(angle.max()) == pytest.approx(
        report["worst_angle"], abs=0.1
    ) and jump.max() == pytest.approx(report["volume_ratio"], rel=1e-6)
    for name, button in stage.layer_buttons.items():
        button.setChecked(name in ("colours", "worst"))
    stage.set_quantity("cell.angle")
    assert len(np.unique(picture.image((400, 300)).reshape(-1, 3), axis=0)) > 20


@pytest.mark.parametrize("desk", ["butterfly"], indirect=True)
def test_many_cells_are_put_in_order_beside_the_window(desk: Desk, monkeypatch: pytest.MonkeyPatch) -> None:  # noqa: F811
    """The window goes on; the picture shows the newest field when its cells are in order; solids are hatched;
    parts are shown and hidden.
    """
    monkeypatch.setattr("mop_lantern.scene.picture.MANY", 100)
    picture = desk.stage.view.picture
    assert (
        picture is not None
        and picture.surface is not None
        and set(picture.surface.solids) == {"disc", "stem"}
    ), "what is left out is no solid"
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    wait(lambda: picture.answer is not None and desk.stage._ordering is None)
    answer = desk.archive.answer("")
    assert (
        answer is not None
        and picture.answer is answer
        and picture.ready_for(answer)
        and not desk.stage.view.message
    )
    first = picture.image((500, 400))
    again = replace(answer)
    assert picture.ready_for(again), "another field on the same cells needs nothing"
    fresh = replace(answer, mesh=replace(answer.mesh))
    assert not picture.ready_for(fresh)
    desk.stage.show_answer(fresh)
    assert picture.answer is answer and desk.stage.view.message
    wait(lambda: picture.answer is fresh)
    assert (picture.image((500, 400)) == first).mean() > 0.999
    desk.stage.set_layer("solids", False)
    assert 1e-4 < (picture.image((500, 400)) != first).mean() < 0.05
    tools = desk.stage.space_tools
    assert {"pipe", "disc", "stem"} <= set(tools.layers())
    bare = picture.image((500, 400))
    action = next(action for action in tools.parts_menu().actions() if action.text() == "disc")
    assert action.isChecked()
    action.setChecked(False)
    assert (picture.image((500, 400)) != bare).any() and picture.options.hidden >= tools.layers()["disc"]
    tools.draw("disc", True)
    assert not picture.options.hidden & tools.layers()["disc"]


@pytest.mark.parametrize("desk", ["header", "butterfly"], indirect=True)
def test_a_view_nobody_moved_shows_everything_in_any_size(desk: Desk) -> None:  # noqa: F811
    view = desk.stage.view
    picture = view.picture
    assert picture is not None
    space = picture.surface is not None
    corners = (
        picture.surface.points
        if space
        else np.array(
            [[x, y] for x in picture.shape.polygon.bounds[::2] for y in picture.shape.polygon.bounds[1::2]]
        )
    )

    def seen() -> bool:
        pixels = np.array([picture.to_pixel(place, view.pane) for place in corners])
        return bool((pixels > 0).all() and (pixels < view.pane).all())

    for size in ((1280, 800), (1000, 760), (1500, 700)):
        desk.resize(*size)
        QApplication.processEvents()
        view.grab()
        assert seen(), size
    view.zoom(0.1, 5.0, 5.0)
    height = picture.height
    desk.resize(1100, 720)
    QApplication.processEvents()
    view.grab()
    assert picture.height == height and not seen(), "a view that was moved stays as it is"


@pytest.mark.parametrize("desk", ["inlet-box"], indirect=True)
def test_the_section_is_dragged_by_its_grip_and_walked_by_keys(desk: Desk) -> None:  # noqa: F811
    """The section follows the pointer exactly where it is seen to move, finely with Shift; seen end on there
    is no grip.
    """
    view = desk.stage.view
    picture = view.picture
    assert picture is not None and picture.surface is not None
    view.grab()
    x, y = view.grip.spot()
    way = view.grip.way()
    assert (
        way is not None
        and view.grip.holds(QPoint(int(x), int(y)))
        and not view.grip.holds(QPoint(int(x) - 60, int(y) - 60))
    )
    azimuth, share = picture.orbit.azimuth, picture.options.share
    reach = np.ptp(picture.surface.points[:, picture.across])
    # pixels to the right and up that a fifth of the way takes
    wanted = 0.2 * reach * view.pane[1] / picture.height * way
    goal = QPoint(round(int(x) + wanted[0]), round(int(y) - wanted[1]))
    mouse(view, QEvent.Type.MouseButtonPress, int(x), int(y))
    mouse(view, QEvent.Type.MouseMove, goal.x(), goal.y())
    assert (
        picture.options.share == pytest.approx(share + 0.2, abs=0.02) and picture.orbit.azimuth == azimuth
    ), "the view does not turn"
    after = view.grip.spot()
    assert after == pytest.approx((goal.x(), goal.y()), abs=8), "the grip stays under the pointer"
    assert view.grip.words().startswith(f"{'xyz'[picture.across]} = ") and view.grip.words().endswith("mm")
    view.grab()
    mouse(view, QEvent.Type.MouseButtonRelease, goal.x(), goal.y())
    assert view._pull is None
    share = picture.options.share
    for key, modifier, by in (
        (Qt.Key.Key_Down, Qt.KeyboardModifier.ControlModifier, -0.05),
        (Qt.Key.Key_Up, Qt.KeyboardModifier.ControlModifier | Qt.KeyboardModifier.ShiftModifier, 0.01),
        (Qt.Key.Key_PageUp, Qt.KeyboardModifier.NoModifier, 0.05),
    ):
        QTest.keyClick(view, key, modifier)
        share += by
        assert picture.options.share == pytest.approx(share)
    centre = picture.centre.copy()
    QTest.keyClick(view, Qt.Key.Key_Up)
    assert picture.options.share == pytest.approx(share) and picture.centre[1] > centre[1], (
        "plain arrow keys pan"
    )
    desk.stage.space_tools.lay(2)
    desk.stage.space_tools.look(-90.0, 89.99)
    assert view.grip.way() is None and not view.grip.holds(QPoint(10, 10))
