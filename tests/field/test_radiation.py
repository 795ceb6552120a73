"""Heat that surfaces radiate: what they see of each other against known view factors, and exact exchanges."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from numpy.typing import NDArray
from scipy.optimize import brentq

from mop_lantern.field.boundary import Boundary
from mop_lantern.field.face_geometry import link
from mop_lantern.field.radiation.exchange import SIGMA, Exchange
from mop_lantern.field.radiation.sight import sight_of
from mop_lantern.field.radiation.views import Views, patches_of, views
from mop_lantern.field.radiation.warmth import Warmth
from mop_lantern.field.scalar_boundary import ScalarBoundary
from mop_lantern.grid import Mesh
from mop_lantern.grid.box import box
from tests.lattices import lattice, points_of

SCALE = 1200.0  # J/m3/K


def seen(mesh: Mesh, mirrors: tuple[str, ...] = (), surface: Any = None, patches: int = 40) -> Views:
    """Give what the patches of a mesh see."""
    return views(mesh, sight_of(mesh, mirrors, surface), patches_of(mesh, mirrors, patches), 1024)


def between(mesh: Mesh, found: Views, one: str, other: str) -> float:
    """Give the view factor from one named edge to another."""
    first, second = (
        np.unique(found.patch[mesh.patch == mesh.patch_names.index(name)]) for name in (one, other)
    )
    first, second = first[first >= 0], second[second >= 0]
    shared = found.size[first, None] * found.factors[np.ix_(first, second)]
    return float(shared.sum() / found.size[first].sum())


def square(across: float = 1.0, high: float = 1.0, axis: bool = False) -> Mesh:
    """Give a rectangle of 12 x 10 cells."""
    return lattice(points_of(np.linspace(0, across, 13), np.linspace(0, high, 11)), axis)


def bricks(mesh: Mesh) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
    """Give the outside of a block of bricks as triangles that face out, and their names."""
    inner = mesh.n_internal
    corner = mesh.points[mesh.face_points[mesh.face_offsets[inner] :].reshape(-1, 4)]
    both = np.stack([corner[:, [0, 1, 2]], corner[:, [0, 2, 3]]], axis=1).reshape(-1, 3, 3)
    normal = np.cross(both[:, 1] - both[:, 0], both[:, 2] - both[:, 0])
    wrong = (normal * np.repeat(mesh.area[inner:], 2, axis=0)).sum(axis=1) < 0
    both[wrong] = both[wrong][:, ::-1]
    return both, np.repeat(mesh.patch, 2).astype(np.int64)


def test_an_endless_duct_sees_itself_by_crossed_strings() -> None:
    """Source: Hottel's crossed strings, exact: opposite sqrt(2) - 1, beside 1 - sqrt(1/2)."""
    mesh = square()
    found = seen(mesh)
    assert between(mesh, found, "west", "east") == pytest.approx(np.sqrt(2) - 1, rel=2e-3)
    assert between(mesh, found, "west", "south") == pytest.approx(1 - np.sqrt(0.5), rel=2e-3)
    shared = found.size[:, None] * found.factors
    assert np.abs(found.factors.sum(axis=1) - 1).max() < 1e-6 and np.abs(shared - shared.T).max() < 1e-12


def test_half_a_duct_and_a_mirror_see_as_much_as_the_whole() -> None:
    mesh = square(across=0.5)
    found = seen(mesh, ("east",))
    assert between(mesh, found, "west", "west") == pytest.approx(np.sqrt(2) - 1, rel=2e-3)
    assert between(mesh, found, "south", "north") == pytest.approx(np.sqrt(2) - 1, rel=2e-3)


def test_round_ends_see_each_other_as_the_catalogue_says() -> None:
    """Source: Howell, A Catalog of Radiation Heat Transfer Configuration Factors, C-40/41 (coaxial discs)."""
    mesh = square(across=2.0, axis=True)
    found = seen(mesh)
    x = 2 + 4.0  # 1 + (1 + R2^2) / R1^2 with both radii half the distance
    assert between(mesh, found, "west", "east") == pytest.approx((x - np.sqrt(x * x - 4)) / 2, rel=5e-3)


def test_the_sides_of_a_cube() -> None:
    """Source: Howell's catalogue, C-11 and C-14; values not at hand to check: 0.19982 and 0.20004."""
    mesh = box((6, 6, 6), (1.0, 1.0, 1.0))
    found = seen(mesh, surface=bricks(mesh), patches=150)
    assert between(mesh, found, "west", "east") == pytest.approx(0.19982, rel=0.01)
    assert between(mesh, found, "west", "top") == pytest.approx(0.20004, rel=0.01)
    assert found.lost < 1e-4


