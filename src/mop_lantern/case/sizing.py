"""Sizing the ducts and pipes of a network case for the flows they have: edits of their sizes."""

from __future__ import annotations

from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.network_review import fluids_of
from mop_lantern.case.review import review
from mop_lantern.errors import Fault
from mop_lantern.network.sizing import diameter_by_friction, diameter_by_velocity, nominal_for, width_for
from mop_lantern.units import UnitFault, evaluate, read

STEP = 5e-3  # m: ducts are made in steps of five millimetres


def sized(
    case: Case,
    variant: str | None,
    lines: list[str],
    rule: str,
) -> tuple[dict[str, Any], list[Fault]]:
    """Find the edits that size the pipes and ducts of some lines for the flows they have now.

    Parameters
    ----------
    lines : their names; empty for all. rule : a friction, as "0.8 Pa/m", or a velocity, as "1.5 m/s".

    Returns
    -------
    edits : path to value; pipes of a nominal size get one, others a bore, ducts a width rounded up to 5 mm.
    faults : why there are none.
    """
    result = review(case, variant)
    if result.working is None or result.numbers is None:
        return {}, list(result.faults) or [
            Fault("network", "there is no network to size.", "Add nodes and lines.")
        ]
    unknown = [line for line in lines if line not in result.case.network.lines]
    if unknown:
        return {}, [
            Fault(
                f"network.lines.{unknown[0]}",
                f"there is no line “{unknown[0]}”.",
                f"Lines: {', '.join(result.case.network.lines)}.",
            )
        ]
    try:
        friction = rule.replace(" ", "").endswith("Pa/m")
        value = (
            float(read(rule.replace(" ", "").removesuffix("/m"), "pressure"))
            if friction
            else float(evaluate(rule, "velocity", {}))
        )
    except UnitFault as problem:
        return {}, [
            Fault("rule", str(problem), "Give a friction such as 0.8 Pa/m, or a velocity such as 1.5 m/s.")
        ]
    if not value > 0:
        return {}, [Fault("rule", "the friction or velocity must be above zero.", "Change it.")]
    edits: dict[str, Any] = {}
    fluids = fluids_of(result.numbers)
    for key in lines or list(result.case.network.lines):
        line = result.case.network.lines[key]
        fluid = fluids[line.fluid.strip() or next(iter(fluids))]
        flow = result.working.lines[key]["volume_flow"]
        for name, part in line.parts.items():
            if part.kind not in ("pipe", "duct") or abs(flow) < 1e-12:
                continue
            numbers = result.numbers.network.lines[key].parts[name]
            rough = float(numbers.rough) if numbers.rough is not None else 4.5e-5
            diameter = (
                diameter_by_friction(
                    flow,
                    value,
                    rough,
                    fluid.density,
                    fluid.viscosity,
                )
                if friction
                else diameter_by_velocity(flow, value)
            )
            edits |= _size(f"network.lines.{key}.parts.{name}", part, numbers, diameter)
    return edits, []


def _size(
    path: str,
    part: Any,
    numbers: Any,
    diameter: float,
) -> dict[str, Any]:
    if part.kind == "pipe":
        size = nominal_for(diameter) if part.size.strip() else None
        return (
            {f"{path}.size": f"DN{size}"}
            if size
            else {f"{path}.size": "", f"{path}.bore": f"{1e3 * diameter:.1f} mm"}
        )
    width = diameter if part.section == "round" else width_for(diameter, float(numbers.height))
    steps = int(-(-width // STEP)) if width % STEP > 1e-9 else round(width / STEP)
    return {f"{path}.width": f"{1e3 * STEP * steps:g} mm"}
