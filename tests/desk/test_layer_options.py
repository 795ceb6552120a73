"""Layers and their options in the real window: a panel made from what a layer declares, edits that undo."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from PyQt6.QtWidgets import QLineEdit, QPushButton

from mop_lantern.declare import declared, discover
from mop_lantern.desk.stage.options_panel import OptionsPanel
from mop_lantern.desk.window import Desk
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import PACKAGE
from tests.desk.test_depth import desk, solve  # noqa: F401

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")
SIZE = (500, 400)


def opened(window: Desk, name: str) -> OptionsPanel:
    """Open the panel of a layer as a right click does."""
    button = window.stage.layer_buttons[name]
    button.customContextMenuRequested.emit(button.rect().center())
    assert window.looks.panel is not None
    return window.looks.panel


def typed(panel: OptionsPanel, key: str, text: str) -> None:
    """Type a value into a panel."""
    editor = panel.findChild(QLineEdit, f"{panel.place}.{panel.name}.{key}")
    assert editor is not None
    editor.setText(text)
    editor.editingFinished.emit()


def pixels(window: Desk) -> Any:
    picture = window.stage.view.picture
    assert picture is not None
    return picture.image(SIZE).astype(int)


def test_an_option_is_an_edit_that_changes_the_picture_and_undoes(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    before = pixels(desk)
    panel = opened(desk, "colours")
    typed(panel, "bands", "3")
    assert desk.document.case is not None
    assert desk.document.case.views["layers"] == {"colours": {"bands": "3"}}
    after = pixels(desk)
    assert np.abs(after - before).sum() > 0
    middle = after[int(0.3 * SIZE[1]) : int(0.6 * SIZE[1])].reshape(-1, 3)
    assert len(np.unique(middle, axis=0)) < len(np.unique(before[120:240].reshape(-1, 3), axis=0))
    assert not desk.archive.stale(desk.document.case, ""), "how it is drawn changes no answer"
    panel.close()
    desk.document.undo()
    assert np.abs(pixels(desk) - before).sum() == 0
    desk.document.redo()
    panel = opened(desk, "colours")
    usual = panel.findChild(QPushButton, "options:usual")
    assert usual is not None
    usual.click()
    assert "layers" not in desk.document.case.views or not desk.document.case.views["layers"]
    assert np.abs(pixels(desk) - before).sum() == 0


def test_a_value_a_layer_cannot_have_is_told_and_not_taken(desk: Desk) -> None:  # noqa: F811
    panel = opened(desk, "grid")
    for wrong in ("300 %", "banana", "-1", "5 kg"):
        typed(panel, "opacity", wrong)
        assert desk.document.case is not None and "layers" not in desk.document.case.views, wrong
        assert desk.status.text(), wrong
    typed(panel, "opacity", "= 0.5 / 2")
    assert desk.document.case.views["layers"]["grid"]["opacity"] == "= 0.5 / 2"
    picture = desk.stage.view.picture
    assert picture is not None and picture.layer_options["grid"].opacity == pytest.approx(0.25)
    panel.close()


def test_a_case_with_nonsense_for_options_is_drawn_as_usual_and_told(desk: Desk) -> None:  # noqa: F811
    for nonsense in ({"colours": {"bands": "many"}}, {"colours": {"wings": "2"}}, {"colours": 7}, "no", None):
        desk.document.edit({"views.layers": nonsense})
        picture = desk.stage.view.picture
        assert picture is not None and picture.layer_options["colours"].bands == 0
        assert pixels(desk).shape == (SIZE[1], SIZE[0], 3)


def test_every_panel_opens_with_a_row_for_every_option(desk: Desk) -> None:  # noqa: F811
    for name, kind in discover(PACKAGE, Layer).items():
        panel = opened(desk, name) if declared(kind) else None
        if panel is None:
            continue
        for key in declared(kind):
            assert panel.findChild(object, f"views.layers.{name}.{key}") is not None or panel.findChildren(
                QLineEdit
            )
        panel.close()


def scale_panel(window: Desk) -> OptionsPanel:
    """Open the scale of what is shown, as a right click on its name does."""
    window.stage.quantity.customContextMenuRequested.emit(window.stage.quantity.rect().center())
    assert window.looks.panel is not None
    return window.looks.panel


def test_the_scale_is_an_edit_with_units_that_undoes(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    before = pixels(desk)
    picture = desk.stage.view.picture
    assert picture is not None
    own = picture.value_range()
    panel = scale_panel(desk)
    typed(panel, "highest", "5 cm/s")
    assert picture.value_range()[1] == pytest.approx(0.05)
    assert desk.document.case is not None
    assert desk.document.case.views["scales"] == {"speed": {"highest": "5 cm/s"}}
    typed(panel, "lowest", "6 cm/s")
    assert "above the lowest" in desk.status.text()
    assert desk.document.case.views["scales"] == {"speed": {"highest": "5 cm/s"}}, "not taken"
    choice = panel.findChild(QPushButton, "views.scales.speed.steps")
    assert choice is not None and panel._commit("views.scales.speed.steps", "powers")
    assert np.abs(pixels(desk) - before).sum() > 0
    panel.close()
    desk.document.undo()
    desk.document.undo()
    assert picture.value_range() == own
    assert np.abs(pixels(desk) - before).sum() == 0
    assert not desk.archive.stale(desk.document.case, "")


def test_each_quantity_keeps_a_scale_of_its_own(desk: Desk) -> None:  # noqa: F811
    solve(desk)
    picture = desk.stage.view.picture
    assert picture is not None
    desk.document.edit({"views.scales": {"pressure": {"lowest": "-1 Pa", "highest": "1 Pa"}}})
    speed = picture.value_range()
    desk.stage.set_quantity("pressure")
    assert picture.value_range() == (-1.0, 1.0)
    panel = scale_panel(desk)
    assert panel.name == "pressure"
    usual = panel.findChild(QPushButton, "options:usual")
    assert usual is not None
    usual.click()
    assert picture.value_range() != (-1.0, 1.0)
    desk.stage.set_quantity("speed")
    assert picture.value_range() == speed
