"""The drawn network under hands and keys, its menus, its labels and its table of components."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint, QPointF, Qt
from PyQt6.QtGui import QGuiApplication, QImage, QPainter
from PyQt6.QtTest import QTest
from PyQt6.QtWidgets import QApplication, QFileDialog, QMenu

from mop_lantern.case import parse_case, settle_any
from mop_lantern.case.network_review import SettledNetwork, working_of
from mop_lantern.declare import discover
from mop_lantern.desk.document import Document
from mop_lantern.desk.files.table_editor import FIXED, TableEditor
from mop_lantern.desk.network.gauges import anchor, gauges, hit
from mop_lantern.desk.network.labels import free_offset, labels
from mop_lantern.desk.network.painting import paint
from mop_lantern.desk.network.schematic import Schematic
from mop_lantern.desk.symbols import path_of
from mop_lantern.desk.theme import NIGHT, PAPER
from mop_lantern.network.component import Component
from mop_lantern.network.node import Node
from tests.cli.test_words import PUMPED

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")

READ = {
    "flow": {"kind": "line_value", "line": "near", "figure": "volume_flow", "title": "near tap"},
    "over": {"kind": "node_value", "node": "m", "figure": "pressure", "title": "at the tee"},
    "lost": {"kind": "part_value", "part": "far.v", "figure": "loss", "title": "far valve"},
}


@pytest.fixture
def board(app: QApplication) -> Iterator[Schematic]:
    """Draw two taps with three gauges, solved."""
    view = Schematic(PAPER)
    view.resize(900, 500)
    case = parse_case({**PUMPED, "readings": READ, "views": {"gauges": {key: [2.0, -3.0] for key in READ}}})
    settled = settle_any(case)
    assert isinstance(settled, SettledNetwork)
    view.show_case(case, working_of(settled.operate(), settled))
    view.show()
    yield view
    view.close()
    view.deleteLater()
    QApplication.processEvents()


def drawn(view: Schematic) -> Any:
    """Paint a board; give its pixels (height, width, 4)."""
    image = QImage(view.size(), QImage.Format.Format_RGB32)
    painter = QPainter(image)
    paint(view, painter)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits.asarray(), np.uint8)  # type: ignore[call-overload]
    return pixels.reshape(view.height(), view.width(), 4).astype(int)


# --- painting ---


def test_places_and_pixels_go_there_and_back(board: Schematic) -> None:
    for place in ((0.0, 0.0), (3.5, -2.0)):
        assert board.place(board.pixel(place)) == pytest.approx(place)


def test_labels_lie_on_nothing_and_say_names_and_values(board: Schematic) -> None:
    found = labels(board)
    words = {text for _, text, _ in found}
    assert {"sea", "m", "a", "b"} <= words
    assert any(value for _, _, value in found), "flows and pressures"
    for k, (box, *_) in enumerate(found):
        assert not any(box.intersects(other) for other, *_ in found[k + 1 :])
    board.working = None
    assert not any(value for _, _, value in labels(board))


def test_far_away_only_lines_and_symbols_are_left(board: Schematic) -> None:
    near = {text for _, text, _ in labels(board)}
    board.zoom(0.2, QPointF(450, 250))
    far = {text for _, text, _ in labels(board)}
    assert len(far) < len(near) or far <= near
    assert drawn(board).std() > 0


@pytest.mark.parametrize("tokens", [PAPER, NIGHT])
def test_what_is_lit_is_painted_otherwise(board: Schematic, tokens: Any) -> None:
    board.tokens = tokens
    before = drawn(board)
    for name in ("network.lines.near", "network.nodes.m", "network.lines.far.parts.v"):
        board.light(name)
        assert (drawn(board) != before).any(), name
    board.light("")
    assert (drawn(board) == before).all()


def test_a_run_at_rest_is_dotted(board: Schematic) -> None:
    before = drawn(board)
    assert board.working is not None
    board.working.lines["far"]["mass_flow"] = 0.0
    board._largest = (None, 0.0)
    assert board.still("far") and not board.still("near")
    assert (drawn(board) != before).any()


def test_an_empty_board_says_what_to_do(app: QApplication) -> None:
    view = Schematic(PAPER)
    view.resize(400, 300)
    assert (drawn(view)[..., :3].min(axis=2) < 200).any(), "words"
    assert gauges(view) == []
    view.deleteLater()


def test_every_symbol_is_a_path(app: QApplication) -> None:
    kinds = discover("mop_lantern.network.components", Component) | discover(
        "mop_lantern.network.nodes", Node
    )
    for name, kind in kinds.items():
        box = path_of(kind.symbol).boundingRect()
        assert 0.2 < max(box.width(), box.height()) <= 2.6, name
        assert abs(box.center().x()) < 0.8, name


# --- gauges ---


def test_gauges_stand_beside_what_they_read(board: Schematic) -> None:
    shown = {gauge.key: gauge for gauge in gauges(board)}
    assert set(shown) == set(READ)
    assert shown["flow"].title == "near tap" and shown["flow"].value != "–"
    assert anchor(board, "over") == board.diagram.nodes["m"]
    assert anchor(board, "lost") == next(item.at for item in board.diagram.symbols if item.name == "far.v")
    assert anchor(board, "nothing") is None
    for key, gauge in shown.items():
        if not any(gauge.box.intersects(other.box) for name, other in shown.items() if name != key):
            assert hit(board, gauge.box.center()) == key
    assert hit(board, QPointF(-5, -5)) == ""
    board.working = None
    assert {gauge.value for gauge in gauges(board)} == {"–"}


def test_a_new_gauge_finds_room(board: Schematic) -> None:
    place = board.diagram.nodes["m"]
    right, down = free_offset(board, place, "another gauge")
    at = board.pixel((place[0] + right, place[1] + down))
    assert board.rect().contains(at.toPoint())
    assert not any(gauge.box.contains(at) for gauge in gauges(board))


# --- hands and keys ---


def test_what_lies_under_a_pixel(board: Schematic) -> None:
    for node, place in board.diagram.nodes.items():
        assert board.found(board.pixel(place)) == f"network.nodes.{node}"
    item = next(item for item in board.diagram.symbols if item.name == "near.v")
    assert board.found(board.pixel(item.at)) == "network.lines.near.parts.v"
    assert board.found(QPointF(2, 2)) == ""


def test_the_words_under_the_pointer_tell_what_is_known(board: Schematic) -> None:
    assert "flow: " in board.figures("network.lines.near")
    assert board.figures("network.nodes.m").startswith("m\n")
    assert "loss" in board.figures("network.lines.near.parts.v")
    board.working = None
    assert board.figures("network.lines.near") == "lines.near"


def test_keys_move_and_zoom(board: Schematic) -> None:
    at = QPointF(board.shift)
    QTest.keyClick(board, Qt.Key.Key_Left)
    assert board.shift.x() == at.x() + 40
    QTest.keyClick(board, Qt.Key.Key_Down)
    assert board.shift.y() == at.y() - 40
    scale = board.scale
    QTest.keyClick(board, Qt.Key.Key_Plus)
    assert board.scale == pytest.approx(1.2 * scale)
    QTest.keyClick(board, Qt.Key.Key_Minus)
    assert board.scale == pytest.approx(scale)
    QTest.keyClick(board, Qt.Key.Key_F)
    assert board.shift == at
    for _ in range(60):
        QTest.keyClick(board, Qt.Key.Key_Minus)
    assert board.scale == pytest.approx(1.0), "no farther"


def test_zooming_keeps_the_place_under_the_pointer(board: Schematic) -> None:
    about = QPointF(300, 200)
    place = board.place(about)
    board.zoom(1.7, about)
    assert board.place(about) == pytest.approx(place)


def test_clicks_choose_and_menus_are_asked_for(board: Schematic) -> None:
    chosen: list[str] = []
    asked: list[str] = []
    board.chosen.connect(chosen.append)
    board.asked.connect(lambda path, _: asked.append(path))
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=board.pixel(board.diagram.nodes["sea"]).toPoint())
    assert chosen == ["network.nodes.sea"]
    from PyQt6.QtGui import QContextMenuEvent

    at = board.pixel(board.diagram.nodes["m"]).toPoint()
    board.contextMenuEvent(QContextMenuEvent(QContextMenuEvent.Reason.Mouse, at, board.mapToGlobal(at)))
    board.contextMenuEvent(
        QContextMenuEvent(QContextMenuEvent.Reason.Mouse, QPoint(2, 2), board.mapToGlobal(QPoint(2, 2)))
    )
    assert asked == ["network.nodes.m", ""]


def test_a_drawn_run_is_told_or_given_up(board: Schematic) -> None:
    told: list[Any] = []
    board.drawn.connect(lambda *given: told.append(given))
    board.draw_line_from("a")
    QTest.mouseClick(board, Qt.MouseButton.LeftButton, pos=board.pixel(board.diagram.nodes["b"]).toPoint())
    assert told[0][:2] == ("a", "b") and board.from_node == ""
    board.draw_line_from("a")
    QTest.keyClick(board, Qt.Key.Key_Escape)
    assert board.from_node == "" and len(told) == 1


def test_another_network_with_the_same_names_keeps_the_view(board: Schematic) -> None:
    board.zoom(1.5, QPointF(100, 100))
    scale = board.scale
    assert board.case is not None
    board.show_case(board.case, None)
    assert board.scale == scale and board.working is None
    fewer = {**PUMPED, "network": {"nodes": PUMPED["network"]["nodes"], "lines": {}}}
    board.show_case(parse_case(fewer), None)
    assert board.diagram.lines == {} and board.scale != scale
    board.show_case(parse_case({**PUMPED, "views": {"places": "nonsense", "gauges": 7}}), None)
    assert board.pinned == {}


# --- the table of components ---


@pytest.fixture
def table(app: QApplication) -> Iterator[TableEditor]:
    """Open the table of two taps."""
    document = Document()
    document.start(parse_case(PUMPED), None)
    made = TableEditor(document, None)  # type: ignore[arg-type]
    made.show()
    yield made
    made.close()
    document.close()
    made.deleteLater()
    QApplication.processEvents()


def row_of(table: TableEditor, run: str, name: str) -> int:
    """Find a component's row."""
    return next(
        row
        for row in range(table.table.rowCount())
        if (table.cell(row, 0), table.cell(row, 3)) == (run, name)
    )


