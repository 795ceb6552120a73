"""Thin walls that conduct along themselves: the net, and heat beside them against separated solutions."""

from __future__ import annotations

from math import factorial
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq
from scipy.special import i0, i1, j0

from mop_lantern.case import parse_case, review, settle
from mop_lantern.field.shell_net import ShellNet, net_of
from mop_lantern.field.shells import Shells
from mop_lantern.field.transport import Transported
from mop_lantern.materials._table import TABLE
from mop_lantern.solve import Solving
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.thin_walls import _short

LONG, HIGH, FLUX, FILM = 1.0, 0.2, 40.0, 5.0
STILL = 0.6  # W/m/K, of the fluid
SHEET = 0.01 * TABLE["aluminium"][1]  # W/K
WAVE = np.pi / LONG


def bent_sheet(size: float, turned: float = 0.0) -> tuple[ShellNet, Any]:
    """Lay a net of 2 W/K on a sheet that goes 1 m along x and, round a corner, 1 m up; give the distance of
    its faces along the sheet as well. ``turned``: rad, of the lattice of faces on the sheet.
    """
    corners = np.array([[0, 0, 0], [1, 0, 0], [1, 1, 0], [0, 1, 0], [1, 0, 1], [1, 1, 1]], float)
    pieces = corners[np.array([[0, 1, 2], [0, 2, 3], [1, 4, 5], [1, 5, 2]])]
    line = np.arange(-3, 3, size) + size / 2
    s, y = (each.ravel() for each in np.meshgrid(line, line))
    s, y = s * np.cos(turned) - y * np.sin(turned), s * np.sin(turned) + y * np.cos(turned)
    on = (s > 0) & (s < 2) & (y > 0) & (y < 1)
    s, y = s[on], y[on]
    places = np.stack([np.minimum(s, 1), y, np.maximum(s - 1, 0)], axis=1)
    return net_of(pieces, np.full(4, 2.0), np.arange(len(s)), places, size), s


@pytest.mark.parametrize("turned", [0.0, 0.4])
def test_an_even_fall_of_temperature_goes_round_a_corner(turned: float) -> None:
    """T = s along the sheet: every face reads it, faces inside gain nothing, and 2 W/K m x 1 K/m pass."""
    net, s = bent_sheet(0.1, turned)
    assert net.share @ s == pytest.approx(s, abs=1e-5)
    assert abs(net.stiffness - net.stiffness.T).max() < 1e-12
    gained = net.stiffness @ s
    assert gained.sum() == pytest.approx(0.0, abs=1e-10)
    inside = (s > 0.4) & (s < 1.6)
    assert np.abs(gained[inside]).max() < 2e-3 * np.abs(gained).max()
    assert gained[s > 1.6].sum() == pytest.approx(2.0, rel=0.01)
    assert s @ gained == pytest.approx(4.0, rel=0.02)


def test_slivers_of_a_drawing_do_not_count() -> None:
    """The sheet of a metre of 400 triangles that are 5 mm thin carries the same, with as many unknowns."""
    x = np.linspace(0, 1, 201)
    low, high = (np.stack([x, np.full(201, y), 0 * x], axis=1) for y in (0.0, 1.0))
    thin = np.concatenate(
        [np.stack([low[:-1], low[1:], high[1:]], axis=1), np.stack([low[:-1], high[1:], high[:-1]], axis=1)]
    )
    line = np.arange(0.05, 1, 0.1)
    places = np.stack([*(each.ravel() for each in np.meshgrid(line, line)), np.zeros(100)], axis=1)
    net = net_of(thin, np.full(400, 2.0), np.arange(100), places, 0.1)
    for k in (0, 1):
        assert places[:, k] @ (net.stiffness @ places[:, k]) == pytest.approx(2.0, rel=0.02)


def test_a_line_carries_by_its_length() -> None:
    """3-4-5: 1 W/K m over 5 m for the 5 K between its ends."""
    at = (np.arange(20) + 0.5) / 20
    places = at[:, None] * np.array([[3.0, 4.0, 0.0]])
    line = net_of(np.array([[[0, 0, 0], [3, 4, 0]]], float), np.ones(1), np.arange(20), places, 0.25)
    assert 5 * at @ (line.stiffness @ (5 * at)) == pytest.approx(5.0, rel=1e-4)


