"""Triangles that cross: how deep, never where they only touch; finer facets for thin walls of STEP files."""

from __future__ import annotations

from pathlib import Path
from threading import Event

import numpy as np
import pytest
import trimesh

from bench.step_files import Part, cylinder, less, placed, write_step
from mop_lantern.errors import CaseError, FileError
from mop_lantern.shape import Surface, join, spaces_of
from mop_lantern.shape.crossing import crossings
from mop_lantern.shape.model import packed
from mop_lantern.shape.reading import read_model
from mop_lantern.shape.soup_tree import LEAF, soup_tree
from tests.shape.test_solids import part

FLAT = [[0.0, 0.0, 0.0], [1.0, 0.0, 0.0], [0.0, 1.0, 0.0]]
TWO = np.array([[0, 1, 2], [3, 4, 5]])


@pytest.mark.parametrize(
    ("other", "depth"),
    [
        ([[0.2, 0.2, -0.1], [0.2, 0.2, 2.0], [0.3, 0.2, 2.0]], 2.1e-1 * 0.1 / 2.1 / 2.1),
        ([[0.2, 0.2, 0.0], [0.2, 0.2, 2.0], [0.3, 0.2, 2.0]], 0.0),
        ([[0.2, -0.5, -1.0], [0.2, 3.0, -1.0], [0.2, 0.5, 1e-3]], 1e-3),
        ([[0.5, 0.5, -1.0], [0.5, 0.5, 1.0], [2.0, 2.0, 0.0]], 0.0),
        ([[0.0, 0.0, 0.5], [1.0, 0.0, 0.5], [0.0, 1.0, 0.5]], 0.0),
        ([[0.1, 0.1, 0.0], [0.4, 0.1, 0.0], [0.1, 0.4, 0.0]], 0.0),
    ],
    ids=["a spike", "a touch", "a point from below", "beside the rim", "parallel", "in the same plane"],
)
def test_depth_is_how_far_one_must_be_moved(other: list[list[float]], depth: float) -> None:
    """Solid geometry: the spike is 0.1/2.1 of its tip's width wide where it goes through."""
    points = np.array([*FLAT, *other])
    for triangles in (TWO, TWO[::-1], TWO[:, ::-1]):
        found = crossings(points, triangles)
        assert found.count == (depth > 0)
        if depth:
            assert found.depth[0] == pytest.approx(depth, rel=1e-6) and set(found.pairs[0]) == {0, 1}


def test_a_foil_is_crossed_to_its_depth_and_slivers_are_not() -> None:
    """Two coarse tubes of 48 and 50 sides, 20 µm apart, cross by the sag of their facets (r (1 - cos(π/n)));
    slivers of 600 by 1 mm that meet at corners do not.
    """
    tubes = [trimesh.creation.cylinder(r, 0.1, sections=n) for r, n in ((0.1, 48), (0.09998, 50))]
    points = np.vstack([tube.vertices for tube in tubes])
    triangles = np.vstack([tubes[0].faces, tubes[1].faces + len(tubes[0].vertices)])
    found = crossings(points, triangles)
    sag = 0.1 * (1 - np.cos(np.pi / 48))
    assert found.count > 40 and 1e-5 < found.depth.max() < sag
    angle = np.linspace(0, np.pi, 400)
    strip = np.column_stack([np.cos(angle), np.sin(angle)]) * 0.127
    low, high = (np.column_stack([strip, np.full(400, z)]) for z in (0.0, 0.6))
    k = np.arange(399)
    fan = np.vstack([np.column_stack([k, k + 1, k + 400]), np.column_stack([k + 1, k + 401, k + 400])])
    assert not crossings(np.vstack([low, high]), fan).count


def test_bodies_far_off_the_origin_touch_without_crossing() -> None:
    """Single precision a kilometre off leaves 60 µm of noise on a box of 1 m."""
    boxes = [trimesh.creation.box((1, 1, 1)) for _ in range(2)]
    boxes[1].apply_translation([1, 0.25, 0.25])
    points = np.vstack([box.vertices for box in boxes]) + [1000.3, 77.7, 0.1]
    noisy = points.astype(np.float32).astype(float)
    noisy[:, 0] += np.random.default_rng(0).choice([-3e-5, 3e-5], len(noisy))
    assert not crossings(noisy, np.vstack([boxes[0].faces, boxes[1].faces + 8])).count


