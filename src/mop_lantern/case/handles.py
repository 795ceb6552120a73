"""Handles: places on the shape that move with a dimension, so that dragging them edits it.

No part kind says where its handles are: a dimension is changed a little, the shape is built again, and the
edge that moves most carries the handle. So every kind has handles, new ones too.
"""

from __future__ import annotations

from dataclasses import dataclass
from functools import partial
from typing import Any

import numpy as np
from numpy.typing import NDArray

from mop_lantern.case.document import Case
from mop_lantern.case.edits import apply, value_at
from mop_lantern.case.fresh_place import PLACED
from mop_lantern.case.resolve import Resolver, resolve
from mop_lantern.case.space_handles import corners_of, nudged, steepest
from mop_lantern.declare import Record, declared
from mop_lantern.errors import LanternError
from mop_lantern.shape import Plane, build
from mop_lantern.units import DIMENSIONS, UnitFault, convert, evaluate, show_number
from mop_lantern.units.expression import unit_typed

Floats = NDArray[np.float64]
NUDGE = 2e-3  # of the shape's size: large beside rounding, small beside any dimension
SLOWEST = 0.2  # m a m: a dimension that moves nothing faster has no handle


@dataclass(frozen=True)
class Handle:
    """A place that can be dragged.

    Attributes
    ----------
    path : what is edited, a quantity or a place. at : (2,) m, in a space (3,). pull : as long, m a SI unit of
    the value; None for a free place.
    value : SI value now. unit : as typed. dimension, label : of the value. base : SI values of a free place
    now, where they are not ``at``.
    """

    path: str
    at: Floats
    pull: Floats | None
    value: float
    unit: str
    dimension: str
    label: str
    base: Floats | None = None

    def edit(self, place: Floats, fineness: float) -> dict[str, Any]:
        """Give the edit that brings the handle to a place (m), rounded to ``fineness`` (m)."""
        if self.pull is None:
            values = place if self.base is None else self.base + np.asarray(place) - self.at
            return {self.path: [typed_text(float(x), "length", self.unit, fineness) for x in values]}
        strength = float(self.pull @ self.pull)
        value = self.value + float((np.asarray(place) - self.at) @ self.pull) / strength
        return {self.path: typed_text(value, self.dimension, self.unit, fineness / np.sqrt(strength))}


def typed_text(
    value: float,
    dimension: str,
    unit: str,
    fineness: float,
) -> str:
    """Write an SI value in a unit, rounded to the power of ten at or below a fineness (SI)."""
    shown = convert(value, dimension, unit)
    step = abs(convert(fineness, dimension, unit)) or 1e-12
    step = 10.0 ** np.floor(np.log10(step))
    return f"{show_number(round(shown / step) * step, 7).replace('−', '-')} {unit}".strip()


def handles(case: Case, part: str) -> list[Handle]:
    """Give the handles of a part of a case (its variant applied); none while the shape cannot be built."""
    if case.shape.space == "space":
        return _in_space(case, part)
    if part not in case.shape.parts:
        return []
    before = _plane(case)
    if before is None:
        return []
    found: list[Handle] = []
    record: Record = case.shape.parts[part]
    for name, rule in declared(type(record)).items():
        path = f"shape.parts.{part}.{name}"
        value = getattr(record, name)
        if rule.form == "point":
            found += _place(case, path, value, rule.label)
        elif rule.form == "points":
            for number, pair in enumerate(value):
                found += _place(case, f"{path}.{number}", pair, f"corner {number + 1}")
        elif rule.form == "quantity" and rule.dimension in ("length", "angle"):
            taken = [handle.at for handle in found]
            made = _dimension(
                case,
                part,
                before,
                path,
                str(value),
                rule.dimension,
                rule.label,
                taken,
            )
            found += [handle for handle in made if handle.path not in {other.path for other in found}]
    return found


