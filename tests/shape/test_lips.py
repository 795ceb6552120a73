"""Sharp edges that stand into the fluid: where they are, how wide the passage is there, which way it runs."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import ResolvedCase, parse_case, settle
from mop_lantern.shape import Lips, lips_of

WATER = {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}}


def settled(shape: dict[str, Any], ends: tuple[str, str]) -> ResolvedCase:
    openings = {
        "in": {"kind": "velocity", "edge": ends[0], "velocity": "1 m/s"},
        "out": {"kind": "static_pressure", "edge": ends[1]},
    }
    case = {"lantern": "case", "schema": 3, "title": "lips", "media": WATER, "shape": shape}
    return settle(parse_case({**case, "field": {"openings": openings}}))


def lips(shape: dict[str, Any], ends: tuple[str, str]) -> Lips:
    return lips_of(settled(shape, ends).shape, ends)


def stepped(space: str, second: str) -> Lips:
    """Give the lips where a passage 100 mm wide meets a second one at (200, 0) mm."""
    parts = {
        "a": {"kind": "straight", "length": "200 mm", "width": "100 mm"},
        "b": {"kind": "straight", "start": ["200 mm", "0 mm"], "length": "500 mm", "width": second},
    }
    return lips({"space": space, "parts": parts}, ("a.start", "b.end"))


@pytest.mark.parametrize(("space", "corners"), [("plane", 2), ("axis", 1)])
def test_the_mouth_of_a_passage_is_a_lip_seen_from_both_its_walls(space: str, corners: int) -> None:
    found = stepped(space, "40 mm")
    assert len(found) == 2 * corners
    assert np.allclose(np.abs(found.place), [0.2, 0.02])
    inner = np.abs(found.normal[:, 1]) > 0.5  # of the wall of the narrow passage
    assert found.width[inner] == pytest.approx(0.04), "around an axis it is twice the radius"
    assert np.allclose(found.along[inner], [1, 0]), "the passage runs on from its mouth"
    assert found.width[~inner] == pytest.approx(0.2), "the wall beside the mouth sees the far end"
    assert np.allclose(found.normal[~inner], [-1, 0])
    assert (found.along[~inner, 1] * found.place[~inner, 1] > 0).all(), "away from the mouth"


def test_an_even_passage_has_no_lip() -> None:
    assert len(stepped("axis", "100 mm")) == 0


def test_a_slow_cone_has_no_lip_and_a_blunt_one_has() -> None:
    for length, count in (("90 mm", 0), ("15 mm", 2)):
        end = f"{200 + float(length[:2])} mm"
        cone = {"kind": "reducer", "start": ["200 mm", "0 mm"], "length": length}
        parts = {
            "a": {"kind": "straight", "length": "200 mm", "width": "100 mm"},
            "c": {**cone, "width_start": "100 mm", "width_end": "50 mm"},
            "b": {"kind": "straight", "start": [end, "0 mm"], "length": "1 m", "width": "50 mm"},
        }
        assert len(lips({"space": "axis", "parts": parts}, ("a.start", "b.end"))) == count, length


def test_edges_of_openings_are_no_lips() -> None:
    """A passage whose narrow part is nothing but an opening in a wall."""
    parts = {
        "a": {"kind": "straight", "length": "200 mm", "width": "100 mm"},
        "b": {"kind": "straight", "start": ["200 mm", "0 mm"], "length": "500 mm", "width": "40 mm"},
    }
    shape = settled({"space": "plane", "parts": parts}, ("a.start", "b.end")).shape
    assert len(lips_of(shape)) == 4
    assert len(lips_of(shape, ["b.left"])) == 2
    assert len(lips_of(shape, ["b.left", "b.right"])) == 0


def test_the_inner_edge_of_a_bent_duct_in_space() -> None:
    """Two ducts of 1 m by 0.5 m that meet at a right angle: one edge, 0.5 m long, stands inward."""
    brick = {"kind": "brick", "width": "1 m", "height": "0.5 m"}
    solids = {
        "a": {**brick, "length": "3 m"},
        "b": {"kind": "brick", "x": "2 m", "length": "1 m", "width": "4 m"},
    }
    solids["b"]["height"] = "0.5 m"
    found = lips({"space": "space", "solids": solids}, ("a.west", "b.north"))
    assert len(found) > 100
    assert np.allclose(found.place[:, :2], [2.0, 1.0]) and np.ptp(found.place[:, 2]) > 0.49
    across = np.abs(found.normal[:, 0]) > 0.5
    assert np.allclose(found.width, 1.0, atol=1e-6)
    assert np.allclose(found.along[across], [0, 1, 0], atol=1e-9), "the wall of the second runs on northward"
    assert np.allclose(found.along[~across], [-1, 0, 0], atol=1e-9), "that of the first comes from the west"


def test_the_rim_of_a_patch_on_a_wall_is_no_lip() -> None:
    """A supply and an extract laid on the walls of a room: hair-thin steps stand into no stream."""
    patch = {"kind": "patch", "width": "0.6 m", "height": "0.3 m"}
    solids = {
        "room": {"kind": "brick", "length": "4 m", "width": "3 m", "height": "2.5 m"},
        "supply": {**patch, "on": "room.west", "x": "0 m", "y": "1.5 m", "z": "2.2 m"},
        "extract": {**patch, "on": "room.top", "x": "3 m", "y": "1.5 m", "z": "2.5 m"},
    }
    found = lips({"space": "space", "solids": solids}, ("supply.face", "extract.face"))
    assert len(found) == 0
