"""The tools of the stage, each on a picture of its own: what a press, a drag and a release do."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from PyQt6.QtCore import QPoint
from PyQt6.QtGui import QImage, QPainter
from PyQt6.QtWidgets import QApplication

from mop_lantern.case import Handle
from mop_lantern.desk.stage.probe import paint_value, value_words
from mop_lantern.desk.stage.tools.drawing import DrawingTool
from mop_lantern.desk.stage.tools.handles import HandleTool
from mop_lantern.desk.stage.tools.line import LineTool
from mop_lantern.desk.stage.tools.looking import Looking
from mop_lantern.desk.stage.tools.patch import PatchTool
from mop_lantern.desk.stage.tools.section import FINE, SectionGrip
from mop_lantern.desk.stage.tools.tool import STILL, Pull, Tool
from mop_lantern.desk.theme import PAPER
from mop_lantern.scene import Picture
from tests.scene.test_looking import cube
from tests.scene.test_picture import shown

SIZE = (400, 300)


class Paper:
    """A view without a window: what tools may use of one."""

    def __init__(self, picture: Picture) -> None:
        self.picture: Picture | None = picture
        self.tokens = PAPER
        self.units = {"length": "mm", "velocity": "mm/s"}
        self.pins: list[Any] = []
        self.line: tuple[Any, Any] | None = None
        self.told: list[str] = []
        self.moved = 0.0

    @property
    def pane(self) -> tuple[int, int]:
        return SIZE

    def place_at(self, at: QPoint) -> Any:
        assert self.picture is not None
        if self.picture.surface is None:
            return self.picture.to_world(at.x(), at.y(), SIZE)
        return self.picture.on_section(at.x(), at.y(), SIZE)

    def value_words(self, place: Any, what: str = "") -> str:
        return value_words(self.picture, place, what, self.units)

    def move_section(self, by: float) -> None:
        assert self.picture is not None
        self.moved += by
        share = float(np.clip(self.picture.options.share + by, 0.01, 0.99))
        self.picture.set_options(share=share)

    def hurry(self) -> None:
        self.told.append("hurry")

    def update(self) -> None:
        self.told.append("update")


@pytest.fixture(scope="module")
def plain() -> Iterator[Picture]:
    """Give one picture; making one takes a third of a second."""
    yield Picture()


@pytest.fixture
def plane(app: QApplication, plain: Picture, channel: dict[str, Any]) -> Paper:
    """Lay the channel with a field on the paper."""
    shown(plain, channel)
    plain.fit(SIZE)
    return Paper(plain)


@pytest.fixture
def space(app: QApplication, plain: Picture) -> Paper:
    """Lay a cube on the paper."""
    plain.set_answer(None)
    plain.set_shape(cube(), {})
    plain.fit(SIZE)
    return Paper(plain)


def pulled(tool: Tool, *ways: tuple[float, float], **keys: bool) -> Pull:
    """Press at the first place, go by way of the others, and let go at the last."""
    points = [QPoint(round(x), round(y)) for x, y in ways]
    pull = Pull(points[0], points[0], points[0])
    pull.shift, pull.control = keys.get("shift", False), keys.get("control", False)
    tool.press(pull)
    for point in points[1:]:
        pull.go(point)
        tool.drag(pull)
        if pull.moved:
            pull.last = point
    tool.release(pull)
    return pull


def painted(tool: Tool, hover: QPoint | None = None) -> int:
    """Paint a tool on white; give how many pixels it has changed."""
    image = QImage(*SIZE, QImage.Format.Format_RGB32)
    image.fill(0xFFFFFFFF)
    painter = QPainter(image)
    tool.paint(painter, hover)
    painter.end()
    bits = image.constBits()
    assert bits is not None
    bits.setsize(image.sizeInBytes())
    pixels = np.frombuffer(bits.asarray(), np.uint32)  # type: ignore[call-overload]
    return int((pixels != 0xFFFFFFFF).sum())


def pixel(paper: Paper, place: Any) -> tuple[float, float]:
    assert paper.picture is not None
    return paper.picture.to_pixel(np.asarray(place, float), SIZE)


# --- a press ---


def test_a_press_that_hardly_moves_is_a_click() -> None:
    pull = Pull(QPoint(5, 5), QPoint(5, 5), QPoint(5, 5))
    pull.go(QPoint(5 + STILL, 5))
    assert not pull.moved
    pull.go(QPoint(5 + STILL, 6))
    assert pull.moved
    pull.go(QPoint(5, 5))
    assert pull.moved, "what has moved stays moved"


def test_a_tool_that_does_nothing_does_nothing() -> None:
    assert not pulled(Tool(), (1, 1), (50, 50)).start.isNull() and painted(Tool()) == 0


# --- looking ---


def test_looking_moves_a_plane_with_the_pointer(plane: Paper) -> None:
    assert plane.picture is not None
    under = plane.picture.to_world(100, 100, SIZE)
    pulled(Looking(plane), (100, 100), (120, 90), (150, 130))
    assert plane.picture.to_world(150, 130, SIZE) == pytest.approx(under), "the place stays under it"
    assert "hurry" in plane.told


def test_looking_turns_a_space_and_moves_it_with_shift(space: Paper) -> None:
    assert space.picture is not None
    orbit, centre = space.picture.orbit, space.picture.centre.copy()
    before = orbit.azimuth
    pulled(Looking(space), (100, 100), (150, 100))
    assert orbit.azimuth != before and np.array_equal(space.picture.centre, centre)
    before = orbit.azimuth
    pulled(Looking(space), (100, 100), (150, 100), shift=True)
    assert orbit.azimuth == before and not np.array_equal(space.picture.centre, centre)


def test_a_click_pins_the_value_and_another_takes_it_away(plane: Paper) -> None:
    tool = Looking(plane)
    at = pixel(plane, [0.02, 0.0])
    pulled(tool, at)
    assert len(plane.pins) == 1 and plane.pins[0] == pytest.approx([0.02, 0.0], abs=2e-4)
    pulled(tool, pixel(plane, [0.03, 0.0]))
    assert len(plane.pins) == 2
    pulled(tool, (at[0] + 5, at[1]))
    assert len(plane.pins) == 1 and plane.pins[0][0] == pytest.approx(0.03, abs=2e-4)
    pulled(tool, (2, 2))
    assert len(plane.pins) == 1, "outside there is no value to pin"


def test_values_say_quantity_place_and_unit(plane: Paper) -> None:
    words = plane.value_words(np.array([0.02, 0.0]))
    assert words.startswith("speed ") and "mm/s" in words and "x 20 mm" in words
    assert plane.value_words(np.array([0.02, 0.0]), "pressure").startswith("static pressure")
    assert plane.value_words(np.array([0.02, 0.9])) == ""
    assert plane.value_words(np.array([0.02, 0.0, 0.0])) == "", "a place of a space"
    assert value_words(None, np.zeros(2), "", {}) == ""


@pytest.mark.parametrize("spot", [(-50.0, -50.0), (0.0, 0.0), (399.0, 299.0), (900.0, 150.0)])
def test_the_card_of_a_value_stays_within_the_view(app: QApplication, spot: tuple[float, float]) -> None:
    class Card(Tool):
        def paint(self, painter: QPainter, hover: QPoint | None) -> None:
            paint_value(painter, "speed 5 mm/s\nx 3 mm", spot, SIZE, PAPER.line, PAPER)

    assert painted(Card()) > 500


# --- a line ---


def test_a_line_goes_from_press_to_release(plane: Paper) -> None:
    tool = LineTool(plane)
    drawn: list[Any] = []
    tool.signals.drawn.connect(lambda start, end: drawn.append((start, end)))
    start, end = pixel(plane, [0.01, -0.004]), pixel(plane, [0.01, 0.004])
    pulled(tool, start, (200, 150), end)
    assert len(drawn) == 1
    assert drawn[0][0] == pytest.approx([0.01, -0.004], abs=2e-4)
    assert drawn[0][1] == pytest.approx([0.01, 0.004], abs=2e-4)
    pulled(tool, start)
    assert len(drawn) == 1, "a click is no line"


def test_a_line_in_a_space_needs_its_section(space: Paper) -> None:
    assert space.picture is not None
    space.picture.set_options(across=2)
    space.picture.orbit.elevation = 0.0  # the section is seen edge on
    tool = LineTool(space)
    pulled(tool, (100, 100), (150, 150))
    assert space.line is None
    space.picture.orbit.elevation = 40.0
    pulled(tool, (180, 150), (220, 150))
    assert space.line is not None and space.line[0][2] == pytest.approx(0.5)


# --- handles ---


def handle(at: Any, pull: Any = (1.0, 0.0)) -> Handle:
    """Make a handle of a length."""
    way = None if pull is None else np.asarray(pull, float)
    return Handle("shape.parts.run.length", np.asarray(at, float), way, 0.04, "mm", "length", "length", 0.04)


def test_a_handle_follows_the_pointer_and_tells_when_it_is_let_go(plane: Paper) -> None:
    tool = HandleTool(plane)
    tool.handles = [handle([0.04, 0.0])]
    told: list[Any] = []
    tool.signals.moved.connect(lambda which, place, done: told.append((which.path, place, done)))
    pulled(tool, pixel(plane, [0.04, 0.0]), pixel(plane, [0.045, 0.0]), pixel(plane, [0.05, 0.0]))
    assert [done for *_, done in told] == [False, False, True]
    assert told[-1][1] == pytest.approx([0.05, 0.0], abs=3e-4)
    pulled(tool, pixel(plane, [0.04, 0.0]))
    assert len(told) == 3, "a click on it changes nothing"


def test_a_click_picks_the_edge_near_it(plane: Paper) -> None:
    tool = HandleTool(plane)
    edges: list[str] = []
    tool.signals.edge.connect(edges.append)
    pulled(tool, pixel(plane, [0.02, 0.005]))
    pulled(tool, pixel(plane, [0.0, 0.001]))
    pulled(tool, (3, 3))
    assert edges == ["run.left", "run.start", ""]


def test_a_click_in_a_space_tells_the_pixel_and_the_key(space: Paper) -> None:
    tool = HandleTool(space)
    clicks: list[Any] = []
    tool.signals.clicked.connect(lambda at, more: clicks.append((at.x(), more)))
    pulled(tool, (120, 80))
    pulled(tool, (130, 80), control=True)
    pulled(tool, (130, 80), (190, 80))
    assert clicks == [(120, False), (130, True)]


def test_a_handle_that_moves_towards_the_eye_cannot_be_held(space: Paper) -> None:
    assert space.picture is not None
    space.picture.orbit.azimuth, space.picture.orbit.elevation = 0.0, 0.0  # the eye looks along x
    tool = HandleTool(space)
    tool.handles = [handle([0.5, 0.5, 0.5], (1.0, 0.0, 0.0)), handle([0.5, 0.2, 0.2], (0.0, 1.0, 0.0))]
    assert [one.at[1] for one in tool._within_reach()] == [0.2]
    told: list[Any] = []
    tool.signals.moved.connect(lambda *given: told.append(given))
    pulled(tool, pixel(space, [0.5, 0.5, 0.5]), (10, 10))
    assert not told


def test_handles_are_painted_with_their_names_when_near(plane: Paper) -> None:
    tool = HandleTool(plane)
    assert painted(tool) == 0
    tool.handles = [handle([0.04, 0.0]), handle([0.0, 0.0], None)]
    far = painted(tool)
    near = painted(tool, QPoint(*(round(v) for v in pixel(plane, [0.04, 0.0]))))
    assert 0 < far < near


# --- the grip of the section ---


def test_the_grip_takes_the_section_along(space: Paper) -> None:
    assert space.picture is not None
    space.picture.set_options(across=0, share=0.5, layers=frozenset({"colours"}))
    space.picture.orbit.azimuth, space.picture.orbit.elevation = -90.0, 0.0  # x goes to the right
    grip = SectionGrip(space)
    x, y = grip.spot()
    assert grip.holds(QPoint(round(x), round(y))) and not grip.holds(QPoint(5, 5))
    far = 0.1 * SIZE[1] / space.picture.height  # a tenth of the cube, pixels
    pulled(grip, (x, y), (x + far, y))
    assert space.moved == pytest.approx(0.1, abs=0.01)
    assert grip.words().startswith("x = ")
    space.moved = 0.0
    pulled(grip, (x, y), (x + far, y), shift=True)
    assert space.moved == pytest.approx(0.1 * FINE, abs=0.005)
    assert painted(grip) > 50
    assert painted(grip, QPoint(*(round(v) for v in grip.spot()))) > painted(grip)


def test_there_is_no_grip_where_nothing_lies_on_a_section(space: Paper, plane: Paper) -> None:
    assert space.picture is not None
    space.picture.set_shape(cube(), {})
    space.picture.set_options(layers=frozenset({"parts"}))
    grip = SectionGrip(space)
    assert grip.way() is None and painted(grip) == 0 and not grip.holds(QPoint(200, 150))


# --- a patch ---


def test_a_patch_is_laid_from_press_to_release(space: Paper) -> None:
    assert space.picture is not None
    space.picture.set_shape(cube(), {})
    space.picture.orbit.azimuth, space.picture.orbit.elevation = -62.0, 28.0
    laid: list[Any] = []
    tool = PatchTool(
        space, "box.top", np.array([0.5, 0.5, 1.0]), "rectangular", lambda *given: laid.append(given)
    )
    assert tool.alone and painted(tool) == 0
    one, other = pixel(space, [0.2, 0.3, 1.0]), pixel(space, [0.7, 0.6, 1.0])
    pulled(tool, one, other)
    (face, first, second, outline) = laid[0]
    assert (face, outline) == ("box.top", "rectangular")
    assert first == pytest.approx([0.2, 0.3, 1.0], abs=0.01)
    assert second == pytest.approx([0.7, 0.6, 1.0], abs=0.01)
    assert painted(tool) > 50


def test_a_face_seen_edge_on_takes_no_patch(space: Paper) -> None:
    assert space.picture is not None
    space.picture.set_shape(cube(), {})
    space.picture.orbit.elevation = 0.0
    laid: list[Any] = []
    tool = PatchTool(space, "box.top", np.array([0.5, 0.5, 1.0]), "round", lambda *given: laid.append(given))
    pulled(tool, (150, 150), (180, 170))
    assert laid == [("box.top", None, None, "round")]


# --- readings ---


@pytest.mark.parametrize(("box", "corners"), [(False, 2), (True, 5)])
def test_a_line_and_a_box_are_drawn_from_press_to_release(plane: Paper, box: bool, corners: int) -> None:
    told: list[Any] = []
    tool = DrawingTool(plane, box, told.append)
    assert tool.alone and painted(tool) == 0
    pulled(tool, (100, 100), (180, 140))
    [places] = told
    assert places == pytest.approx(
        np.array([plane.place_at(QPoint(100, 100)), plane.place_at(QPoint(180, 140))])
    )
    outline = tool.corners()
    assert len(outline) == corners and painted(tool) > 50
    assert not box or list(outline[1]) == [places[1][0], places[0][1]]


def test_a_box_on_a_section_stays_in_it_and_needs_it_seen(space: Paper) -> None:
    assert space.picture is not None
    space.picture.set_shape(cube(), {})
    space.picture.set_options(across=1, share=0.5)
    space.picture.orbit.azimuth, space.picture.orbit.elevation = -62.0, 28.0
    told: list[Any] = []
    tool = DrawingTool(space, True, told.append)
    pulled(tool, pixel(space, [0.2, 0.5, 0.2]), pixel(space, [0.7, 0.5, 0.6]))
    assert [corner[1] for corner in tool.corners()] == pytest.approx([0.5] * 5)
    space.picture.orbit.azimuth, space.picture.orbit.elevation = 0.0, 0.0
    pulled(DrawingTool(space, True, told.append), (150, 150), (180, 170))
    assert told[-1] == []
