"""Walls of buildings: films, sun, U-values, and the same wall meshed as solid."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import parse_case, review, settle
from mop_lantern.laws.envelope import radiant_film, still_film, sunned, wind_film
from mop_lantern.solve import Solving


def test_films_of_the_standard() -> None:
    """ISO 6946: 0.04 m2K/W outside is 4 m/s of wind and 0.9 at 10 degrees C, rounded."""
    film = wind_film(4.0) + radiant_film(0.9, 283.15)
    assert 1 / film == pytest.approx(0.04, abs=0.0015)
    assert sunned(278.15, 500.0, 25.0) == pytest.approx(298.15)


def slab(wall: dict[str, Any], solids: bool = False) -> dict[str, Any]:
    """State still water-like stuff 1 m wide between 40 degrees C below and a wall above, with or without the
    wall's brick and wool meshed.
    """
    parts = {"r": {"kind": "straight", "length": "1 m", "width": "0.2 m"}}
    field: dict[str, Any] = {
        "physics": {"flow": "laminar"},
        "heat": {"solve": True, "start": "20 °C"},
        "warm": {"below": {"kind": "temperature", "edge": "r.right", "temperature": "40 °C"}, "above": wall},
        "walls": {"top": {"kind": "sliding", "edge": "r.right", "speed": "1e-9 m/s"}},
        "grid": {"cell": "20 mm"},
    }
    if solids:
        for key, material, low, high in (("b", "brick", 0.1, 0.2), ("w", "mineral_wool", 0.2, 0.25)):
            corners = [(0, low), (1, low), (1, high), (0, high)]
            parts[key] = {"kind": "block", "points": [[f"{x} m", f"{y} m"] for x, y in corners]}
            field.setdefault("solids", {})[key] = {"kind": "listed", "part": key, "material": material}
    return {
        "media": {
            "w": {
                "kind": "constant",
                "density": "1000 kg/m3",
                "viscosity": "1 Pa s",
                "capacity": "4000 J/kg/K",
                "conductivity": "0.6 W/m/K",
            }
        },
        "shape": {"parts": parts},
        "field": field,
        "readings": {"heat": {"kind": "coefficient", "edge": "r.right", "of": "heat", "heat": "1 W"}},
    }


def heat_of(data: dict[str, Any]) -> float:
    """Solve and give the heat that enters below, W of a metre of depth."""
    events = Solving(settle(parse_case(data)), None, None).events()
    last = [event for event in events if event["event"] == "finished"][-1]
    assert last["converged"]
    return float(last["readings"]["heat"]["value"])


BUILT = {
    "kind": "built",
    "edge": "r.left",
    "thickness1": "100 mm",
    "material1": "brick",
    "thickness2": "50 mm",
    "material2": "mineral_wool",
    "thickness3": "0 mm",
    "outside": "0 °C",
    "wind": "4 m/s",
    "emissivity": "0",
}


def test_heat_through_layers_is_that_of_resistances_in_series() -> None:
    through = 0.2 / 0.6 + 0.1 / 0.72 + 0.05 / 0.04 + 1 / 20
    assert heat_of(slab(BUILT)) == pytest.approx(40 / through, rel=1e-4)


def test_the_same_wall_meshed_as_solid_passes_the_same_heat() -> None:
    film = {"kind": "layered", "edge": "w.side3", "thickness": "0 mm", "outside": "0 °C", "film": "20 W/m2/K"}
    assert heat_of(slab(film, solids=True)) == pytest.approx(heat_of(slab(BUILT)), rel=1e-4)


def test_the_sun_counts_as_warmer_air() -> None:
    sunny = {**BUILT, "sun": "500 W/m2", "absorbed": "80 %"}
    through = 0.2 / 0.6 + 0.1 / 0.72 + 0.05 / 0.04 + 1 / 20
    assert heat_of(slab(sunny)) == pytest.approx((40 - 400 / 20) / through, rel=1e-4)


def test_the_margin_tells_the_u_value() -> None:
    notes = [note for note in review(parse_case(slab(BUILT))).notes if note.kind == "u_value"]
    through = 0.1 / 0.72 + 0.05 / 0.04 + 1 / 20
    assert [note.path for note in notes] == ["field.warm.above"]
    assert f"{1 / (through + 0.13):.3g} W" in notes[0].text and f"{through:.3g} m²K/W" in notes[0].text


def test_a_bare_plate_in_bright_metal_has_a_film_of_wind_alone() -> None:
    thin = {**BUILT, "thickness1": "0 mm", "thickness2": "0 mm"}
    assert heat_of(slab(thin)) == pytest.approx(40 / (0.2 / 0.6 + 1 / 20), rel=1e-4)


@pytest.mark.parametrize("size", [0.1, 0.5, 3.0])
@pytest.mark.parametrize("difference", [2.0, 20.0])
def test_still_air_along_an_upright_wall_is_that_of_churchill_and_chu(size: float, difference: float) -> None:
    """Source: Churchill and Chu (1975) as in the library ht; simplified equations are good to a fifth."""
    from ht.conv_free_immersed import Nu_vertical_plate_Churchill

    nu, conductivity, prandtl = 15.1e-6, 0.0257, 0.71
    grashof = 9.81 / 293 * difference * size**3 / nu**2
    film = Nu_vertical_plate_Churchill(prandtl, grashof) * conductivity / size
    assert still_film("upright", size, difference) == pytest.approx(film, rel=0.2)


def test_air_that_is_free_to_leave_takes_more_heat_than_air_pressed_to_its_wall() -> None:
    films = [still_film(side, 1.0, 10.0) for side in ("free", "upright", "pressed")]
    assert films == sorted(films, reverse=True)
    assert films[0] == pytest.approx(1.52 * 10 ** (1 / 3)) and films[2] == pytest.approx(0.59 * 10**0.25)


def test_a_layer_before_still_air_resists_by_both() -> None:
    still = {"kind": "still_air", "edge": "r.left", "thickness": "50 mm", "material": "mineral_wool"}
    case = parse_case(slab({**still, "outside": "20 °C", "height": "2 m", "difference": "5"}))
    numbers = settle(case).numbers.warm["above"]
    from mop_lantern.field.heat_walls.still_air import StillAir

    film = still_film("upright", 2.0, 5.0) + radiant_film(0.9, 293.15)
    assert StillAir.passes(numbers) == pytest.approx(0.05 / 0.04 + 1 / film)
    note = next(note for note in review(case).notes if note.kind == "u_value")
    assert "U-value" in note.text