def test_every_component_has_a_row_and_only_its_own_values(table: TableEditor) -> None:
    assert table.table.rowCount() == 5
    row = row_of(table, "near", "v")
    kv = table.columns.index("kv")
    length = table.columns.index("length")
    assert table.cell(row, kv) == "20 m3/h" and table.cell(row, length) == ""
    item, other = table.table.item(row, kv), table.table.item(row, length)
    assert item is not None and item.flags() & Qt.ItemFlag.ItemIsEditable
    assert other is not None and not other.flags() & Qt.ItemFlag.ItemIsEditable


def test_one_kind_shows_its_own_columns(table: TableEditor) -> None:
    table.only.setCurrentText("valve")
    shown = [row for row in range(5) if not table.table.isRowHidden(row)]
    assert len(shown) == 2
    assert table.table.isColumnHidden(table.columns.index("length"))
    assert not table.table.isColumnHidden(table.columns.index("kv"))
    assert not any(table.table.isColumnHidden(column) for column in range(FIXED))


def test_a_changed_cell_goes_into_the_case_by_apply(table: TableEditor) -> None:
    item = table.table.item(row_of(table, "near", "v"), table.columns.index("kv"))
    assert item is not None
    item.setText("12 m3/h")
    assert "Apply" in table.told.text()
    assert table.apply()
    case = table.document.case
    assert case is not None and case.network.lines["near"].parts["v"].kv == "12 m3/h"  # type: ignore[attr-defined]
    assert "1 values" in table.told.text()
    assert not table.apply() and "Nothing has changed" in table.told.text()
    table.document.undo()


