"""The number of cells told before a grid is made, against the grid."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
import trimesh

from mop_lantern.grid.space_expected import cells_expected
from mop_lantern.grid.space_grid import make_in_space
from mop_lantern.shape import Surface
from tests.shape import hollow_models as made


def surface_of(body: Any) -> Surface:
    count = len(body.faces)
    return Surface(np.asarray(body.vertices), np.asarray(body.faces), np.zeros(count, int), ("a",))


@pytest.mark.parametrize("doublings", [0, 1, 2, 3])
@pytest.mark.parametrize("body", ["ball", "box", "tee", "plate", "walls"])
def test_cells_are_told_within_fifteen_per_cent(body: str, doublings: int) -> None:
    shape, across = {
        "ball": (trimesh.creation.icosphere(4, 0.1), 40),
        "box": (trimesh.creation.box((0.1, 0.2, 0.3)), 40),
        "tee": (made.hollow_tee(), 60),
        "plate": (trimesh.creation.box((1, 1, 0.05)), 40),
        "walls": (made.chamber(), 60),
    }[body]
    surface = surface_of(shape)
    cell = float(np.ptp(surface.points, axis=0).max()) / across
    cells = make_in_space(surface, cell, doublings).n_cells
    assert cells_expected(surface, cell, doublings) == pytest.approx(cells, rel=0.15)


def test_absurd_sizes_are_told_without_a_lattice() -> None:
    surface = surface_of(trimesh.creation.icosphere(3, 1.0))
    assert cells_expected(surface, 1e-7, 2) > 1e15 and cells_expected(surface, 50.0, 3) >= 1