def test_an_open_surface_is_refused() -> None:
    mesh = box((3, 3, 3), (1.0, 1.0, 1.0))
    corners, named = bricks(mesh)
    with pytest.raises(ValueError, match="meet nothing"):
        seen(mesh, surface=(corners[named > 0], named[named > 0]))


# --- two plates without an end: the sides mirror ---

PLATES = lattice(points_of(np.linspace(0, 1, 7), np.linspace(0, 0.1, 5)))
SIDES = ("west", "east")
FLOOR, ROOF = (PLATES.faces_of(name) for name in ("south", "north"))
AIR = 0.026  # W/m/K


def gap(demand: ScalarBoundary, below: float = 0.9, above: float = 0.5) -> Warmth:
    """Give the still air between two plates of these emissivities."""
    geometry = link(PLATES)
    emissivity = np.full(PLATES.n_boundary, below)
    emissivity[ROOF] = above
    still = Boundary.still(PLATES.n_boundary)
    begin = np.full(PLATES.n_cells, 300.0)
    made = Warmth(PLATES, geometry, still, demand, AIR / SCALE, np.zeros(PLATES.n_cells), begin, scale=SCALE)
    made.shine(Exchange(seen(PLATES, SIDES, patches=12), emissivity, geometry.size_b))
    return made


def passing(warm: float, cold: float, below: float = 0.9, above: float = 0.5) -> float:
    """Source: Incropera et al., equation 13.19: endless parallel plates, W/m2."""
    return SIGMA * (warm**4 - cold**4) / (1 / below + 1 / above - 1)


def test_two_held_plates_exchange_what_the_formula_says() -> None:
    demand = ScalarBoundary.closed(PLATES.n_boundary)
    demand.given[FLOOR] = demand.given[ROOF] = True
    demand.value[FLOOR], demand.value[ROOF] = 350.0, 280.0
    scalar = gap(demand)
    assert scalar.solve() < 1e-9
    taken, _, sent = scalar.radiated()
    assert taken[ROOF].sum() == pytest.approx(passing(350.0, 280.0), rel=1e-9)
    assert abs(taken.sum()) < 1e-9 * taken[ROOF].sum()
    assert scalar.boundary_flux()[ROOF].sum() == pytest.approx(AIR * 70 / 0.1, rel=1e-9)
    assert sent.max() == pytest.approx(SIGMA * 350.0**4 - passing(350.0, 280.0) * (1 / 0.9 - 1), rel=1e-9)


def heated() -> ScalarBoundary:
    """A floor that gives 200 W/m2, under a roof that resists by 0.5 m2 K/W towards 280 K."""
    demand = ScalarBoundary.closed(PLATES.n_boundary)
    demand.inflow[FLOOR] = 200.0
    demand.given[ROOF], demand.value[ROOF], demand.resistance[ROOF] = True, 280.0, 0.5
    return demand


def warm_floor() -> float:
    """What the floor's temperature must be: conduction and radiation together carry 200 W/m2."""
    roof = 280.0 + 200.0 * 0.5
    return float(brentq(lambda t: AIR / 0.1 * (t - roof) + passing(t, roof) - 200.0, roof, 700.0))


def test_a_heated_floor_finds_its_temperature_in_one_go_and_step_by_step() -> None:
    scalar = gap(heated())
    scalar.solve()
    assert scalar.boundary_values()[ROOF] == pytest.approx(380.0, abs=1e-6)
    assert scalar.boundary_values()[FLOOR] == pytest.approx(warm_floor(), abs=1e-6)
    step_by_step = gap(heated())
    for _ in range(8):  # with what others send lagged it would take hundreds
        left = step_by_step.correct(1e-3)
    assert left < 1e-6
    assert step_by_step.boundary_values()[FLOOR] == pytest.approx(warm_floor(), abs=1e-3)


def test_in_time_a_floor_comes_to_the_same_temperature() -> None:
    scalar = gap(heated())
    for step in [10.0] * 4 + [1e5] * 6:
        scalar.begin_step(step)
        for _ in range(6):
            scalar.correct(1e-4)
        assert abs(scalar.balance().open) < 1e-3 * 200
    assert scalar.boundary_values()[FLOOR] == pytest.approx(warm_floor(), abs=0.01)


def test_surfaces_that_mirror_heat_radiate_nothing() -> None:
    scalar = gap(heated(), 0.0, 0.0)
    scalar.solve()
    assert np.abs(scalar.radiated()[0]).max() == 0.0
    assert scalar.boundary_values()[FLOOR] == pytest.approx(380.0 + 200.0 * 0.1 / AIR, rel=1e-9)