def test_a_row_is_added_in_the_run_chosen(table: TableEditor) -> None:
    row = row_of(table, "near", "v")
    table.table.setCurrentCell(row, 0)
    table.add_row()
    assert table.table.rowCount() == 6 and table.cell(row + 1, 0) == "near"
    for column, words in ((3, "extra"), (4, "bend")):
        item = table.table.item(row + 1, column)
        assert item is not None
        item.setText(words)
    assert table.apply(), table.told.text()
    assert table.document.case is not None
    assert table.document.case.network.lines["near"].parts["extra"].kind == "bend"


def test_blocks_are_copied_and_pasted(table: TableEditor) -> None:
    clipboard = QGuiApplication.clipboard()
    assert clipboard is not None
    kv = table.columns.index("kv")
    one, other = row_of(table, "near", "v"), row_of(table, "far", "v")
    table.table.setCurrentCell(one, kv)
    table.copy()
    assert clipboard.text() == "20 m3/h"
    clipboard.setText("9 m3/h")
    table.table.setCurrentCell(other, kv)
    table.paste()
    assert table.cell(other, kv) == "9 m3/h" and "1 cells pasted" in table.told.text()
    table.table.setCurrentCell(one, table.columns.index("length"))
    table.paste()
    assert "None of these" in table.told.text(), "a valve has no length"
    clipboard.setText("")
    table.paste()
    assert "nothing to paste" in table.told.text()


