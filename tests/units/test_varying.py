"""Values that change with time and place, tables, temperatures in expressions."""

from __future__ import annotations

from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from mop_lantern.case import parse_case, settle
from mop_lantern.case.resolve import Resolver, resolve
from mop_lantern.errors import CaseError
from mop_lantern.units import UnitFault, Varying, evaluate, frozen, names_in


def flow_of(channel: dict[str, Any], text: str, **tables: Any) -> Any:
    """Resolve the channel with another inlet velocity."""
    channel["field"]["openings"]["in"]["velocity"] = text
    channel["tables"] = tables
    numbers, faults = resolve(parse_case(channel))
    assert not faults, faults
    return numbers.openings["in"].velocity


@pytest.mark.parametrize(
    ("text", "times", "wanted"),
    [
        ("= 2 m/s * ramp(t, 1 s, 3 s)", (0.0, 2.0, 9.0), (0.0, 1.0, 2.0)),
        ("= 2 m/s * pulse(t, 1 s, 3 s)", (0.0, 1.0, 3.0), (0.0, 2.0, 0.0)),
        ("= 2 m/s * step(t, 1 s)", (0.9, 1.0), (0.0, 2.0)),
        ("= 1 m/s * (t > 2 s)", (1.0, 3.0), (0.0, 1.0)),
        ("= max(0 m/s, 1 m/s * sin(t / 1 s))", (0.0, np.pi / 2, 4.0), (0.0, 1.0, 0.0)),
    ],
)
def test_expressions_of_time(channel: dict[str, Any], text: str, times: Any, wanted: Any) -> None:
    value = flow_of(channel, text)
    assert isinstance(value, Varying) and value.uses == {"t"}
    assert [float(value.at({"t": t})) for t in times] == pytest.approx(wanted, abs=1e-12)


def test_a_parameter_passes_time_on_and_a_ring_is_told(channel: dict[str, Any]) -> None:
    channel["parameters"]["burst"] = {"value": "= 1 m/s * ramp(t, 0 s, 2 s)"}
    value = flow_of(channel, "= burst / 2")
    assert value.at({"t": 1.0}) == pytest.approx(0.25)
    channel["parameters"] |= {"a": {"value": "= b"}, "b": {"value": "= a * t"}}
    _, faults = resolve(parse_case(channel))
    assert any("circle" in fault.says for fault in faults)


def test_tables_are_functions_with_units(channel: dict[str, Any]) -> None:
    table = {"along": "min", "gives": "mm/s", "rows": [[0, 0], [1, 60]]}
    value = flow_of(channel, "= course(t)", course=table)
    assert value.at({"t": 30.0}) == pytest.approx(0.03)
    assert value.at({"t": 600.0}) == pytest.approx(0.06)


def test_a_value_that_must_stand_still_refuses_time(channel: dict[str, Any]) -> None:
    channel["shape"]["parts"]["run"]["length"] = "= 40 mm * (1 + t / 1 s)"
    with pytest.raises(CaseError, match="cannot change with t"):
        settle(parse_case(channel))


def test_profiles_are_arrays(channel: dict[str, Any]) -> None:
    channel["field"]["openings"]["in"] = {
        "kind": "velocity_profile",
        "edge": "run.start",
        "velocity": "= 1 m/s * (1 - across**2)",
    }
    numbers, faults = resolve(parse_case(channel))
    assert not faults
    at = frozen(numbers.openings["in"].velocity, {"across": np.array([-1.0, 0.0, 0.5])})
    assert at == pytest.approx([0.0, 1.0, 0.75])


@pytest.mark.parametrize(
    ("text", "kelvin"),
    [
        ("= 20 °C", 293.15),
        ("= 20 °C + 5 K", 298.15),
        ("= 68 °F", 293.15),
        ("=20°C", 293.15),
        ("= 2 * 10 K + 0 °C", 293.15),
    ],
)
def test_degrees_in_expressions_are_absolute(text: str, kelvin: float) -> None:
    assert evaluate(text, "temperature", {}) == pytest.approx(kelvin)


def test_names_are_found_and_tables_told_apart() -> None:
    assert names_in("= a + f(t) * sin(x)") == {"a", "t", "x", "f()", "sin()"}
    assert names_in("5 mm") == frozenset()
    assert names_in("= (((") == frozenset()


@given(st.floats(-1e3, 1e3), st.floats(-1e3, 1e3))
def test_comparison_gives_one_or_nothing(a: float, b: float) -> None:
    assert evaluate(f"= ({a!r} < {b!r}) + ({a!r} >= {b!r})", "number", {}) == 1.0


def test_amounts_name_their_species(channel: dict[str, Any]) -> None:
    channel["field"]["species"] = {"salt": {"measure": "density"}}
    channel["field"]["openings"]["in"]["carries"] = {"salt": "35 kg/m3", "sugar": "1"}
    numbers, faults = resolve(parse_case(channel))
    assert numbers.openings["in"].carries["salt"] == 35.0
    assert [fault.path for fault in faults] == ["field.openings.in.carries.sugar"]
    channel["field"]["openings"]["in"]["carries"] = {"salt": "35 g/kg"}
    assert resolve(parse_case(channel))[1], "a share is no mass per volume"


def test_limits_hold_at_the_start(channel: dict[str, Any]) -> None:
    channel["field"]["openings"]["in"]["velocity"] = "= -1 m/s * (1 + t / 1 s)"
    resolver = Resolver(parse_case(channel))
    resolver.record(parse_case(channel).field.openings["in"], "field.openings.in")
    assert any("at least" in fault.says for fault in resolver.faults)
    with pytest.raises(UnitFault):
        evaluate("= ramp(1 s, 2 m, 3 s)", "number", {})


def test_two_threads_get_one_registry() -> None:
    """A value read in one thread must go with a unit read in another, also when both come first."""
    import subprocess
    import sys

    code = (
        "import threading; from mop_lantern.units import quantity as q; found = []\n"
        "threads = [threading.Thread(target=lambda: found.append(q.registry())) for _ in range(8)]\n"
        "[t.start() for t in threads]; [t.join() for t in threads]; assert len({id(r) for r in found}) == 1"
    )
    assert subprocess.run([sys.executable, "-c", code], capture_output=True, check=False).returncode == 0
