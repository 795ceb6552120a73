"""What the flow carries: balances, exactness, bounds; and what it does to the flow."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.errors import CaseError
from mop_lantern.numerics.backward import weights
from mop_lantern.solve import Solving

HOT = {"kind": "temperature", "edge": "run.left", "temperature": "60 °C"}
DISC = {"kind": "disc", "centre": ["14 mm", "1 mm"], "diameter": "3 mm"}


def solved(data: dict[str, Any], **edits: Any) -> tuple[Solving, dict[str, Any]]:
    """Solve a case with edits; give the solve and its last event."""
    solving = Solving(settle(apply(parse_case(data), edits)), None, None)
    return solving, [event for event in solving.events() if event["event"] == "finished"][-1]


def test_heat_balances_on_cut_turned_cells(channel: dict[str, Any]) -> None:
    edits = {"shape.parts.d": DISC, "shape.turn": "17 deg", "field.heat.solve": True, "field.warm.w": HOT}
    solving, last = solved(channel, **edits)
    trust = {item["id"]: item for item in last["trust"]}
    assert trust["balance.T"]["verdict"] == "holds" and trust["balance.T"]["value"] < 1e-7
    temperature = solving.run.answer().cells("T")
    assert temperature.min() > 293.15 - 0.5 and temperature.max() < 333.15 + 0.5


def test_even_values_stay_even(channel: dict[str, Any]) -> None:
    """What enters with the value of the start changes nothing, whatever the flow does."""
    edits = {
        "shape.parts.d": DISC,
        "field.heat.solve": True,
        "field.heat.start": "30 °C",
        "field.species.salt": {"start": "0.03"},
        "field.openings.in.temperature": "30 °C",
        "field.openings.in.carries.salt": "0.03",
    }
    solving, _ = solved(channel, **edits)
    answer = solving.run.answer()
    assert answer.cells("T") == pytest.approx(303.15, abs=1e-6)
    assert answer.cells("c.salt") == pytest.approx(0.03, abs=1e-9)


def test_a_sharp_species_stays_between_what_enters(channel: dict[str, Any]) -> None:
    edits = {
        "shape.parts.d": DISC,
        "field.species.dye": {"diffusivity": "0 m2/s"},
        "field.openings.in.carries.dye": "= y > 0 mm",
    }
    solving, last = solved(channel, **edits)
    dye = solving.run.answer().cells("c.dye")
    assert dye.min() > -0.01 and dye.max() < 1.01
    spreading = next(item for item in last["trust"] if item["id"] == "spreading.c.dye")
    assert spreading["verdict"] == "caution" and "Péclet" in spreading["text"]


def test_a_puff_in_time_leaves_nothing_below_nothing(channel: dict[str, Any]) -> None:
    """A detector's limit may be a ten-thousandth of the peak: shares below nothing must be far smaller."""
    edits = {
        "shape.parts.d": DISC,
        "field.species.gas": {"diffusivity": "1e-7 m2/s", "measure": "density"},
        "field.sources.puff": {
            "kind": "species",
            "species": "gas",
            "mass": "= 1 g/s * (t < 0.4 s)",
            "low": ["5 mm", "-2 mm"],
            "high": ["8 mm", "2 mm"],
        },
        "field.time": {"mode": "transient", "until": "3 s", "step": "0.1 s", "courant": "0", "flow": "kept"},
        "field.grid.cell": "1 mm",
        "readings.least": {"kind": "region", "quantity": "c.gas", "measure": "min"},
        "readings.most": {"kind": "region", "quantity": "c.gas", "measure": "max"},
        "readings.mean": {"kind": "region", "quantity": "c.gas", "measure": "mean"},
    }
    solving, _ = solved(channel, **edits)
    traces = solving.run.traces.columns
    peak = max(traces["most"])
    assert min(traces["least"]) > -2e-5 * peak, "plain differences left a twentieth of the peak below nothing"
    answer = solving.run.answer()
    assert answer.boundary("c.gas").min() > -2e-5 * peak
    released = traces["mean"][4] * answer.mesh.volume.sum()  # before any of it has left
    assert released == pytest.approx(0.4e-3, rel=1e-6), "what four steps released, no half step more"


