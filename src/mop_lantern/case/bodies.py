"""Which parts of a case are solid, and whether there is any fluid."""

from __future__ import annotations

from mop_lantern.case.document import Case
from mop_lantern.shape.join import role_of


def solid_parts(case: Case) -> list[str]:
    """Name the parts of a case that are solid, and may conduct heat."""
    if case.shape.space != "space":
        return [key for key, part in case.shape.parts.items() if type(part).role == "body"]
    return [key for key in case.shape.solids if role_of(case.shape.solids, key) == "solid"]


def holds_fluid(case: Case) -> bool:
    """Whether any part of a case holds fluid."""
    if case.shape.space != "space":
        return any(type(part).role == "passage" for part in case.shape.parts.values())
    return any(role_of(case.shape.solids, key) == "fluid" for key in case.shape.solids)


def solids_alone(case: Case) -> bool:
    """Whether a case holds no fluid, but solids that conduct heat."""
    return bool(case.field.solids) and case.field.heat.solve and not holds_fluid(case)
