"""Runs in time: order, steps, kept states, going on; starts from named runs."""

from __future__ import annotations

from pathlib import Path
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import apply, parse_case, review, settle
from mop_lantern.errors import FileError, RunError
from mop_lantern.results import open_answer, open_state, state_times
from mop_lantern.solve import Solving

IN_TIME = {
    "field.time": {
        "mode": "transient",
        "until": "2 s",
        "step": "0.2 s",
        "courant": "0",
        "every": "0.5 s",
        "keep": "3",
    }
}


def march(data: dict[str, Any], folder: Path | None = None, **edits: Any) -> tuple[Solving, dict[str, Any]]:
    """Follow a case in time."""
    solving = Solving(settle(apply(parse_case(data), {**IN_TIME, **edits})), None, folder)
    return solving, [event for event in solving.events() if event["event"] == "finished"][-1]


def vortex(step: float) -> float:
    """Give the amplitude error of a decaying vortex against the finest steps."""
    h = float(np.pi / 2)
    corners = [[f"{x!r} m", f"{y!r} m"] for x, y in ((-h, -h), (h, -h), (h, h), (-h, h))]
    data = {
        "media": {"f": {"kind": "constant", "density": "1 kg/m3", "viscosity": "0.2 Pa s"}},
        "shape": {"parts": {"box": {"kind": "outline", "points": corners}}},
        "field": {
            "grid": {"cell": f"{2 * h / 16!r} m", "across": "1"},
            "walls": {f"s{k}": {"kind": "slip", "edge": f"box.side{k}"} for k in (1, 2, 3, 4)},
            "start": {
                "u": "= 1 m/s * cos(x / 1 m) * sin(y / 1 m)",
                "v": "= 0 m/s - 1 m/s * sin(x / 1 m) * cos(y / 1 m)",
            },
        },
    }
    solving, _ = march(data, **{"field.time.step": f"{step} s", "field.time.every": "2 s"})
    place, u = solving.run.mesh.centre, solving.run.flow.U[:, 0]
    shape = np.cos(place[:, 0]) * np.sin(place[:, 1])
    return float((u * shape).sum() / (shape**2).sum())


def test_steps_are_second_order() -> None:
    """Source: BDF2 is of second order (Hairer, Norsett and Wanner, section III.5)."""
    coarse, middle, fine = (vortex(step) for step in (0.4, 0.2, 0.1))
    assert 3.0 < (coarse - middle) / (middle - fine) < 5.5


def test_states_are_kept_and_the_oldest_go(channel: dict[str, Any], tmp_path: Path) -> None:
    _, last = march(channel, tmp_path)
    run = Path(last["run"])
    assert state_times(run) == pytest.approx([1.0, 1.5, 2.0])
    mesh = open_answer(run).mesh
    assert open_state(run, 1.4, mesh).time == pytest.approx(1.5)
    assert open_answer(run).time == pytest.approx(2.0) and last["time"] == pytest.approx(2.0)
    with pytest.raises(FileError, match="kept no states"):
        open_state(tmp_path, 1.0, mesh)


def test_a_pulse_is_carried_through_and_balances(channel: dict[str, Any]) -> None:
    edits = {
        "field.species.dye": {"diffusivity": "1e-9 m2/s"},
        "field.openings.in.carries.dye": "= pulse(t, 0.1 s, 1.1 s)",
        "field.time.until": "9 s",
        "field.start.u": "= 15 mm/s * (1 - (y / 5 mm)**2)",
        "readings.out": {"kind": "passing", "edge": "run.end", "quantity": "c.dye", "way": "out"},
    }
    solving, last = march(channel, **edits)
    trust = {item["id"]: item for item in last["trust"]}
    assert trust["balance.c.dye"]["verdict"] == "holds" and trust["steps"]["verdict"] == "holds"
    traces = solving.run.traces.columns
    passed = float(np.trapezoid(traces["out"], traces["time"]))
    assert passed == pytest.approx(
        0.957e-4, rel=0.06
    )  # five steps let 1e-4 m3 in; of a parabola 0.957 has left after 2.1 mean times


SHUT = {
    "media": {"air": {"kind": "air", "temperature": "20 °C", "follow": False}},
    "shape": {"parts": {"box": {"kind": "straight", "length": "2 m", "width": "1 m"}}},
    "field": {
        "physics": {"flow": "laminar", "buoyancy": "gas"},
        "heat": {"solve": True, "start": "20 °C"},
        "species": {
            "light": {
                "expansion": "-0.02",
                "diffusivity": "1e-5 m2/s",
                "start": "= min(1, max(0, (x - 0.9 m) / 0.2 m))",
            }
        },
        "grid": {"cell": "0.1 m"},
    },
    "readings": {
        "stir": {"kind": "region", "quantity": "speed"},
        "light": {"kind": "region", "quantity": "c.light"},
    },
}


