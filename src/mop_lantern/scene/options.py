"""What a case keeps of pictures under its views: options of layers, scales of quantities; as numbers."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from pydantic import ValidationError

from mop_lantern.case import Case, Resolver
from mop_lantern.declare import Numbers, Record, discover
from mop_lantern.errors import Fault
from mop_lantern.scene.layer import Layer

LAYERS = "views.layers"
PACKAGE = "mop_lantern.scene.layers"


def layer_options(case: Case | None) -> tuple[dict[str, Numbers], list[Fault]]:
    """Give the options of every layer by name; where a value cannot be, that of the layer is taken, and a
    fault tells.
    """
    return options_at(case, LAYERS, discover(PACKAGE, Layer))


def options_at(
    case: Case | None,
    place: str,
    kinds: Mapping[str, type[Record]],
) -> tuple[dict[str, Numbers], list[Fault]]:
    """Give what a case keeps at a place of its views for every one of ``kinds`` by name, as `layer_options`
    does of layers.
    """
    found: dict[str, Numbers] = {}
    faults: list[Fault] = []
    for name, kind in kinds.items():
        found[name], wrong = _numbers(case or Case(), f"{place}.{name}", kind, kept_at(case, place, name))
        faults += wrong
    return found, faults


def kept_at(case: Case | None, place: str, name: str) -> Any:
    """Give what a case keeps at a place of its views under a name, as it stands there; None for nothing."""
    kept = case.views.get(place.rpartition(".")[2]) if case is not None else None
    return kept.get(name) if isinstance(kept, dict) else None


def record_at(
    case: Case | None,
    place: str,
    name: str,
    kind: type[Record],
) -> Record:
    """Give a record with the values the case keeps of it, as they were typed."""
    given = kept_at(case, place, name)
    known = given if isinstance(given, dict) else {}
    known = {key: value for key, value in known.items() if key in kind.model_fields}
    try:
        return kind.model_validate(known)
    except ValidationError:
        return kind()


def _numbers(
    case: Case,
    place: str,
    kind: type[Record],
    given: Any,
) -> tuple[Numbers, list[Fault]]:
    plain = Resolver(case).record(kind(), place)
    if not isinstance(given, dict):
        return plain, []
    faults: list[Fault] = []
    for key, value in given.items():
        try:
            record = kind.model_validate({key: value})
        except ValidationError:
            faults.append(
                Fault(
                    f"{place}.{key}",
                    "there is no such option here, or not with this value.",
                    "Remove it.",
                )
            )
            continue
        resolver = Resolver(case)
        numbers = resolver.record(record, place)
        if resolver.faults:
            faults += resolver.faults
        else:
            setattr(plain, key, getattr(numbers, key))
    return plain, faults
