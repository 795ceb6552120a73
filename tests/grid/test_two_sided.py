"""Fluid and solids on the same cubes: what they share is one wall, and heat goes through both as through
layers.
"""

from __future__ import annotations

import numpy as np
import pytest
from scipy.sparse import coo_matrix
from scipy.sparse.linalg import spsolve

from mop_lantern.grid import Mesh, quality
from mop_lantern.grid.two_sided import TwoSided, make_two_sided
from mop_lantern.shape import join
from tests.shape.test_solids import part

LEAST = 1e-10  # of a cell's face: rounding


def test_a_ball_in_a_box_and_a_pin_through_its_wall() -> None:
    """Volumes to rounding, closed cells on both sides, and areas of every solid face: shared with the fluid,
    or at the outside.
    """
    surface = join(
        {
            "room": part("brick", length=0.3, width=0.2, height=0.1),
            "ball": part("ball", role="solid", x=0.09, y=0.1, z=0.05, diameter=0.07),
            "pin": part(
                "cylinder", role="solid", x=0.2, y=0.1, z=-0.03, rise=np.pi / 2, length=0.09, diameter=0.03
            ),
        }
    )
    made = make_two_sided(surface, 0.009, 1)
    assert made.fluid.volume.sum() == pytest.approx(surface.volume, rel=1e-11)
    for key in ("ball", "pin"):
        mesh, shared, solid = made.solids[key], made.shared[key], surface.solids[key]
        assert mesh.volume.sum() == pytest.approx(solid.volume, rel=1e-11) and quality(mesh).closure < 1e-11
        touched = sum(area for name, area in surface.edge_lengths.items() if name.startswith(key))
        assert np.linalg.norm(shared.area, axis=1).sum() == pytest.approx(touched, rel=1e-2), (
            "facets within a cube are summed as vectors"
        )
        for side, each, sign in ((mesh, shared.solid, -1), (made.fluid, shared.fluid, 1)):
            summed = np.column_stack(
                [np.bincount(each, sign * shared.area[:, k], side.n_boundary) for k in range(3)]
            )
            whole = np.bincount(each, minlength=side.n_boundary) > 0
            if side is mesh and key == "pin":  # a face may lie half in the wall
                whole &= np.abs(side.face_centre[side.n_internal :, 2]) > 0.012
                whole &= side.face_centre[side.n_internal :, 2] > 0
            assert np.abs(summed - side.area[side.n_internal :])[whole].max() < LEAST * 0.009**2, (key, sign)
    assert {made.fluid.patch_names[k] for k in made.fluid.patch[made.shared["ball"].fluid]} == {"ball.wall"}


def conducted(
    made: TwoSided, inside: float, outside: float, hot: float, cold: float
) -> tuple[float, np.ndarray]:
    """Solve steady conduction in both with two-point fluxes; give the heat (W) into the solid's bottom at
    ``hot`` while the fluid's top is ``cold``, and all temperatures."""
    fluid, solid = made.fluid, made.solids["slab"]
    count = fluid.n_cells + solid.n_cells
    rows: list[np.ndarray] = []
    right, diagonal = np.zeros(count), np.zeros(count)

    def link(one: np.ndarray, two: np.ndarray, conductance: np.ndarray) -> None:
        rows.extend(
            [
                np.column_stack([one, two, -conductance]),
                np.column_stack([two, one, -conductance]),
                np.column_stack([one, one, conductance]),
                np.column_stack([two, two, conductance]),
            ]
        )

    def depth(mesh: Mesh, face: np.ndarray) -> np.ndarray:
        f = face + mesh.n_internal
        size = np.linalg.norm(mesh.area[f], axis=1)
        return np.abs(((mesh.face_centre[f] - mesh.centre[mesh.owner[f]]) * mesh.area[f]).sum(axis=1)) / size

    for mesh, first, k in ((fluid, 0, inside), (solid, fluid.n_cells, outside)):
        own, nei = mesh.owner[: mesh.n_internal], mesh.neighbour
        apart = np.abs(
            ((mesh.centre[nei] - mesh.centre[own]) * mesh.area[: mesh.n_internal]).sum(axis=1)
        ) / np.linalg.norm(mesh.area[: mesh.n_internal], axis=1)
        link(first + own, first + nei, k * np.linalg.norm(mesh.area[: mesh.n_internal], axis=1) / apart)
    shared = made.shared["slab"]
    resistance = depth(fluid, shared.fluid) / inside + depth(solid, shared.solid) / outside
    link(
        fluid.owner[fluid.n_internal :][shared.fluid],
        fluid.n_cells + solid.owner[solid.n_internal :][shared.solid],
        np.linalg.norm(shared.area, axis=1) / resistance,
    )
    for mesh, first, k, name, value in (
        (fluid, 0, inside, "gap.top", cold),
        (solid, fluid.n_cells, outside, "slab.bottom", hot),
    ):
        faces = mesh.faces_of(name)
        cells = first + mesh.owner[mesh.n_internal :][faces]
        conductance = k * np.linalg.norm(mesh.area[mesh.n_internal + faces], axis=1) / depth(mesh, faces)
        np.add.at(diagonal, cells, conductance)
        np.add.at(right, cells, conductance * value)
    entries = np.concatenate([*rows, np.column_stack([np.arange(count), np.arange(count), diagonal])])
    matrix = coo_matrix(
        (entries[:, 2], (entries[:, 0].astype(int), entries[:, 1].astype(int))), (count, count)
    ).tocsc()
    found = np.asarray(spsolve(matrix, right))
    return float((right - diagonal * found)[fluid.n_cells :].sum()), found


def test_heat_through_a_slab_and_the_fluid_on_it() -> None:
    """O-6.7 at rest: a slab of 10 mm, k 0.2, at 60 degrees below, 5 mm of fluid, k 0.6, at 20 above: 685.714
    W/m2, 25.7143 degrees between (resistances in series, exact); cells that do not fit the wall between them
    must not matter.
    """
    surface = join(
        {
            "gap": part("brick", length=0.02, width=0.02, height=0.015),
            "slab": part("brick", role="solid", length=0.02, width=0.02, height=0.01),
        }
    )
    for cell in (0.0021, 0.0013):
        made = make_two_sided(surface, cell)
        heat, found = conducted(made, 0.6, 0.2, 60.0, 20.0)
        assert heat / 4e-4 == pytest.approx(685.714, rel=1e-6)
        depth = np.concatenate([made.fluid.centre[:, 2], made.solids["slab"].centre[:, 2]])
        exact = np.where(depth < 0.01, 60 - 685.714 * depth / 0.2, 25.7143 - 685.714 * (depth - 0.01) / 0.6)
        assert np.abs(found - exact).max() < 1e-3
