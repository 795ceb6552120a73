"""Scales: ends and steps a case keeps, powers of ten, what cannot be; the figures beside the colours."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case
from mop_lantern.judge.field_result import FLOW_QUANTITIES
from mop_lantern.scene.looks import banded
from mop_lantern.scene.maps import default_map, lookup
from mop_lantern.scene.picture import Picture
from mop_lantern.scene.scale import Scale, by_powers, figures, reach, scales, value_at
from tests.scene.test_picture import SIZE, picture, shown  # noqa: F401

NONE = (None, None)


def kept(channel: dict[str, Any], **views: Any) -> Any:
    """Give the scales of a case that keeps these, and the paths of its faults."""
    found, faults = scales(parse_case({**channel, "views": {"scales": views}}), FLOW_QUANTITIES)
    return found, [fault.path for fault in faults]


def test_ends_are_read_with_their_units_and_may_be_expressions(channel: dict[str, Any]) -> None:
    found, faults = kept(
        channel,
        speed={"lowest": "0.5 cm/s", "highest": "= 2 * 1 cm/s"},
        pressure={"highest": "2 mbar", "steps": "powers"},
    )
    assert faults == []
    assert found["speed"] == Scale(pytest.approx(0.005), pytest.approx(0.02), False)
    assert found["pressure"] == Scale(None, pytest.approx(200.0), True)


@pytest.mark.parametrize(
    ("scale", "place"),
    [
        ({"lowest": "2 cm/s", "highest": "1 cm/s"}, "views.scales.speed.highest"),
        ({"lowest": "1 cm/s", "highest": "1 cm/s"}, "views.scales.speed.highest"),
        ({"lowest": "0 m/s", "steps": "powers"}, "views.scales.speed.lowest"),
        ({"highest": "-1 m/s", "steps": "powers"}, "views.scales.speed.highest"),
        ({"lowest": "3 kg"}, "views.scales.speed.lowest"),
        ({"lowest": "banana"}, "views.scales.speed.lowest"),
        ({"wings": "2"}, "views.scales.speed.wings"),
        ({"lowest": ["1"]}, "views.scales.speed.lowest"),
    ],
)
def test_what_cannot_be_names_its_place(channel: dict[str, Any], scale: Any, place: str) -> None:
    found, faults = kept(channel, speed=scale)
    assert faults == [place]
    assert found.get("speed", Scale()) == Scale(), "the field's own scale is drawn instead"


@pytest.mark.parametrize("nonsense", ["no", 7, None, {"speed": "wide"}, {"no such": {"lowest": "1"}}])
def test_nonsense_is_passed_over(channel: dict[str, Any], nonsense: Any) -> None:
    case = parse_case({**channel, "views": {"scales": nonsense}})
    found, faults = scales(case, FLOW_QUANTITIES)
    assert faults == [] and all(one == Scale() for one in found.values())
    assert scales(None, FLOW_QUANTITIES) == ({}, [])


def test_what_is_not_said_comes_from_others_then_from_the_field() -> None:
    values = np.array([2.0, 5.0, 3.0])
    assert reach(values, Scale(), NONE, False) == (2.0, 5.0, False)
    assert reach(values, Scale(), NONE, True) == (0.0, 5.0, False)
    assert reach(values, Scale(), (1.0, 9.0), False) == (1.0, 9.0, False)
    assert reach(values, Scale(4.0), (1.0, 9.0), True) == (4.0, 9.0, False)
    assert reach(values, Scale(-1.0, 7.0), NONE, True) == (-1.0, 7.0, False)
    assert reach(np.zeros(0), Scale(), NONE, False) == (0.0, 1.0, False)


def test_powers_of_ten_begin_above_nothing() -> None:
    values = np.array([0.0, 1e-3, 10.0])
    assert reach(values, Scale(powers=True), NONE, True) == (1e-3, 10.0, True)
    assert reach(values * [1, 1e-9, 1], Scale(powers=True), NONE, True) == (pytest.approx(1e-5), 10.0, True)
    assert reach(values, Scale(1.0, powers=True), NONE, True) == (1.0, 10.0, True)
    assert reach(-values, Scale(powers=True), NONE, False) == (-10.0, 0.0, False), "nothing is above 0"
    shared = [reach(part, Scale(powers=True), (0.0, 100.0), True) for part in (values, values[2:])]
    assert shared == [(0.1, 100.0, True)] * 2, "pictures side by side begin alike"
    even = reach(np.array([3.0, 3.0]), Scale(powers=True), NONE, True)
    assert even == (pytest.approx(0.3), 3.0, True)


def test_figures_stand_at_equal_steps_of_colour() -> None:
    table = lookup("batlow", 0.01, 100.0, powers=True)
    assert by_powers(table)
    assert figures(table, 5) == pytest.approx([0.01, 0.1, 1.0, 10.0, 100.0])
    assert value_at(table, 0.5) == pytest.approx(1.0)
    even = lookup("batlow", 0.0, 8.0)
    assert not by_powers(even)
    assert figures(even, 5) == pytest.approx([0, 2, 4, 6, 8])
    for each in (table, even):
        bands = banded(each, 4)
        assert by_powers(bands) == by_powers(each)
        assert bands.GetTableRange() == each.GetTableRange()
        for share in (0.1, 0.4, 0.6, 0.9):  # a value has the colour that stands over its figure
            colour = np.zeros(3)
            bands.GetColor(value_at(each, share), colour)
            assert colour == pytest.approx(bands.GetTableValue(int(share * 4))[:3], abs=0.01)


def test_ends_that_were_set_stay_where_they_are() -> None:
    """A map that is even about zero would move them."""
    assert default_map("u", -1.0, 3.0, fixed=True) == "batlow"
    assert default_map("u", -2.0, 2.0, fixed=True) == "vik"
    assert default_map("u", -1.0, 3.0) == "vik"


def test_a_picture_takes_the_scale_of_its_case(picture: Picture, channel: dict[str, Any]) -> None:  # noqa: F811
    shown(picture, channel)
    own = picture.value_range()
    before = picture.image(SIZE).astype(int)
    views = {"scales": {"speed": {"highest": "4 cm/s"}, "u": {"lowest": "-1 cm/s", "highest": "3 cm/s"}}}
    assert picture.take_views(parse_case({**channel, "views": views})) == []
    assert picture.value_range() == (own[0], pytest.approx(0.04))
    assert picture.value_range("u") == pytest.approx((-0.01, 0.03))
    assert picture.table_of("u")[1].GetTableRange() == pytest.approx((-0.01, 0.03))
    assert np.abs(picture.image(SIZE) - before).sum() > 0
    views["scales"]["speed"] = {"steps": "powers"}
    picture.take_views(parse_case({**channel, "views": views}))
    assert by_powers(picture.table_of("speed")[1])
    assert picture.image(SIZE).std() > 0
    picture.take_views(None)
    assert picture.value_range() == own
    assert np.abs(picture.image(SIZE) - before).sum() == 0
