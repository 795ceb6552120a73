"""Trust checks: each is seen to fail on an answer spoilt on purpose; a new kind is one new file."""

from __future__ import annotations

from typing import Any

import pytest

from mop_lantern.case import apply, parse_case, settle
from mop_lantern.judge import Trust
from mop_lantern.solve import FlowRun, prepare
from mop_lantern.solve.check import Evidence, checked
from mop_lantern.solve.checks.carried import Carried
from mop_lantern.solve.checks.cautions import Cautions
from mop_lantern.solve.checks.forces import Forces
from mop_lantern.solve.checks.sense import Sense
from mop_lantern.units import worded_in

WARM = {
    "media.water": {
        "kind": "constant",
        "density": "1000 kg/m3",
        "viscosity": "1 mPa s",
        "capacity": "4000 J/kg/K",
        "conductivity": "0.6 W/m/K",
    },
    "field.heat.solve": True,
    "field.openings.in.temperature": "30 °C",
    "field.warm.hot": {"kind": "temperature", "edge": "run.left", "temperature": "40 °C"},
}


@pytest.fixture
def evidence(channel: dict[str, Any]) -> Evidence:
    """Give a sound answer: a channel that is warmed from one side."""
    settled = settle(apply(parse_case(channel), WARM))
    run = FlowRun(settled, prepare(settled), None)
    while not run.finished() and run.last.iteration < 400:
        run.advance(5.0, 50)
    run.physics.finish()
    return Evidence(settled, run.physics, run.physics.answer(final=True), True, False)


def verdicts(items: list[Trust]) -> dict[str, str]:
    """Give the verdicts by id."""
    return {item.id: item.verdict for item in items}


def test_a_sound_answer_passes_every_check(evidence: Evidence) -> None:
    found = verdicts(checked(evidence))
    assert found["forces"] == found["balance.T"] == "holds"
    assert not [key for key, verdict in found.items() if verdict == "fails"]


def test_forces_that_do_not_add_up_are_told(evidence: Evidence) -> None:
    evidence.physics.flow.p *= 1.5
    assert verdicts(Forces.judge(evidence)) == {"forces": "caution"}


def test_heat_that_comes_from_nowhere_fails(evidence: Evidence) -> None:
    heat = evidence.physics.scalars["T"]
    heat.phi += 3.0
    assert verdicts(Carried.judge(evidence))["balance.T"] == "fails"


def test_a_pressure_under_nothing_fails_and_sound_is_told(evidence: Evidence) -> None:
    evidence.answer.pressure[:] -= 2e5
    assert verdicts(Sense.judge(evidence))["absolute"] == "fails"
    assert any("falls to −0.987 bar" in item.text for item in Sense.judge(evidence))
    with worded_in({"pressure": "psi"}):
        assert any("falls to −14.3 psi" in item.text for item in Sense.judge(evidence))
    evidence.answer.velocity[:, 0] = 700.0
    assert verdicts(Sense.judge(evidence))["mach"] == "caution"


def test_cautions_of_the_review_go_along_but_not_while_edits_are_followed(channel: dict[str, Any]) -> None:
    edits = {"field.openings.in.velocity": "1 m/s", "field.physics.flow": "laminar"}
    fast = apply(parse_case(channel), edits)
    settled = settle(fast)
    run = FlowRun(settled, prepare(settled), None)
    run.advance(1.0, 1)
    answer = run.physics.answer()
    assert any(
        item.id.startswith("note.")
        for item in Cautions.judge(Evidence(settled, run.physics, answer, True, False))
    )
    following = checked(Evidence(settled, run.physics, answer, True, True))
    assert not any(item.id.startswith("note.") for item in following)


def test_checks_of_steady_answers_are_left_out_in_time(evidence: Evidence) -> None:
    in_time = Evidence(evidence.settled, evidence.physics, evidence.answer, False, False)
    assert "forces" not in verdicts(checked(in_time)) and not Forces.in_time
