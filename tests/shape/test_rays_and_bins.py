"""Rays against triangles and lines through bins, beside what is reckoned by hand."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case
from mop_lantern.case.resolve import resolve
from mop_lantern.shape import build
from mop_lantern.shape.facing import facing_places, first_triangles
from mop_lantern.shape.surface import Surface, winding
from tests.shape.test_solids import space

BOX = {"kind": "brick", "length": "400 mm", "width": "200 mm", "height": "3 mm"}


def built(**solids: Any) -> Surface:
    """Build a space of these parts."""
    return build(resolve(parse_case(space(solids).as_data()))[0].shape)


def test_a_slot_is_as_wide_from_everywhere() -> None:
    """A tracer of single precision finds the triangle; the width is that of double precision."""
    surface = built(box=BOX)
    flat = np.abs(surface.area_vectors[:, 2]) > 0.99 * np.linalg.norm(surface.area_vectors, axis=1)
    start, way, width = facing_places(surface, flat, 500)
    assert len(start) >= 490
    assert np.abs(width - np.ptp(surface.points[:, 2])).max() < 1e-12
    assert np.abs(np.abs(way[:, 2]) - 1).max() < 1e-12


def test_the_first_of_several_triangles_is_met_and_none_behind() -> None:
    """Three sheets across a ray, far from the origin; the sheet a ray begins on is not met."""
    sheet = np.array([[-1.0, -1.0, 0.0], [1.0, -1.0, 0.0], [0.0, 2.0, 0.0]])
    far = np.array([1000.0, -500.0, 0.0])
    corners = np.stack([sheet + far + [0, 0, level] for level in (0.0, 0.25, 1.0)])
    start = np.array([[0.0, 0.0, 0.0], [0.0, 0.0, 0.5], [0.0, 0.0, 1.0], [5.0, 0.0, -1.0]]) + far
    up = np.tile([0.0, 0.0, 1.0], (4, 1))
    hit, distance = first_triangles(corners, start, up, 1e-4)
    assert hit.tolist() == [1, 2, -1, -1]
    assert distance[:2] == pytest.approx([0.25, 0.5], rel=1e-12)
    assert np.isinf(distance[2:]).all()


def test_few_places_are_told_as_many_are() -> None:
    """Bins that nobody asks for are passed over: a place has the same number alone and among thousands."""
    surface = built(
        run={"kind": "cylinder", "diameter": "80 mm", "length": "300 mm"},
        bar={
            "kind": "brick",
            "role": "solid",
            "x": "100 mm",
            "length": "60 mm",
            "width": "30 mm",
            "height": "30 mm",
        },
    )
    low, high = surface.points.min(axis=0), surface.points.max(axis=0)
    places = low + np.random.default_rng(3).random((3000, 3)) * (high - low) * 1.1
    many = winding(surface, places)
    assert set(many.tolist()) == {0, 1}
    assert [int(winding(surface, place[None])[0]) for place in places[:60]] == many[:60].tolist()
    assert (high - low).prod() * 1.1**3 * many.mean() == pytest.approx(surface.volume, rel=0.1)