def still_case(shell: dict[str, Any], cell: str, **more: Any) -> dict[str, Any]:
    """State a still layer between a wall at 20 degrees C and the thin wall r.left that is heated in waves."""
    return {
        "media": {
            "w": {
                "kind": "constant",
                "density": "1000 kg/m3",
                "viscosity": "1 Pa s",
                "capacity": "4000 J/kg/K",
                "conductivity": f"{STILL} W/m/K",
            }
        },
        "shape": {"parts": {"r": {"kind": "straight", "length": "1 m", "width": "0.2 m"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "heat": {"solve": True, "start": "20 °C"},
            "warm": {
                "below": {"kind": "temperature", "edge": "r.right", "temperature": "20 °C"},
                "above": {
                    "kind": "shell",
                    "edge": "r.left",
                    "thickness": "10 mm",
                    "material": "aluminium",
                    "outside": "20 °C",
                    "film": f"{FILM} W/m2/K",
                    "heated": f"= {FLUX} W/m2 * cos(pi * x / {LONG} m)",
                    **shell,
                },
            },
            "walls": {"top": {"kind": "sliding", "edge": "r.right", "speed": "1e-9 m/s"}},
            "grid": {"cell": cell},
        },
        **more,
    }


def solved(data: dict[str, Any]) -> Transported:
    """Solve for the temperature of a case whose fluid is still."""
    settled = settle(parse_case(data))
    physics = Physics(settled, prepare(settled), None)
    scalar = physics.scalars["T"]
    scalar.solve()
    return scalar


def swing(scalar: Transported, edge: str, shape: Any) -> float:
    """Give the height of the wave of the temperature of a wall over 20 degrees C, by least squares."""
    mesh = scalar.mesh
    faces = mesh.faces_of(edge)
    wave = shape(mesh.face_centre[mesh.n_internal :][faces])
    over = scalar.boundary_values()[faces] - 293.15
    return float((wave * over).sum() / (wave**2).sum())


def expected_between(film: float, sheet: float, wave: float) -> float:
    """Give the height of the wave on a sheet over a layer whose other side is held even."""
    beside = STILL * wave / np.tanh(wave * HIGH)
    return float(FLUX / (beside + film + sheet * wave**2))


@pytest.mark.parametrize("turn", ["0 deg", "17 deg"])
def test_a_sheet_over_a_plane_layer(turn: str) -> None:
    """Within 1 % on five cells across, aligned and turned; without the sheet it would swing 3.8 times."""
    data = still_case({}, "40 mm")
    data["shape"]["parts"]["r"]["direction"] = turn
    angle = np.deg2rad(float(turn.split()[0]))
    way = np.array([np.cos(angle), np.sin(angle), 0])
    along = f"(x * {way[0]:.12f} + y * {way[1]:.12f})"
    data["field"]["warm"]["above"]["heated"] = f"= {FLUX} W/m2 * cos(pi * {along} / {LONG} m)"
    scalar = solved(data)
    found = swing(scalar, "r.left", lambda at: np.cos(WAVE * (at @ way)))
    assert found == pytest.approx(expected_between(FILM, SHEET, WAVE), rel=0.01)
    assert expected_between(FILM, 0.0, WAVE) > 3 * found
    lost = scalar.boundary_flux().sum()
    assert abs(lost) < 1e-6 * np.abs(scalar.boundary_flux()).sum()


def test_a_sheet_over_a_layer_in_a_space() -> None:
    """Waves both ways along the sheet: the same law with p2 + q2, within 1.5 % on five cells across."""
    data = still_case({}, "40 mm")
    box = {"kind": "brick", "length": "1 m", "width": "0.5 m", "height": "0.2 m"}
    data["shape"] = {"space": "space", "solids": {"r": box}}
    warm = data["field"]["warm"]
    warm["below"]["edge"], warm["above"]["edge"] = "r.bottom", "r.top"
    warm["above"]["heated"] = f"= {FLUX} W/m2 * cos(pi * x / 1 m) * cos(pi * y / 0.5 m)"
    data["field"]["walls"] = {"slides": {"kind": "sliding", "edge": "r.top", "speed": "1e-9 m/s"}}
    scalar = solved(data)
    found = swing(scalar, "r.top", lambda at: np.cos(np.pi * at[:, 0]) * np.cos(2 * np.pi * at[:, 1]))
    wave = np.pi * np.sqrt(5.0)
    assert found == pytest.approx(expected_between(FILM, SHEET, wave), rel=0.015)
    assert expected_between(FILM, 0.0, wave) > 5 * found
    passed = scalar.boundary_flux()
    assert abs(passed.sum()) < 1e-6 * np.abs(passed).sum()


def test_a_pipe_wall_round_an_axis() -> None:
    """A still rod 0.2 m in radius in a pipe heated in waves along it: Bessel functions, within 1 %."""
    data = still_case({"film": "0.5 W/m2/K"}, "40 mm")
    corners = [["0 m", "0 m"], ["1 m", "0 m"], ["1 m", "0.2 m"], ["0 m", "0.2 m"]]
    data["shape"] = {"space": "axis", "parts": {"rod": {"kind": "outline", "points": corners}}}
    data["field"]["warm"]["above"]["edge"] = "rod.side3"
    del data["field"]["warm"]["below"]
    data["field"]["walls"] = {"slides": {"kind": "sliding", "edge": "rod.side3", "speed": "1e-9 m/s"}}
    scalar = solved(data)
    found = swing(scalar, "rod.side3", lambda at: np.cos(WAVE * at[:, 0]))
    x = WAVE * HIGH
    expected = FLUX / (STILL * WAVE * i1(x) / i0(x) + 0.5 + SHEET * WAVE**2)
    assert found == pytest.approx(expected, rel=0.01)


def test_a_flat_end_round_an_axis() -> None:
    """A disc of a metre over a still layer, heated as J0(j r) with J1(j) = 0: within 1 %; one radius for all
    of it, or none, would be far off.
    """
    j = 3.8317059702
    data = still_case({}, "40 mm")
    corners = [["0 m", "0 m"], ["0.2 m", "0 m"], ["0.2 m", "1 m"], ["0 m", "1 m"]]
    data["shape"] = {"space": "axis", "parts": {"disc": {"kind": "outline", "points": corners}}}
    series = "0"
    for k in reversed(range(12)):  # of J0
        series = f"({(-1) ** k * (j / 2) ** (2 * k) / factorial(k) ** 2:.12g} + (r / 1 m)^2 * {series})"
    warm = data["field"]["warm"]
    warm["below"]["edge"], warm["above"]["edge"] = "disc.side4", "disc.side2"
    warm["above"]["heated"] = f"= {FLUX} W/m2 * {series}"
    data["field"]["walls"] = {"slides": {"kind": "sliding", "edge": "disc.side3", "speed": "1e-9 m/s"}}
    scalar = solved(data)
    found = swing(scalar, "disc.side2", lambda at: j0(j * at[:, 1]))
    assert found == pytest.approx(expected_between(FILM, SHEET, j), rel=0.01)
    passed = scalar.boundary_flux()
    assert abs(passed.sum()) < 1e-6 * np.abs(passed).sum()


def warmed_so_far(after: float, spread: float, held: float) -> float:
    """Give the height of the wave on the sheet at a time (s) after the heat was turned on, by separation of
    variables; ``spread``: diffusivity of the layer, m2/s. ``held``: what the sheet holds, J/m2/K, over what
    a cubic metre of the layer does.
    """
    beside = FILM + SHEET * WAVE**2
    steady = expected_between(FILM, SHEET, WAVE)
    y = np.linspace(0, HIGH, 2001)
    left = np.sinh(WAVE * y) / np.sinh(WAVE * HIGH)
    over = steady
    for n in range(1, 30):
        low, high = ((n - 0.5) * np.pi / HIGH, n * np.pi / HIGH)
        if n > 1 or held:  # with a sheet that holds much, the slowest wave is flatter
            low = (n - 1) * np.pi / HIGH + 1e-9

        def astray(m: float) -> float:
            there = beside - STILL * held * (m**2 + WAVE**2)
            return float(STILL * m * np.cos(m * HIGH) + there * np.sin(m * HIGH))

        m = brentq(astray, low, high)
        mode = np.sin(m * y)
        part = np.trapezoid(left * mode, y) + held * left[-1] * mode[-1]
        part /= np.trapezoid(mode**2, y) + held * mode[-1] ** 2
        over -= steady * part * mode[-1] * np.exp(-spread * (m**2 + WAVE**2) * after)
    return float(over)


@pytest.mark.parametrize("after", [3e3, 240e3])
def test_a_sheet_over_a_layer_that_warms_up(after: float) -> None:
    """In time: sheet and layer hold heat; within 1.5 % while it warms and in the end."""
    data = still_case({}, "40 mm")
    steps = {"mode": "transient", "until": f"{after} s", "step": f"{after / 16} s", "courant": "0"}
    data["field"]["time"] = {**steps, "every": f"{after} s"}
    solving = Solving(settle(parse_case(data)), None, None)
    for _ in solving.events():
        pass
    scalar = solving.run.physics.scalars["T"]
    found = swing(scalar, "r.left", lambda at: np.cos(WAVE * at[:, 0]))
    held = 0.01 * 2702.0 * 903.0 / 4e6
    wanted = warmed_so_far(after, STILL / 4e6, held)
    assert found == pytest.approx(wanted, rel=0.015)
    assert wanted < (0.9 if after < 1e5 else 1.001) * expected_between(FILM, SHEET, WAVE)


def test_a_closed_space_in_a_wrapped_sheet_has_no_level() -> None:
    """With nothing held and nothing lost outside there is no steady temperature: refused with a way out."""
    data = still_case({"film": "0 W/m2/K"}, "40 mm")
    del data["field"]["warm"]["below"]
    notes = [note for note in review(parse_case(data)).notes if note.level == "blocked"]
    assert any("no wall is held" in note.text for note in notes)


def test_corrections_find_the_same_as_one_go() -> None:
    """What runs with a moving fluid do, one correction at a time."""
    settled = settle(parse_case(still_case({}, "40 mm")))
    scalar = Physics(settled, prepare(settled), None).scalars["T"]
    steps = 0
    while scalar.correct(tolerance=1e-3) > 1e-9 and steps < 30:
        steps += 1
    assert steps < 12
    by_steps = scalar.phi.copy()
    scalar.solve()
    assert by_steps == pytest.approx(scalar.phi, abs=1e-6)


@pytest.mark.parametrize(
    ("thickness", "material", "told"),
    [("4 mm", "steel", None), ("300 mm", "stainless", False), ("50 mm", "mineral_wool", True)],
)
def test_a_thin_wall_that_resists_is_told(thickness: str, material: str, told: bool | None) -> None:
    """What resists heat across is not a thin wall: a caution, and with insulation a failing one."""
    case = parse_case(still_case({"thickness": thickness, "material": material}, "40 mm"))
    notes = [note for note in review(case).notes if "Biot" in note.text]
    assert [note.fails for note in notes] == ([] if told is None else [told])


def test_many_faces_are_solved_by_iterations_to_the_same(monkeypatch: pytest.MonkeyPatch) -> None:
    """Beyond a number of faces nothing is factorised."""
    net, s = bent_sheet(0.1)
    pull, given = 3.0 + np.cos(s), 300.0 + np.sin(5 * s)
    found = []
    for many in (10**6, 10):
        monkeypatch.setattr("mop_lantern.field.shells.MANY", many)
        shells = Shells(net, 1.0)
        shells.tie(pull)
        found.append(shells.surface(pull * given))
    assert found[0] == pytest.approx(found[1], abs=1e-8)
    assert np.ptp(found[0]) < np.ptp(given)


def test_a_line_away_from_the_axis_is_cut_to_radii_of_its_own() -> None:
    """A flat end from 0 to 1 m: every bit carries by its own radius, and all of it is there."""
    pieces, carried = _short(np.array([[[0, 0, 0], [0, 1, 0]]], float), np.array([2.0]), 0.1)
    assert len(pieces) == 10 and carried == pytest.approx(np.full(10, 2.0))
    assert pieces[:, :, 1].mean(axis=1) == pytest.approx(np.arange(10) / 10 + 0.05)
    assert pieces[1:, 0] == pytest.approx(pieces[:-1, 1])