def test_a_search_can_be_stopped_and_nothing_crosses_nothing() -> None:
    stop = Event()
    stop.set()
    with pytest.raises(FileError, match="stopped"):
        crossings(np.array(FLAT), TWO[:1], stop)
    assert not crossings(np.zeros((0, 3)), np.zeros((0, 3), int)).count


def test_the_tree_holds_every_triangle_in_its_boxes() -> None:
    corners = np.random.default_rng(1).random((137, 3, 3))
    tree = soup_tree(corners)
    leaves = len(tree.low) // 2
    assert sorted(tree.order) == list(range(137)) and (corners[tree.order] == tree.corners).all()
    for k in range(137):
        node = leaves + k // LEAF
        while node:
            assert (tree.low[node] <= tree.corners[k]).all() and (tree.high[node] >= tree.corners[k]).all()
            node //= 2


def test_bodies_that_touch_along_an_edge_stay_two() -> None:
    box = trimesh.creation.box((1, 1, 1))
    points, back = np.unique(np.vstack([box.vertices, box.vertices + [1, 1, 0]]), axis=0, return_inverse=True)
    triangles = back[np.vstack([box.faces, box.faces + 8])]
    for turned in (triangles, triangles[:, [1, 2, 0]], triangles[::-1]):
        surface = Surface(points, turned, np.zeros(24, int), ("a",))
        assert (surface.beyond >= 0).all() and [s.volume for s in spaces_of(surface)] == pytest.approx([1, 1])
    inward = Surface(points, triangles[:, ::-1], np.zeros(24, int), ("a",))
    assert (inward.beyond >= 0).all(), "seen from within, the rest of space hangs together round the edge"


def test_one_odd_edge_does_not_part_a_body_into_its_triangles() -> None:
    ball = trimesh.creation.icosphere(3)
    fin = np.vstack([ball.vertices, [[2, 0, 0]]])
    triangles = np.vstack([ball.faces, [[*ball.faces[0][:2], len(ball.vertices)]]])
    surface = Surface(fin, triangles, np.zeros(len(triangles), int), ("a",))
    assert (surface.beyond == -1).sum() <= 4 and len(spaces_of(surface)) == 1


def test_step_bodies_that_only_touch_go_in_and_thin_ones_get_finer_facets(tmp_path: Path) -> None:
    """A tee of two cylinders (volume by solid geometry: both less what they share, by quadrature), and a tube
    of 100 mm radius whose wall of 50 µm is thinner than coarse facets sag.
    """
    tee = [
        Part("run", cylinder((-150, 0, 0), (1, 0, 0), 50, 300)),
        Part("branch", cylinder((0, 0, 0), (0, 0, 1), 40, 150)),
    ]
    foil = less(
        cylinder((0, 0, 0), (0, 0, 1), 100, 20), placed(cylinder((0, 0, -1), (0, 0, 1), 99.95, 22), turn=0.05)
    )
    volumes = []
    for name, parts in (("tee", tee), ("foil", [Part("foil", foil)])):
        model = read_model(write_step(tmp_path / f"{name}.step", parts), "")
        surface = join({"m": part("model", mesh=packed(model), names=model.names, scale=1.0)})
        assert surface.open_edges == 0
        volumes.append(surface.volume)
    x, width = np.polynomial.legendre.leggauss(400)
    y = 40 * x
    shared = float((40 * width * 2 * np.sqrt(40**2 - y**2) * np.sqrt(50**2 - y**2)).sum())
    whole = np.pi * 50**2 * 300 + np.pi * 40**2 * 150 - shared
    assert volumes[0] == pytest.approx(1e-9 * whole, rel=4e-3)
    assert volumes[1] == pytest.approx(1e-9 * np.pi * (100**2 - 99.95**2) * 20, rel=2e-3)


def test_the_fault_tells_how_deep(tmp_path: Path) -> None:
    ball = trimesh.creation.icosphere(3, 0.1)
    points = ball.vertices.copy()
    points[points[:, 0] > 0.06, 0] -= 0.25
    path = tmp_path / "pushed.stl"
    trimesh.Trimesh(points, ball.faces, process=False).export(path)
    model = read_model(path, "m")
    with pytest.raises(CaseError, match=r"\d+ pairs of its triangles cross each other, by up to [\d.]+ mm"):
        join({"m": part("model", mesh=packed(model), names=model.names, scale=1.0)})
