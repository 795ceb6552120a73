"""Thin walls that conduct along themselves and radiate: waves on a sheet against their exact height."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from scipy.special import k1

from mop_lantern.field.radiation.exchange import SIGMA
from mop_lantern.field.radiation.warmth import Warmth
from tests.field.test_thin_walls import FILM, FLUX, HIGH, SHEET, STILL, WAVE, solved, still_case


def radiating_case(lower: float, sheet: float, warm: float, cell: str = "40 mm") -> dict[str, Any]:
    """State the still layer under the sheet between mirrors, all at ``warm`` (degrees C) but for the waves;
    ``lower`` and ``sheet`` are the emissivities.
    """
    data = still_case({"outside": f"{warm} °C"}, cell)
    field = data["field"]
    field["warm"]["below"]["temperature"] = f"{warm} °C"
    field["heat"]["start"] = f"{warm} °C"
    for end in ("start", "end"):
        field["walls"][end] = {"kind": "symmetry", "edge": f"r.{end}"}
    field["radiation"] = {"solve": True, "emissivity": str(sheet), "patches": "60"}
    field["finishes"] = {"f": {"kind": "own", "edge": "r.right", "emissivity": str(lower)}}
    return data


def expected(lower: float, sheet: float, warm: float) -> float:
    """Give the height of the wave (K). What parallel planes send in waves along them reaches the other
    weakened by k h K1(k h), the Fourier transform of the view between strips; the rest is grey algebra.
    """
    high = WAVE * HIGH
    weakened = (high * k1(high)) ** 2 * (1 - lower)
    radiant = sheet - sheet**2 * weakened / (1 - weakened * (1 - sheet))
    film = 4 * SIGMA * (warm + 273.15) ** 3 * radiant
    return float(FLUX / (STILL * WAVE / np.tanh(high) + FILM + film + SHEET * WAVE**2))


def height(scalar: Any, warm: float) -> float:
    """Give the height of the wave found on the sheet, K."""
    mesh = scalar.mesh
    faces = mesh.faces_of("r.left")
    wave = np.cos(WAVE * mesh.face_centre[mesh.n_internal :][faces][:, 0])
    return float(wave @ (scalar.boundary_values()[faces] - warm - 273.15) / (wave @ wave))


def unclosed(scalar: Warmth, edge: str, outside: float) -> float:
    """Give how much of the heat put into the sheet does not leave it again, of all that was moved."""
    faces = scalar.mesh.faces_of(edge)
    size = scalar.geometry.size_b[faces]
    heated = scalar.demand.inflow[faces] * size
    taken, _, _ = scalar.radiated()
    lost = FILM * (scalar.boundary_values()[faces] - outside - 273.15) * size
    return float((heated + taken[faces] + scalar.boundary_flux()[faces] - lost).sum() / np.abs(heated).sum())


@pytest.mark.parametrize(
    ("lower", "sheet", "warm"),
    [
        (0.6, 0.8, 77.0),
        (0.3, 0.3, 400.0),
    ],
)
def test_waves_on_a_sheet_that_radiates(lower: float, sheet: float, warm: float) -> None:
    """Within 0.1 %; without radiation the waves would be 1.2 and 1.5 times as high."""
    scalar = solved(radiating_case(lower, sheet, warm))
    assert isinstance(scalar, Warmth)
    assert height(scalar, warm) == pytest.approx(expected(lower, sheet, warm), rel=1e-3)
    assert expected(lower, 0.0, warm) > 1.15 * height(scalar, warm)
    assert abs(unclosed(scalar, "r.left", warm)) < 1e-8
    taken, _, _ = scalar.radiated()
    assert abs(taken.sum()) < 1e-9 * np.abs(taken).sum()


def test_corrections_find_what_the_solution_in_one_go_finds() -> None:
    """The pulls of a correction are those of the answer: a few of them are enough."""
    scalar = solved(radiating_case(0.6, 0.8, 77.0, "80 mm"))
    found = scalar.phi.copy()
    scalar.phi += 20 * np.cos(np.arange(len(found)))
    for _ in range(8):
        left = scalar.correct(1e-4)
    assert left < 1e-5
    assert scalar.phi == pytest.approx(found, abs=1e-4)


def test_the_lid_of_a_box_gives_off_all_that_a_foil_puts_in() -> None:
    """By its film, to the still fluid and by radiation to the bottom."""
    data = radiating_case(0.6, 0.8, 20.0, "100 mm")
    box = {"kind": "brick", "length": "1 m", "width": "0.5 m", "height": "0.5 m"}
    data["shape"] = {"space": "space", "solids": {"r": box}}
    field = data["field"]
    field["warm"]["below"]["edge"], field["warm"]["above"]["edge"] = "r.bottom", "r.top"
    field["warm"]["above"]["heated"] = f"{FLUX} W/m2"
    field["walls"] = {"slides": {"kind": "sliding", "edge": "r.top", "speed": "1e-9 m/s"}}
    field["finishes"]["f"]["edge"] = "r.bottom"
    scalar = solved(data)
    assert isinstance(scalar, Warmth)
    assert abs(unclosed(scalar, "r.top", 20.0)) < 1e-8
    taken, _, _ = scalar.radiated()
    assert taken[scalar.mesh.faces_of("r.top")].sum() < -1.0
