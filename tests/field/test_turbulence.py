"""Developed turbulent flow on columns of cells, against friction laws; the law of the wall; positivity."""

from __future__ import annotations

import numpy as np
import pytest
from ht.conv_internal import turbulent_Dipprey_Sabersky

from mop_lantern.field.boundary import Boundary
from mop_lantern.field.closure import Closure
from mop_lantern.field.closures.k_epsilon import KEpsilon
from mop_lantern.field.closures.mixing_length import MixingLength
from mop_lantern.field.closures.realizable import Realizable
from mop_lantern.field.closures.sst import Sst
from mop_lantern.field.face_geometry import link
from mop_lantern.field.turbulence import profile
from mop_lantern.field.turbulence.wall_geometry import FAR, wall_geometry
from mop_lantern.laws.friction import colebrook
from tests.columns import developed
from tests.lattices import lattice, points_of

# u+ of Reichardt's law (O-7.2), to 1 wall unit in the buffer layer and 0.5 beyond: ours has B 5.2 in it
REICHARDT = {1: 1.008, 5: 4.899, 10: 8.378, 30: 13.601, 100: 16.915, 300: 19.557}


def prandtl(reynolds: float) -> float:
    """Friction over the density at a mean velocity of 1 m/s in a smooth pipe (check value O-7.1)."""
    return profile.shear_speed(reynolds) ** 2


def jones(reynolds: float) -> float:
    """The same between plates: Prandtl's law at two thirds of the Reynolds number on the hydraulic diameter
    (Jones, J. Fluids Eng. 98 (1976) 173; from memory).
    """
    return prandtl(2 / 3 * 2 * reynolds)


def dean(reynolds: float) -> float:
    """Friction between plates, 0.073 Re^-1/4 (Dean, J. Fluids Eng. 100 (1978) 215; check value O-7.2)."""
    return 0.5 * 0.073 * reynolds**-0.25


@pytest.mark.parametrize("y", list(REICHARDT))
def test_the_velocity_beside_a_wall_is_the_published_law(y: int) -> None:
    assert profile.velocity(y) == pytest.approx(REICHARDT[y], abs=0.5 if y >= 30 else min(1.0, 0.1 * y))
    assert profile.from_reynolds(y * profile.velocity(y)) == pytest.approx(y, rel=1e-4)


def test_friction_factors_are_those_of_the_check_values() -> None:
    """O-7.1: 0.03089, 0.01799 and 0.01165; the law inverted from its own velocities gives its friction."""
    for reynolds, factor in ((1e4, 0.03089), (1e5, 0.01799), (1e6, 0.01165)):
        assert 8 * prandtl(reynolds) == pytest.approx(factor, rel=1e-3)
    ones = np.ones(3)
    y = np.array([0.5, 30.0, 300.0]) * 1e-5 / 0.05  # y+ at u_tau 0.05 m/s and nu 1e-5 m2/s
    speed = 0.05 * profile.velocity(y * 0.05 / 1e-5)
    energy = 0.05**2 / 0.3 * ones
    for k in (None, energy):
        assert profile.friction(speed, y, 1e-5 * ones, 0 * ones, k) == pytest.approx(0.0025, rel=1e-3)
    assert profile.friction(0 * ones, y, 1e-5 * ones, 0 * ones, energy) == pytest.approx(0.0, abs=1e-30)
    rough = profile.friction(speed, y, 1e-5 * ones, 0.02 * ones, energy)
    assert (rough[1:] > 1.5 * 0.0025).all()


def test_temperature_beside_a_wall_follows_conduction_then_the_log_law() -> None:
    """Kader (1981): T+ = Pr y+ at the wall; at y+ 100 and Pr 0.7, 13.4 by 2.12 ln(1 + y+) + beta."""
    for number in (0.7, 7.0, 100.0):
        assert profile.temperature(0.1, number) == pytest.approx(0.1 * number, rel=1e-2)
        far = 2.12 * np.log(1001) + (3.85 * number ** (1 / 3) - 1.3) ** 2 + 2.12 * np.log(number)
        assert profile.temperature(1000.0, number) == pytest.approx(far, rel=5e-3)


@pytest.mark.parametrize("prandtl_number", [1.2, 2.79, 5.94])
def test_grains_bring_heat_to_a_wall_as_was_measured_in_rough_tubes(prandtl_number: float) -> None:
    """Dipprey & Sabersky (1963), by the library ht: the resistance of a fully rough tube is its velocity plus
    5.19 k_s+^0.2 Pr^0.44 - 8.48, all over the friction velocity; grains of 1 % of the bore, Re 5e5.
    """
    share, reynolds = 0.01, 5e5
    factor = float(colebrook(reynolds, share))
    pull = np.sqrt(factor / 8)  # of the mean velocity
    tube = turbulent_Dipprey_Sabersky(reynolds, prandtl_number, factor, share)
    measured = reynolds * prandtl_number * pull / tube  # T+ of the mean temperature
    grain = share * reynolds * pull  # k_s+
    where = 0.11 * reynolds * pull  # y+ at which the velocity is the mean one
    assert profile.temperature(where, prandtl_number, grain) == pytest.approx(measured, rel=0.06)


def test_a_wall_of_small_grains_is_smooth_to_heat() -> None:
    y = np.array([1.0, 5.0, 30.0, 300.0])
    for number in (0.7, 5.0, 500.0):
        assert (profile.temperature(y, number, 2.2) == profile.temperature(y, number)).all()
        fine = [profile.temperature(y, number, grain) for grain in (2.5, 10.0, 60.0)]
        assert (np.diff(fine, axis=0) <= 1e-12).all() and np.min(fine) > 0


