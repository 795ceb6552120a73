"""Older case documents brought up to the present form, one step a version."""

from __future__ import annotations

import copy
import re
from collections.abc import Callable
from typing import Any

FORMER_PATHS = {
    "network.runs": "network.lines",
    "field.run": "field.solver",
    "field.start.run": "field.start.solution",
}
"""Places that had another name before version 3."""
_FORMER_SOLIDS = {"run": "passage", "lid": "cap", "hollow": "internal_volume"}
_FREE = ("title", "notes")  # what people write is left as it is


def _to_2(data: dict[str, Any]) -> None:
    """Version 1 kept "steady" among the physics; time has a section of its own since."""
    physics = data.get("field", {}).get("physics") if isinstance(data.get("field"), dict) else None
    if isinstance(physics, dict):
        physics.pop("time", None)
    for edits in _edits(data):
        edits.pop("field.physics.time", None)


def _to_3(data: dict[str, Any]) -> None:
    """Version 2 called three things a run: a passage of a space, a line of a network, settings of the solver;
    and a cap was a lid.
    """
    for path in FORMER_PATHS:
        above, _, name = path.rpartition(".")
        here = _at(data, above)
        if here is not None and name in here:
            here[present_path(path).rpartition(".")[2]] = here.pop(name)
    lids = [key for key, item in _named(_at(data, "shape.solids")) if item.get("kind") == "lid"]
    values = [key for key, item in _named(data.get("readings")) if item.get("kind") == "run_value"]
    for path in ("shape.solids", "readings"):
        for key, item in _named(_at(data, path)):
            _present_item(f"{path}.{key}", item)
    for edits in _edits(data):
        for path, value in list(edits.items()):
            lids += (
                [path.rpartition(".")[2]] if isinstance(value, dict) and value.get("kind") == "lid" else []
            )
            del edits[path]
            edits[_present_reading(present_path(path), values)] = _present_item(path, value)
    for key, work in _named(_at(data, "network.operations")):
        _present_item(f"network.operations.{key}", work)
    if lids:
        side = re.compile(rf"\b({'|'.join(map(re.escape, lids))})\.lid(\d*)\b")
        for key, value in data.items():
            data[key] = value if key in _FREE else _with_caps(value, side)


def _present_reading(path: str, values: list[str]) -> str:
    """Give the present path of an edit of a reading that names a line of the network."""
    steps = path.split(".")
    named = len(steps) == 3 and steps[0] == "readings" and steps[1] in values and steps[2] == "run"
    return f"readings.{steps[1]}.line" if named else path


def _present_item(path: str, item: Any) -> Any:
    """Give a solid part, a reading or an operation in its present form, changed in place; anything else as
    it is.
    """
    if path.startswith("network.operations.") and path.endswith(".path") and isinstance(item, str):
        return present_path(item)
    if not isinstance(item, dict):
        return item
    if path.startswith("network.operations.") and isinstance(item.get("path"), str):
        item["path"] = present_path(item["path"])
    elif path.startswith("shape.solids."):
        item["kind"] = _FORMER_SOLIDS.get(item.get("kind", ""), item.get("kind"))
    elif path.startswith("readings.") and item.get("kind") == "run_value":
        item["kind"] = "line_value"
        if "run" in item:
            item["line"] = item.pop("run")
    return item


def _with_caps(value: Any, side: re.Pattern[str]) -> Any:
    """Give data in which the sides of caps have their present names."""
    if isinstance(value, str):
        return side.sub(r"\1.cap\2", value)
    if isinstance(value, list):
        return [_with_caps(item, side) for item in value]
    if isinstance(value, dict):
        return {key: item if key in _FREE else _with_caps(item, side) for key, item in value.items()}
    return value


_STEPS: dict[int, Callable[[dict[str, Any]], None]] = {1: _to_2, 2: _to_3}


def present_path(path: str) -> str:
    """Give the present name of a path."""
    for former, present in FORMER_PATHS.items():
        if path == former or path.startswith(f"{former}."):
            return present + path[len(former) :]
    return path


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


def _at(data: dict[str, Any], path: str) -> dict[str, Any] | None:
    """Give the object at a path, or None."""
    here: Any = data
    for step in path.split("."):
        here = here.get(step) if isinstance(here, dict) else None
    return here if isinstance(here, dict) else None


def _named(value: Any) -> list[tuple[str, dict[str, Any]]]:
    return (
        [(key, item) for key, item in value.items() if isinstance(item, dict)]
        if isinstance(value, dict)
        else []
    )


def _edits(data: dict[str, Any]) -> list[dict[str, Any]]:
    """Give the edits of all variants."""
    found = [variant.get("edits") for _, variant in _named(data.get("variants"))]
    return [edits for edits in found if isinstance(edits, dict)]
