"""Pictures without a window: layers show, scales tell the truth, places and pixels agree."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.judge import FieldResult
from mop_lantern.scene import Picture
from mop_lantern.scene.datasets import drawing
from mop_lantern.scene.maps import default_map, lookup, tables
from mop_lantern.scene.pane import layers_of
from mop_lantern.solve import prepare
from tests.judge.test_sampling import PLANES, answer_of, plane

SIZE = (400, 300)
DISC = {"kind": "disc", "centre": ["14 mm", "0 mm"], "diameter": "3 mm"}
WAYS = {"run.start": "in", "run.end": "out"}


@pytest.fixture(scope="module")
def picture() -> Picture:
    """Make one picture; it is reused."""
    return Picture()


def shown(picture: Picture, channel: dict[str, Any], **edits: Any) -> FieldResult:
    """Show a made-up field on the channel: u by distance from the walls, p falling along x."""
    settled = settle(apply(parse_case(channel), edits))
    mesh = prepare(settled)

    def u(place: Any) -> Any:
        return np.column_stack([0.02 * (1 - (place[:, 1] / 0.005) ** 2), 0 * place[:, 0], 0 * place[:, 0]])

    edge = mesh.face_centre[mesh.n_internal :]
    flux = (u(mesh.face_centre) * mesh.area).sum(axis=1)
    answer = FieldResult(
        mesh,
        u(mesh.centre),
        1 - 25 * mesh.centre[:, 0],
        flux,
        u(edge),
        1 - 25 * edge[:, 0],
        np.zeros((mesh.n_boundary, 3)),
        1000.0,
    )
    picture.set_shape(settled.shape, WAYS)
    picture.set_answer(answer)
    picture.set_options(
        layers=frozenset({"colours", "parts"}), quantity="speed", low=None, high=None, night=False, units={}
    )
    picture.fit(SIZE)
    return answer


def colour_at(picture: Picture, x: float, y: float) -> Any:
    """Give the pixel at a place in metres."""
    image = picture.image(SIZE)
    column, row = picture.to_pixel(np.array([x, y]), SIZE)
    return image[round(row), round(column)].astype(int)


def test_colours_follow_the_map(picture: Picture, channel: dict[str, Any]) -> None:
    shown(picture, channel)
    slow, fast = colour_at(picture, 0.02, 0.00485), colour_at(picture, 0.02, 0.0)
    rows = 255 * np.array(tables()[default_map("speed", 0, 1)])
    assert np.abs(fast - rows[-1]).max() < 30 and np.abs(slow - rows[3]).max() < 60
    picture.set_options(low=0.0, high=0.2)  # a wider scale makes the same speed darker
    assert colour_at(picture, 0.02, 0.0).sum() < fast.sum() - 150


def test_outside_is_paper_and_solids_are_not_coloured(picture: Picture, channel: dict[str, Any]) -> None:
    shown(picture, channel, **{"shape.parts.d": DISC})
    paper = colour_at(picture, 0.02, 0.009)
    assert paper.min() > 225
    assert np.abs(colour_at(picture, 0.0137, 0.0003) - colour_at(picture, 0.02, 0.0)).max() > 10


@pytest.mark.parametrize("layer", [name for name, kind in layers_of(False) if not kind.asks])
def test_every_layer_changes_the_picture(picture: Picture, channel: dict[str, Any], layer: str) -> None:
    shown(picture, channel)
    picture.set_options(layers=frozenset())
    empty = picture.image(SIZE)
    picture.set_options(layers=frozenset({layer}))
    assert (picture.image(SIZE) != empty).any(axis=2).sum() > 100


def test_chevrons_point_in_and_out_by_colour_and_shape(picture: Picture, channel: dict[str, Any]) -> None:
    shown(picture, channel)
    picture.set_options(layers=frozenset({"parts"}))
    image = picture.image(SIZE).astype(int)
    left, right = image[:, : SIZE[0] // 2], image[:, SIZE[0] // 2 :]
    amber = (left[..., 0] > 140) & (left[..., 2] < 60)
    teal = (right[..., 0] < 60) & (right[..., 1] > 80) & (right[..., 2] > 80)
    assert amber.sum() > 20 and teal.sum() > 20


def test_pixels_and_places_go_there_and_back(picture: Picture, channel: dict[str, Any]) -> None:
    shown(picture, channel)
    for x, y in ((0, 0), (399, 299), (123.4, 56.7)):
        assert picture.to_pixel(picture.to_world(x, y, SIZE), SIZE) == pytest.approx((x, y))


def test_values_at_points_meet_the_boundary(picture: Picture, channel: dict[str, Any]) -> None:
    answer = shown(picture, channel)
    drawn = drawing(answer.mesh)
    values = drawn.at_points(answer, "pressure")
    places = answer.mesh.points[drawn.used]
    inner = (np.abs(places[:, 0] - 0.02) < 0.018) & (np.abs(places[:, 1]) < 0.0049)
    assert values[inner] == pytest.approx(1 - 25 * places[inner, 0], abs=1e-9)
    inner_x = np.abs(places[:, 0] - 0.02) < 0.019  # the corners belong to the openings
    walls = drawn.at_points(answer, "speed")[(np.abs(np.abs(places[:, 1]) - 0.005) < 1e-9) & inner_x]
    assert walls.max() < 1e-12  # no slip is seen in the picture too


def test_signed_quantities_are_centred_on_zero() -> None:
    assert default_map("u", -1, 3) == "vik" and default_map("u", 0, 3) == "batlow"
    assert lookup("vik", -1.0, 3.0).GetTableRange() == (-3.0, 3.0)
    assert lookup("oslo", 2.0, 2.0).GetTableRange()[1] > 2.0


def test_night_is_dark_and_the_empty_stage_is_bare(channel: dict[str, Any], picture: Picture) -> None:
    shown(picture, channel)
    picture.set_options(night=True)
    assert colour_at(picture, 0.02, 0.009).max() < 50
    picture.set_answer(None)
    picture.set_shape(None, {})
    assert len(np.unique(picture.image(SIZE).reshape(-1, 3), axis=0)) == 1


def test_the_picture_has_the_very_values_of_a_linear_field(channel: dict[str, Any]) -> None:
    """Probe and picture agree: colours at the corners of cells are exact where the field is linear, also on
    hanging and cut cells.
    """
    for kind in ("hanging", "cut and merged"):
        mesh = plane(channel, PLANES[kind])
        drawn, answer = drawing(mesh), answer_of(mesh, lambda x: 3 * x[:, 0] - 2 * x[:, 1])
        places = mesh.points[drawn.used]
        got = drawn.at_points(answer, "pressure")
        off = np.abs(got - places[:, :2] @ [3, -2]) / np.ptp(got)
        inner = drawn.near_face[:, 0] < 0
        assert np.quantile(off[inner], 0.98) < 1e-9 and off[inner].max() < 2e-3, kind
        assert np.quantile(off[~inner], 0.5) < 1e-9 and off.max() < 0.015, (
            "on the boundary the mean of the faces that meet"
        )


def test_openings_point_as_the_field_flows_unless_it_was_laid_down(
    picture: Picture, channel: dict[str, Any]
) -> None:
    """A supply of given pressure says nothing of the way; before a field is there, nobody knows."""
    answer = shown(picture, channel)
    settled = settle(parse_case(channel))
    picture.set_shape(settled.shape, {"run.start": "open", "run.end": "open", "run.left": "open"})
    assert picture.ways == {"run.start": "in", "run.end": "open", "run.left": "open"}
    entering = picture.image(SIZE)
    picture.set_shape(settled.shape, {"run.start": "out", "run.end": "in"})
    assert picture.ways == {"run.start": "out", "run.end": "in"}, "what was laid down stays"
    picture.set_answer(None)
    picture.set_shape(settled.shape, {"run.start": "open", "run.end": "open", "run.left": "open"})
    assert picture.ways["run.start"] == "open"
    picture.set_answer(answer)
    assert (picture.image(SIZE)[:, :150] == entering[:, :150]).all()
    answer.flux[:] = 0.0
    picture.set_answer(FieldResult(**{k: getattr(answer, k) for k in answer.__dataclass_fields__}))
    assert picture.ways["run.start"] == "open", "nothing flows"