@pytest.mark.parametrize(
    ("closure", "y_plus", "within"),
    [
        *((Sst, y, 0.05) for y in (1.5, 10, 30, 100)),
        *((KEpsilon, y, 0.05) for y in (1.5, 30, 100)),
        *((Realizable, y, 0.055) for y in (1.5, 30, 100)),
    ],
)
def test_friction_in_a_pipe_hangs_little_on_the_first_cell(
    closure: type[Closure], y_plus: float, within: float
) -> None:
    """Prandtl's law (O-7.1) at Re 1e5."""
    made = developed(closure, 1e5, y_plus, axis=True)
    assert made.friction == pytest.approx(prandtl(1e5), rel=within)
    assert (made.turbulence.k > 0).all() and (made.turbulence.second > 0).all()
    assert made.turbulence.y_plus[0] == pytest.approx(y_plus, rel=0.35)


@pytest.mark.parametrize(("reynolds", "law"), [(3e4, dean), (1e5, dean), (3e5, jones)])
@pytest.mark.parametrize("y_plus", [2.0, 100.0])
def test_friction_between_plates(reynolds: float, law: object, y_plus: float) -> None:
    """Dean's law up to 1e5, above it the logarithmic one, from which Dean's power falls short."""
    made = developed(Sst, reynolds, y_plus, axis=False)
    assert callable(law) and made.friction == pytest.approx(law(reynolds), rel=0.06)


@pytest.mark.parametrize(
    ("share", "reynolds", "y_plus"), [(0.001, 1e5, 30), (0.01, 1e5, 100), (0.001, 3e5, 300)]
)
def test_rough_pipes_rub_as_colebrook_says(share: float, reynolds: float, y_plus: float) -> None:
    factor = float(colebrook(reynolds, share))
    made = developed(Sst, reynolds, y_plus, axis=True, grain=2 * share)
    assert 8 * made.friction == pytest.approx(factor, rel=0.07)
    assert factor > 1.1 * 8 * prandtl(reynolds)


def test_the_velocity_is_that_of_the_log_law_in_the_solution_too() -> None:
    """U+ at y+ near 100 within 1 of the published laws (O-7.2), and k+ near 3.3 beside the wall."""
    made = developed(Sst, 1e5, 1.5, axis=False)
    pull = np.sqrt(made.friction)
    y = (1 - made.mesh.centre[:, 1]) * pull / (2 / 1e5)
    at = int(np.abs(y - 100).argmin())
    assert made.flow.U[at, 0] / pull == pytest.approx(profile.velocity(y[at]), abs=1.0)
    assert made.turbulence.k[at] / pull**2 == pytest.approx(3.0, abs=0.6)


def test_without_equations_there_is_an_eddy_viscosity_of_speed_and_distance() -> None:
    made = developed(MixingLength, 1e5, 30, axis=False, most=100)
    distance = 1 - made.mesh.centre[:, 1]
    expected = 0.03874 * np.linalg.norm(made.flow.U, axis=1) * distance
    assert made.turbulence.terms.eddy == pytest.approx(expected, rel=0.05)
    assert made.turbulence.state() == {} and made.turbulence.field("k")[0].max() > 0


def test_a_cell_that_friction_brings_to_rest_is_held_in_proportion_to_its_speed() -> None:
    """The whole friction on a cell at rest would throw it from one side to the other for ever."""
    made = developed(KEpsilon, 1e5, 30, axis=False, most=60)
    flow, turbulence = made.flow, made.turbulence
    cell = flow.bown[turbulence.walls.faces[0]]
    depth = turbulence.walls.depth[turbulence.walls.faces[0]]
    usual = float(flow.U[cell, 0])
    held = []
    for share in (1.0, 0.02, 0.01, -0.01):
        flow.U[cell, 0] = share * usual
        flow.form_gradients()
        turbulence.look()
        held.append(float(turbulence._wall_nu[0]) * flow.U[cell, 0] / depth)
    assert held[0] == pytest.approx(turbulence.tau[0], rel=0.2), "a cell that moves feels all of it"
    assert 0 < held[2] < held[1] < 0.5 * held[0]
    assert held[2] / held[1] == pytest.approx(0.5, rel=0.2) and held[3] == pytest.approx(-held[2], rel=0.2)


def test_distances_and_heights_are_those_of_whole_cells() -> None:
    """A lattice of 4 by 5 cells turned by 0.4: distances by hand, probes in the middle of second cells."""
    points = points_of(np.linspace(0, 4, 5), np.linspace(0, 2.5, 6))
    turn = np.array([[np.cos(0.4), -np.sin(0.4)], [np.sin(0.4), np.cos(0.4)]])
    mesh = lattice(points @ turn.T)
    walls = np.isin(mesh.patch, [2])
    made = wall_geometry(mesh, link(mesh), walls)
    across = (mesh.centre[:, :2] @ turn)[:, 1]
    assert made.distance == pytest.approx(across)
    assert made.height == pytest.approx(0.5) and made.probed == pytest.approx(0.75)
    assert np.linalg.norm(made.off, axis=1) == pytest.approx(0, abs=1e-9)
    assert made.band.sum() == 8, "two cells deep"
    none = wall_geometry(mesh, link(mesh), np.zeros(mesh.n_boundary, bool))
    assert not len(none.faces) and (none.distance == FAR).all() and not none.band.any()


def test_still_walls_have_no_roughness_unless_told() -> None:
    assert not Boundary.still(3).roughness.any()
