"""Every component: its loss rises with the flow, its slope is the derivative, zero flow loses nothing."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from mop_lantern.case import apply, fresh_item, parse_case
from mop_lantern.case.resolve import resolve
from mop_lantern.declare import discover
from mop_lantern.network.build import readied
from mop_lantern.network.net import stacked

KINDS: dict[str, Any] = discover("mop_lantern.network.components")
RHO, MU = np.array([998.0]), np.array([1e-3])


def stack_of(kind: str, **more: Any) -> Any:
    """Make one fresh component of a kind beside a DN50 pipe."""
    case = parse_case({"title": "c", "media": {"water": {"kind": "water"}}})
    case = apply(
        case,
        {
            "network.nodes.a": {"kind": "junction"},
            "network.nodes.b": {"kind": "junction"},
            "network.lines.r": {"start": "a", "end": "b"},
        },
    )
    item = {**fresh_item(case, "network.lines.r.parts", kind, []), **more}
    case = apply(
        case,
        {"network.lines.r.parts.x": item, "network.lines.r.parts.next": {"kind": "pipe", "size": "DN50"}},
    )
    numbers, faults = resolve(case)
    assert not faults
    rows, wrong = readied(numbers.network)
    assert not wrong
    return stacked([dict(rows["r"])["x"].at({"t": 0.0})])


@pytest.mark.parametrize("kind", KINDS)
@settings(max_examples=40, deadline=None)
@given(size=st.floats(-6, -1.5), back=st.booleans())
def test_losses_rise_and_slopes_are_their_derivatives(kind: str, size: float, back: bool) -> None:
    a = _STACKS.setdefault(kind, stack_of(kind))
    q = np.array([-(10**size) if back else 10**size])
    step = 1e-6 * np.abs(q)
    drop, slope = KINDS[kind].drop(a, q, RHO, MU)
    low, high = KINDS[kind].drop(a, q - step, RHO, MU)[0], KINDS[kind].drop(a, q + step, RHO, MU)[0]
    assert high[0] >= low[0] and slope[0] > 0 and np.isfinite(drop[0])
    found = (high - low)[0] / (2 * step[0])
    if kind == "orifice":
        assert slope[0] == pytest.approx(found, rel=0.05)  # its coefficient follows the Reynolds number
    elif kind in ("pump", "fan"):
        assert slope[0] >= found * 0.98  # they tell a falling slope where their curve is flat
    elif found > 1e-6 * slope[0]:
        assert slope[0] == pytest.approx(found, rel=2e-2)


_STACKS: dict[str, Any] = {}


@pytest.mark.parametrize(
    "kind", [name for name in KINDS if name not in ("pump", "fan", "gear_pump", "given_flow")]
)
def test_nothing_is_lost_at_rest(kind: str) -> None:
    drop, _ = KINDS[kind].drop(stack_of(kind), np.array([0.0]), RHO, MU)
    assert drop[0] == pytest.approx(0.0, abs=1e-9)


@pytest.mark.parametrize("kind", ["pump", "fan"])
def test_machines_follow_the_affinity_laws(kind: str) -> None:
    whole, half = stack_of(kind), stack_of(kind, speed="50 %")
    for flow in (1e-3, 4e-3, 8e-3):
        at, _ = KINDS[kind].drop(whole, np.array([flow]), RHO, MU)
        slow, _ = KINDS[kind].drop(half, np.array([flow / 2]), RHO, MU)
        assert slow[0] == pytest.approx(at[0] / 4, rel=1e-6)


def test_shut_things_are_shut() -> None:
    for kind, field in (("valve", "opening"), ("damper", "opening")):
        assert (
            KINDS[kind].closed(stack_of(kind, **{field: "0 %"}))[0]
            and not KINDS[kind].closed(stack_of(kind))[0]
        )
    assert KINDS["diverter"].closed(stack_of("diverter", position="0 %"))[0]
    assert KINDS["diverter"].closed(stack_of("diverter", position="100 %", leg="side"))[0]


def test_symbols_are_paths_that_can_be_drawn() -> None:
    from mop_lantern.desk.symbols import path_of

    for kind in (*KINDS.values(), *discover("mop_lantern.network.nodes").values()):
        box = path_of(kind.symbol).boundingRect()
        assert (
            box.width() > 0.3
            and abs(box.left()) <= 1.01
            and abs(box.right()) <= 1.01
            and abs(box.top()) <= 1.01
        )
