"""Grids of a space: exact volumes and closed cells, names on their faces, merging, levels."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray

from mop_lantern.errors import RunError
from mop_lantern.grid import quality
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface, join
from mop_lantern.solve.trusting import thin_trust
from tests.shape.test_solids import part

OBLIQUE = np.linalg.qr(np.array([[1, 0.5, 0.3], [0.2, 1, 0.4], [0.1, 0.3, 1]]))[0]
OBLIQUE = OBLIQUE * np.sign(np.linalg.det(OBLIQUE))


def turned(surface: Surface, turn: NDArray[np.float64]) -> Surface:
    """Turn a surface about the origin."""
    return Surface(surface.points @ turn.T, surface.triangles, surface.labels, surface.names)


@pytest.mark.parametrize("turn", [np.eye(3), OBLIQUE], ids=["straight", "oblique"])
@pytest.mark.parametrize("levels", [0, 2])
def test_volume_areas_and_closure_are_exact(turn: Any, levels: int) -> None:
    """The grid fills what the triangles enclose to rounding, every face keeps its area, every cell is closed."""
    made = join({"room": part("brick", length=0.3, width=0.2, height=0.1), "bump": part("ball", role="solid", x=0.15, y=0.1, diameter=0.11), "pipe": part("cylinder", x=0.3, y=0.1, z=0.05, length=0.1, diameter=0.04)})
    surface = turned(made, turn)
    mesh = make_in_space(surface, 0.011, levels)
    assert mesh.volume.sum() == pytest.approx(surface.volume, rel=1e-12)
    assert quality(mesh).closure < 1e-12
    for name in ("room.west", "pipe.end", "room.top"):
        faces = mesh.faces_of(name) + mesh.n_internal
        assert np.linalg.norm(mesh.area[faces].sum(axis=0)) == pytest.approx(surface.edge_lengths[name], rel=1e-9)
    centre = (mesh.volume[:, None] * mesh.centre).sum(axis=0) / mesh.volume.sum()
    moments = (surface.points[surface.triangles] ** 2).sum(axis=1) + np.prod(surface.points[surface.triangles][:, [0, 1]], axis=1)
    moments += np.prod(surface.points[surface.triangles][:, [1, 2]], axis=1) + np.prod(surface.points[surface.triangles][:, [2, 0]], axis=1)
    assert centre == pytest.approx((surface.area_vectors * moments / 12).sum(axis=0) / surface.volume, abs=1e-9), "Gauss's theorem on the surface"
    assert (mesh.owner[: mesh.n_internal] < mesh.neighbour).all() and mesh.volume.min() > 0.2 * 0.011**3 * 0.9


def test_a_grid_of_nothing_or_of_too_much_is_refused() -> None:
    ball = join({"a": part("ball", diameter=0.1)})
    with pytest.raises(RunError, match="larger"):
        make_in_space(ball, 1e-5)
    with pytest.raises(RunError, match="above zero"):
        make_in_space(ball, 0.0)


@pytest.mark.parametrize(("plate", "cell", "told"), [("1 mm", 3.1e-3, True), ("9 mm", 3.1e-3, False)])
def test_a_plate_thinner_than_a_cell_is_told(plate: str, cell: float, told: bool) -> None:
    room, wall = part("brick", length=0.06, width=0.03, height=0.03), part("brick", role="solid", x=0.02, y=-0.01, z=-0.01, length=float(plate.split()[0]) / 1e3, width=0.025, height=0.06)
    items = thin_trust(make_in_space(join({"room": room, "wall": wall}), cell, 0))
    assert bool(items) == told and all(item.verdict == "caution" and "both sides" in item.text for item in items)