def _plane(case: Case) -> Plane | None:
    numbers, faults = resolve(case)
    if any(fault.path.startswith(("shape", "parameters")) for fault in faults):
        return None
    try:
        made = build(numbers.shape)
        return made if isinstance(made, Plane) else None
    except LanternError:
        return None


def _turned(case: Case, place: Floats) -> Floats:
    """Turn a place with the shape."""
    turn = evaluate(case.shape.turn, "angle", Resolver(case).names)
    cos = np.cos(turn)
    sin = np.sin(turn)
    return np.array([cos * place[0] - sin * place[1], sin * place[0] + cos * place[1]])


def _place(
    case: Case,
    path: str,
    pair: Any,
    label: str,
) -> list[Handle]:
    if any(str(text).strip().startswith("=") for text in pair) or case.shape.turn.strip() not in (
        "0",
        "0 deg",
        "0 rad",
    ):
        return []
    names = Resolver(case).names
    try:
        at = np.array([evaluate(str(text), "length", names) for text in pair])
        unit = unit_typed(str(pair[0]))
    except UnitFault:
        return []
    return [
        Handle(
            path,
            at if len(at) == 3 else _turned(case, at),
            None,
            0.0,
            unit,
            "length",
            label,
        )
    ]


def placed_handles(case: Case, item: str) -> list[Handle]:
    """Give the handles of what stands somewhere without being a part: the points of a reading, a device, a
    source or a place of finer cells. ``item`` : its path, or that of one of its values; none for anything
    else.
    """
    section = next((each for each in PLACED if item.startswith(f"{each}.")), "")
    key = item.removeprefix(f"{section}.").split(".")[0]
    record: Record | None = _items(case, section).get(key) if section else None
    if record is None:
        return []
    if getattr(record, "extent", "box") != "box":  # the corners of a reading of the whole have no effect
        return []
    made = []
    for name, rule in declared(type(record)).items():
        place = getattr(record, name)
        if rule.form == "point" and len(place) == (3 if case.shape.space == "space" else 2):
            made += _place(case, f"{section}.{key}.{name}", place, f"{key}: {rule.label}")
    return made


def _items(case: Case, section: str) -> dict[str, Any]:
    here: Any = case
    for step in section.split("."):
        here = getattr(here, step)
    return dict(here)


def _typed(
    case: Case,
    path: str,
    text: str,
    dimension: str,
    label: str,
) -> tuple[str, float, str, str] | None:
    """Give path, SI value, unit and label of what is typed for a dimension: itself or the parameter it is set
    to; None for an expression.
    """
    if text.strip().startswith("="):
        name = text.strip()[1:].strip()
        if name not in case.parameters or case.parameters[name].value.strip().startswith("="):
            return None  # an expression cannot be turned round
        path = f"parameters.{name}.value"
        text = str(value_at(case, path))
        label = f"{label} ({name})"
    try:
        return path, evaluate(text, dimension, {}), unit_typed(text), label
    except UnitFault:
        return None


def _dimension(
    case: Case,
    part: str,
    before: Plane,
    path: str,
    text: str,
    dimension: str,
    label: str,
    taken: list[Floats],
) -> list[Handle]:
    typed = _typed(
        case,
        path,
        text,
        dimension,
        label,
    )
    if typed is None:
        return []
    path, value, unit, label = typed
    nudge = NUDGE * (before.size if dimension == "length" else 1.0)
    for sign in (1.0, -1.0):
        after = _nudged(case, path, value + sign * nudge, dimension)
        if after is not None:
            moved = _fastest(
                part,
                before,
                after,
                sign * nudge,
                taken,
            )
            return (
                [
                    Handle(
                        path,
                        moved[0],
                        moved[1],
                        value,
                        unit,
                        dimension,
                        label,
                    )
                ]
                if moved
                else []
            )
    return []


