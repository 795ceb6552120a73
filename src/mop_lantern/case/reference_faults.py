"""What is wrong with a case: what names what is not there, what nothing moves, what takes no end."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.fresh_place import is_hair
from mop_lantern.case.solid_review import lost_solids, solid_faults
from mop_lantern.declare import Declared, Numbers, Record, declared, discover
from mop_lantern.errors import Fault, nearest
from mop_lantern.field.boundary import Opening
from mop_lantern.field.device import DeviceKind
from mop_lantern.field.source import SourceKind
from mop_lantern.grid.regions import BEHIND
from mop_lantern.shape import Plane, Surface

FLUID_ONLY = (
    "field.openings",
    "field.walls",
    "field.finishes",
)  # sections whose edges are those of the fluid
MOST_STEPS, MOST_STATES = 1e8, 1e6


def reference_faults(case: Case, numbers: Numbers, shape: Plane | Surface | None) -> list[Fault]:
    """Check that everything named exists, that no edge is used twice, and that there is a fluid that can
    move.
    """
    dry = shape is not None and shape.dry
    faults = solid_faults(case, dry)
    if not (case.media or dry or (shape is None and case.field.solids)):
        faults.append(Fault("media", "there is no fluid.", "Add one."))
    if len(case.media) > 1 and not case.network.lines:
        faults.append(Fault("media", "only one fluid can be solved for.", "Remove the others."))
    if numbers.shape.space == "axis" and numbers.shape.turn:
        faults.append(
            Fault("shape.turn", "a domain around the x axis cannot be turned.", "Set the turn to 0 deg.")
        )
    if shape is not None:
        faults += _edges(case, shape) + _hairs(case, shape) + lost_solids(case, numbers, shape)
    faults += _lost_species(case)
    if case.field.comfort.solve and not case.field.heat.solve:
        faults.append(
            Fault("field.comfort.solve", "comfort wants the temperature.", "Set temperature to solved.")
        )
    if case.field.radiation.solve and not case.field.heat.solve:
        faults.append(
            Fault("field.radiation.solve", "radiation wants the temperature.", "Set temperature to solved.")
        )
    faults += endless_faults(numbers.time, "field.time") if numbers.time.mode != "steady" else []
    moved = dry or (shape is None and bool(case.field.solids)) or _moved_within(case)
    if not case.field.openings and not moved:
        faults.append(
            Fault(
                "field.openings",
                "nothing moves the fluid: there is no opening and no moving wall.",
                "Add an opening.",
            )
        )
    elif case.field.openings and not moved:
        kinds: Any = discover("mop_lantern.field.openings", Opening)
        driven = [kinds[o.kind].drives or kinds[o.kind].fixes == "flow" for o in case.field.openings.values()]
        pressures = {
            p if (p := kinds[o.kind].stands_at(o, 1.0)) is not None else id(o)
            for o in numbers.openings.values()
        }
        if not any(driven) and len(pressures) < 2:
            faults.append(
                Fault(
                    "field.openings",
                    "all openings have the same pressure, so nothing flows.",
                    "Give one another pressure or a flow.",
                )
            )
    return faults


def _lost_species(case: Case) -> list[Fault]:
    """Refuse sources and devices that name a species the case does not have."""
    known = case.field.species
    faults = []
    wet = [key for key, each in known.items() if each.nature == "vapour"]
    if len(wet) > 1:
        words = f"{' and '.join(wet)} are both water vapour."
        faults.append(Fault(f"field.species.{wet[1]}.nature", words, "Let one of them be carried along."))
    sections = ("field.sources", case.field.sources), ("field.devices", case.field.devices)
    for section, items in (*sections, ("readings", case.readings)):
        for key, item in items.items():
            for field_, rule in _rules(item).items():
                name = getattr(item, field_)
                if rule.of == "species" and name not in known and (name or field_ == "species"):
                    told = f"Species: {', '.join(known) or 'none yet'}."
                    path = f"{section}.{key}.{field_}"
                    faults.append(Fault(path, f"there is no species “{name}”.", told))
    return faults


def endless_faults(plan: Any, path: str) -> list[Fault]:
    """Refuse times that would take steps or states without end."""
    faults = []
    if plan.until / plan.step > MOST_STEPS:
        words = (
            f"from the start to the end there are {plan.until / plan.step:.2g} steps, and at most "
            f"{MOST_STEPS:.0e} can be done."
        )
        faults.append(Fault(f"{path}.step", words, "Lengthen the step, or end sooner."))
    every = getattr(plan, "every", None)
    if every is not None and plan.until / every > MOST_STATES:
        words = f"{plan.until / every:.2g} states would be kept, and at most {MOST_STATES:.0e} can be."
        faults.append(Fault(f"{path}.every", words, "Keep them less often."))
    if getattr(plan, "shows", "end") == "mean" and plan.mode != "steady" and plan.mean_from >= plan.until:
        words = "the mean over time begins when the solution has ended."
        faults.append(Fault(f"{path}.mean_from", words, "Let it begin earlier, or end later."))
    return faults


def _hairs(case: Case, shape: Plane | Surface) -> list[Fault]:
    """Refuse openings on rims that fluid cannot cross."""
    return [
        Fault(
            f"field.openings.{key}.edge",
            f"“{opening.edge}” is a rim no wider than a hair: fluid cannot cross it.",
            "Name the face beside it.",
        )
        for key, opening in case.field.openings.items()
        if is_hair(shape, opening.edge)
    ]


def _edges(case: Case, shape: Plane | Surface) -> list[Fault]:
    faults = []
    wet = shape.edge_lengths
    all_ = shape.all_edges
    used: dict[str, str] = {}
    warmed: dict[str, str] = {}
    sections = (
        ("field.openings", case.field.openings),
        ("field.walls", case.field.walls),
        ("field.warm", case.field.warm),
        ("field.finishes", case.field.finishes),
        ("readings", case.readings),
        ("field.grid.refine", case.field.grid.refine),
    )
    for section, items in sections:
        present = {} if section in FLUID_ONLY and shape.dry else wet if section in FLUID_ONLY else all_
        for key, item in items.items():
            path = f"{section}.{key}"
            for name, rule in _rules(item).items():
                value = getattr(item, name)
                if rule.of != "edge":
                    continue
                for edge in value if isinstance(value, tuple) else (value,):
                    if not _there(edge, present, shape if section == "readings" else None):
                        faults.append(
                            Fault(
                                f"{path}.{name}",
                                f"there is no edge “{edge}” on the boundary.",
                                nearest(edge, present),
                            )
                        )
                    elif section in ("field.openings", "field.walls"):
                        if edge in used:
                            faults.append(
                                Fault(
                                    f"{path}.{name}",
                                    f"two conditions on one edge: “{edge}” has {used[edge]} already.",
                                    "Put one of them elsewhere or remove it.",
                                )
                            )
                        used.setdefault(edge, path.rsplit(".", 1)[1])
                    elif section == "field.warm":
                        if edge in warmed or edge in {
                            opening.edge for opening in case.field.openings.values()
                        }:
                            other = f"has {warmed[edge]} already" if edge in warmed else "is an opening"
                            faults.append(
                                Fault(
                                    f"{path}.{name}",
                                    f"two conditions of heat on one edge: “{edge}” {other}.",
                                    "Put one of them elsewhere or remove it.",
                                )
                            )
                        warmed.setdefault(edge, key)
            if getattr(item, "edges", None) is not None and len(item.edges) < 2:
                faults.append(
                    Fault(f"{path}.edges", "at least two edges are needed to compare.", "Add an edge.")
                )
    return faults


def _there(edge: str, present: Mapping[str, float], shape: Plane | Surface | None) -> bool:
    """Whether there is an edge; of a ``shape``, a solid's own side of it may be named too."""
    plain, mark, region = edge.partition(BEHIND)
    if mark and shape is not None:
        return region in shape.solids and plain in shape.solids[region].edge_lengths
    return edge in present


def _moved_within(case: Case) -> bool:
    """Whether something moves the fluid without an opening: a wall, buoyancy, or a start that is not at
    rest.
    """
    walls = any(wall.kind in ("sliding", "turning") for wall in case.field.walls.values())
    start = case.field.start
    started = case.field.time.mode == "transient" and (
        bool(start.solution) or any(text.strip() not in ("0", "0 m/s") for text in (start.u, start.v))
    )
    return walls or case.field.physics.buoyancy != "none" or started or _blown(case)


def _blown(case: Case) -> bool:
    """Whether a device or a source in the fluid can move it."""
    kinds: Any = discover("mop_lantern.field.devices", DeviceKind)
    sources: Any = discover("mop_lantern.field.sources", SourceKind)
    return any(kinds[device.kind].drives for device in case.field.devices.values()) or any(
        sources[source.kind].pushes for source in case.field.sources.values()
    )


def _rules(item: Record) -> dict[str, Declared]:
    return declared(type(item))
