"""Meshes made by hand: places are found, figures are those of geometry, regions come apart as put in."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.grid import Mesh, box, quality
from mop_lantern.grid.locate import between, expand
from mop_lantern.grid.quality import JUMP, OFF_SQUARE, SIZE, figures
from mop_lantern.grid.regions import BEHIND, faces_of_cells, plain_edge, together
from mop_lantern.grid.zones import cells_in_box, in_box, in_cylinder
from mop_lantern.judge.sampling import Sampler
from tests.lattices import lattice, points_of

Floats = NDArray[np.float64]


def sheared(nx: int, ny: int, lean: float) -> Mesh:
    """Give a lattice of unit cells whose upright lines lean by so much a cell."""
    points = points_of(np.arange(nx + 1.0), np.arange(ny + 1.0))
    points[..., 0] += lean * points[..., 1]
    return drawn(lattice(points), points)


def drawn(mesh: Mesh, points: Floats) -> Mesh:
    """Give the mesh with the polygons that draw its cells."""
    nx, ny = points.shape[0] - 1, points.shape[1] - 1
    node = np.arange((nx + 1) * (ny + 1)).reshape(nx + 1, ny + 1)
    around = np.stack([node[:-1, :-1], node[1:, :-1], node[1:, 1:], node[:-1, 1:]], axis=-1)
    return replace(
        mesh,
        piece_points=around.reshape(-1).astype(np.int32),
        piece_offsets=np.arange(0, 4 * nx * ny + 1, 4, dtype=np.int32),
        piece_cell=np.arange(nx * ny, dtype=np.int32),
    )


# --- places ---


@pytest.mark.parametrize("lean", [0.0, 0.3, -0.8])
def test_the_very_cell_of_a_place_is_found(lean: float) -> None:
    mesh = sheared(7, 5, lean)
    rng = np.random.default_rng(1)
    whole = rng.uniform([0, 0], [7, 5], (400, 2))
    places = whole + [lean, 0] * whole[:, 1:]
    cell = np.floor(whole).astype(int) @ [5, 1]
    assert mesh.locator.cells(places).tolist() == cell.tolist()


def test_places_outside_and_no_places_at_all() -> None:
    mesh = sheared(3, 3, 0.0)
    away = np.array([[-1.0, 1.0], [4.0, 1.0], [1.0, 9.0], [np.nan, 1.0], [np.inf, 0.0]])
    assert mesh.locator.cells(away).tolist() == [-1] * 5
    assert mesh.locator.cells(np.zeros((0, 2))).shape == (0,)
    beside = np.array([[-1e-3, 1.5], [3.001, 1.5]])
    assert mesh.locator.cells(beside).tolist() == [1, 7], "a hair beside a wall counts as within"


def test_bricks_are_found_without_a_lattice() -> None:
    mesh = box((4, 3, 2), (4.0, 3.0, 2.0))
    rng = np.random.default_rng(2)
    places = rng.uniform(0, [4, 3, 2], (200, 3))
    expected = np.floor(places).astype(int) @ [6, 2, 1]
    assert mesh.locator.cells(places).tolist() == expected.tolist()
    assert mesh.locator.cells(np.array([[9.0, 9.0, 9.0]])).tolist() == [-1]


def test_lists_in_rows_are_laid_out() -> None:
    row, slot = expand(np.array([0, 2, 2, 5]), np.array([2, 0, 1]))
    assert row.tolist() == [0, 0, 0, 1, 1] and slot.tolist() == [2, 3, 4, 0, 1]
    row, slot = between(np.array([3, 7]), np.array([3, 9]))
    assert row.tolist() == [1, 1] and slot.tolist() == [7, 8]


def test_around_a_cell_stand_its_faces() -> None:
    around = sheared(3, 3, 0.0).locator.around
    position, slot = around.of(np.array([4]))
    assert len(position) == 4
    assert sorted(around.beyond[slot].tolist()) == [1, 3, 5, 7], "the middle one of nine"
    _, corner = around.of(np.array([0]))
    outside = [n for n in around.beyond[corner].tolist() if n >= 9]
    assert len(outside) == 2


# --- figures ---


@pytest.mark.parametrize("lean", [0.0, 0.25, 1.0])
def test_the_angle_of_a_sheared_lattice_is_its_lean(lean: float) -> None:
    found = quality(sheared(4, 4, lean))
    assert found.worst_angle == pytest.approx(np.rad2deg(np.arctan(lean)), abs=1e-9)
    assert found.volume_ratio == pytest.approx(1.0)
    assert found.smallest == found.largest == pytest.approx(1.0)
    assert found.closure < 1e-12
    assert (found.cells, found.faces) == (16, 40)


def test_a_graded_lattice_has_the_ratio_of_its_lines() -> None:
    x = np.concatenate([[0.0], np.cumsum(1.5 ** np.arange(5))])
    mesh = lattice(points_of(x, np.array([0.0, 1.0, 2.0])))
    found = quality(mesh)
    assert found.volume_ratio == pytest.approx(1.5) and found.worst_angle == pytest.approx(0.0, abs=1e-5)
    assert found.smallest == pytest.approx(1.0) and found.largest == pytest.approx(1.5**2)
    each = figures(mesh)
    assert each[JUMP] == pytest.approx(np.full(10, 1.5))
    assert each[OFF_SQUARE] == pytest.approx(np.zeros(10), abs=1e-7)
    assert each[SIZE] == pytest.approx(np.sqrt(np.repeat(1.5 ** np.arange(5), 2)))


def test_a_mesh_that_does_not_close_is_seen() -> None:
    mesh = sheared(3, 3, 0.0)
    area = mesh.area.copy()
    area[0] *= 1.1
    assert quality(replace(mesh, area=area)).closure > 0.01


def test_one_cell_alone_has_figures() -> None:
    found = quality(sheared(1, 1, 0.0))
    assert found.worst_angle == 0.0 and found.volume_ratio == 1.0 and found.cells == 1


# --- zones ---


def test_boxes_take_their_corners_in_any_order() -> None:
    places = np.array([[0.0, 0.0], [1.0, 1.0], [2.0, 0.5], [0.5, -0.1]])
    for one, other in (((0, 0), (1, 1)), ((1, 1), (0, 0)), ((0, 1), (1, 0))):
        assert in_box(places, one, other).tolist() == [True, True, False, False]
    assert in_box(places, (0, 0), (1, 1), 0.2).tolist() == [True, True, False, True]
    margins = np.array([[0.0], [0.0], [1.0], [0.0]])
    assert in_box(places, (0, 0), (1, 1), margins).tolist() == [True, True, True, False]


def test_cylinders_end_at_their_ends() -> None:
    places = np.array([[0.5, 0.0, 0.4], [0.5, 0.4, 0.4], [-0.1, 0.0, 0.0], [1.0, 0.5, 0.0], [1.01, 0.0, 0.0]])
    assert in_cylinder(places, (0, 0, 0), (1, 0, 0), 0.5).tolist() == [True, False, False, True, False]
    assert not in_cylinder(places, (1, 1, 1), (1, 1, 1), 0.5).any(), "no length, no cylinder"
    strip = in_cylinder(np.array([[1.0, 1.0], [1.0, 1.2]]), (0, 0), (2, 2), 0.1)
    assert strip.tolist() == [True, False]


def test_cells_of_a_box_are_those_with_their_middle_in_it() -> None:
    mesh = sheared(4, 4, 0.0)
    assert np.flatnonzero(cells_in_box(mesh, (1.4, 0.4), (2.6, 1.6))).tolist() == [4, 5, 8, 9]
    bricks = box((2, 2, 2), (2.0, 2.0, 2.0))
    assert cells_in_box(bricks, (0, 0, 0), (1, 1, 1)).sum() == 1


# --- regions ---


def renamed(mesh: Mesh, **names: str) -> Mesh:
    return replace(mesh, patch_names=tuple(names.get(name, name) for name in mesh.patch_names))


def joined_bricks() -> tuple[Mesh, dict[str, Mesh]]:
    """Put fluid of 2 x 2 x 2 and a solid of 3 x 2 x 2 bricks beside each other, joined at x = 1."""
    none = np.zeros(0, np.int32)
    bare = {"points": np.zeros((0, 3)), "face_points": none, "face_offsets": np.zeros(1, np.int32)}
    fluid = renamed(replace(box((2, 2, 2), (1.0, 1.0, 1.0)), **bare), east="slab.wall")
    solid = replace(box((3, 2, 2), (3.0, 1.0, 1.0)), **bare)
    away = np.array([1.0, 0.0, 0.0])
    solid = replace(solid, centre=solid.centre + away, face_centre=solid.face_centre + away)
    solid = renamed(solid, west="slab.wall")
    meshes = {"": fluid, "slab": solid}
    mine, its = fluid.faces_of("slab.wall"), solid.faces_of("slab.wall")
    return together(meshes, [("", "slab", mine, its)]), meshes


def test_regions_come_apart_as_they_went_in() -> None:
    whole, meshes = joined_bricks()
    assert whole.n_cells == 8 + 12 and whole.region_names == ("", "slab")
    for name, mesh in meshes.items():
        part = whole.part(name)
        for what in ("owner", "neighbour", "area", "face_centre", "volume", "centre"):
            assert np.array_equal(getattr(part, what), getattr(mesh, what)), (name, what)
        assert whole.part(name) is part, "kept"
    assert whole.fluid.n_cells == 8
    assert whole.span_of("slab") == (8, 20)
    assert whole.cells_of("slab").sum() == 12 and not whole.cells_of("nothing").any()


def test_sides_of_one_wall_have_names_of_their_own_and_pair() -> None:
    whole, _ = joined_bricks()
    fluid, solid = whole.faces_of("slab.wall"), whole.faces_of(f"slab.wall{BEHIND}slab")
    assert len(fluid) == len(solid) == 4
    assert plain_edge(f"slab.wall{BEHIND}slab") == plain_edge("slab.wall") == "slab.wall"
    assert len(whole.joints) == 4 and whole.joined.sum() == 8
    inner = whole.n_internal
    for one, other in whole.joints:
        assert whole.face_centre[inner + one] == pytest.approx(whole.face_centre[inner + other])
        assert whole.area[inner + one] == pytest.approx(-whole.area[inner + other])


def test_no_internal_face_joins_two_regions() -> None:
    whole, _ = joined_bricks()
    own = whole.owner[: whole.n_internal]
    assert np.array_equal(whole.region[own], whole.region[whole.neighbour])
    inner, outer = faces_of_cells(whole, 8, 20)
    assert (own[slice(*inner)] >= 8).all()
    assert (whole.owner[whole.n_internal :][slice(*outer)] >= 8).all()


# --- values between cells ---


def quadratic(places: Floats) -> Any:
    x, y = places[:, 0], places[:, 1]
    return 1 + 0.3 * x - 0.7 * y + 0.11 * x * x - 0.05 * x * y + 0.21 * y * y


@pytest.mark.parametrize("lean", [0.0, 0.4])
def test_parabolas_are_read_exactly_between_cells(lean: float) -> None:
    """The fit is quadratic: in the middle of a lattice nothing is left to its limits."""
    mesh = sheared(9, 9, lean)
    places = np.random.default_rng(3).uniform(3.0, 6.0, (100, 2))
    places[:, 0] += lean * places[:, 1]
    nodes = np.concatenate([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    found = Sampler(mesh).weights(places).apply(quadratic(nodes))
    assert found == pytest.approx(quadratic(places), abs=1e-4)


def test_what_is_even_is_read_even_and_limits_hold_a_jump() -> None:
    mesh = sheared(8, 4, 0.0)
    sampler = Sampler(mesh)
    places = np.random.default_rng(4).uniform([0, 0], [8, 4], (300, 2))
    count = mesh.n_cells + mesh.n_boundary
    assert sampler.weights(places).apply(np.full(count, 7.0)) == pytest.approx(np.full(300, 7.0))
    nodes = np.concatenate([mesh.centre, mesh.face_centre[mesh.n_internal :]])
    step = sampler.weights(places).apply(np.where(nodes[:, 0] > 4, 1.0, 0.0))
    assert step.min() >= -0.125 - 1e-12 and step.max() <= 1.125 + 1e-12


def test_weights_of_places_seen_before_are_kept_and_let_go() -> None:
    mesh = sheared(4, 4, 0.0)
    sampler = Sampler(mesh)
    places = np.array([[1.0, 1.0], [2.0, 2.5]])
    assert not sampler.knows(places)
    first = sampler.weights(places)
    assert sampler.knows(places) and sampler.weights(places.copy()) is first
    assert sampler.inside(np.array([[1.0, 1.0], [9.0, 9.0]])).tolist() == [True, False]


def test_old_weights_go_when_there_are_too_many(monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.setattr("mop_lantern.judge.sampling.KEPT_PLACES", 25)
    sampler = Sampler(sheared(4, 4, 0.0))
    rng = np.random.default_rng(5)
    sets = [rng.uniform(0, 4, (10, 2)) for _ in range(4)]
    for places in sets:
        sampler.weights(places)
    assert [sampler.knows(places) for places in sets] == [False, False, True, True]
    sampler.weights(rng.uniform(0, 4, (40, 2)))
    assert len(sampler._kept) == 1, "one too large is kept alone"
