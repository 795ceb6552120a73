"""Fluid and solids on one grid: every wall between them is the same on both sides, whatever the cells."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest

from mop_lantern.declare import Numbers
from mop_lantern.errors import CaseError
from mop_lantern.grid import Mesh, make, quality
from mop_lantern.grid.regions import patch_names, plain_edge
from mop_lantern.grid.soundness import sound
from mop_lantern.grid.space_regions import make_regions_in_space
from mop_lantern.shape import Plane, build, join
from tests.shape.test_solids import part

GRID = Numbers(
    level="working",
    cell=0.013,
    across=4,
    grading_x="even",
    grading_y="even",
    ratio=1.0,
    aspect=1.0,
    refine={},
)


def corners(x0: float, y0: float, x1: float, y1: float, **more: Any) -> Numbers:
    """Give a rectangle."""
    points = np.array([[x0, y0], [x1, y0], [x1, y1], [x0, y1]])
    return Numbers(kind=more.pop("kind", "block"), points=points, beneath=more.pop("beneath", False), **more)


def plane(parts: dict[str, Any], kept: tuple[str, ...], turn: float = 0.0, space: str = "plane") -> Plane:
    """Build a plane whose parts ``kept`` conduct heat."""
    made = build(Numbers(space=space, depth=1.0, turn=turn, parts=parts, kept=kept))
    assert isinstance(made, Plane)
    return made


def sizes(mesh: Mesh) -> np.ndarray:
    """Give the areas of boundary faces."""
    return np.linalg.norm(mesh.area[mesh.n_internal :], axis=1)


def shared(mesh: Mesh) -> dict[tuple[str, str], float]:
    """Give the wall that pairs of regions share, m2, from either side the same."""
    region = mesh.region[mesh.owner[mesh.n_internal :]]
    one, other = mesh.joints.T
    found: dict[tuple[str, str], float] = {}
    for a, b in zip(one, other, strict=True):
        key = mesh.region_names[region[a]], mesh.region_names[region[b]]
        found[key] = found.get(key, 0.0) + float(sizes(mesh)[a])
    return found


LAYERED = {
    "gap": corners(0, 0, 1, 0.1, kind="outline"),
    "slab": corners(0.2, -0.1, 0.8, 0),
    "foam": corners(0, -0.2, 1, -0.1),
}


@pytest.mark.parametrize("turn", [0.0, 0.12, np.pi / 6, np.pi / 4])
def test_walls_of_a_plane_are_alike_on_both_sides(turn: float) -> None:
    mesh = make(plane(LAYERED, ("slab", "foam"), turn), GRID, frozenset())
    one, other = mesh.joints.T
    area = mesh.area[mesh.n_internal :]
    assert np.abs(area[one] + area[other]).max() < 1e-15
    assert shared(mesh) == pytest.approx({("", "slab"): 0.6, ("slab", "foam"): 0.6}, rel=1e-4)
    assert quality(mesh).closure < 1e-7  # of the surface of a cell; solids keep their slivers
    volume = [mesh.volume[mesh.cells_of(name)].sum() for name in mesh.region_names]
    assert volume == pytest.approx([0.1, 0.06, 0.1], rel=1e-7)


@pytest.mark.parametrize("cell", [0.05, 0.021, 0.0137, 0.0071])
def test_no_wall_between_regions_is_lost_on_any_cells(cell: float) -> None:
    for turn in np.linspace(0.01, 1.5, 7):
        mesh = make(
            plane(LAYERED, ("slab", "foam"), float(turn)),
            Numbers(**{**vars(GRID), "cell": cell}),
            frozenset(),
        )
        assert shared(mesh) == pytest.approx({("", "slab"): 0.6, ("slab", "foam"): 0.6}, rel=1e-3), turn


def test_the_part_of_the_fluid_is_a_mesh_of_its_own() -> None:
    mesh = make(plane(LAYERED, ("slab", "foam")), GRID, frozenset())
    fluid = mesh.fluid
    assert fluid.n_cells == mesh.cells_of("").sum() and mesh.fluid is fluid
    assert quality(fluid).closure < 1e-9 and fluid.volume.sum() == pytest.approx(0.1, rel=1e-9)
    assert (fluid.faces_of("gap.side3") == mesh.faces_of("gap.side3")).all()
    assert len(fluid.joints) == 0 and fluid.fluid is fluid
    slab = mesh.part("slab")
    assert slab.n_cells + fluid.n_cells + mesh.part("foam").n_cells == mesh.n_cells
    middle = slab.face_centre[slab.n_internal + slab.faces_of("slab.side3@slab")].mean(axis=0)
    assert middle == pytest.approx([0.5, 0.0, 0.0], abs=1e-9)
    assert sound(Mesh.of(mesh.arrays())).region_names == ("", "slab", "foam")


@pytest.mark.parametrize(
    "change",
    [
        {"region": np.zeros(3, np.int32)},
        {"region_names": ("a", "slab", "foam")},
        {"joints": np.full((4, 2), 10**6, np.int32)},
        {"joints": np.zeros(4, np.int32)},
    ],
)
def test_a_damaged_mesh_of_regions_is_told(change: dict[str, Any]) -> None:
    mesh = make(plane(LAYERED, ("slab", "foam")), GRID, frozenset())
    with pytest.raises(ValueError, match="mesh"):
        sound(replace(mesh, **change))


def test_a_disc_in_a_disc_off_the_lattice() -> None:
    """Round walls between solids and a hole that belongs to nothing."""
    disc = {"kind": "disc", "beneath": False, "centre": np.array([0.003, 0.001])}
    parts = {
        "wool": Numbers(**disc, diameter=0.12),
        "steel": Numbers(**disc, diameter=0.06),
        "bore": Numbers(**disc, diameter=0.053),
    }
    shape = plane(parts, ("wool", "steel"))
    assert shape.dry and set(shape.edge_lengths) == {"wool.surface", "bore.surface"}
    mesh = make(shape, Numbers(**{**vars(GRID), "cell": 0.004}), frozenset())
    assert mesh.fluid.n_cells == 0
    assert shared(mesh)["wool", "steel"] == pytest.approx(np.pi * 0.06, rel=2e-3)
    assert mesh.volume.sum() == pytest.approx(np.pi * (0.06**2 - 0.0265**2), rel=1e-6)
    assert sizes(mesh)[mesh.faces_of("bore.surface")].sum() == pytest.approx(np.pi * 0.053, rel=2e-3)


def test_a_pipe_runs_through_a_wall_that_lets_it() -> None:
    parts = {
        "pipe": corners(0, -0.02, 1, 0.02, kind="outline"),
        "wall": corners(0.4, -0.3, 0.6, 0.3, beneath=True),
    }
    through = plane(parts, ("wall",))
    assert through.polygon.area == pytest.approx(0.04)
    assert through.solids["wall"].polygon.area == pytest.approx(0.2 * 0.56)
    mesh = make(through, GRID, frozenset())
    assert shared(mesh) == pytest.approx({("", "wall"): 0.4}, rel=1e-9)
    parts["wall"].beneath = False
    with pytest.raises(CaseError, match="fall apart"):
        plane(parts, ("wall",))


def test_around_the_axis_solids_end_at_it() -> None:
    made = plane({"rod": corners(0, -0.01, 0.2, 0.02)}, ("rod",), space="axis")
    assert made.dry and made.solids["rod"].polygon.area == pytest.approx(0.004)
    assert "axis" in made.edge_lengths
    mesh = make(made, Numbers(**{**vars(GRID), "cell": 0.004}), frozenset())
    assert 2 * np.pi * mesh.volume.sum() == pytest.approx(np.pi * 0.02**2 * 0.2, rel=1e-9)


def test_shapes_that_cannot_be() -> None:
    with pytest.raises(CaseError, match="nothing of this solid is left"):
        plane({"a": corners(0, 0, 1, 1), "b": corners(-1, -1, 2, 2)}, ("a", "b"))
    with pytest.raises(CaseError, match="do not all touch"):
        plane({"a": corners(0, 0, 1, 1), "b": corners(2, 0, 3, 1)}, ("a", "b"))
    with pytest.raises(CaseError, match="no passage"):
        plane({"a": corners(0, 0, 1, 1)}, ())


def test_names_of_edges_that_several_regions_have() -> None:
    """The fluid's side has the plain name, else that of the part the edge is named after."""
    region = np.array([0, 1, 1, 2, 2])
    label = np.array([0, 0, 1, 1, 2])
    patch, names = patch_names(region, label, ("a.top", "b.end", "c.end"), ("", "a", "b"))
    told = [names[number] for number in patch]
    assert told == ["a.top", "a.top@a", "b.end@a", "b.end", "c.end"]
    assert {plain_edge(name) for name in told} == {"a.top", "b.end", "c.end"}


