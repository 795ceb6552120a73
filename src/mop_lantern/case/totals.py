"""Total flow in and out of a space made equal."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.declare import Record, declared
from mop_lantern.errors import CaseError, Fault
from mop_lantern.field.boundary import Opening
from mop_lantern.judge import Facts
from mop_lantern.judge.totals import totals_of
from mop_lantern.units import convert, evaluate, show_number
from mop_lantern.units.expression import unit_typed


def made_equal(case: Case, facts: Facts) -> dict[str, Any]:
    """Give the edits that let as much leave as enters, in every space whose flows are all given: every outlet
    in proportion.

    Raises
    ------
    CaseError : nothing is given to enter or to leave; an outlet's flow is an expression.
    """
    spaces = facts.by_space()
    edits = dict[str, Any]()
    for openings in spaces:
        if len(spaces) == 1 or (openings and all(opening.flow is not None for opening in openings)):
            edits |= _equal_in_space(case, replace(facts, openings=openings))
    return edits


def _equal_in_space(case: Case, facts: Facts) -> dict[str, Any]:
    totals = totals_of(facts)
    enters, leaves = totals.enters, totals.leaves
    if not enters > 0 or not leaves > 0:
        what = "enter" if not enters > 0 else "leave"
        raise CaseError(
            [
                Fault(
                    "field.openings",
                    f"no opening is given a flow to {what}.",
                    "Give one, or a pressure to an outlet: then its flow follows.",
                )
            ]
        )
    edits: dict[str, Any] = {}
    for opening in facts.openings:
        item = case.field.openings.get(opening.key)
        if item is None or opening.flow is None or opening.flow >= 0:
            continue
        name, dimension = _amount(item)
        text = str(getattr(item, name, ""))
        if text.strip().startswith("=") or not name:
            raise CaseError(
                [
                    Fault(
                        f"field.openings.{opening.key}.{name}",
                        "the flow is given by an expression and is not scaled.",
                        "Type a value, or a pressure instead.",
                    )
                ]
            )
        value = evaluate(text, dimension, {})
        unit = unit_typed(text)
        edits[f"field.openings.{opening.key}.{name}"] = (
            f"{show_number(convert(value * enters / leaves, dimension, unit), 10).replace('−', '-')} {unit}"
        ).strip()
    return edits


def _amount(item: Record) -> tuple[str, str]:
    """Give the value that says how much an opening lets through, and its dimension."""
    for name, rule in declared(type(item)).items():
        if (
            rule.form == "quantity"
            and name not in Opening.model_fields
            and rule.dimension in ("velocity", "volume_flow", "mass_flow", "rate")
        ):
            return name, rule.dimension
    return "", "number"
