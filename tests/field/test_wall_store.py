"""Heat that walls hold: against exact solutions, against the same wall meshed, and from run to run."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest
from scipy.special import erfcx

from bench.solid_cases import film, made_of, rectangle, solids
from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.field.wall_store import Layer, WallStore
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

BRICK = Layer.of("brick", 0.3)
NOTHING_PASSES = np.array([BRICK.resistance + 1e9])
COLD = np.zeros(1)


def warmed(store: WallStore, resistance: np.ndarray, film: float, step: float, until: float) -> float:
    """Give the temperature of a surface at nothing whose fluid is at 1 from then on."""
    surface = COLD
    store.lay(np.zeros((1, store.slices)))
    for _ in range(round(until / step)):
        store.begin_step(step, surface, COLD, resistance)
        warmth, resisted = store.behind(COLD, resistance)
        surface = 1.0 - (1.0 - warmth) / (1.0 + film * resisted)
    return float(surface[0])


@pytest.mark.parametrize(("until", "step", "rel"), [(600.0, 10.0, 0.01), (3600.0, 60.0, 0.006)])
def test_a_thick_wall_warms_as_a_half_space(until: float, step: float, rel: float) -> None:
    """Carslaw and Jaeger, *Conduction of Heat in Solids* (2nd ed.), section 2.7, equation 1 (from memory)."""
    film = 8.0
    spread = BRICK.conductivity / BRICK.capacity
    exact = 1.0 - erfcx(film * np.sqrt(spread * until) / BRICK.conductivity)
    store = WallStore(np.arange(1), (BRICK,))
    assert warmed(store, NOTHING_PASSES, film, step, until) == pytest.approx(exact, rel=rel)


@pytest.mark.parametrize("thickness", [0.02, 5.0, 1e6])
def test_slices_at_the_surface_are_thin_however_thick_the_wall(thickness: float) -> None:
    """Ground of any thickness warms as a half space for half an hour; a thin wall does not."""
    wall = Layer.of("brick", thickness)
    store = WallStore(np.arange(1), (wall,))
    assert 24 <= store.slices < 150
    found = warmed(store, np.array([wall.resistance + 1e9]), 8.0, 10.0, 1800.0)
    exact = 1.0 - erfcx(8.0 * np.sqrt(wall.conductivity / wall.capacity * 1800.0) / wall.conductivity)
    if thickness > 1:
        assert found == pytest.approx(exact, rel=0.01)
    else:
        assert found > 1.05 * exact


def test_a_sheet_warms_as_one_body() -> None:
    """Lumped: 1 - exp(-h t / C), any text."""
    sheet = Layer(0.002, np.inf, 3.4e6)
    store = WallStore(np.arange(1), (sheet,))
    assert store.slices == 1
    found = warmed(store, np.array([1e12]), 10.0, 5.0, 600.0)
    assert found == pytest.approx(1 - np.exp(-10 * 600 / 6800), rel=2e-3)


def test_a_wall_long_after_is_one_that_holds_nothing() -> None:
    layers = (Layer.of("plasterboard", 0.0125), Layer(0.1, 0.04, 0.0), Layer.of("brick", 0.11))
    whole = np.full(2, sum(layer.resistance for layer in layers) + 0.04)
    store = WallStore(np.arange(2), layers)
    surface, outside = np.array([20.0, 15.0]), np.array([0.0, 10.0])
    store.lay(np.full((2, store.slices), 12.0))
    for _ in range(60):
        store.begin_step(86_400.0, surface, outside, whole)
        warmth, resisted = store.behind(outside, whole)
    passing = (surface - warmth) / resisted
    assert passing == pytest.approx((surface - outside) / whole, rel=1e-6)
    assert store.within(surface) == pytest.approx(store.even(surface, outside, whole), abs=1e-5)


def test_a_layer_that_is_not_there_has_no_slice() -> None:
    """Where the outer surface has the outside temperature, nothing would resist behind it."""
    brick, none = Layer.of("brick", 0.1), Layer(0.0, 0.04, 1e6)
    store = WallStore(np.arange(1), (none, brick, none))
    assert store.slices == WallStore(np.arange(1), (brick,)).slices
    found = warmed(store, np.array([brick.resistance]), 8.0, 60.0, 600.0)
    assert 0 < found < 1


def test_what_comes_in_is_what_goes_out_and_what_is_held() -> None:
    """In one step, to rounding."""
    wall = Layer.of("concrete", 0.2)
    whole = np.array([wall.resistance + 0.1])
    store = WallStore(np.arange(1), (wall,))
    before = store.even(np.array([20.0]), COLD, whole)
    store.lay(before)
    store.begin_step(100.0, np.array([20.0]), COLD, whole)
    warmth, resisted = store.behind(COLD, whole)
    after = store.within(np.array([30.0]))
    came = float((30.0 - warmth)[0] / resisted[0])
    share = store._holds / store._holds.sum()
    held = float(((after - before)[0] @ share) * 0.2 * wall.capacity) / 100.0
    left = float(after[0, -1] / (0.1 + store._between[-1]))
    assert came == pytest.approx(left + held, rel=1e-9) and held > 5 * left


BUILT = {
    "kind": "built",
    "thickness1": "100 mm",
    "material1": "brick",
    "thickness2": "50 mm",
    "material2": "mineral_wool",
    "thickness3": "0 mm",
    "outside": "20 °C",
    "wind": "4 m/s",
    "emissivity": "0",
}


def pane(wall: dict[str, Any] | None, until: str, **more: Any) -> dict[str, Any]:
    """State a light pane 200 mm thick, held at 40 °C on one side from the beginning, that was as warm as its
    surroundings of 20 °C; behind it a wall stated, or brick and wool meshed, with a film of 20 W/m2/K.
    """
    parts = {"pane": rectangle(0.0, 0.0, 0.2, 0.1)}
    materials = {"pane": made_of("pane", 0.6, 10.0, 4000.0)}
    walls = {"hot": film("pane.side4", 40.0, None)}
    if wall is not None:
        walls["back"] = {**wall, "edge": "pane.side2"}
    else:
        for key, material, low, high in (("brick", "brick", 0.2, 0.3), ("wool", "mineral_wool", 0.3, 0.35)):
            parts[key] = rectangle(low, 0.0, high, 0.1)
            materials[key] = {"kind": "listed", "part": key, "material": material}
        walls["back"] = film("wool.side2", 20.0, 20.0)
    data = solids(parts, materials, walls, 0.01)
    steps = {"mode": "transient", "until": until, "step": "60 s", "courant": "0", "every": until}
    data["field"] |= {"time": steps | more, "heat": {"solve": True, "start": "20 °C"}}
    return data


def behind(data: dict[str, Any], runs: Path | None = None, **edits: Any) -> tuple[float, Any]:
    """Give how far the surface between pane and wall is over 20 °C, K, and the solve."""
    solving = Solving(settle(apply(parse_case(data), edits)), None, runs)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    assert last["converged"], [item for item in last["trust"] if item["verdict"] == "fails"]
    answer = final_answer(solving)
    there = np.abs(answer.mesh.face_centre[answer.mesh.n_internal :, 0] - 0.2) < 1e-9
    return float(answer.boundary("T")[there].mean()) - 293.15, solving


@pytest.mark.parametrize("until", ["30 min", "3 h"])
def test_the_same_wall_meshed_warms_alike(until: str) -> None:
    stated, _ = behind(pane(BUILT, until))
    meshed, _ = behind(pane(None, until))
    assert stated == pytest.approx(meshed, rel=0.01)
    assert stated < (7.0 if until == "30 min" else 14.0)  # 16 K in the end


def test_going_on_from_a_kept_state_keeps_what_walls_hold(tmp_path: Path) -> None:
    """An hour in one, and in two halves: the slices begin as they ended, on another grid too."""
    data = pane(BUILT, "1 h", every="30 min")
    whole, first = behind(data, tmp_path)
    [wall] = final_answer(first).walls.values()
    within = wall[np.isfinite(wall).all(axis=1)]
    assert within[:, 0].min() - 273.15 > 20 and (np.diff(within.mean(axis=0)) < 0).all()
    start = {"field.start.solution": f"{first.store()}@1800"}
    assert behind(data, None, **start)[0] == pytest.approx(whole, rel=2e-3)
    assert behind(data, None, **start, **{"field.grid.cell": "8 mm"})[0] == pytest.approx(whole, rel=5e-3)


def test_typed_layers_hold_what_is_stated_and_else_it_is_told() -> None:
    """Two typed layers with the figures of brick and wool are the wall of a building; without, a caution."""
    typed = {
        "kind": "layered",
        "thickness": "100 mm",
        "conductivity": "0.72 W/m/K",
        "capacity": f"{1920 * 835} J/m3/K",
        "thickness2": "50 mm",
        "conductivity2": "0.04 W/m/K",
        "capacity2": f"{60 * 1030} J/m3/K",
        "outside": "20 °C",
        "film": "20 W/m2/K",
    }
    data = pane(typed, "30 min")
    assert behind(data)[0] == pytest.approx(behind(pane(BUILT, "30 min"))[0], rel=1e-6)
    nothing = {f"field.warm.back.{name}": "0 J/m3/K" for name in ("capacity", "capacity2")}
    bare = apply(parse_case(data), nothing)

    def told(case: Any) -> list[str]:
        return [note.text for note in review(case).notes if "hold no heat" in note.text]

    assert not told(parse_case(data)) and len(told(bare)) == 1
    assert not told(apply(bare, {"field.time.mode": "steady"}))
    assert behind(data, None, **nothing)[0] > 13.0  # at once as warm as in the end


def test_a_steady_solution_followed_in_time_stays(tmp_path: Path) -> None:
    """Walls begin as the solution has them: in turbulent flow that hangs on what eddies bring to them."""
    outside = {"outside": "0 °C"}
    data: dict[str, Any] = {
        "media": {"air": {"kind": "air"}},
        "shape": {"parts": {"r": {"kind": "straight", "length": "2 m", "width": "0.5 m"}}},
        "field": {
            "physics": {"flow": "k_epsilon", "buoyancy": "none"},
            "heat": {"solve": True, "start": "20 °C"},
            "openings": {
                "in": {"kind": "velocity", "edge": "r.start", "velocity": "2 m/s", "temperature": "30 °C"},
                "out": {"kind": "static_pressure", "edge": "r.end"},
            },
            "warm": {
                "above": {"kind": "built", "edge": "r.left", **outside},
                "below": {"kind": "shell", "edge": "r.right", "heated": "100 W/m2", **outside},
            },
            "grid": {"cell": "50 mm"},
        },
        "readings": {
            side: {"kind": "passing", "edge": f"r.{side}", "quantity": "T", "way": "out"}
            for side in ("left", "right")
        },
    }
    lost = []
    start: dict[str, str] = {}
    for _ in range(2):
        solving = Solving(settle(apply(parse_case(data), start)), None, tmp_path)
        [last] = [event for event in solving.events() if event["event"] == "finished"]
        lost.append([last["readings"][side]["value"] for side in ("left", "right")])
        steps = {"mode": "transient", "until": "2 s", "step": "0.5 s", "every": "2 s"}
        start = {f"field.time.{key}": value for key, value in steps.items()}
        start["field.start.solution"] = last["run"]
    assert lost[1] == pytest.approx(lost[0], rel=0.02)


@pytest.mark.parametrize("radiates", [False, True])
def test_what_a_stove_gives_is_in_the_air_and_in_the_walls(radiates: bool) -> None:
    """A closed room behind insulation: nothing is lost but what passes 1 m of wool within a minute."""
    wall = {"kind": "built", "thickness1": "100 mm", "material1": "concrete", "outside": "68 °F"}
    wall |= {"thickness2": "1 m", "material2": "mineral_wool", "thickness3": "0 mm"}
    edges = [f"r.{side}" for side in ("left", "right", "start", "end")]
    data = {
        "media": {"air": {"kind": "air"}},
        "shape": {"parts": {"r": {"kind": "straight", "length": "4 m", "width": "2.5 m"}}},
        "field": {
            "physics": {"flow": "k_epsilon", "buoyancy": "boussinesq"},
            "heat": {"solve": True, "start": "68 °F"},
            "radiation": {"solve": radiates},
            "sources": {
                "stove": {"kind": "heat", "power": "500 W", "low": ["1 m", "-1 m"], "high": ["2 m", "0 m"]}
            },
            "warm": {f"w{n}": {**wall, "edge": edge} for n, edge in enumerate(edges)},
            "grid": {"cell": "0.5 m"},
            "time": {"mode": "transient", "until": "60 s", "step": "10 s", "every": "60 s", "courant": "0"},
        },
    }
    solving = Solving(settle(parse_case(data)), None, None)
    for _ in solving.events():
        pass
    answer = final_answer(solving)
    scalar = solving.run.physics.scalars["T"]
    air = float((answer.cells("T") - 293.15) @ answer.mesh.volume) * scalar.scale
    walls = 0.0
    for key, store in scalar.stores.items():
        held = (answer.walls[key][store.faces] - 293.15) @ store._holds
        walls += float(held @ answer.face_size[store.faces])
    assert air + walls == pytest.approx(500 * 60.0, rel=1e-6)
    assert 0.02 < walls / (air + walls) < 0.9
