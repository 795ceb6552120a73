"""Where the eye stands, and what lies under a pixel: on a cube made by hand."""

from __future__ import annotations

import numpy as np
import pytest
from vtkmodules.vtkRenderingCore import vtkCamera

from mop_lantern.case import parse_case
from mop_lantern.declare import discover
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.options import PACKAGE, layer_options
from mop_lantern.scene.orbit import SLOW, Orbit
from mop_lantern.scene.pane import needs_scale
from mop_lantern.scene.picking import pick
from mop_lantern.shape import Surface, cut_by_plane
from mop_lantern.shape.alike import in_plane_with, named_alike, touching

FACES = ("box.west", "box.east", "box.south", "box.north", "box.bottom", "box.top")


def cube(split: bool = False) -> Surface:
    """Give the unit cube, its triangles facing out; ``split``: the top is two faces."""
    points = np.array([[x, y, z] for x in (0, 1) for y in (0, 1) for z in (0, 1)], float)
    quads = [(0, 1, 3, 2), (4, 6, 7, 5), (0, 4, 5, 1), (2, 3, 7, 6), (0, 2, 6, 4), (1, 5, 7, 3)]
    triangles = np.array([t for a, b, c, d in quads for t in ((a, b, c), (a, c, d))])
    labels = np.repeat(np.arange(6), 2)
    names = FACES
    if split:
        labels[-1] = 6
        names = (*FACES, "box.top2")
    return Surface(points, triangles, labels, names)


def test_the_cube_is_closed_and_faces_out() -> None:
    made = cube()
    assert made.volume == pytest.approx(1.0) and made.open_edges == 0
    assert made.edge_lengths == pytest.approx(dict.fromkeys(FACES, 1.0))
    middle, inward = made.face("box.east")
    assert middle == pytest.approx([1.0, 0.5, 0.5]) and inward == pytest.approx([-1.0, 0.0, 0.0])


@pytest.mark.parametrize("azimuth", [-62.0, 0.0, 45.0, 200.0])
@pytest.mark.parametrize("elevation", [-89.0, 0.0, 28.0, 89.0])
def test_right_up_and_towards_are_square_and_right_handed(azimuth: float, elevation: float) -> None:
    right, up, towards = Orbit(azimuth, elevation).axes
    turned = np.stack([right, up, towards])
    assert turned @ turned.T == pytest.approx(np.eye(3), abs=1e-12)
    assert np.linalg.det(turned) == pytest.approx(1.0)
    assert right[2] == 0.0 and up[2] >= 0.0, "upright"


def test_drags_turn_and_stop_short_of_the_poles() -> None:
    orbit = Orbit(10.0, 0.0)
    orbit.turn(50, 20)
    assert orbit.azimuth == pytest.approx((10 - SLOW * 50) % 360) and orbit.elevation == pytest.approx(
        SLOW * 20
    )
    orbit.turn(0, 10_000)
    assert orbit.elevation == 89.0
    orbit.turn(0, -10_000)
    assert orbit.elevation == -89.0
    orbit.turn(-10_000, 0)
    assert 0 <= orbit.azimuth < 360


def test_a_camera_looks_at_the_middle_from_the_eye() -> None:
    orbit = Orbit(30.0, 20.0, (1.0, 2.0, 3.0))
    right, up, towards = orbit.axes
    camera = vtkCamera()
    orbit.aim(camera, np.array([0.5, -0.25]), 2.0)
    middle = np.array([1.0, 2.0, 3.0]) + 0.5 * right - 0.25 * up
    assert camera.GetFocalPoint() == pytest.approx(middle)
    assert camera.GetPosition() == pytest.approx(middle + 20 * towards)
    assert camera.GetParallelScale() == 1.0
    near, far = camera.GetClippingRange()
    assert near < 20 < far


