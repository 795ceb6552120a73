"""Every layer, with every option at its ends, in a plane and in a space: drawn, and alike each time."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import Case, parse_case, settle
from mop_lantern.declare import Declared, declared, discover
from mop_lantern.judge import FieldResult
from mop_lantern.judge.field_result import Scalar
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import PACKAGE, layer_options
from mop_lantern.scene.pane import layers_of
from mop_lantern.scene.picture import Picture
from mop_lantern.solve.boundary_data import prepare
from tests.scene.test_picture import shown

SIZE = (240, 180)
EMPTY = ("solids", "worst", "dew")  # nothing of these is in a channel of even cells or a box of water
KINDS = discover(PACKAGE, Layer)
OPTIONS = [(name, key, rule) for name, kind in KINDS.items() for key, rule in declared(kind).items()]
BOX: dict[str, Any] = {
    "title": "box",
    "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "10 mPa s"}},
    "shape": {
        "space": "space",
        "solids": {"d": {"kind": "brick", "length": "40 mm", "width": "20 mm", "height": "20 mm"}},
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "d.west", "velocity": "10 mm/s"},
            "out": {"kind": "static_pressure", "edge": "d.east", "pressure": "0 Pa"},
        },
        "grid": {"cell": "4 mm"},
    },
}


def swirl(mesh: Any) -> FieldResult:
    """Give a stream along x that swings."""
    law = lambda places: np.column_stack(  # noqa: E731
        [1 + 0 * places[:, 0], 0.3 * np.sin(150 * places[:, 0]), 0.3 * np.cos(150 * places[:, 0])]
    )
    wall = mesh.face_centre[mesh.n_internal :]
    none = np.zeros((mesh.n_boundary, 3))
    velocity = law(mesh.centre)
    return FieldResult(
        mesh,
        velocity,
        -10 * mesh.centre[:, 0],
        np.zeros(len(mesh.owner)),
        law(wall),
        -10 * wall[:, 0],
        none,
        1000.0,
    )


@pytest.fixture(scope="module")
def space() -> Iterator[Picture]:
    """Show a box with a swinging stream."""
    settled = settle(parse_case(BOX))
    made = Picture()
    made.set_shape(settled.shape, {"d.west": "in", "d.east": "out"})
    made.set_answer(swirl(prepare(settled)))
    yield made


@pytest.fixture(scope="module")
def plane() -> Iterator[Picture]:
    yield Picture()


def ends_of(rule: Declared) -> list[str]:
    """Give typed values at or near the ends an option may have."""
    if rule.form == "choice":
        return [value for value, _ in rule.options]
    if rule.form == "flag":
        return ["false", "true"]
    low = rule.at_least if rule.at_least is not None else rule.above
    high = rule.at_most if rule.at_most is not None else rule.below
    unit = {"fraction": "", "number": "", "angle": " rad", "length": " m"}.get(rule.dimension, "")
    found = []
    if low is not None:
        value = low if rule.at_least is not None else low + 0.02 * ((high or low + 1.0) - low)
        found.append(f"{value:g}{unit}")
    if high is not None:
        found.append(f"{high if rule.at_most is not None else 0.99 * high:g}{unit}")
    return found


def case_with(name: str, **options: Any) -> Case:
    """Give a case that keeps options of a layer."""
    return Case(views={"layers": {name: options}})


def only(picture: Picture, name: str) -> Any:
    """Draw one layer alone."""
    picture.set_options(layers=frozenset({name}))
    return picture.image(SIZE).astype(int)


# --- contracts ---


@pytest.mark.parametrize("name", KINDS)
def test_a_layer_says_what_it_is(name: str) -> None:
    kind = KINDS[name]
    assert kind.caption and kind.help and kind.__doc__
    assert kind.has(False) or kind.has(True), "it draws something somewhere"
    assert kind.follows <= {"quantity", "section", "level", "seeds"}
    places = [kind.order for kind in KINDS.values()]
    assert all(isinstance(place, int) for place in places)


@pytest.mark.parametrize(("name", "key", "rule"), OPTIONS, ids=[f"{n}.{k}" for n, k, _ in OPTIONS])
def test_an_option_has_a_usual_value_within_its_limits(name: str, key: str, rule: Declared) -> None:
    usual, faults = layer_options(None)
    assert faults == [] and hasattr(usual[name], key)
    assert rule.label and rule.help.endswith(".")
    for value in ends_of(rule):
        _, faults = layer_options(case_with(name, **{key: value}))
        assert faults == [], (value, [str(fault) for fault in faults])


@pytest.mark.parametrize(("name", "key", "rule"), OPTIONS, ids=[f"{n}.{k}" for n, k, _ in OPTIONS])
def test_beyond_its_limits_an_option_is_refused_with_its_place(name: str, key: str, rule: Declared) -> None:
    if rule.form not in ("quantity", "count"):
        return
    beyond = []
    if rule.at_least is not None or rule.above is not None:
        low = rule.at_least if rule.at_least is not None else rule.above
        beyond.append(f"{(low or 0.0) - 1:g}")
    if rule.at_most is not None:
        beyond.append(f"{2 * rule.at_most + 1:g}")
    for value in (*beyond, "wings", "3 kg"):
        found, faults = layer_options(case_with(name, **{key: value}))
        assert [fault.path for fault in faults] == [f"views.layers.{name}.{key}"], value
        assert vars(found[name]) == vars(layer_options(None)[0][name]), "drawn as usual"


# --- drawing ---


@pytest.mark.parametrize("name", [name for name, _ in layers_of(False)])
def test_in_a_plane_every_layer_shows_itself(plane: Picture, channel: dict[str, Any], name: str) -> None:
    shown(plane, channel)
    plane.take_views(None)
    plane.set_options(layers=frozenset())
    bare = plane.image(SIZE).astype(int)
    drawn = only(plane, name)
    if name not in EMPTY:
        assert (drawn != bare).any()
    assert np.array_equal(drawn, only(plane, name)), "the same each time"


@pytest.mark.parametrize("name", [name for name, _ in layers_of(True)])
def test_in_a_space_every_layer_shows_itself(space: Picture, name: str) -> None:
    space.take_views(None)
    space.set_options(layers=frozenset())
    bare = space.image(SIZE).astype(int)
    drawn = only(space, name)
    if name not in EMPTY:
        assert (drawn != bare).any()
    assert np.array_equal(drawn, only(space, name))


@pytest.mark.parametrize(("name", "key", "rule"), OPTIONS, ids=[f"{n}.{k}" for n, k, _ in OPTIONS])
def test_every_option_is_drawn_at_its_ends(
    plane: Picture, space: Picture, channel: dict[str, Any], name: str, key: str, rule: Declared
) -> None:
    pictures = []
    if KINDS[name].has(False):
        shown(plane, channel)
        pictures.append(plane)
    if KINDS[name].has(True):
        pictures.append(space)
    for picture in pictures:
        images = []
        for value in ends_of(rule):
            if "e+" in value:
                continue  # an end nobody would draw
            assert picture.take_views(case_with(name, **{key: value})) == []
            images.append(only(picture, name))
        picture.take_views(None)
        assert all(image.shape == (SIZE[1], SIZE[0], 3) for image in images)


def damp(answer: FieldResult, faces: Any) -> FieldResult:
    """Give a field whose air is at 90 % but at some boundary faces, where it is over its dew point."""
    rim = np.where(faces, 1.2, 0.9)
    humidity = Scalar(np.full(answer.mesh.n_cells, 0.9), rim, 0 * rim, "relative humidity", "fraction")
    return replace(answer, scalars={"humidity": humidity})


def test_dew_is_drawn_on_wet_walls_alone(plane: Picture, channel: dict[str, Any]) -> None:
    shown(plane, channel)
    dry = plane.answer
    assert dry is not None
    below = dry.mesh.face_centre[dry.mesh.n_internal :, 1] < 0
    openings = np.isin(dry.mesh.patch, [dry.mesh.patch_names.index("run.start")])
    images = []
    for faces in (below & False, openings, below):
        plane.set_answer(damp(dry, faces))
        images.append(only(plane, "dew"))
    changed = (images[2] != images[0]).any(axis=2)
    assert np.array_equal(images[0], images[1]), "an opening is no surface"
    assert changed[SIZE[1] // 2 + 5 :].any() and not changed[: SIZE[1] // 2 - 5].any(), "the lower wall"
    assert plane.take_views(case_with("dew", over="80 %")) == []
    assert (only(plane, "dew")[: SIZE[1] // 2 - 5] != images[0][: SIZE[1] // 2 - 5]).any(), "near it as well"
    plane.take_views(None)


def test_dew_is_drawn_on_the_walls_of_a_space(space: Picture) -> None:
    stream = space.answer
    assert stream is not None
    bottom = stream.mesh.patch == stream.mesh.patch_names.index("d.bottom")
    bare, wet = (
        space.set_answer(damp(stream, faces)) or only(space, "dew") for faces in (bottom & False, bottom)
    )
    share = (wet != bare).any(axis=2).mean()
    space.set_answer(stream)
    assert 0.02 < share < 0.5


def test_without_a_field_only_what_needs_none_is_drawn(plane: Picture, channel: dict[str, Any]) -> None:
    shown(plane, channel)
    plane.set_answer(None)
    plane.set_options(layers=frozenset())
    bare = plane.image(SIZE).astype(int)
    for name, kind in layers_of(False):
        drawn = only(plane, name)
        assert (drawn != bare).any() == (not kind.needs_answer) or name == "solids", name
