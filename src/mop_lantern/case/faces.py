"""The faces of a case by name: listed, renamed with all that refers to them, taken together."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.case.fresh import fresh_key
from mop_lantern.errors import CaseError, Fault, nearest
from mop_lantern.shape import Surface
from mop_lantern.shape.alike import chosen

GOOD = re.compile(r"[^\s.,“”\"']+")


def rename_edits(case: Case, name: str, new: str) -> dict[str, Any]:
    """Give the edits that give a face of a model another name, wherever it is named.

    Parameters
    ----------
    name : "part.face". new : the face's own name, without its part.

    Raises
    ------
    CaseError : the part is no model or has no such face; the new name is taken or cannot be one.
    """
    key, _, face = name.partition(".")
    part: Any = case.shape.solids.get(key)
    new = new.removeprefix(f"{key}.")
    path = f"shape.solids.{key}.names"
    if part is None or part.kind != "model":
        models = [f"{k}" for k, each in case.shape.solids.items() if each.kind == "model"]
        says = f"“{key}” is not a model, and only faces of models have names of their own."
        remedy = (
            f"Models: {', '.join(models)}." if models else "Take its faces together under a name instead."
        )
        raise CaseError([Fault(f"shape.solids.{key}", says, remedy)])
    names = list(part.names)
    if face not in names:
        raise CaseError([Fault(path, f"there is no face “{face}”.", nearest(face, names))])
    if new == face:
        return {}
    if new in names or not GOOD.fullmatch(new):
        says = "is taken" if new in names else "cannot be a name: it has blanks, dots, commas or quotes"
        raise CaseError([Fault(path, f"“{new}” {says}.", "Choose another name.")])
    names[names.index(face)] = new
    return {path: names} | renamed_edits(case, {name: f"{key}.{new}"})


def renamed_edits(case: Case, new: Mapping[str, str]) -> dict[str, Any]:
    """Give the edits that put new names of faces, by their former ones, wherever they are named."""
    edits: dict[str, Any] = {}
    _named(case.as_data(), "", new, edits)
    return edits


def _named(data: Any, path: str, new: Mapping[str, str], edits: dict[str, Any]) -> None:
    """Add an edit for every value that is a name; those of one list or variant as a whole."""
    if isinstance(data, dict):
        for key, value in data.items():
            if path == "variants" and isinstance(value, dict):
                changed = {p: _put(v, new) for p, v in value.get("edits", {}).items()}
                if changed != value.get("edits", {}):
                    edits[f"variants.{key}.edits"] = changed
            else:
                _named(value, f"{path}.{key}" if path else key, new, edits)
    elif isinstance(data, str | list) and _put(data, new) != data:
        edits[path] = _put(data, new)


def _put(value: Any, new: Mapping[str, str]) -> Any:
    if isinstance(value, list):
        return [_put(each, new) for each in value]
    if isinstance(value, dict):
        return {key: _put(each, new) for key, each in value.items()}
    return new.get(value, value) if isinstance(value, str) else value


def together_edits(case: Case, surface: Surface, rule: str, key: str = "") -> dict[str, Any]:
    """Give the edits that take the faces a rule names together as one.

    Raises
    ------
    CaseError : the rule names none.
    """
    try:
        names = chosen(surface, rule)
    except ValueError as problem:
        raise CaseError([Fault("shape.solids", str(problem).rstrip("."), "Change the rule.")]) from None
    if not names:
        known = list(surface.edge_lengths)
        raise CaseError([Fault("shape.solids", f"no face fits “{rule}”.", nearest(rule.strip("*"), known))])
    key = key or fresh_key(case, "shape.solids", "faces")
    return {f"shape.solids.{key}": {"kind": "together", "faces": names}}
