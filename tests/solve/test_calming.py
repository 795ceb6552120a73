"""Turbulent iterations that swing are damped towards their mean; those that come to rest are left alone."""

from __future__ import annotations

from types import SimpleNamespace
from typing import Any

import numpy as np
import pytest

from mop_lantern.case import parse_case, settle
from mop_lantern.field.flow.momentum import Momentum
from mop_lantern.solve.boundary_data import prepare
from mop_lantern.solve.flow_run import Traces
from mop_lantern.solve.physics import Physics
from mop_lantern.solve.swinging import HARDER, calm_down, calmed_trust, restless


def run(residuals: Any, iteration: int = 200, turbulent: bool = True, calmed: bool = False) -> Any:
    """Give what a run looks like to those who judge its course: calmed at iteration 200, if it is, and its
    velocity went to and fro.
    """
    traces = Traces({"momentum": list(residuals)})
    last = SimpleNamespace(iteration=iteration, momentum=residuals[-1])
    physics = SimpleNamespace(
        turbulence=object() if turbulent else None, wet=SimpleNamespace(volume=np.ones(2))
    )
    flow = SimpleNamespace(calmed=calmed, calmed_at=200, U=np.zeros((2, 3)), hard=[])
    flow.calm = lambda *how: flow.hard.append(how)
    looks = [np.zeros((2, 3)), np.ones((2, 3)), np.zeros((2, 3))]
    return SimpleNamespace(traces=traces, last=last, physics=physics, flow=flow, residual=1e-4, looks=looks)


DUCT = {
    "media": {"w": {"kind": "constant", "density": "1000 kg/m3", "viscosity": "1 mPa s"}},
    "shape": {"parts": {"p": {"kind": "straight", "length": "300 mm", "width": "40 mm"}}},
    "field": {
        "physics": {"flow": "k_epsilon"},
        "openings": {
            "in": {"kind": "velocity", "edge": "p.start", "velocity": "1 m/s"},
            "out": {"kind": "static_pressure", "edge": "p.end"},
        },
        "grid": {"cell": "5 mm"},
    },
}
SWINGING = 5e-3 * (1 + 0.5 * np.sin(np.arange(40)))
FALLING = 1e-2 * 0.97 ** np.arange(40)


def test_only_turbulent_flows_that_have_stopped_to_settle_are_calmed() -> None:
    assert restless(run(SWINGING))
    assert not restless(run(FALLING))
    assert not restless(run(SWINGING, turbulent=False)), "vortices of a laminar wake are no fault"
    assert not restless(run(SWINGING, iteration=100))
    assert not restless(run(SWINGING, calmed=True, iteration=475)), "it is given time"
    assert not restless(run(np.full(40, 5e-5))), "it is at its end"


def test_what_changes_one_way_is_left_alone() -> None:
    """Damping holds slow changes back: a flow under way with a residual that rises came to rest without."""
    under_way = run(SWINGING)
    under_way.looks[-1] += 1.7
    assert not restless(under_way)
    early = run(SWINGING)
    early.looks = []
    assert not restless(early)


def test_what_swings_in_spite_of_it_is_calmed_harder() -> None:
    long = 5e-3 * (1 + 0.5 * np.sin(np.arange(90)))
    still = run(long, iteration=500, calmed=True)
    fresh, between = run(SWINGING), run(SWINGING, iteration=201)
    for each in (still, fresh, between):
        each.looks[:] = each.looks[:2] * 2
        calm_down(each)
    assert still.flow.hard == [HARDER] and fresh.flow.hard == [()] and not between.flow.hard
    assert len(fresh.looks) == 3 and (fresh.looks[-1] == fresh.flow.U).all()


def test_it_is_said() -> None:
    [item] = calmed_trust(run(SWINGING, calmed=True))
    assert item.verdict == "caution" and "damped" in item.text
    assert calmed_trust(run(FALLING)) == []


def test_a_flow_that_is_calmed_comes_to_the_same_answer() -> None:
    """The pull is to where the flow is, once it is there: the steady answer does not know of it."""
    settled = settle(parse_case(DUCT))
    mesh = prepare(settled)
    found = []
    for damped in (False, True):
        physics = Physics(settled, mesh, None)
        for number in range(1500):
            if damped and number == 20:
                physics.flow.calm()
            step = physics.step()
            if step.momentum < 1e-8:
                break
        assert step.momentum < 1e-8
        assert physics.flow.calmed is damped
        found.append(physics.flow.U.copy())
    assert np.abs(found[1] - found[0]).max() < 1e-5 * np.abs(found[0]).max()


def test_what_is_kept_of_a_velocity_follows_all_that_holds_it() -> None:
    held = SimpleNamespace(
        _diagonal=np.full(3, 2.0),
        relaxation=0.9,
        hold=np.array([0.0, 1.0, 2.0]),
        ease=np.zeros(0),
        mean=np.zeros((0, 3)),
        calm=0.02,
    )
    held._relaxed = lambda: Momentum._relaxed(held)  # type: ignore[arg-type]
    kept = Momentum.kept(held)  # type: ignore[arg-type]
    assert kept == pytest.approx([1 - 2 / (2 / 0.9), 1 - 2 / (2 / 0.9 + 1), 1 - 2 / (2 / 0.9 + 2)])
    held.hold, held.mean = np.zeros(0), np.zeros((3, 3))
    assert (Momentum.kept(held) > 0.1).all()  # type: ignore[arg-type]
    held.mean, held.ease = np.zeros((0, 3)), np.array([0.0, 1.0, 2.0])
    assert Momentum.kept(held) == pytest.approx(kept)  # type: ignore[arg-type]