def test_a_lighter_gas_rises_by_either_law_and_balances_in_a_shut_room() -> None:
    """Nothing enters or leaves: a loss is measured against what is there. At the reference temperature both
    laws are the same; at 100 °C everything is thinner and moves as fast (what pulls and what is moved alike).
    """
    time = {"field.time.until": "1 s", "field.time.step": "0.1 s", "field.time.every": "1 s"}
    told = {}
    for law, warm in (("boussinesq", "20 °C"), ("gas", "20 °C"), ("gas", "100 °C")):
        edits = {**time, "field.physics.buoyancy": law, "field.heat.start": warm}
        _, last = march(SHUT, **edits)
        told[law, warm] = last["readings"]
        items = {item["id"]: item for item in last["trust"]}
        assert items["balance.c.light"]["verdict"] == items["balance.T"]["verdict"] == "holds"
        assert items["composition"]["verdict"] == "holds" and "1.0% lighter" in items["composition"]["text"]
        assert last["readings"]["light"]["value"] == pytest.approx(0.5, rel=1e-6)
    stir = {key: item["stir"]["value"] for key, item in told.items()}
    assert stir["gas", "20 °C"] == pytest.approx(stir["boussinesq", "20 °C"], rel=1e-6)
    assert stir["gas", "20 °C"] > 0.01
    assert stir["gas", "100 °C"] == pytest.approx(stir["gas", "20 °C"], rel=0.02)


def test_a_gas_half_as_dense_is_more_than_its_weight() -> None:
    _, last = march(SHUT, **{"field.species.light.expansion": "-0.5", "field.time.until": "0.2 s"})
    item = next(item for item in last["trust"] if item["id"] == "composition")
    assert item["verdict"] == "caution" and "25.0%" in item["text"]


def test_the_courant_number_holds_steps_down(channel: dict[str, Any]) -> None:
    solving, last = march(channel, **{"field.time.courant": "0.5", "field.start.u": "10 mm/s"})
    assert solving.run.largest_courant <= 0.5 * 1.05
    assert solving.run.steps > 20
    assert last["converged"]


def test_openings_follow_time(channel: dict[str, Any]) -> None:
    solving, _ = march(channel, **{"field.openings.in.velocity": "= 10 mm/s * ramp(t, 0 s, 2 s)"})
    traces = solving.run.traces.columns
    assert traces["flow"] == pytest.approx(0.01 * 0.01 * np.array(traces["time"]) / 2.0, rel=1e-6)


def test_going_on_from_a_kept_state_ends_where_one_run_does(channel: dict[str, Any], tmp_path: Path) -> None:
    whole, first = march(channel, tmp_path / "a")
    second, last = march(channel, tmp_path / "b", **{"field.start.solution": f"{first['run']}@1.0"})
    assert second.run.began_at == pytest.approx(1.0) and last["time"] == pytest.approx(2.0)
    assert last["readings"]["drop"]["value"] == pytest.approx(first["readings"]["drop"]["value"], rel=0.01)
    with pytest.raises(RunError, match="not a time in seconds"):
        march(channel, None, **{"field.start.solution": f"{first['run']}@later"})
    with pytest.raises(FileError):
        march(channel, None, **{"field.start.solution": str(tmp_path / "nowhere")})


def test_a_stopped_march_keeps_what_it_has(channel: dict[str, Any], tmp_path: Path) -> None:
    solving = Solving(
        settle(
            apply(parse_case(channel), {**IN_TIME, "field.time.until": "1000 s", "field.time.step": "0.05 s"})
        ),
        None,
        tmp_path,
    )
    for event in solving.events():
        if event["event"] == "progress":
            solving.stop = True
        if event["event"] == "finished":
            assert event["stopped"] and event["time"] < 1000
            assert (Path(event["run"]) / "run.json").exists()


