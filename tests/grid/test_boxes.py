"""Which cubes of a lattice triangles meet: all of them are found without trying every cube around."""

from __future__ import annotations

from itertools import product

import numpy as np
import pytest

from mop_lantern.grid import boxes


@pytest.mark.parametrize("kind", ["askew", "slivers", "on the lattice", "flat", "without a plane"])
def test_long_triangles_meet_the_cubes_they_should(kind: str) -> None:
    rng = np.random.default_rng(2)
    points = rng.uniform(0, 1, (45, 3))
    if kind == "slivers":
        points[::3] = points[1::3] + 1e-9 * rng.standard_normal((15, 3))
    elif kind == "on the lattice":
        points = np.round(points * 8) / 8
    elif kind == "flat":
        points[:, 2] = points[:, 2].round(1)
    elif kind == "without a plane":
        points[::3] = (points[1::3] + points[2::3]) / 2
    triangles = np.arange(45).reshape(15, 3)
    origin, size, counts = np.zeros(3), 0.125, np.array([8, 8, 8])
    none = np.zeros(0, np.int64)
    total = boxes.lay_out(points, triangles, origin, size, counts, none, none, True)
    cell, met = np.zeros(total, np.int64), np.zeros(total, np.int64)
    boxes.lay_out(points, triangles, origin, size, counts, cell, met, False)
    found = set(zip(cell.tolist(), met.tolist(), strict=True))
    every = product(range(8), range(8), range(8), range(15))
    wanted = {
        ((i * 8 + j) * 8 + k, t)
        for i, j, k, t in every
        if boxes.meets(points, triangles, t, i * size, j * size, k * size, size)
    }
    assert len(found) == total
    assert found == wanted