def test_all_walls_together_lose_what_each_of_them_does(channel: dict[str, Any]) -> None:
    """The sum over all walls needs no wall named; what one gains is not netted with what another loses."""
    edits: dict[str, Any] = {
        "field.heat.solve": True,
        "field.warm.hot": HOT,
        "field.warm.cold": {**HOT, "edge": "run.right", "temperature": "5 °C"},
        "field.openings.in.temperature": "20 °C",
    }
    for key in ("lost", "gained", "net"):
        edits[f"readings.{key}"] = {"kind": "walls_total", "what": key}
    for side in ("left", "right"):
        edits[f"readings.{side}"] = {"kind": "passing", "edge": f"run.{side}", "quantity": "T"}
    _, last = solved(channel, **edits)
    told = {key: item["value"] for key, item in last["readings"].items()}
    assert told["left"] > 0 > told["right"]
    assert told["gained"] == pytest.approx(told["left"], rel=1e-9)
    assert told["lost"] == pytest.approx(-told["right"], rel=1e-9)
    assert told["net"] == pytest.approx(told["left"] + told["right"], rel=1e-9)


@pytest.mark.parametrize("space", ["plane", "axis"])
def test_the_age_of_what_leaves_is_volume_over_flow(channel: dict[str, Any], space: str) -> None:
    """Source: conservation (reference O-8.4)."""
    edits = {
        "shape.space": space,
        "field.age.solve": True,
        "field.age.diffusivity": "1e-7 m2/s",
        "readings.age": {"kind": "edge_value", "edge": "run.end", "quantity": "age", "measure": "flow_mean"},
    }
    solving, last = solved(channel, **edits)
    mesh = solving.run.mesh
    nominal = mesh.volume.sum() * mesh.turn / last["readings"]["flow"]["value"]
    assert last["readings"]["age"]["value"] == pytest.approx(nominal, rel=1e-6)


def test_sources_show_in_what_passes(channel: dict[str, Any]) -> None:
    edits = {
        "field.heat.solve": True,
        "field.sources.coil": {
            "kind": "heat",
            "power": "7 W",
            "low": ["10 mm", "-3 mm"],
            "high": ["20 mm", "3 mm"],
        },
        "field.species.gas": {"measure": "fraction"},
        "field.sources.leak": {
            "kind": "species",
            "species": "gas",
            "volume": "2 mL/s",
            "low": ["10 mm", "-3 mm"],
            "high": ["20 mm", "3 mm"],
        },
        "readings.gas": {"kind": "passing", "edge": "run.end", "quantity": "c.gas", "way": "out"},
        "readings.warm": {"kind": "edge_value", "edge": "run.end", "quantity": "T", "measure": "flow_mean"},
    }
    _, last = solved(channel, **edits)
    assert last["readings"]["gas"]["value"] == pytest.approx(2e-6, rel=1e-6)
    rise = 7.0 / (last["readings"]["flow"]["value"] * 1000.0 * 4184.0)
    assert last["readings"]["warm"]["value"] - 293.15 == pytest.approx(rise, rel=1e-5)


def test_layers_add_their_resistances(channel: dict[str, Any]) -> None:
    """Source: resistances in series, ISO 6946; a thick wall takes away what the temperatures say."""
    wall = {
        "kind": "layered",
        "edge": "run.left",
        "thickness": "20 mm",
        "conductivity": "0.04 W/m/K",
        "thickness2": "5 mm",
        "conductivity2": "0.2 W/m/K",
        "outside": "80 °C",
        "film": "10 W/m2/K",
    }
    edits = {
        "field.heat.solve": True,
        "field.warm.w": wall,
        "readings.heat": {"kind": "passing", "edge": "run.left", "quantity": "T"},
    }
    _, last = solved(channel, **edits)
    assert last["readings"]["heat"]["value"] == pytest.approx(
        0.04 * 60.0 / (0.02 / 0.04 + 0.005 / 0.2 + 0.1), rel=0.01
    )


