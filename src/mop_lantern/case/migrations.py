"""Older case documents brought up to the present form, one step a version."""

from __future__ import annotations

import copy
from collections.abc import Callable
from typing import Any


def _to_2(data: dict[str, Any]) -> None:
    """Version 1 kept "steady" among the physics; time has a section of its own since."""
    physics = data.get("field", {}).get("physics") if isinstance(data.get("field"), dict) else None
    if isinstance(physics, dict):
        physics.pop("time", None)
    for variant in _items(data.get("variants")):
        edits = variant.get("edits")
        if isinstance(edits, dict):
            edits.pop("field.physics.time", None)


_STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: _to_2}


def migrated(data: dict[str, Any]) -> dict[str, Any]:
    """Give a document in the present form; the given one is left as it is.

    A document without a version is taken as the present one.
    """
    version = data.get("schema")
    if not isinstance(version, int) or isinstance(version, bool) or version not in _STEPS:
        return data
    data = copy.deepcopy(data)
    while data["schema"] in _STEPS:
        _STEPS[data["schema"]](data)
        data["schema"] += 1
    return data


def _items(value: Any) -> list[dict[str, Any]]:
    return [item for item in value.values() if isinstance(item, dict)] if isinstance(value, dict) else []
