"""Heat in solids in the real window: the sheet offers them, the stage shows them, solving tells of them."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from PyQt6.QtWidgets import QPushButton

from mop_lantern.desk.sheet.editors import ChoiceButton
from mop_lantern.desk.window import Desk
from tests.desk.test_depth import solve
from tests.desk.test_network import desk  # noqa: F401
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")


def choices(window: Any, name: str) -> list[str]:
    """Give what a value of the sheet may be."""
    editor = window.sheet.findChild(ChoiceButton, name)
    assert editor is not None, name
    return [str(value) for value, _ in editor.options]


@pytest.mark.parametrize("desk", ["nursery-floor"], indirect=True)
def test_a_floor_of_solids_alone(desk: Desk) -> None:  # noqa: F811
    """Written, solved and looked at; what only fluids have is not offered; a material changes the answer."""
    stage = desk.stage
    shown = {name for name, button in stage.layer_buttons.items() if button.isVisibleTo(stage)}
    assert {"colours", "grid", "parts"} <= shown and not shown & {"streamlines", "arrows"}
    solve(desk)
    record = desk.archive.records[""]
    assert record.converged and {"region.slab", "region.foam", "region.ground"} <= {
        item["id"] for item in record.trust
    }
    picture = stage.view.picture
    assert picture is not None and picture.quantity == "T"
    up = record.readings["up"]["value"]
    down = record.readings["down"]["value"]
    assert 80 < up < 110 and down < 0.2 * up
    assert desk.traces.plot is not None
    desk.document.edit({"field.solids.foam.material": "copper"})
    solve(desk)
    assert desk.archive.records[""].readings["down"]["value"] > 3 * down
    desk.document.undo()
    assert desk.document.case is not None
    assert desk.document.case.field.solids["foam"].material == "polystyrene"


@pytest.mark.parametrize("desk", ["warm-line"], indirect=True)
def test_a_line_of_water_steel_and_wool(desk: Desk) -> None:  # noqa: F811
    picture = desk.stage.view.picture
    assert picture is not None
    solve(desk)
    assert set(picture._drawn) == {"", "pipe", "wool"}
    values = desk.archive.records[""].readings
    assert values["lost"]["value"] == pytest.approx(values["given"]["value"], rel=1e-6)
    desk.stage.set_quantity("T")
    low, high = picture.value_range()
    answer = picture.answer
    assert answer is not None and low == pytest.approx(float(answer.cells("T").min()))
    assert high == pytest.approx(float(answer.cells("T").max()))
    place = np.array([[0.15, 0.03]])
    assert 277 < float(answer.sampler("T", place)[0]) < 318
    desk.document.choose("C")
    wait(lambda: desk.document.review is not None and desk.document.review.variant == "C")
    solve(desk)
    assert desk.archive.records["C"].readings["lost"]["value"] > 3 * values["lost"]["value"]


@pytest.mark.parametrize("desk", ["warm-line"], indirect=True)
def test_a_solid_is_given_a_material_on_the_sheet(desk: Desk) -> None:  # noqa: F811
    desk.document.edit({"field.solids.wool": None})
    wait(lambda: desk.document.review is not None and "wool" not in desk.document.review.case.field.solids)
    button = desk.sheet.findChild(QPushButton, "add:field.walls")
    assert button is not None
    button.click()
    words = [offer.caption for offer in desk.sheet.adding.shown()]
    desk.sheet.adding.close()
    assert {"Of a common material", "Of own figures", "Contact that resists"} <= set(words)
    desk.sheet.add("field.solids", "listed")
    assert desk.document.case is not None
    made = desk.document.case.field.solids["solid1"]
    assert made.part == "wool", "the part that has none yet is offered first"
    wait(lambda: desk.sheet.findChild(ChoiceButton, "field.solids.solid1.part") is not None)
    assert choices(desk, "field.solids.solid1.part") == ["pipe", "wool"]
    assert "copper" in choices(desk, "field.solids.solid1.material")
