"""Balancing a network case: edits of valves, dampers and orifices that give wanted flows."""

from __future__ import annotations

from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.network_review import SettledNetwork, fault_of
from mop_lantern.case.review import SettledBoth, review
from mop_lantern.errors import Fault
from mop_lantern.network.balance import balance
from mop_lantern.network.steady import NetworkFault
from mop_lantern.units import UnitFault, evaluate


def balanced(
    case: Case,
    variant: str | None,
    lines: list[str],
    flow: str,
) -> tuple[dict[str, Any], list[Fault]]:
    """Find the edits that give every one of some lines a flow.

    Parameters
    ----------
    lines : their names. flow : with its unit, as "2.4 L/s".

    Returns
    -------
    edits : path to value. faults : why there are none.
    """
    result = review(case, variant, brief=True)
    if result.blocked or not result.case.network.lines:
        return {}, list(result.faults) or [
            Fault("network", "there is no network to balance.", "Add nodes and lines.")
        ]
    settled = result.settled()
    if isinstance(settled, SettledBoth):
        settled = settled.network
    assert isinstance(settled, SettledNetwork)
    try:
        wanted = dict.fromkeys((line.strip() for line in lines), float(evaluate(flow, "volume_flow", {})))
        found = balance(settled.numbers.network, settled.fluids, settled.numbers.network.outside, wanted)
    except UnitFault as problem:
        return {}, [Fault("flow", str(problem))]
    except NetworkFault as problem:
        return {}, [fault_of(problem)]
    edits = {}
    for name, value in found.items():
        line, _, part = name.partition(".")
        hole = result.case.network.lines[line].parts[part].kind == "orifice"
        edits[f"network.lines.{line}.parts.{part}.{'hole' if hole else 'opening'}"] = (
            f"{1e3 * value:.3f} mm" if hole else f"{100 * value:.2f} %"
        )
    return edits, []