def test_a_layered_fluid_stays_at_rest() -> None:
    """Warm above cold in a closed, tilted space with a cut body: no motion (well-balanced forces)."""
    corners = [["0 m", "0 m"], ["1 m", "0 m"], ["1 m", "1 m"], ["0 m", "1 m"]]
    data = {
        "media": {
            "f": {
                "kind": "constant",
                "density": "1 kg/m3",
                "viscosity": "1e-3 Pa s",
                "capacity": "1 J/kg/K",
                "conductivity": "1e-3 W/m/K",
                "expansion": "1e-3 1/K",
            }
        },
        "shape": {
            "parts": {
                "box": {"kind": "outline", "points": corners},
                "rod": {"kind": "disc", "centre": ["0.45 m", "0.52 m"], "diameter": "0.3 m"},
            }
        },
        "field": {
            "physics": {"buoyancy": "boussinesq"},
            "heat": {"solve": True, "start": "= 20 °C + 10 K * y / 1 m"},
            "grid": {"cell": "0.08 m", "across": "1"},
            "time": {
                "mode": "transient",
                "until": "0.02 s",
                "step": "0.01 s",
                "courant": "0",
                "every": "1 s",
            },
        },
    }
    solving, _ = solved(data)
    free_fall = 9.80665 * 1e-3 * 5.0 * 0.02  # what the weight of 5 K would have made of it in that time
    assert np.abs(solving.run.flow.U).max() < 0.05 * free_fall


def test_gas_law_keeps_the_mass_of_a_through_flow(channel: dict[str, Any]) -> None:
    """Air warmed on its way leaves faster by the ratio of temperatures; mass leaves as it enters."""
    edits = {
        "media.water": {"kind": "air", "temperature": "20 °C"},
        "field.physics.buoyancy": "gas",
        "field.physics.gravity": "0 m/s2",
        "field.heat.solve": True,
        "field.warm.w": {**HOT, "temperature": "100 °C"},
        "field.warm.v": {**HOT, "edge": "run.right", "temperature": "100 °C"},
        "field.openings.in.velocity": "50 mm/s",
        "readings.mass": {"kind": "flow", "edge": "run.end", "measure": "mass_flow"},
        "readings.fast": {"kind": "edge_value", "edge": "run.end", "quantity": "u", "measure": "mean"},
        "readings.warm": {"kind": "edge_value", "edge": "run.end", "quantity": "T", "measure": "flow_mean"},
    }
    _, last = solved(channel, **edits)
    read = {key: item["value"] for key, item in last["readings"].items()}
    assert read["mass"] == pytest.approx(0.05 * 0.01 * 1.2046, rel=2e-3)
    assert read["fast"] / 0.05 == pytest.approx(read["warm"] / 293.15, rel=0.02)


def hot(channel: dict[str, Any], **edits: Any) -> dict[str, float]:
    """Read air of 400 K (reference 20 °C) that slips through the channel at 50 mm/s, 0.8 s long."""
    same = {"temperature": "400 K"}
    stated = {
        "media.water": {"kind": "air", "temperature": "20 °C"},
        "field.physics": {"flow": "laminar", "buoyancy": "gas", "gravity": "0 m/s2"},
        "field.heat": {"solve": True, "start": "400 K"},
        "field.age.solve": True,
        "field.species.dye": {"diffusivity": "1e-9 m2/s", "decay": "2 1/s"},
        "field.openings.in": {
            "kind": "velocity",
            "edge": "run.start",
            "velocity": "50 mm/s",
            "carries": {"dye": "1"},
            **same,
        },
        "field.openings.out": {"kind": "static_pressure", "edge": "run.end", **same},
        "field.walls": {side: {"kind": "slip", "edge": f"run.{side}"} for side in ("left", "right")},
        "readings": {
            "age": {"kind": "edge_value", "edge": "run.end", "quantity": "age", "measure": "flow_mean"},
            "left": {"kind": "edge_value", "edge": "run.end", "quantity": "c.dye", "measure": "flow_mean"},
            "out": {"kind": "flow", "edge": "run.end"},
            "nominal": {"kind": "ventilation", "measure": "nominal"},
        },
    }
    _, last = solved(channel, **{**stated, **edits})
    for item in last["trust"]:
        assert item["verdict"] != "fails", item
    return {key: item["value"] for key, item in last["readings"].items()}


