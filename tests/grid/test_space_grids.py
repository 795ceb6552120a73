"""Grids of a space: exact volumes and closed cells, names on their faces, merging, levels."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.declare import Numbers
from mop_lantern.errors import RunError
from mop_lantern.grid import quality
from mop_lantern.grid.cubes import lattice
from mop_lantern.grid.octree import grow
from mop_lantern.grid.space_grid import _cut, make_in_space
from mop_lantern.grid.space_size import wants
from mop_lantern.shape import Surface, join
from mop_lantern.solve.checks.thin import thin_trust
from tests.shape.test_solids import part

OBLIQUE = np.linalg.qr(np.array([[1, 0.5, 0.3], [0.2, 1, 0.4], [0.1, 0.3, 1]]))[0]
OBLIQUE = OBLIQUE * np.sign(np.linalg.det(OBLIQUE))


def turned(surface: Surface, turn: NDArray[np.float64]) -> Surface:
    """Turn a surface about the origin."""
    return Surface(surface.points @ turn.T, surface.triangles, surface.labels, surface.names)


@pytest.mark.parametrize("turn", [np.eye(3), OBLIQUE], ids=["straight", "oblique"])
@pytest.mark.parametrize("levels", [0, 2])
def test_volume_areas_and_closure_are_exact(turn: Any, levels: int) -> None:
    """The grid fills what the triangles enclose to rounding, every face keeps its area, every cell is
    closed.
    """
    made = join(
        {
            "room": part("brick", length=0.3, width=0.2, height=0.1),
            "bump": part("ball", role="solid", x=0.15, y=0.1, diameter=0.11),
            "pipe": part("cylinder", x=0.3, y=0.1, z=0.05, length=0.1, diameter=0.04),
        }
    )
    surface = turned(made, turn)
    mesh = make_in_space(surface, 0.011, levels)
    assert mesh.volume.sum() == pytest.approx(surface.volume, rel=1e-12)
    assert quality(mesh).closure < 1e-12
    for name in ("room.west", "pipe.end", "room.top"):
        faces = mesh.faces_of(name) + mesh.n_internal
        assert np.linalg.norm(mesh.area[faces].sum(axis=0)) == pytest.approx(
            surface.edge_lengths[name], rel=1e-9
        )
    centre = (mesh.volume[:, None] * mesh.centre).sum(axis=0) / mesh.volume.sum()
    moments = (surface.points[surface.triangles] ** 2).sum(axis=1) + np.prod(
        surface.points[surface.triangles][:, [0, 1]], axis=1
    )
    moments += np.prod(surface.points[surface.triangles][:, [1, 2]], axis=1) + np.prod(
        surface.points[surface.triangles][:, [2, 0]], axis=1
    )
    assert centre == pytest.approx(
        (surface.area_vectors * moments / 12).sum(axis=0) / surface.volume, abs=1e-9
    ), "Gauss's theorem on the surface"
    assert (mesh.owner[: mesh.n_internal] < mesh.neighbour).all() and mesh.volume.min() > 0.2 * 0.011**3 * 0.9


def test_fluid_and_solid_cut_the_same_cubes_to_the_same_polygons() -> None:
    """Two-sided: on one lattice what a cube holds of the fluid and of the solid fills it, and the wall
    between them is one: areas and first moments cancel.
    """
    box = part("brick", length=0.3, width=0.2, height=0.1)
    ball = part("ball", role="solid", x=0.14, y=0.1, z=0.05, diameter=0.075)
    fluid = join({"room": box, "ball": ball})
    solid = fluid.solids["ball"]
    base = lattice(fluid, 0.0113, 0)
    sides = []
    for surface in (fluid, solid):
        tree = grow(
            surface.points,
            np.ascontiguousarray(surface.triangles, np.int64),
            base,
            lambda centres, *_: np.full(len(centres), np.inf),
        )
        made, _ = _cut(surface, tree)
        cubes = len(tree.level)
        wall = made.of_wall >= 0
        mine = np.isin(
            surface.labels[tree.triangles[wall]],
            [k for k, name in enumerate(surface.names) if name.startswith("ball.")],
        )
        cube = made.cube[made.of_wall[wall]][mine]
        sums = np.column_stack([np.bincount(cube, made.wall[wall][mine, k], cubes) for k in range(3)])
        sides.append((np.bincount(made.cube, made.volume, cubes), sums, tree))
    size = base.size
    assert (sides[0][2].key == sides[1][2].key).all()
    met = np.abs(sides[1][1]).sum(axis=1) > 0
    assert met.sum() > 100 and (sides[1][0][met] > 0).all()
    inside = (
        np.abs(sides[0][2].low[:, :2] - np.array(base.counts[:2]) / 2) < np.array(base.counts[:2]) / 2 - 2
    ).all(axis=1) & (np.abs(sides[0][2].low[:, 2] - base.counts[2] / 2 + 0.5) < base.counts[2] / 2 - 1)
    assert np.abs((sides[0][0] + sides[1][0])[inside | met] / size**3 - 1).max() < 1e-10
    assert np.abs(sides[0][1] + sides[1][1]).max() < 1e-10 * size**2, (
        "the wall of one side is that of the other, the other way"
    )
    assert sides[1][0].sum() == pytest.approx(solid.volume, rel=1e-12)


def test_a_grid_of_nothing_or_of_too_much_is_refused() -> None:
    ball = join({"a": part("ball", diameter=0.1)})
    with pytest.raises(RunError, match="larger"):
        make_in_space(ball, 1e-5)
    with pytest.raises(RunError, match="above zero"):
        make_in_space(ball, 0.0)


def rooms(thickness: float, turn: float = 0.0, gap: float = 0.05) -> Surface:
    """A box that a wall of some thickness divides up to a gap at its far side."""
    wall = part(
        "brick",
        role="solid",
        x=0.1503,
        y=-0.01,
        z=-0.01,
        length=thickness,
        width=0.21 - gap,
        height=0.2,
        turn=turn,
    )
    return join({"room": part("brick", length=0.3, width=0.2, height=0.1), "wall": wall})


@pytest.mark.parametrize("turn", [0.0, 0.03], ids=["straight", "turned"])
@pytest.mark.parametrize("thickness", [2e-6, 1e-3])
def test_a_wall_thinner_than_a_cell_parts_the_fluid(thickness: float, turn: float) -> None:
    """No face joins cells before and behind the wall but beyond its end, and both its sides keep their
    area.
    """
    surface = rooms(thickness, turn)
    mesh = make_in_space(surface, 0.011, 1)
    inner = mesh.n_internal
    before = [
        place[:, 0] - 0.1503 + np.tan(turn) * (place[:, 1] + 0.01) < 0.5 * thickness
        for place in (mesh.centre[mesh.owner[:inner]], mesh.centre[mesh.neighbour])
    ]
    crossing = mesh.face_centre[:inner][before[0] != before[1]]
    assert len(crossing) > 5 and crossing[:, 1].min() > 0.15 - 0.022
    for side in ("wall.west", "wall.east"):
        assert np.linalg.norm(mesh.area[mesh.faces_of(side) + inner].sum(axis=0)) == pytest.approx(
            surface.edge_lengths[side], rel=1e-9
        )
    assert mesh.volume.sum() == pytest.approx(surface.volume, rel=1e-12) and quality(mesh).closure < 1e-11
    assert not thin_trust(mesh)


def test_a_gap_narrower_than_a_cell_is_told() -> None:
    items = thin_trust(make_in_space(rooms(0.004, gap=0.004), 0.011))
    assert [item.verdict for item in items] == ["caution"] and "gap" in items[0].text
    assert not thin_trust(make_in_space(rooms(0.004, gap=0.03), 0.011))


FINER: dict[str, tuple[dict[str, Any], Any]] = {
    "box": ({"low": np.zeros(3), "high": np.array([0.05, 0.05, 0.05])}, lambda c: (c < 0.05).all(axis=1)),
    "ball": (
        {"centre": np.array([0.15, 0.1, 0.05]), "radius": 0.03},
        lambda c: np.linalg.norm(c - [0.15, 0.1, 0.05], axis=1) < 0.03,
    ),
    "edge": ({"edge": "room.top", "distance": 0.01}, lambda c: c[:, 2] > 0.09),
    "corners": ({"distance": 0.005}, lambda c: (c[:, 0] < 0.003) & (c[:, 1] < 0.003)),
    "walls": ({"layers": 2.0}, lambda c: c[:, 2] > 0.1 - 0.01),
    "bends": ({"around": 60.0}, lambda c: np.abs(np.hypot(c[:, 0] - 0.22, c[:, 1] - 0.1) - 0.04) < 0.004),
    "gaps": ({"across": 6.0}, lambda c: np.abs(np.hypot(c[:, 0] - 0.22, c[:, 1] - 0.1) - 0.05) < 0.004),
}


@pytest.mark.parametrize("kind", FINER)
def test_cells_are_finer_where_asked(kind: str) -> None:
    """Every kind halves the cells it speaks of, leaves others, and neighbours stay within one halving."""
    posts = {
        "post": part(
            "cylinder", role="solid", x=0.22, y=0.1, z=-0.1, rise=np.pi / 2, length=0.3, diameter=0.08
        )
    }
    fence = (
        {"fence": part("brick", role="solid", x=0.1, y=0.16, z=-0.1, length=0.15, width=0.1, height=0.3)}
        if kind == "gaps"
        else {}
    )
    surface = join({"room": part("brick", length=0.3, width=0.2, height=0.1), **posts, **fence})
    values, where = FINER[kind]
    grid = Numbers(refine={"a": Numbers(kind=kind, levels=1.0, **values)}, doublings=1.0)
    plain, mesh = (
        make_in_space(surface, 0.01, 1),
        make_in_space(surface, 0.01, 1, wants(surface, grid, ["room.west"]), 3),
    )
    size = np.zeros(mesh.n_cells)
    np.maximum.at(size, mesh.cube_cell, mesh.cube_size)
    chosen = where(mesh.centre)
    if kind == "gaps":
        chosen = (
            (mesh.centre[:, 1] > 0.141)
            & (mesh.centre[:, 1] < 0.158)
            & (np.abs(mesh.centre[:, 0] - 0.22) < 0.01)
        )
    assert chosen.any() and size[chosen].max() < 0.0056
    assert size.max() > 0.009 and mesh.n_cells > plain.n_cells
    steps = np.log2(size[mesh.owner[: mesh.n_internal]] / size[mesh.neighbour])
    assert np.abs(steps).max() < 1.5 and mesh.volume.sum() == pytest.approx(surface.volume, rel=1e-12)


@pytest.mark.parametrize(
    ("numbers", "exact"),
    [
        (part("ball", diameter=0.1), np.pi * 1e-3 / 6),
        (
            part("bent_pipe", diameter=0.02, before=0.03, angle=np.pi / 2, radius=0.03, after=0.05, lean=0.3),
            np.pi * 1e-4 * (0.08 + 0.03 * np.pi / 2),
        ),
    ],
)
def test_the_volume_of_round_things_is_second_order(
    numbers: Numbers, exact: float, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Cells and facets twice as fine: a quarter of the error. Solid geometry; the bend by Pappus's
    theorem.
    """
    import mop_lantern.shape.solid as solid
    import mop_lantern.shape.solids.ball as ball
    import mop_lantern.shape.solids.bent_pipe as bent_pipe

    errors = []
    for fineness in (1, 2, 4):
        for module in (solid, ball):
            monkeypatch.setattr(module, "AROUND", 24 * fineness)
        monkeypatch.setattr(bent_pipe, "STEP", np.deg2rad(16) / fineness)
        mesh = make_in_space(join({"a": numbers}), 0.008 / fineness)
        errors.append(1 - mesh.volume.sum() / exact)
    assert 1.9 < np.log2(errors[0] / errors[1]) < 2.1 and 1.9 < np.log2(errors[1] / errors[2]) < 2.1, errors