def test_touching_solids_in_space_share_exact_areas() -> None:
    """Two blocks that overlap, one butted under the first: 13, 3 and 4 square centimetres by hand."""
    made = join(
        {
            "room": part("brick", length=0.05, width=0.05, height=0.05),
            "a": part("brick", role="solid", x=0.01, y=0.01, z=0.01, length=0.02, width=0.02, height=0.01),
            "b": part("brick", role="solid", x=0.02, y=0.01, z=0.015, length=0.02, width=0.02, height=0.01),
            "c": part("brick", role="solid", x=0.01, y=0.01, z=0.0, length=0.02, width=0.02, height=0.01),
        }
    )
    mesh = make_regions_in_space(made, 0.0031)
    square = {key: 1e4 * area for key, area in shared(mesh).items()}
    expected = {("", "a"): 8.0, ("", "b"): 13.0, ("", "c"): 8.0, ("a", "b"): 3.0, ("a", "c"): 4.0}
    assert square == pytest.approx(expected, rel=1e-5)
    loose = ~mesh.joined
    assert {mesh.patch_names[k].split(".")[0] for k in np.unique(mesh.patch[loose])} == {"room", "c"}
    assert sizes(mesh)[
        loose & np.isin(mesh.patch, [mesh.patch_names.index("c.bottom")])
    ].sum() == pytest.approx(4e-4, rel=1e-5)


