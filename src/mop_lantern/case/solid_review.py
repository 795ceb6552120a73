"""Review what is peculiar to solids that conduct heat."""

from __future__ import annotations

from typing import Any

from mop_lantern.case.bodies import holds_fluid, solid_parts
from mop_lantern.case.document import Case
from mop_lantern.declare import Numbers
from mop_lantern.errors import Fault
from mop_lantern.shape import Plane, Surface

NO_HEAT = Fault(
    "field.heat.solve",
    "there are solids alone, and temperature is not solved for: nothing is left to solve.",
    "Solve for temperature, or add a part that holds fluid.",
)


def solids_without_heat(case: Case) -> bool:
    """Whether there is no fluid, and no heat that the solids could conduct."""
    return bool(case.field.solids) and not case.field.heat.solve and not holds_fluid(case)


def solid_faults(case: Case, dry: bool) -> list[Fault]:
    """Check that materials belong to solid parts, one to each, and what solids alone (``dry``) can have."""
    faults = []
    known = solid_parts(case)
    used: dict[str, str] = {}
    for key, item in case.field.solids.items():
        path = f"field.solids.{key}.part"
        if item.part not in known:
            says = f"there is no solid part “{item.part}”."
            faults.append(Fault(path, says, f"Solid parts: {', '.join(known) or 'none yet'}."))
        elif item.part in used:
            says = f"the part {item.part} is of the material of {used[item.part]} already."
            faults.append(Fault(path, says, "Remove one of them."))
        used.setdefault(item.part, key)
    for key, source in case.field.sources.items():
        part = getattr(source, "part", None)
        if part is not None and part not in used:
            says = f"heat cannot be made in “{part}”: no solid part of that name has a material."
            remedy = f"Give it one under Walls and solids. Parts with one: {', '.join(used) or 'none yet'}."
            faults.append(Fault(f"field.sources.{key}.part", says, remedy))
    faults += _loads(case)
    if dry:
        faults += _without_fluid(case)
    return faults


def _loads(case: Case) -> list[Fault]:
    """Refuse loads of parts that are not there, or that hold the fluid themselves."""
    faults = []
    solids = case.shape.solids
    dry = [key for key in solids if not _is_fluid(case, key)]
    for key, source in case.field.sources.items():
        part = getattr(source, "around", None)
        if part is None or part in dry:
            continue
        says = (
            f"{part} holds fluid, and has no surface in it."
            if part in solids
            else f"no part is called “{part}”."
        )
        told = f"Parts that take space away: {', '.join(dry) or 'none yet'}."
        faults.append(Fault(f"field.sources.{key}.around", says, f"{told} Or use heat in a box."))
    return faults


def _is_fluid(case: Case, key: str) -> bool:
    """Whether a part holds fluid; copies are what their original is."""
    solid: Any = case.shape.solids.get(key)
    while solid is not None and solid.role == "same":
        solid = case.shape.solids.get(getattr(solid, "of", ""))
    return solid is None or solid.role == "fluid"


def _without_fluid(case: Case) -> list[Fault]:
    """Refuse what only a fluid can have."""
    field = case.field
    found = [(f"field.species.{key}", "a species needs a fluid that transports it.") for key in field.species]
    if field.age.solve:
        found.append(("field.age.solve", "there is no fluid whose age could be solved."))
    if field.physics.buoyancy != "none":
        found.append(("field.physics.buoyancy", "there is no fluid that could rise."))
    return [Fault(path, says, "Remove it, or add a part that holds fluid.") for path, says in found]


def lost_solids(case: Case, numbers: Numbers, shape: Plane | Surface) -> list[Fault]:
    """Tell of materials whose part is not there when all are joined: it has no thickness, or others take it
    up.
    """
    return [
        Fault(
            f"field.solids.{key}.part",
            f"nothing of the part {item.part} is left to conduct heat: it has no thickness, or "
            "later parts take it all up.",
            "Make it thicker, move it after them, or put a contact that resists in its place.",
        )
        for key, item in case.field.solids.items()
        if item.part in numbers.shape.kept
        and item.part in solid_parts(case)
        and item.part not in shape.solids
    ]