def test_a_leak_on_a_flow_that_stays_moves_with_it(channel: dict[str, Any], tmp_path: Path) -> None:
    """A front in a plug of 10 mm/s stands at 20 mm after 2 s; what was let in is inside or has left."""
    calm = {
        "field.walls": {key: {"kind": "slip", "edge": f"run.{key}"} for key in ("left", "right")},
        "field.openings.in.velocity": "10 mm/s",
        "field.openings.in.profile": "uniform",
        "field.species": {"dye": {"diffusivity": "1e-12 m2/s"}},
    }
    steady = Solving(settle(apply(parse_case(channel), calm)), None, tmp_path)
    first = [event for event in steady.events() if event["event"] == "finished"][-1]
    edits = {
        **calm,
        "field.start.solution": first["run"],
        "field.openings.in.carries": {"dye": "1"},
        "field.time": {**IN_TIME["field.time"], "flow": "kept", "step": "0.02 s"},
        "readings": {
            "early": {"kind": "point", "at": ["12 mm", "0 mm"], "quantity": "c.dye"},
            "late": {"kind": "point", "at": ["28 mm", "0 mm"], "quantity": "c.dye"},
            "all": {"kind": "region", "quantity": "c.dye", "measure": "integral"},
            "cloud": {"kind": "beyond", "quantity": "c.dye", "limit": "50 %"},
        },
    }
    solving = Solving(settle(apply(parse_case(channel), edits)), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    got = {key: item["value"] for key, item in last["readings"].items()}
    assert got["early"] == pytest.approx(1, abs=0.02) and got["late"] == pytest.approx(0, abs=0.02)
    assert got["all"] == pytest.approx(0.02 * 0.01, rel=1e-3)
    assert got["cloud"] == pytest.approx(0.02 * 0.01, rel=0.06)
    assert np.ptp(solving.run.flow.U[:, 0]) < 1e-9


def test_without_a_solution_its_own_steady_flow_is_solved_first(channel: dict[str, Any]) -> None:
    """The front of a leak that begins after half a second stands at 15 mm after 2 s; the flow is judged."""
    edits = {
        "field.walls": {key: {"kind": "slip", "edge": f"run.{key}"} for key in ("left", "right")},
        "field.openings.in.velocity": "10 mm/s",
        "field.openings.in.profile": "uniform",
        "field.species": {"dye": {"diffusivity": "1e-12 m2/s"}},
        "field.age": {"solve": True},
        "field.openings.in.carries": {"dye": "= 1 * (t > 0.5 s)"},
        "field.time": {**IN_TIME["field.time"], "flow": "kept", "step": "0.02 s"},
        "readings": {
            "early": {"kind": "point", "at": ["8 mm", "0 mm"], "quantity": "c.dye"},
            "late": {"kind": "point", "at": ["22 mm", "0 mm"], "quantity": "c.dye"},
            "middle": {"kind": "point", "at": ["10 mm", "0 mm"], "quantity": "c.dye"},
            "when": {"kind": "reaches", "swings": "middle", "limit": "50 %"},
            "age": {"kind": "edge_value", "edge": "run.end", "quantity": "age", "measure": "flow_mean"},
        },
    }
    case = apply(parse_case(channel), edits)
    assert not review(case).faults
    solving = Solving(settle(case), None, None)
    every = list(solving.events())
    last = every[-1]
    got = {key: item["value"] for key, item in last["readings"].items()}
    assert got["early"] == pytest.approx(1, abs=0.05) and got["late"] == pytest.approx(0, abs=0.02)
    assert got["when"] == pytest.approx(1.5, abs=0.05)
    assert got["age"] == pytest.approx(4.0, rel=1e-2), "as in the steady state: length over speed"
    trust = {item["id"]: item for item in last["trust"]}
    assert trust["flow.momentum"]["text"].startswith("The flow that stays: ")
    assert not any(key.startswith("flow.balance") for key in trust)
    assert [event["text"] for event in every if event["event"] == "stage"][1] == "solving the flow that stays"


def test_a_flow_that_stays_and_was_stopped_early_says_so(channel: dict[str, Any]) -> None:
    edits = {
        "field.species": {"dye": {}},
        "field.time": {**IN_TIME["field.time"], "flow": "kept", "step": "0.02 s"},
        "field.grid.cell": "0.25 mm",
    }
    solving = Solving(settle(apply(parse_case(channel), edits)), None, None)
    last: Any = {}
    for event in solving.events():
        solving.stop = solving.stop or event["event"] == "progress"
        last = event
    assert last["event"] == "finished" and not last["converged"]
    assert "flow.stopped" in {item["id"] for item in last["trust"]}


def test_a_leak_in_a_closed_space_has_a_flow_that_stays() -> None:
    """A species and an age have no steady value there: only the flow is solved first."""
    fan = {"kind": "fan", "centre": ["200 mm", "0 mm"], "width": "200 mm", "pressure": "0.5 Pa"}
    data = {
        "media": {"a": {"kind": "constant", "density": "1.2 kg/m3", "viscosity": "0.05 Pa s"}},
        "shape": {"parts": {"p": {"kind": "straight", "length": "400 mm", "width": "400 mm"}}},
        "field": {
            "physics": {"flow": "laminar"},
            "species": {"gas": {}},
            "age": {"solve": True},
            "sources": {
                "l": {
                    "kind": "species",
                    "species": "gas",
                    "volume": "1 mL/s",
                    "low": ["0 mm", "-50 mm"],
                    "high": ["100 mm", "50 mm"],
                }
            },
            "devices": {"f": fan},
            "grid": {"cell": "50 mm", "across": "2"},
            "time": {"mode": "transient", "flow": "kept", "until": "1 s", "step": "0.1 s", "courant": "0"},
        },
        "readings": {"all": {"kind": "region", "quantity": "c.gas", "measure": "integral"}},
    }
    *_, last = Solving(settle(parse_case(data)), None, None).events()
    assert last["readings"]["all"]["value"] == pytest.approx(1e-6, rel=1e-6), "all that leaked is there"
    assert "flow.momentum" in {item["id"] for item in last["trust"]}
