"""A section of a space is drawn at once from what is near, and at rest as readings have it."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import numpy as np
import pytest
from PyQt6.QtWidgets import QApplication

from mop_lantern.case import parse_case, settle
from mop_lantern.desk.stage.stage import Stage
from mop_lantern.desk.theme import PAPER
from mop_lantern.judge import FieldResult
from mop_lantern.judge.sampling import sampler_of
from mop_lantern.scene import Picture
from mop_lantern.scene.datasets import FEW
from mop_lantern.solve.boundary_data import prepare
from tests.desk.test_window import wait

pytestmark = pytest.mark.filterwarnings("ignore::DeprecationWarning")
SIZE = (400, 300)


@pytest.fixture(scope="module")
def solved() -> tuple[Any, FieldResult]:
    """Give a box with a ball in it, and a field of humps on its cells."""
    case = {
        "title": "box",
        "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}},
        "shape": {
            "space": "space",
            "solids": {
                "d": {"kind": "brick", "length": "40 mm", "width": "20 mm", "height": "20 mm"},
                "ball": {
                    "kind": "ball",
                    "role": "solid",
                    "x": "20 mm",
                    "y": "10 mm",
                    "z": "10 mm",
                    "diameter": "9 mm",
                },
            },
        },
        "field": {
            "openings": {
                "in": {"kind": "velocity", "edge": "d.west", "velocity": "10 mm/s"},
                "out": {"kind": "static_pressure", "edge": "d.east", "pressure": "0 Pa"},
            },
            "grid": {"cell": "2.5 mm"},
        },
    }
    settled = settle(parse_case(case))
    mesh = prepare(settled)
    return settled.shape, field_on(mesh)


def field_on(mesh: Any, wave: float = 300.0) -> FieldResult:
    """Give a field of waves."""
    law = lambda places: np.sin(wave * places[:, 0]) * np.cos(wave * places[:, 1])  # noqa: E731
    wall = mesh.face_centre[mesh.n_internal :]
    none = np.zeros((mesh.n_boundary, 3))
    return FieldResult(
        mesh,
        np.column_stack([law(mesh.centre)] * 3),
        law(mesh.centre),
        np.zeros(len(mesh.owner)),
        none,
        law(wall),
        none,
        1000.0,
    )


@pytest.fixture
def stage(app: QApplication, solved: tuple[Any, FieldResult]) -> Iterator[Stage]:
    """Show the box on a stage of its own."""
    made = Stage(PAPER)
    made.view.setFixedSize(*SIZE)
    made.show()
    made.show_shape(solved[0], {"d.west": "in", "d.east": "out"}, {"length": "mm"})
    made.view.ensure().set_options(layers=frozenset({"colours"}), quantity="pressure", share=0.43)
    yield made
    made.close()
    made.deleteLater()
    QApplication.processEvents()


def test_a_picture_made_for_a_file_has_the_values_of_readings_at_once(
    app: QApplication, solved: tuple[Any, FieldResult]
) -> None:
    shape, answer = solved
    picture = Picture()
    assert picture.patient
    picture.set_shape(shape, {})
    picture.set_answer(answer)
    picture.set_options(layers=frozenset({"colours"}), quantity="pressure")
    picture.image(SIZE)
    assert picture.wanted == []
    picture.patient = False
    picture.set_options(share=0.31)
    quick = picture.image(SIZE).astype(int)
    assert len(picture.wanted) == 1
    for sampler, places in picture.wanted:
        sampler.weights(places)
    picture.draw_better()
    better = picture.image(SIZE).astype(int)
    assert picture.wanted == [] and np.abs(better - quick).sum() > 0
    assert np.abs(better - quick).mean() < 4, "the quick one is near"
    picture.patient = True
    picture.set_options(share=0.3100001)
    assert np.abs(picture.image(SIZE).astype(int) - better).mean() < 0.5


def test_the_stage_draws_at_once_and_better_when_it_rests(
    stage: Stage, solved: tuple[Any, FieldResult]
) -> None:
    picture = stage.view.ensure()
    assert not picture.patient
    stage.show_answer(solved[1])
    stage.view.grab()
    assert picture.wanted, "a new section is drawn from what is near"
    before = stage.view._pixels.astype(int)
    sampler, places = picture.wanted[0]
    assert not sampler.knows(places)
    wait(lambda: stage.view._working is not None and not stage.view._working.running, 30.0)
    assert sampler.knows(places)
    stage.view.grab()
    assert picture.wanted == []
    assert np.abs(stage.view._pixels.astype(int) - before).sum() > 0


def test_a_section_that_goes_on_moving_is_worked_out_where_it_rests(
    stage: Stage, solved: tuple[Any, FieldResult]
) -> None:
    picture = stage.view.ensure()
    stage.show_answer(solved[1])
    for share in (0.3, 0.4, 0.6):
        picture.set_options(share=share)
        stage.view.redraw()
        stage.view.grab()
    last = picture.wanted[0][1]
    assert last[:, picture.across] == pytest.approx(
        picture.orbit.focus[picture.across] + 0.1 * 0.02, abs=1e-3
    )
    wait(lambda: sampler_of(solved[1].mesh.fluid).knows(last), 30.0)
    wait(lambda: stage.view._working is not None and not stage.view._working.running, 30.0)


def test_another_field_on_the_same_mesh_needs_no_more_work(
    stage: Stage, solved: tuple[Any, FieldResult]
) -> None:
    picture = stage.view.ensure()
    stage.show_answer(solved[1])
    stage.view.grab()
    for sampler, places in picture.wanted:
        sampler.weights(places)
    stage.show_answer(field_on(solved[1].mesh, 200.0))
    stage.view.grab()
    assert picture.wanted == [], "as the states of a run in time"


def test_a_plane_of_many_cells_is_drawn_at_once_too(app: QApplication, channel: dict[str, Any]) -> None:
    settled = settle(parse_case({**channel, "field": {**channel["field"], "grid": {"cell": "0.25 mm"}}}))
    mesh = prepare(settled)
    answer = field_on(mesh)
    picture = Picture()
    picture.patient = False
    picture.set_shape(settled.shape, {})
    picture.set_answer(answer)
    picture.set_options(layers=frozenset({"colours", "streamlines"}), quantity="pressure")
    quick = picture.image(SIZE).astype(int)
    drawn = picture._drawn[""]
    assert len(drawn.inner) > FEW and picture.wanted and not drawn.ready
    places = drawn.places
    quickly = drawn.at_points(answer, "pressure", quick=True)[drawn.inner]
    exactly = answer.sampler("pressure", places)
    assert np.abs(quickly - exactly).mean() < 0.01 and np.abs(quickly - exactly).max() < 0.2
    assert drawn.ready, "worked out by now"
    picture.draw_better()
    better = picture.image(SIZE).astype(int)
    assert picture.wanted == [] and 0 < np.abs(better - quick).mean() < 4
    assert np.array_equal(drawn.at_points(answer, "pressure")[drawn.inner], exactly)


def test_a_plane_of_few_cells_needs_no_second_picture(app: QApplication, channel: dict[str, Any]) -> None:
    settled = settle(parse_case(channel))
    picture = Picture()
    picture.patient = False
    picture.set_shape(settled.shape, {})
    picture.set_answer(field_on(prepare(settled)))
    picture.image(SIZE)
    assert picture.wanted == []
