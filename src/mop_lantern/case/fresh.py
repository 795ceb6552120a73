"""New items with sensible values, ready to be edited on the sheet."""

from __future__ import annotations

import re
from typing import Any

from mop_lantern.case.bodies import solid_parts
from mop_lantern.case.document import Case
from mop_lantern.case.fresh_place import PLACED, bare_faces, is_hair, placed
from mop_lantern.case.sections import BY_PATH, package_of
from mop_lantern.declare import Declared, declared, discover
from mop_lantern.laws.example_curves import EXAMPLES
from mop_lantern.shape import Plane, Surface

_PLACES: dict[str, Any] = {
    "points": [
        ["0 mm", "0 mm"],
        ["100 mm", "0 mm"],
        ["100 mm", "40 mm"],
        ["0 mm", "40 mm"],
    ],
    "centre": ["0 mm", "0 mm"],
    "at": ["0 mm", "0 mm"],
    "start": ["0 mm", "0 mm"],
    "end": ["20 mm", "0 mm"],
    "low": ["0 mm", "0 mm"],
    "high": ["20 mm", "20 mm"],
}
_LINE = (("0", "1"), ("1", "0.8"))  # a curve of anything else


_END = re.compile(r"\.(start|end|inlet|outlet|cap\d*|rim\d*|leg\d*\.(start|end))$")
"""Names of edges and faces that fluid is likely to cross."""


def fresh_key(case: Case, section: str, stem: str = "") -> str:
    """Give an id that is free in a section."""
    stem = stem or (BY_PATH[section].stem if section in BY_PATH else "item")
    here: Any = case.as_data()
    for step in section.split("."):
        here = here[step]
    number = 1
    while f"{stem}{number}" in here:
        number += 1
    return f"{stem}{number}"


def fresh_item(
    case: Case,
    section: str,
    kind: str,
    edges: list[str],
    shape: Plane | Surface | None = None,
) -> dict[str, Any]:
    """Give the data of a new item of a kind.

    Parameters
    ----------
    edges : names of the edges there are; one that has no condition yet is preferred for openings and walls.
    shape : that there is, for places and sizes in proportion; None leaves them near the origin.
    """
    edges = [edge for edge in edges if shape is None or not is_hair(shape, edge)]
    if kind == "patch":
        edges = bare_faces(case, edges, shape) or edges
    model = discover(package_of(section))[kind]
    item: dict[str, Any] = {"kind": kind}
    for name, rule in declared(model).items():
        placed_later = rule.form == "point" and section in PLACED and name in _PLACES  # once it is wanted
        if not (model.model_fields[name].is_required() or placed_later):
            continue
        if rule.along:
            item[name] = [list(point) for point in EXAMPLES.get(rule.dimension, _LINE)]
        elif rule.of in ("edge", "edges"):
            item[name] = _edge(case, section, name, rule, edges)
        elif rule.of:
            item[name] = _named(case, name, rule)
        else:
            item[name] = _PLACES.get(name, "")
            if case.shape.space == "space" and rule.form == "point":
                item[name] = [*item[name], "0 mm"]
    return item if shape is None else placed(item, model, section, shape)


def _edge(case: Case, section: str, name: str, rule: Declared, edges: list[str]) -> Any:
    """Choose an edge or face: an open end for an opening, a bare side for a wall, an opening for what reads
    one.
    """
    taken = [opening.edge for opening in case.field.openings.values()]
    if rule.of == "edges":
        return taken[:2] or edges[:2]
    used = {item.edge for item in (*case.field.openings.values(), *case.field.walls.values())}
    if section == "field.warm":
        used |= {item.edge for item in case.field.warm.values()}
    free = [edge for edge in edges if edge not in used and edge != "axis"]
    if section in ("field.walls", "field.warm"):
        sides = [edge for edge in free if not _END.search(edge)]
        return (sides or free or edges or ["part1.left"])[0]
    patches = {key for key, solid in case.shape.solids.items() if solid.kind == "patch"}
    ends = [edge for edge in free if edge.removesuffix(".face") in patches]
    ends = ends or [edge for edge in free if _END.search(edge)]
    choice = taken if section in ("readings", "field.grid.refine") else (ends or free)
    return (choice or edges or ["part1.start"])[-1 if name == "to" else 0]


def _named(case: Case, name: str, rule: Declared) -> str:
    """Choose something else a reference may name, or "" where there is none."""
    if rule.of in ("node", "line", "component", "medium", "network_species"):
        named = network_names(case, rule.of)
        return named[-1 if name == "end" else 0][0] if named else ""
    if rule.of == "body":
        taken = [solid.part for solid in case.field.solids.values()]
        bodies = solid_parts(case)
        return next((key for key in bodies if key not in taken), bodies[0] if bodies else "")
    found: list[str] = {
        "species": list(case.field.species),
        "solid": list(case.shape.solids),
        "reading": [
            key
            for key, other in case.readings.items()
            if type(other).on == "field" and not type(other).over_time
        ],
        "part": [
            key for key, part in case.shape.parts.items() if hasattr(part, "length") or part.kind == "bent"
        ],
    }.get(rule.of, [])
    return next(iter(found), "part1" if rule.of == "part" else "")


def network_names(case: Case, of: str) -> list[tuple[str, str]]:
    """Give the nodes, lines, components or media of a case that a reference may name, with words."""
    network = case.network
    if of == "component":
        return [(f"{key}.{name}",) * 2 for key, line in network.lines.items() for name in line.parts]  # type: ignore[misc]
    found = {
        "node": network.nodes,
        "network_species": network.species,
        "line": network.lines,
        "medium": case.media,
    }[of]
    return [(key, key) for key in found]
