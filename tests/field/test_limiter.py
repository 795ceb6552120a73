"""Convection that is held back: no flux jumps, whatever a field passes on its way."""

from __future__ import annotations

import numpy as np
import pytest

from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.field.transport import Transported
from tests.lattices import lattice, points_of

SIDE = 6
STEPS = 4000


def carried() -> Transported:
    """Give something carried across a shut square of 36 cells by fluxes that are not even."""
    chance = np.random.default_rng(3)
    edges = np.linspace(0.0, 1.0, SIDE + 1)
    mesh = lattice(points_of(edges, edges))
    boundary = Boundary.still(mesh.n_boundary)
    demand = ScalarBoundary.closed(mesh.n_boundary)
    made = Transported(
        mesh,
        link(mesh),
        boundary,
        demand,
        0.0,
        np.zeros(mesh.n_cells),
        np.zeros(mesh.n_cells),
        limited="always",
    )
    flux = np.zeros(len(mesh.owner))
    flux[: mesh.n_internal] = chance.normal(0.0, 1.0, mesh.n_internal)
    made.set_flow(flux)
    return made


def held(made: Transported, phi: np.ndarray) -> np.ndarray:
    """Give the limiter of a field, (n_cells,)."""
    made.phi = phi
    made._limit(phi)
    return made.psi


def test_fluxes_follow_a_field_without_a_jump() -> None:
    """A field turns into another in small steps: no flux changes by more than the steps account for."""
    made = carried()
    chance = np.random.default_rng(5)
    first, last = chance.uniform(0.0, 1.0, (2, made.mesh.n_cells))
    found = []
    for share in np.linspace(0.0, 1.0, STEPS):
        phi = (1 - share) * first + share * last
        held(made, phi)
        made.residual(phi)
        found.append(made._flux[: made.mesh.n_internal].copy())
    jump = np.abs(np.diff(found, axis=0)).max()
    assert jump < 60 / STEPS * np.ptp(found, axis=0).max()
    assert (made.psi < 1).any(), "it held something back"


def test_a_limiter_that_lets_go_leaves_the_mean_of_both_schemes() -> None:
    made = carried()
    chance = np.random.default_rng(7)
    phi = chance.uniform(0.0, 1.0, made.mesh.n_cells)
    fluxes = []
    for hold in (1.0, 1.0 - 1e-9, 0.0):
        made.psi[:] = hold
        made.residual(phi)
        fluxes.append(made._flux.copy())
    assert fluxes[1] == pytest.approx(fluxes[0], abs=1e-8)
    inner = made.mesh.n_internal
    upwind = np.where(made.F[:inner] >= 0, phi[made.mesh.owner[:inner]], phi[made.mesh.neighbour])
    assert fluxes[2][:inner] == pytest.approx(made.F[:inner] * upwind), "held all the way it is upwind"


def test_what_is_held_is_linear_upwind_alone() -> None:
    """With the mean of both schemes in it, a puff across a stream came out a tenth further off."""
    made = carried()
    phi = np.random.default_rng(9).uniform(0.0, 1.0, made.mesh.n_cells)
    inner = made.mesh.n_internal
    found = []
    for hold in (0.0, 0.4, 0.8):
        made.psi[:] = hold
        made.residual(phi)
        found.append(made._flux[:inner].copy())
    assert found[2] - found[0] == pytest.approx(2 * (found[1] - found[0]))
    own, nei = made.mesh.owner[:inner], made.mesh.neighbour
    along = made.F[:inner] >= 0
    from_cell = np.where(along, own, nei)
    reach = made.mesh.face_centre[:inner] - made.mesh.centre[from_cell]
    ahead = (made._g[from_cell] * reach).sum(axis=1)
    assert found[2] == pytest.approx(made.F[:inner] * (phi[from_cell] + 0.8 * ahead))


def test_small_changes_pass_unheld_and_larger_ones_are_held_little_by_little() -> None:
    """At the size that may pass, the limiter begins at one."""
    made = carried()
    ways = made.mesh.centre @ np.array([1.0, 0.3, 0.0])
    phi = np.where(np.arange(made.mesh.n_cells) % SIDE < 3, 0.0, 1.0) + 1e-4 * ways
    found = []
    for factor in np.linspace(0.5, 8.0, 400):
        here = phi.copy()
        here[7] += factor * 1e-3
        found.append(held(made, here).copy())
    assert np.abs(np.diff(found, axis=0)).max() < 0.1
    assert np.min(found) < 0.5