def test_a_hot_gas_ages_and_decays_by_the_time_it_takes(channel: dict[str, Any]) -> None:
    """By the mass in every cell: 40 mm at 50 mm/s take 0.8 s however thin the gas is; of what is lost at a
    rate of 2/s, exp(-1.6) is left. Its volume flow is told at the density it has.
    """
    read = hot(channel)
    assert read["age"] == pytest.approx(0.8, rel=1e-6)
    assert read["nominal"] == pytest.approx(0.8, rel=1e-6)
    assert read["left"] == pytest.approx(np.exp(-1.6), rel=3e-3)
    assert read["out"] == pytest.approx(0.05 * 0.01, rel=1e-6)


def test_the_time_it_takes_does_not_hang_on_what_it_carries(channel: dict[str, Any]) -> None:
    """A species that makes it a fifth lighter acts on the weight, not on how many moles pass."""
    light = {"diffusivity": "1e-9 m2/s", "decay": "2 1/s", "expansion": "-0.2"}
    read = hot(channel, **{"field.species.dye": light})
    assert read["nominal"] == pytest.approx(0.8, rel=1e-6)
    assert read["out"] == pytest.approx(0.05 * 0.01, rel=1e-6)


def test_what_a_gas_carries_balances_while_it_warms(channel: dict[str, Any]) -> None:
    """In time, with a density that changes: every step closes, for what is held in bounds and what is not."""
    in_time = {"mode": "transient", "until": "0.3 s", "step": "0.02 s", "courant": "0", "every": "1 s"}
    cold = {"field.heat.start": "20 °C", "field.time": in_time}
    read = hot(channel, **cold)
    assert 0.0 < read["age"] < 0.4 and read["nominal"] < 0.8 * 400 / 293


def test_a_closed_room_of_gas_balances_in_time() -> None:
    """A warm floor under a cold roof: what the floor gives is in the air or has left through the roof."""
    room = {
        "kind": "outline",
        "points": [["0 m", "0 m"], ["0.4 m", "0 m"], ["0.4 m", "0.3 m"], ["0 m", "0.3 m"]],
    }
    data = {
        "media": {"air": {"kind": "air", "temperature": "22 °C"}},
        "shape": {"parts": {"room": room}},
        "field": {
            "heat": {"solve": True, "start": "22 °C"},
            "physics": {"buoyancy": "gas"},
            "grid": {"cell": "20 mm", "across": "1"},
            "warm": {
                "floor": {"kind": "temperature", "edge": "room.side1", "temperature": "26 °C"},
                "roof": {"kind": "layered", "edge": "room.side3", "outside": "5 °C"},
            },
            "time": {"mode": "transient", "until": "3 s", "step": "0.1 s", "courant": "1", "every": "3 s"},
        },
    }
    solving, last = solved(data)
    assert last["converged"], [item["text"] for item in last["trust"] if item["verdict"] == "fails"]
    ratio = solving.run.flow.ratio
    assert (ratio * solving.run.mesh.volume).sum() == pytest.approx(0.12, rel=1e-3), "the mass stays"


