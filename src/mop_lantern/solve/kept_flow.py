"""A flow that stays while it carries things on in time: where the case names none, its own steady flow."""

from __future__ import annotations

from collections.abc import Iterable
from copy import copy
from dataclasses import replace
from typing import Any

from mop_lantern.case import ResolvedCase
from mop_lantern.field.flow import FlowState
from mop_lantern.solve.equation import equations_of

NOT_OF_FLOW = (
    "balance.",
    "spreading.",
    "reading.",
    "grid_guess",
    "device.",
    "note.",
    "radiation",
    "dew",
    "near_wall",
)
"""Items of a trust list that are not about the flow, or told anyway."""


def wants_own_flow(settled: ResolvedCase) -> bool:
    """Whether the flow stays and the case names no solution to take it from."""
    plan = settled.numbers.time
    return plan.mode != "steady" and plan.flow == "kept" and not settled.numbers.start.solution.strip()


def steady_version(settled: ResolvedCase) -> ResolvedCase:
    """Give the same case asked for its steady flow, at time 0, without readings and without what does not
    act on it and may have no steady value: species, and age in a closed space.
    """
    numbers = copy(settled.numbers)
    numbers.time = copy(numbers.time)
    numbers.time.mode = "steady"
    acting = {name for name, kind in equations_of(settled).items() if kind.drives(settled, name)}
    numbers.species = {key: item for key, item in numbers.species.items() if f"c.{key}" in acting}
    numbers.readings = {}
    if not numbers.openings:
        numbers.age = copy(numbers.age)
        numbers.age.solve = False
    numbers.adapt = copy(numbers.adapt)
    numbers.adapt.cycles = 0
    return replace(settled, numbers=numbers)


def start_from(state: FlowState) -> FlowState:
    """Give what a case begins with on its own steady flow: flow, turbulence, temperature and age as they are
    there; species as the case says.
    """
    scalars = {name: values for name, values in state.scalars.items() if not name.startswith("c.")}
    return replace(state, scalars=scalars, time=0.0)


def of_the_flow(trust: Iterable[dict[str, Any]]) -> list[dict[str, Any]]:
    """Give the items of a trust list that judge the flow, told as those of the flow that stays."""
    return [
        {**item, "id": f"flow.{item['id']}", "text": f"The flow that stays: {item['text']}"}
        for item in trust
        if not item["id"].startswith(NOT_OF_FLOW)
    ]
