"""What a case names that nothing would be done with: told, never passed over in silence."""

from __future__ import annotations

from mop_lantern.case.document import Case
from mop_lantern.errors import Fault


def overlooked(case: Case) -> list[Fault]:
    """Find readings of what the case does not have, and nodes that no line joins."""
    space = bool(case.shape.parts or case.shape.solids)
    faults = []
    if case.network.nodes and not case.network.lines and not space:
        faults.append(
            Fault("network.nodes", "no line joins these nodes yet.", "Add a line between two of them.")
        )
    for key, item in case.readings.items():
        kind = type(item)
        if kind.over_time:
            continue  # of another reading
        if kind.on == "network" and not case.network.lines:
            says, remedy = "it reads a network, and there is none.", "Add nodes and lines, or remove it."
        elif kind.on == "field" and not space:
            named = getattr(item, "edge", "")
            says = "it reads a flow domain, and there is none."
            if isinstance(named, str) and named:
                says = f"there is no edge “{named}”: the case has no shape."
            remedy = "Add a part of a shape, or choose a reading of the network."
        else:
            continue
        faults.append(Fault(f"readings.{key}", says, remedy))
    return faults
