"""Models brought into the window: where the fluid is, asked once, from the menu, undone; faces listed."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import pytest
import trimesh
from PyQt6.QtCore import QTimer
from PyQt6.QtWidgets import QApplication, QFileDialog, QInputDialog, QMessageBox

from mop_lantern.desk.stage.face_list import show_faces
from mop_lantern.desk.window import Desk
from mop_lantern.shape.reading import read_model
from tests.desk.test_faces import entries, settled
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_window import wait
from tests.shape import hollow_models as made

pytestmark = [
    pytest.mark.filterwarnings("ignore::DeprecationWarning"),
    pytest.mark.parametrize("desk", ["inlet-box"], indirect=True),
]


def answered(words: str, asked: list[str]) -> None:
    """Press the button of the next question that begins with words."""

    def press() -> None:
        for box in QApplication.topLevelWidgets():
            if isinstance(box, QMessageBox) and box.isVisible():
                asked.append(box.text() + " " + box.informativeText())
                next(button for button in box.buttons() if button.text().startswith(words)).click()
                return
        QTimer.singleShot(50, press)

    QTimer.singleShot(50, press)


def bring(desk: Desk, path: Path, monkeypatch: pytest.MonkeyPatch, answer: str) -> str:  # noqa: F811
    """Empty the case, bring a model in and answer where the fluid is; give what was asked, of units first."""
    asked: list[str] = []

    def first(_w: Any, _t: str, _l: str, items: list[str], *_: Any) -> tuple[str, bool]:
        asked.append(items[0])
        return items[0], True

    monkeypatch.setattr(QInputDialog, "getItem", first)
    solids = desk.document.shown.shape.solids
    desk.document.edit({f"shape.solids.{key}": None for key in solids} | {"shape.wet": []})
    answered(answer, asked)
    desk.bringing.models.bring(path)
    wait(lambda: len(asked) == 2 and not desk.bringing.models.work.running, 20.0)
    return " | ".join(asked)


def test_the_inside_is_offered_at_once_and_undone_in_one_step(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    path = made.saved(made.hollow_tee(), tmp_path / "tee.stl", 1e3)
    asked = bring(desk, path, monkeypatch, "Inside it (close 3 ends)")
    assert asked.startswith("mm: it is 200 mm x 60 mm x 150 mm") and "with 3 open ends" in asked
    case = settled(desk)
    assert [part.kind for part in case.shape.solids.values()] == ["model", "cap", "internal_volume"]
    assert {"ends1.cap1", "ends1.cap3"} <= set(desk.faces.picture.surface.edge_lengths)
    desk.document.undo()
    assert [part.role for part in settled(desk).shape.solids.values()] == ["fluid"]


def test_the_menu_puts_the_fluid_around_and_the_list_shows_names_and_renames(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    path = made.saved(made.bottle(), tmp_path / "bottle.glb")
    asked: list[str] = []
    desk.document.edit({f"shape.solids.{key}": None for key in desk.document.shown.shape.solids})
    answered("It is the fluid", asked)
    desk.bringing.models.bring(path)
    wait(lambda: len(asked) == 1, 20.0)
    assert "one open end" in asked[0]
    settled(desk)
    view = desk.stage.view
    view.fit()
    at = view.rect().center()
    wait(lambda: bool(desk.faces.under(at)), 5.0)
    entries(desk.faces.menu_at(at))["Around it, in a box"].trigger()
    case = settled(desk)
    assert case.shape.solids["model1"].role == "solid" and "around1" in case.shape.solids
    desk.document.edit({"field.walls.w": {"kind": "slip", "edge": "model1.face1"}})
    settled(desk)
    listed = show_faces(desk)
    assert listed is not None
    wait(lambda: any(face.name == "around1.west" for face in listed.faces), 5.0)
    listed.search.setText("face1")
    assert [face.name for face in listed.faces] == ["model1.face1"]
    listed.table.selectRow(0)
    assert desk.faces.chosen == ["model1.face1"]
    monkeypatch.setattr(QInputDialog, "getText", lambda *_, **__: ("glass", True))
    listed.rename()
    case = settled(desk)
    assert "glass" in case.shape.solids["model1"].names and case.field.walls["w"].edge == "model1.glass"
    listed.search.setText("plane=around1.nowhere")
    assert not listed.faces
    listed.search.setText("around1.*")
    assert len(listed.faces) == 6
    listed.together()
    assert set(settled(desk).shape.solids["faces1"].faces) == {
        f"around1.{side}" for side in ("west", "east", "south", "north", "bottom", "top")
    }
    listed.copy()
    assert "Faces towards" in QApplication.clipboard().text()
    listed.close()


def test_a_model_that_crosses_itself_is_wrapped_from_the_menu(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    """Its line tells what is wrong and names the way; a wrong size is told in words, undo brings it back."""
    ball = trimesh.creation.icosphere(3, 0.1)
    points = ball.vertices.copy()
    points[points[:, 0] > 0.06, 0] -= 0.25
    path = tmp_path / "pushed.glb"
    trimesh.Trimesh(points, ball.faces, process=False).export(path)
    desk.document.edit({f"shape.solids.{key}": None for key in desk.document.shown.shape.solids})
    desk.bringing.models.bring(path)
    wait(lambda: "model1" in desk.document.shown.shape.solids, 20.0)
    settled(desk)
    assert any("Wrap it watertight" in fault.remedy for fault in desk.document.review.faults)
    view = desk.stage.view
    view.fit()
    at = view.rect().center()
    wait(lambda: bool(desk.faces.under(at)), 5.0)
    told: list[str] = []
    desk.document.troubled.connect(told.append)
    menu = entries(desk.faces.menu_at(at))
    for typed in ("wide", "9 m", "12 mm"):
        monkeypatch.setattr(QInputDialog, "getText", lambda *_, text, t=typed, **__: (t, True))
        monkeypatch.setattr(QMessageBox, "warning", lambda _w, _t, words: told.append(words))
        menu["From outside …"].trigger()
        if typed != "wide":
            wait(lambda: not desk.bringing.models.work.running, 40.0)
    assert "Feature size" in told[0] and "Choose one from" in " ".join(told)
    settled(desk)
    assert "Wrapped at a feature size of 12 mm" in " ".join(told)
    assert not any(fault.path == "shape.solids.model1.mesh" for fault in desk.document.review.faults)
    desk.document.undo()
    settled(desk)
    assert any(fault.path == "shape.solids.model1.mesh" for fault in desk.document.review.faults)


def test_geometry_is_written_from_the_menu(
    desk: Desk,  # noqa: F811
    tmp_path: Path,
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    settled(desk)
    wait(lambda: desk.stage.view.ensure().surface is not None, 5.0)
    path = tmp_path / "inlet.glb"
    monkeypatch.setattr(QInputDialog, "getItem", lambda *_: ("fluid", True))
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    desk.exports.ask_geometry()
    wait(lambda: desk.exports.work is not None and not desk.exports.work.running, 20.0)
    surface = desk.stage.view.ensure().surface
    assert read_model(path, "").volume == pytest.approx(surface.volume, rel=1e-4)