def test_what_the_case_refuses_is_told_and_kept_in_the_table(table: TableEditor) -> None:
    item = table.table.item(row_of(table, "near", "v"), 4)
    assert item is not None
    item.setText("wings")
    before = table.document.case
    assert not table.apply()
    assert "wings" in table.told.text() and table.document.case == before


def test_the_table_is_written_read_and_damaged(
    table: TableEditor, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    path = tmp_path / "c.csv"
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: (str(path), ""))
    monkeypatch.setattr(QFileDialog, "getOpenFileName", lambda *_: (str(path), ""))
    table.ask_write()
    assert path.read_text("utf-8") == table.text()
    path.write_text(path.read_text("utf-8").replace("25 m", "27 m"), "utf-8")
    table.ask_read()
    assert "press Apply" in table.told.text() and table.apply()
    assert table.document.case is not None
    assert table.document.case.network.lines["far"].parts["p"].length == "27 m"  # type: ignore[attr-defined]
    path.write_bytes(b"\xff\xfe\x00")
    table.ask_read()
    assert "cannot be read" in table.told.text()
    monkeypatch.setattr(QFileDialog, "getSaveFileName", lambda *_: ("/nowhere/at/all.csv", ""))
    table.ask_write()
    assert "cannot be written" in table.told.text()


def test_menus_of_the_board_lead_somewhere(app: QApplication) -> None:
    """Every entry of every menu has something to do."""
    from mop_lantern.desk.window import Desk

    window = Desk()
    try:
        window.document.start(parse_case({**PUMPED, "readings": READ}), None)
        window._begin()
        paths = ["", "network.nodes.m", "network.lines.near", "network.lines.near.parts.v", "gauge.flow"]
        for path in paths:
            menu = window.building.menu_of(path)
            assert isinstance(menu, QMenu) and menu.actions(), path
            for action in menu.actions():
                assert action.isSeparator() or action.text()
        removing = window.building.menu_of("network.lines.near.parts.v")
        assert removing is not None
        next(action for action in removing.actions() if action.text() == "Remove").trigger()
        assert window.document.case is not None
        assert "v" not in window.document.case.network.lines["near"].parts
    finally:
        window.document._saved = window.document.case
        window.close()
        window.deleteLater()
        QApplication.processEvents()
