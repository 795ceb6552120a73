"""A space in the real window: turned by dragging, cut and coloured, solved, its variants compared."""

from __future__ import annotations

from pathlib import Path

import numpy as np
import pytest
from PyQt6.QtCore import QEvent, QPointF, Qt
from PyQt6.QtGui import QMouseEvent
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication
from vtkmodules.vtkIOXML import vtkXMLUnstructuredGridReader

from mop_lantern.desk.window import Desk
from mop_lantern.scene.export import export_vtu
from tests.desk.test_depth import solve
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


@pytest.mark.parametrize("desk", ["intake-elbow"], indirect=True)
def test_a_space_is_turned_solved_and_changed(desk: Desk, tmp_path: Path) -> None:  # noqa: F811
    view = desk.stage.view
    picture = view.picture
    assert picture is not None and picture.surface is not None and picture.shape is None
    assert (
        not desk.stage.line_button.isHidden()
        and not desk.stage.space_tools.isHidden()
        and not any(button.isHidden() for button in desk.stage.layer_buttons.values())
    )
    bare = picture.image((600, 400))
    azimuth = picture.orbit.azimuth
    for kind, where in (
        (QEvent.Type.MouseButtonPress, QPointF(200, 200)),
        (QEvent.Type.MouseMove, QPointF(260, 180)),
        (QEvent.Type.MouseButtonRelease, QPointF(260, 180)),
    ):
        QApplication.sendEvent(
            view,
            QMouseEvent(
                kind,
                where,
                view.mapToGlobal(where),
                Qt.MouseButton.LeftButton,
                Qt.MouseButton.LeftButton,
                Qt.KeyboardModifier.NoModifier,
            ),
        )
    assert picture.orbit.azimuth != azimuth
    assert (picture.image((600, 400)) != bare).any()
    desk.document.edit({"field.grid.level": "sketch"})
    solve(desk)
    record = desk.archive.records[""]
    assert record.converged and record.readings["drop"]["value"] > 0
    flow = np.pi * 0.01**2 * 5e-3
    assert record.readings["flow"]["value"] == pytest.approx(flow, rel=2e-3)
    coloured = picture.image((600, 400))
    QTest.keyClick(view, Qt.Key.Key_PageUp)
    desk.stage.space_tools.lay(0)
    QTest.keyClick(view, Qt.Key.Key_PageDown, Qt.KeyboardModifier.ShiftModifier)
    assert picture.options.across == 0 and picture.options.share == pytest.approx(0.49)
    assert (picture.image((600, 400)) != coloured).any()
    picture.set_options(across=-1, share=0.5, layers=frozenset({"parts"}))
    assert (picture.image((600, 400)) != coloured).mean() > 0.02, "the section is coloured"
    assert desk.ledger.grid_error.isHidden()
    answer = desk.archive.answer("")
    assert answer is not None
    export_vtu(tmp_path / "elbow.vtu", answer)
    reader = vtkXMLUnstructuredGridReader()
    reader.SetFileName(str(tmp_path / "elbow.vtu"))
    reader.Update()
    assert reader.GetOutput().GetNumberOfCells() == answer.mesh.n_cells
    desk.document.edit({"shape.solids.leg.radius": "9 mm"})
    wait(lambda: desk.document.review is not None and desk.document.review.case == desk.document.shown)
    assert desk.document.review is not None and any(
        fault.path == "shape.solids.leg.radius" for fault in desk.document.review.faults
    )
