"""Pictures of fluid and solids: temperature is coloured in both, what belongs to the fluid in it alone."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from bench.solid_cases import LAYERS, pipe_in_space, sheared, wall_in_space, wall_of
from mop_lantern.case import parse_case, settle
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.scene import Picture
from mop_lantern.solve import prepare

SIZE = (400, 300)
LINEAR = np.array([3.0, -5.0, 7.0])


@pytest.fixture(scope="module")
def picture() -> Picture:
    """Make one picture; it is reused."""
    return Picture()


def shown(picture: Picture, data: dict[str, Any], **options: Any) -> FieldResult:
    """Show a made-up field of a case: temperature linear in the place, the fluid in a steady stream."""
    settled = settle(parse_case(data))
    mesh = prepare(settled)
    wet = mesh.cells_of("")
    edge = mesh.face_centre[mesh.n_internal :]
    outer = wet[mesh.owner[mesh.n_internal :]]
    velocity = np.zeros((mesh.n_cells, 3))
    velocity[wet, 0] = 1.0
    warm = Scalar(
        300 + 100 * mesh.centre @ LINEAR,
        300 + 100 * edge @ LINEAR,
        np.zeros(len(edge)),
        "temperature",
        "temperature",
    )
    answer = FieldResult(
        mesh,
        velocity,
        np.zeros(mesh.n_cells),
        np.zeros(len(mesh.owner)),
        np.column_stack([outer * 1.0, 0.0 * outer, 0.0 * outer]),
        np.zeros(mesh.n_boundary),
        np.zeros((mesh.n_boundary, 3)),
        1000.0,
        {"T": warm},
    )
    picture.set_shape(settled.shape, {})
    picture.set_answer(answer)
    look = {"layers": frozenset({"colours"}), "quantity": "T", "low": None, "high": None, "beside": ()}
    picture.set_options(**{**look, **options})
    picture.fit(SIZE)
    return answer


def inked(picture: Picture) -> Any:
    """Give which pixels are not the ground."""
    image = picture.image(SIZE).astype(int)
    picture.window.Render()
    return (np.abs(image - image[2, 2]).sum(axis=2) > 12)[: int(0.8 * SIZE[1])]


def at(picture: Picture, x: float, y: float) -> Any:
    column, row = picture.to_pixel(np.array([x, y]), SIZE)
    return picture.image(SIZE)[int(row), int(column)].astype(int)


def test_a_slab_is_coloured_by_temperature_and_not_by_speed(picture: Picture) -> None:
    shown(picture, sheared("0 deg"))
    slab = (0.05, -0.005)
    gap = (0.05, 0.0025)
    ground = picture.image(SIZE)[2, 2].astype(int)
    assert np.abs(at(picture, *slab) - ground).sum() > 60 < np.abs(at(picture, *gap) - ground).sum()
    picture.set_options(quantity="speed")
    assert np.abs(at(picture, *slab) - ground).sum() < 12
    assert np.abs(at(picture, *gap) - ground).sum() > 12
    picture.set_options(layers=frozenset({"colours", "parts"}))
    assert inked(picture).sum() > 0


def test_values_at_corners_do_not_cross_a_joint(picture: Picture) -> None:
    """Every region draws its own corners: a linear field is exact on both sides, a jump stays a jump."""
    answer = shown(picture, sheared("30 deg"))
    warm = answer.scalars["T"]
    slab = ~answer.wet
    warm.cells[slab] += 50.0
    warm.boundary[slab[answer.mesh.owner[answer.mesh.n_internal :]]] += 50.0
    for name, drawn in picture._drawn.items():
        part = answer.parts[name]
        places = part.mesh.points[drawn.used]
        exact = 300 + 100 * places @ LINEAR + (50.0 if name else 0.0)
        assert np.abs(drawn.at_points(part, "T") - exact).max() < 0.2
    assert set(picture._drawn) == {"", "slab"}
    kept = dict(picture._drawn)
    picture.set_answer(answer)
    assert all(picture._drawn[name] is kept[name] for name in kept)


def test_the_scale_of_speed_knows_no_solid(picture: Picture) -> None:
    answer = shown(picture, sheared("0 deg"))
    assert picture.value_range("T")[1] == pytest.approx(answer.cells("T").max())
    assert picture.value_range("speed") == (0.0, 1.0)
    picture.set_options(quantity="u")
    assert picture.value_range("u") == (1.0, 1.0)


def test_solids_alone_are_seen_before_and_after(picture: Picture) -> None:
    settled = settle(parse_case(wall_of(LAYERS[:3], 0.02)))
    picture.set_answer(None)
    picture.set_shape(settled.shape, {})
    picture.set_options(layers=frozenset({"parts", "colours"}), quantity="speed")
    picture.fit(SIZE)
    hatched = inked(picture).sum()
    assert hatched > 500
    shown(picture, wall_of(LAYERS[:3], 0.02), layers=frozenset({"colours", "grid"}), quantity="speed")
    assert picture.quantity == "T"
    assert inked(picture).sum() > 1.3 * hatched


@pytest.mark.parametrize("layer", ["colours", "grid", "skin"])
def test_solids_of_a_space_have_every_layer_that_is_theirs(picture: Picture, layer: str) -> None:
    data = wall_in_space(LAYERS[:3], 0.03)
    shown(picture, data, layers=frozenset(), across=2)
    bare = inked(picture).sum()
    picture.set_options(layers=frozenset({layer}))
    assert inked(picture).sum() > bare + 1000


def test_a_pipe_in_space_shows_its_walls_warm(picture: Picture) -> None:
    data = pipe_in_space()
    data["field"]["grid"]["cell"] = "3 mm"
    shown(picture, data, layers=frozenset({"colours"}), across=2)
    warm = inked(picture).sum()
    picture.set_options(quantity="speed")
    assert warm > 1.3 * inked(picture).sum()


CHANGES = [
    ("colours", "bands", "4"),
    ("colours", "opacity", "40 %"),
    ("grid", "opacity", "100 %"),
    ("grid", "width", "4"),
    ("skin", "opacity", "30 %"),
    ("parts", "width", "6"),
    ("solids", "apart", "5 %"),
    ("worst", "shown", "3"),
]


@pytest.mark.parametrize(("layer", "option", "value"), CHANGES)
def test_every_option_of_a_layer_changes_a_space(
    picture: Picture, layer: str, option: str, value: str
) -> None:
    data = pipe_in_space()
    data["field"]["grid"]["cell"] = "3 mm"
    quantity = "speed" if layer == "solids" else "T"
    shown(picture, data, layers=frozenset({layer}), across=2, quantity=quantity)
    picture.take_views(None)
    before = picture.image(SIZE).astype(int)
    case = parse_case({**data, "views": {"layers": {layer: {option: value}}}})
    assert picture.take_views(case) == []
    assert np.abs(picture.image(SIZE).astype(int) - before).sum() > 0
    picture.take_views(None)
    assert np.abs(picture.image(SIZE).astype(int) - before).sum() == 0


def test_options_that_cannot_be_are_told_by_place_and_left_out(picture: Picture) -> None:
    views = {"layers": {"grid": {"opacity": "300 %", "width": "2"}, "colours": {"wings": "1"}, "level": 3}}
    faults = picture.take_views(parse_case({**sheared("0 deg"), "views": views}))
    assert {fault.path for fault in faults} == {"views.layers.grid.opacity", "views.layers.colours.wings"}
    assert picture.layer_options["grid"].opacity == pytest.approx(0.35)
    assert picture.layer_options["grid"].width == 2.0
    picture.take_views(None)