def _in_space(case: Case, part: str) -> list[Handle]:
    """Give the handles of a part of a space."""
    before = corners_of(case, part) if part in case.shape.solids else None
    if before is None:
        return []
    size = float(np.linalg.norm(np.ptp(before, axis=0))) or 1.0
    record: Record = case.shape.solids[part]
    found: list[Handle] = []
    for name, rule in declared(type(record)).items():
        path = f"shape.solids.{part}.{name}"
        value = getattr(record, name)
        taken = [handle.at for handle in found]
        if rule.form in ("point", "points"):
            for number, place in enumerate([value] if rule.form == "point" else value):
                where, label = (
                    (path, rule.label)
                    if rule.form == "point"
                    else (f"{path}.{number}", f"{rule.label} {number + 1}")
                )
                found += _free(
                    case,
                    part,
                    before,
                    where,
                    place,
                    label,
                    NUDGE * size,
                )
        elif rule.form == "quantity" and rule.dimension in ("length", "angle", "number"):
            typed = _typed(
                case,
                path,
                str(value),
                rule.dimension,
                rule.label,
            )
            if typed is None or typed[0] in {handle.path for handle in found}:
                continue
            moved = nudged(
                case,
                part,
                partial(
                    _stepped,
                    case,
                    typed[0],
                    typed[1],
                    rule.dimension,
                ),
                NUDGE * (size if rule.dimension == "length" else 1.0),
                before,
            )
            held = steepest(before, *moved, taken, rule.dimension != "length") if moved else None
            if held is not None:
                found.append(
                    Handle(
                        typed[0],
                        held[0],
                        held[1],
                        typed[1],
                        typed[2],
                        rule.dimension,
                        typed[3],
                    )
                )
    return found


def _stepped(
    case: Case,
    path: str,
    value: float,
    dimension: str,
    step: float,
) -> Case:
    return apply(case, {path: f"{value + step!r} {DIMENSIONS[dimension].si}".strip()})


def _free(
    case: Case,
    part: str,
    before: Floats,
    path: str,
    place: Any,
    label: str,
    nudge: float,
) -> list[Handle]:
    """Give the handle of a place of a part of a space: it stands at the corner that follows it most."""
    names = Resolver(case).names
    try:
        base = np.array([evaluate(str(text), "length", names) for text in place])
        unit = unit_typed(str(place[0]))
    except UnitFault:
        return []
    if len(base) != 3 or any(str(text).strip().startswith("=") for text in place):
        return []
    moved = nudged(
        case,
        part,
        lambda step: apply(case, {path: [f"{float(base[0]) + step!r} m", *map(str, place[1:])]}),
        nudge,
        before,
    )
    held = steepest(before, *moved, [], False) if moved else None
    return (
        [
            Handle(
                path,
                held[0],
                None,
                0.0,
                unit if unit != "" else "mm",
                "length",
                label,
                base,
            )
        ]
        if held
        else []
    )


def _nudged(
    case: Case,
    path: str,
    value: float,
    dimension: str,
) -> Plane | None:
    try:
        return _plane(apply(case, {path: f"{value!r} {DIMENSIONS[dimension].si}"}))
    except LanternError:
        return None


def _fastest(
    part: str,
    before: Plane,
    after: Plane,
    nudge: float,
    taken: list[Floats],
) -> tuple[Floats, Floats] | None:
    """Find the edge of the part whose middle moves most, rather a free one: its middle and how fast it
    moves.
    """
    moved: list[tuple[float, Floats, Floats]] = []
    for name in before.edge_lengths:
        if name.split(".")[0] == part and name in after.edge_lengths:
            start = before.edge_middle(name)[0]
            pull = (after.edge_middle(name)[0] - start) / nudge
            held = any(np.hypot(*(start - other)) < 1e-3 * before.size for other in taken)
            moved.append((float(np.hypot(*pull)) * (0.3 if held else 1.0), start, pull))
    best = max(
        moved, key=lambda item: round(item[0], 3), default=None
    )  # of equals the first: a handle must not jump while dragged
    return (best[1], best[2]) if best is not None and np.hypot(*best[2]) > SLOWEST else None
