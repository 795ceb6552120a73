"""Buttons above the stage: all are there in every width, none over another."""

from __future__ import annotations

import pytest
from PyQt6.QtWidgets import QApplication, QPushButton, QWidget

from mop_lantern.desk.stage.strip import Strip


@pytest.mark.parametrize(("width", "button", "rows"), [(900, 90, 1), (420, 90, 2), (120, 50, 4), (60, 50, 8)])
def test_buttons_wrap_and_never_overlap(app: QApplication, width: int, button: int, rows: int) -> None:
    holder = QWidget()
    strip = Strip(holder)
    buttons = [QPushButton("m") for _ in range(8)]
    for each in buttons:
        each.setFixedSize(button, 24)
        strip.addWidget(each)
    holder.resize(width, strip.heightForWidth(width))
    strip.activate()
    places = [each.geometry() for each in buttons]
    assert len({place.top() for place in places}) == rows
    assert not any(one.intersects(other) for k, one in enumerate(places) for other in places[:k])
    assert all(place.right() <= width for place in places)
    assert strip.heightForWidth(width) >= 24 * rows
    assert strip.takeAt(0) is not None and strip.count() == 7 and strip.takeAt(9) is None
    holder.close()