def test_power_law_between_plates_has_its_profile(channel: dict[str, Any]) -> None:
    """Highest over mean velocity is (2n + 1) / (n + 1). Source: Bird, Stewart and Lightfoot, section 8.3."""
    channel["field"]["openings"]["in"]["profile"] = "uniform"
    edits = {
        "media.water": {"kind": "power_law", "consistency": "0.5 Pa s", "index": "0.5"},
        "field.grid.cell": "0.3125 mm",
    }
    solving, last = solved(channel, **edits)
    assert last["converged"]
    answer = solving.run.answer()
    assert answer.sampler("u", np.array([[0.035, 0.0]]))[0] / 0.01 == pytest.approx(
        2 / 1.5, rel=0.025
    )  # 4 % off on 16 cells, 2 % on 32: first order where the rate vanishes
    assert answer.cells("viscosity").max() > 3 * answer.cells("viscosity").min()


def test_viscosity_follows_the_temperature(channel: dict[str, Any]) -> None:
    """Oil warmed from 20 to 60 °C by its walls needs less pressure than oil that stays cold."""
    oil = {
        "media.water": {"kind": "oil", "temperature": "20 °C"},
        "field.heat.solve": True,
        "field.openings.in.velocity": "1 mm/s",
    }
    warm = {"field.warm.w": HOT, "field.warm.v": {**HOT, "edge": "run.right"}}
    _, cold = solved(channel, **oil)
    _, followed = solved(
        channel, **(oil | warm | {"media.water": {"kind": "oil", "temperature": "20 °C", "follow": True}})
    )
    assert followed["readings"]["drop"]["value"] < 0.6 * cold["readings"]["drop"]["value"]


def test_a_closed_space_without_held_walls_is_refused(channel: dict[str, Any]) -> None:
    lid = {"kind": "sliding", "edge": "run.left", "speed": "1 mm/s"}
    data = apply(
        parse_case(channel),
        {
            "field.openings.in": None,
            "field.openings.out": None,
            "field.walls.cap": lid,
            "field.heat.solve": True,
            "readings.drop": None,
            "readings.flow": None,
        },
    )
    with pytest.raises(CaseError, match="no steady temperature"):
        settle(data)


@pytest.mark.parametrize(("step", "former"), [(0.1, None), (0.1, 0.1), (0.1, 0.2), (0.3, 0.2)])
def test_backward_differences_are_exact_for_parabolas(step: float, former: float | None) -> None:
    now, old = weights(step, former)
    times = [0.0, -(former or 0.0)][: len(old)]
    power = 1 if former is None else 2
    got = now * step**power - sum(weight * at**power for weight, at in zip(old, times, strict=True))
    assert got == pytest.approx(power * step ** (power - 1))


def test_turning_fluid_keeps_its_angular_momentum() -> None:
    """Between slippery walls nothing brakes the turning of what enters. Source: conservation of angular
    momentum.
    """
    openings = {
        "in": {"kind": "velocity", "edge": "run.start", "velocity": "0.1 m/s", "swirl": "2 rad/s"},
        "out": {"kind": "mean_pressure", "edge": "run.end"},
    }
    data = {
        "media": {"f": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1e-5 Pa s"}},
        "shape": {
            "space": "axis",
            "parts": {
                "run": {"kind": "straight", "start": ["0 mm", "30 mm"], "length": "40 mm", "width": "20 mm"}
            },
        },
        "field": {
            "openings": openings,
            "walls": {"a": {"kind": "slip", "edge": "run.left"}, "b": {"kind": "slip", "edge": "run.right"}},
            "grid": {"cell": "1 mm", "across": "1"},
        },
    }
    solving, last = solved(data)
    answer = solving.run.answer()
    mesh, inner = answer.mesh, answer.mesh.n_internal
    r = mesh.face_centre[inner:, 1]
    carried = [
        float((answer.outflow * r * answer.wall_velocity[:, 2])[mesh.faces_of(edge)].sum())
        for edge in ("run.start", "run.end")
    ]
    assert carried[1] == pytest.approx(-carried[0], rel=0.01)
    across = answer.sampler("pressure", np.array([[0.02, 0.021], [0.02, 0.039]]))
    assert across[1] - across[0] == pytest.approx(1000 * 2**2 * (0.039**2 - 0.021**2) / 2, rel=0.02), (
        "the pressure rises outward as solid turning wants"
    )