def test_the_extent_of_a_cube_seen_from_the_side_is_its_side() -> None:
    middle, size = Orbit(0.0, 0.0, (0.5, 0.5, 0.5)).extent(cube().points)
    assert middle == pytest.approx([0.0, 0.0], abs=1e-12) and size == pytest.approx([1.0, 1.0])
    _, turned = Orbit(45.0, 0.0, (0.5, 0.5, 0.5)).extent(cube().points)
    assert turned == pytest.approx([np.sqrt(2), 1.0])


def test_what_is_seen_from_the_fluid_comes_first() -> None:
    """A look along x: the wet side of the far wall, then the near one from behind."""
    orbit = Orbit(0.0, 0.0, (0.5, 0.5, 0.5))  # the eye is at large x
    found = pick(cube(), orbit, np.array([0.1, 0.2]))
    assert [one.name for one in found] == ["box.west", "box.east"]
    assert [one.from_fluid for one in found] == [True, False]
    assert found[0].place == pytest.approx([0.0, 0.6, 0.7])
    assert found[1].place == pytest.approx([1.0, 0.6, 0.7])


def test_a_look_past_the_cube_finds_nothing() -> None:
    orbit = Orbit(0.0, 0.0, (0.5, 0.5, 0.5))
    assert pick(cube(), orbit, np.array([0.7, 0.0])) == []
    assert pick(cube(), orbit, np.array([0.0, -0.501])) == []


def test_what_is_cut_away_is_not_picked() -> None:
    orbit = Orbit(0.0, 0.0, (0.5, 0.5, 0.5))
    assert [one.name for one in pick(cube(), orbit, np.zeros(2), (0, 0.5))] == ["box.west"]
    orbit = Orbit(180.0, 0.0, (0.5, 0.5, 0.5))
    assert [one.name for one in pick(cube(), orbit, np.zeros(2), (0, 0.5))] == ["box.east"]


@pytest.mark.parametrize("seed", range(6))
def test_every_look_through_a_cube_goes_in_and_out(seed: int) -> None:
    rng = np.random.default_rng(seed)
    orbit = Orbit(rng.uniform(0, 360), rng.uniform(-80, 80), (0.5, 0.5, 0.5))
    right, up, towards = orbit.axes
    for _ in range(20):
        inside = rng.uniform(0.05, 0.95, 3)
        away = inside - 0.5
        found = pick(cube(), orbit, np.array([away @ right, away @ up]))
        assert len(found) == 2 and [one.from_fluid for one in found] == [True, False]
        for one in found:
            off = np.cross(one.place - inside, towards)
            assert np.abs(off).max() < 1e-9, "on the line of sight"


def test_faces_that_belong_together() -> None:
    whole, split = cube(), cube(split=True)
    assert in_plane_with(whole, "box.top") == ["box.top"]
    assert set(in_plane_with(split, "box.top")) == {"box.top", "box.top2"}
    assert set(touching(whole, "box.top")) == {"box.top", "box.west", "box.east", "box.south", "box.north"}
    assert touching(split, "box.top2")[0] == "box.top2" and "box.top" in touching(split, "box.top2")
    assert set(named_alike(split, "box.top")) == {"box.top", "box.top2"}


@pytest.mark.parametrize("across", [0, 1, 2])
@pytest.mark.parametrize("level", [0.01, 0.5, 0.99])
def test_a_section_of_a_cube_is_a_square(across: int, level: float) -> None:
    found = cut_by_plane(cube(), across, level)
    assert found.area == pytest.approx(1.0, abs=1e-6)
    assert cut_by_plane(cube(), across, 1.5).is_empty


def test_whatever_is_coloured_has_its_scale_beside_it() -> None:
    """Colours without their scale say nothing."""
    options, _ = layer_options(None)
    coloured = {name for name in discover(PACKAGE, Layer) if needs_scale([name], options)}
    assert coloured == {"colours", "heights", "level", "skin"}
    lines = parse_case({"views": {"layers": {"streamlines": {"colour": "quantity"}}}})
    assert needs_scale(["grid", "streamlines"], layer_options(lines)[0])
