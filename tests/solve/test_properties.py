"""Properties that must hold for any case: conservation, scaling, editing and taking back."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from mop_lantern.case import apply, parse_case, review, settle, value_at
from mop_lantern.solve import Solving
from mop_lantern.solve.solving import final_answer

QUICK = settings(max_examples=8, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])


def solved(case: Any) -> tuple[dict[str, Any], Any]:
    """Solve and give the last event and the field."""
    solving = Solving(settle(case), None, None)
    last = [event for event in solving.events() if event["event"] == "finished"][-1]
    return last, final_answer(solving)


@QUICK
@given(
    x=st.floats(8, 30),
    y=st.floats(-2.5, 2.5),
    size=st.floats(1, 4),
    turn=st.floats(0, 90),
    speed=st.floats(0.5, 30),
    cell=st.floats(0.8, 1.6),
)
def test_any_obstacle_conserves_mass_and_is_trusted(
    channel: dict[str, Any], x: float, y: float, size: float, turn: float, speed: float, cell: float
) -> None:
    disc = {"kind": "disc", "centre": [f"{x!r} mm", f"{y!r} mm"], "diameter": f"{size!r} mm"}
    edits = {
        "shape.parts.d": disc,
        "shape.turn": f"{turn!r} deg",
        "field.openings.in.velocity": f"{speed!r} mm/s",
        "field.grid.cell": f"{cell!r} mm",
    }
    last, answer = solved(apply(parse_case(channel), edits))
    assert last["converged"], [item for item in last["trust"] if item["verdict"] == "fails"]
    trust = {item["id"]: item["value"] for item in last["trust"]}
    assert trust["mass"] < 1e-9 and trust["mass_cells"] < 1e-6
    assert last["readings"]["flow"]["value"] == pytest.approx(speed * 1e-5, rel=1e-9)
    assert last["readings"]["drop"]["value"] > 0
    assert np.abs(answer.outflow[answer.mesh.faces_of("d.surface")]).max() == 0


@QUICK
@given(scale=st.floats(0.01, 100))
def test_dimensionless_answers_do_not_depend_on_size(channel: dict[str, Any], scale: float) -> None:
    """The same Reynolds number at another size: pressure drop over rho U2 stays (similarity)."""
    disc = {"kind": "disc", "centre": ["= 1.4 * gap", "0 mm"], "diameter": "= 0.3 * gap"}
    shape = {"shape.parts.d": disc, "shape.parts.run.length": "= 4 * gap", "field.grid.cell": "= gap / 8"}
    base, _ = solved(apply(parse_case(channel), shape))
    scaled = {
        **shape,
        "parameters.gap.value": f"{10 * scale!r} mm",
        "field.openings.in.velocity": f"{10 / scale!r} mm/s",
    }
    other, _ = solved(apply(parse_case(channel), scaled))
    assert other["readings"]["drop"]["value"] * scale**2 == pytest.approx(
        base["readings"]["drop"]["value"], rel=1e-4
    )


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
@given(
    steps=st.lists(
        st.tuples(
            st.sampled_from(
                [
                    "shape.depth",
                    "parameters.gap.value",
                    "field.openings.in.velocity",
                    "field.grid.cell",
                    "title",
                    "shape.parts.run.start.0",
                ]
            ),
            st.text(max_size=12),
        ),
        max_size=8,
    )
)
def test_edits_are_kept_as_typed_and_taking_back_restores(
    channel: dict[str, Any], steps: list[tuple[str, str]]
) -> None:
    stack = [parse_case(channel)]
    for path, text in steps:
        stack.append(apply(stack[-1], {path: text}))
        assert value_at(stack[-1], path) == text
        assert isinstance(review(stack[-1]).blocked, bool)  # whatever is typed, words come back
    assert stack[0].as_data() == parse_case(channel).as_data()
