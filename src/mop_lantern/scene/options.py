"""Options of layers: what a case keeps of them under its views, as numbers."""

from __future__ import annotations

from typing import Any

from pydantic import ValidationError

from mop_lantern.case import Case, Resolver
from mop_lantern.declare import Numbers, discover
from mop_lantern.errors import Fault
from mop_lantern.scene.layer import Layer

PLACE = "views.layers"
PACKAGE = "mop_lantern.scene.layers"


def layer_options(case: Case | None) -> tuple[dict[str, Numbers], list[Fault]]:
    """Give the options of every layer by name; where a value cannot be, that of the layer is taken, and a
    fault tells.
    """
    kept = case.views.get("layers") if case is not None else None
    found: dict[str, Numbers] = {}
    faults: list[Fault] = []
    for name, kind in discover(PACKAGE, Layer).items():
        given = kept.get(name) if isinstance(kept, dict) else None
        found[name], wrong = _numbers(case or Case(), name, kind, given)
        faults += wrong
    return found, faults


def record_of(case: Case | None, name: str) -> Layer:
    """Give a layer with the values the case keeps of it, as they were typed."""
    kind = discover(PACKAGE, Layer)[name]
    kept = case.views.get("layers") if case is not None else None
    given = kept.get(name) if isinstance(kept, dict) else None
    known = {key: value for key, value in (given or {}).items() if key in kind.model_fields}
    try:
        return kind.model_validate({**known, "kind": name})
    except ValidationError:
        return kind.model_validate({"kind": name})


def _numbers(
    case: Case,
    name: str,
    kind: type[Layer],
    given: Any,
) -> tuple[Numbers, list[Fault]]:
    plain = Resolver(case).record(kind.model_validate({"kind": name}), f"{PLACE}.{name}")
    if not isinstance(given, dict):
        return plain, []
    faults: list[Fault] = []
    for key, value in given.items():
        path = f"{PLACE}.{name}.{key}"
        try:
            record = kind.model_validate({"kind": name, key: value})
        except ValidationError:
            faults.append(
                Fault(path, "there is no such option of this layer, or not with this value.", "Remove it.")
            )
            continue
        resolver = Resolver(case)
        numbers = resolver.record(record, f"{PLACE}.{name}")
        if resolver.faults:
            faults += resolver.faults
        else:
            setattr(plain, key, getattr(numbers, key))
    return plain, faults
