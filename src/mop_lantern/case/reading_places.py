"""Readings placed by pointing at places of the flow domain."""

from __future__ import annotations

from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.case.handles import typed_text
from mop_lantern.errors import CaseError, Fault
from mop_lantern.units import preferred

Floats = NDArray[np.float64]


def reading_edits(
    case: Case,
    form: str,
    what: str,
    places: list[Floats],
    fineness: float,
    across: int = -1,
) -> tuple[dict[str, Any], str]:
    """Give the edits that add a reading of a quantity at places, and its path.

    Parameters
    ----------
    form : "point", "line" or "box" from one place to another, "section" of a plane between two, "passage" for
    all that passes the passage that holds a place of a space. places : (2,) or (3,) m each. fineness : m,
    what they are rounded to. across : the direction across the section of a space that they lie on; a box is
    as deep as its shorter side there, to both sides alike.

    Raises
    ------
    CaseError : a line or a box has no size.
    """
    low, high = np.min(places, axis=0), np.max(places, axis=0)
    sides = [way for way in range(len(low)) if way != across]
    size = (high - low)[sides]
    if form in ("line", "section") and size.max() < 2 * fineness:
        raise CaseError([Fault("readings", "the line has no length.", "Drag from its one end to the other.")])
    if form == "box" and size.min() < 2 * fineness:
        says = "Drag from one of its corners to the opposite one."
        raise CaseError([Fault("readings", "the box has no size.", says)])
    unit = preferred("length", case.units)

    def typed(place: Floats) -> list[str]:
        return [typed_text(float(x), "length", unit, fineness) for x in place]

    item: dict[str, Any] = {"kind": form}
    if form == "point":
        item["at"] = typed(places[0])
    elif form in ("line", "section"):
        item |= {"start": typed(places[0]), "end": typed(places[-1])}
    elif form == "box":
        deep = 0.5 * float(size.min()) * (np.arange(len(low)) == across)
        item = {"kind": "region", "extent": "box", "low": typed(low - deep), "high": typed(high + deep)}
    else:
        facing = {f"facing_{way}": "1" if number == across else "0" for number, way in enumerate("xyz")}
        item = {"kind": "cross_section", "at": typed(places[0]), **facing}
    path = f"readings.{fresh_key(case, 'readings')}"
    return {path: {**item, "quantity": what}}, path
