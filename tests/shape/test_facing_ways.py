"""Faces that close round a body face no way: openings on them are drawn and solved all the same."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.case import parse_case, review
from mop_lantern.scene.picture import Picture
from mop_lantern.shape import Surface
from mop_lantern.shape.developed import developed

PIPE = {
    "title": "drum",
    "media": {"w": {"kind": "water"}},
    "shape": {
        "space": "space",
        "solids": {"c": {"kind": "cylinder", "length": "40 mm", "diameter": "20 mm"}},
    },
    "field": {
        "openings": {
            "in": {"kind": "velocity", "edge": "c.wall", "velocity": "1 mm/s", "profile": "developed"},
            "out": {"kind": "static_pressure", "edge": "c.end"},
        },
        "grid": {"cell": "4 mm", "doublings": "0"},
    },
}


@pytest.fixture(scope="module")
def drum() -> Surface:
    """Build a cylinder whose wall is an opening."""
    found = review(parse_case(PIPE), "")
    assert not found.blocked and isinstance(found.shape, Surface)
    return found.shape


def test_a_wall_round_a_body_faces_no_way_and_an_end_does(drum: Surface) -> None:
    assert drum.facing("c.wall") < 1e-9 and drum.facing("c.end") == pytest.approx(1.0)


def test_what_enters_through_it_is_even(drum: Surface) -> None:
    assert developed(drum, "c.wall", np.zeros((3, 3))) == pytest.approx(1.0)
    assert developed(drum, "c.end", np.array([[0.04, 0.0, 0.0]]))[0] == pytest.approx(1.0, abs=0.02)


def test_it_is_drawn_without_an_arrow(drum: Surface) -> None:
    picture = Picture()
    picture.set_shape(drum, {"c.wall": "in", "c.end": "out"})
    assert picture.image((160, 120)).shape == (120, 160, 3)