def test_a_ball_in_a_box_and_a_pin_through_its_wall() -> None:
    """Volumes to rounding, closed cells on both sides; nothing of the ball is left over, and of the pin only
    what lies in the wall.
    """
    made = join(
        {
            "room": part("brick", length=0.3, width=0.2, height=0.1),
            "ball": part("ball", role="solid", x=0.09, y=0.1, z=0.05, diameter=0.07),
            "pin": part(
                "cylinder", role="solid", x=0.2, y=0.1, z=-0.03, rise=np.pi / 2, length=0.09, diameter=0.03
            ),
        }
    )
    mesh = make_regions_in_space(made, 0.009, 1)
    assert quality(mesh).closure < 1e-11
    for key, surface in {"": made, **made.solids}.items():
        volume = mesh.volume[mesh.cells_of(key)].sum()
        assert volume == pytest.approx(surface.volume, rel=1e-9), key
    ball = mesh.faces_of("ball.wall@ball")
    assert mesh.joined[ball].all() and mesh.joined[mesh.faces_of("ball.wall")].all()
    pin = sizes(mesh)[mesh.faces_of("pin.wall@pin")]
    free = pin[~mesh.joined[mesh.faces_of("pin.wall@pin")]].sum()
    assert free == pytest.approx(np.pi * 0.03 * 0.03, rel=0.02)
    assert sizes(mesh)[ball].sum() == pytest.approx(sizes(mesh)[mesh.faces_of("ball.wall")].sum(), rel=1e-3)
