"""Surroundings of open windows weigh as what would enter, whatever the fluid's reference is. That a warm
chimney draws what the hand finds is checked in `bench.draught_cases`.
"""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from scipy.optimize import brentq

from bench.draught_cases import FIRST, HEIGHT, LAST, LOSSES, WIDTH, chimney, drawn
from mop_lantern.judge import Trust, measure, trust_list
from mop_lantern.solve import FlowRun, prepare
from mop_lantern.solve.check import Evidence
from mop_lantern.solve.checks.exchange import Exchange
from mop_lantern.solve.checks.outside import Outside
from mop_lantern.solve.grid_guess import scale_of
from mop_lantern.solve.outside import columns


@pytest.mark.parametrize("start", ["0 %", "4 %"])
def test_a_light_gas_draws_alike_whatever_the_room_begins_with(start: str) -> None:
    """Heat is left away; vapour of half the weight of air is let in instead, where 2 % are outdoors."""
    source = {"kind": "species", "species": "steam", "volume": "4 L/s"}
    place = {"low": ["-0.2 m", f"{FIRST} m"], "high": ["0.2 m", f"{LAST} m"]}
    settled = chimney(
        **{
            "field.heat.solve": False,
            "field.species.steam": {"measure": "fraction", "expansion": "-0.5", "start": start},
            "field.sources": {"leak": {**source, **place}},
            "field.openings.foot.carries": {"steam": "2 %"},
            "field.openings.top.carries": {"steam": "2 %"},
        }
    )
    column = HEIGHT - 0.5 * (FIRST + LAST)

    def left(flow: float) -> float:
        lift = 0.5 * 0.004 / flow * 9.80665 * column
        return lift - 0.5 * (flow / WIDTH) ** 2 * (LOSSES + 1.0)

    assert drawn(settled) == pytest.approx(float(brentq(left, 1e-4, 1.0)), rel=5e-3)


def test_a_gas_draws_alike_whatever_the_reference() -> None:
    def of(reference: str) -> float:
        air = {"kind": "air", "temperature": reference, "follow": False}
        return drawn(chimney(**{"media.air": air, "field.physics.buoyancy": "gas"}))

    assert of("25 °C") == pytest.approx(of("5 °C"), rel=0.01)


def test_surroundings_weigh_by_height_from_the_lowest_opening() -> None:
    settled = chimney(**{"media.air.temperature": "25 °C"})
    mesh = prepare(settled)
    found = columns(settled, mesh)
    assert found["foot"] == pytest.approx(np.zeros(len(found["foot"])), abs=1e-12)
    heavier = 1.2 * 0.0035 * 20.0
    assert found["top"] == pytest.approx(-heavier * 9.80665 * HEIGHT * np.ones(len(found["top"])))
    assert columns(chimney(), prepare(chimney()))["top"] == pytest.approx(0.0)
    level = {"field.physics.buoyancy": "none", "field.openings.foot.pressure": "1 Pa"}
    assert columns(chimney(**level), mesh) == {}


def test_only_what_holds_a_pressure_and_has_faces_is_weighed() -> None:
    settled = chimney(**{"media.air.temperature": "25 °C"})
    mesh = prepare(settled)
    bare = replace(mesh, patch=np.where(mesh.patch == mesh.patch_names.index("stack.end"), 0, mesh.patch))
    assert list(columns(settled, bare)) == ["foot"], "where an opening got no face the boundary says so"
    share = {"kind": "share", "edge": "stack.end", "share": "50 %"}
    drawn_off = chimney(**{"media.air.temperature": "25 °C", "field.openings.top": share})
    assert list(columns(drawn_off, mesh, every=True)) == ["foot"], "its pressure is an answer"


def judged(settled: Any) -> list[Trust]:
    """Move a chimney on a little and ask what the surroundings miss."""
    run = FlowRun(settled, prepare(settled), None)
    run.advance(20.0, 30)
    return Outside.judge(Evidence(settled, run.physics, run.physics.answer(final=True), True, False))


def test_given_pressures_beside_colder_surroundings_are_cautioned() -> None:
    given = {
        f"field.openings.{key}": {"kind": "static_pressure", "edge": f"stack.{end}", "temperature": "5 °C"}
        for key, end in (("foot", "start"), ("top", "end"))
    }
    [item] = judged(chimney(**given, **{"media.air.temperature": "25 °C"}))
    assert item.verdict == "caution" and "at foot and top is given" in item.text
    assert "1.65 Pa between the openings" in item.text, "1.2 kg/m3 x 0.0035/K x 20 K x g x 2 m"
    assert judged(chimney(**given)) == [], "the reference is that of the surroundings"
    assert judged(chimney(**{"media.air.temperature": "25 °C"})) == [], "they are weighed"
    half = {"field.openings.top": given["field.openings.top"], "media.air.temperature": "25 °C"}
    [item] = judged(chimney(**half))
    assert "at top is given" in item.text


@pytest.fixture(scope="module")
def door() -> FlowRun:
    """A warm stall, open at its side, full of a thick fluid."""
    edits = {
        "media.air.viscosity": "20 mPa s",
        "media.air.conductivity": "0.5 W/m/K",
        "shape.parts.stack": {"kind": "straight", "length": "1 m", "width": "1 m"},
        "field.openings": {"door": {"kind": "window", "edge": "stack.start", "temperature": "5 °C"}},
        "field.walls": {},
        "field.start": {},
        "field.sources": {},
        "field.warm": {"floor": {"kind": "flux", "edge": "stack.right", "flux": "50 W/m2"}},
        "readings.flow.edge": "stack.start",
    }
    run = FlowRun(chimney(**edits), prepare(chimney(**edits)), None)
    while not run.finished() and run.last.iteration < 1000:
        run.advance(20.0, 100)
    return run


def test_every_layer_through_an_open_door_loses_by_its_own_speed(door: FlowRun) -> None:
    """What leaves is held back by the loss; what enters has taken its speed from outdoors besides."""
    flow, mesh = door.flow, door.mesh
    faces = mesh.faces_of("stack.start")
    speed = flow.flux[mesh.n_internal :][faces] / np.linalg.norm(mesh.area[mesh.n_internal + faces], axis=1)
    assert speed.max() > 0.03 and speed.min() < -0.03, "it comes in below and goes out above"
    lost = np.where(speed > 0, 1.8, -2.8) * 0.5 * 1.2 * speed**2
    assert 1.2 * flow.work.pb[faces] == pytest.approx(lost, abs=2e-3 * np.abs(lost).max())


def test_an_exchange_is_steady_told_and_no_flow_back(door: FlowRun) -> None:
    assert door.last.iteration < 1000, "its flow, nothing but rounding, does not hold it up"
    answer, judged = door.concluded(lambda: 0.0)
    found = {item.id: item for item in judged}
    assert measure(door.settled.numbers.readings, answer)["flow"].value == 0.0, "not 1e-14"
    assert "backflow" not in found and found["readings"].verdict == "holds"
    settled = door.settled
    [item] = Exchange.judge(Evidence(settled, door.physics, answer, True, False))
    assert item.verdict == "holds" and "in and" in item.text and "out through stack.start" in item.text
    passing = float(np.maximum(answer.outflow, 0.0).sum())
    scale = scale_of("flow", "volume_flow", door.readings, settled.numbers.readings["flow"], answer)
    assert scale == pytest.approx(0.01 * passing), "what another grid changes it by"
    plain = {item.id: item for item in trust_list(answer, 1e-7, 1e-6, found["readings"], 1e-9, 12)}
    assert plain["backflow"].verdict == "caution", "of an outlet it would be one"
