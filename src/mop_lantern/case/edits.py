"""Edits: ``path = value``, the one language of change. Sheet, undo, variants, sweeps and the command line all
use it.
"""

from __future__ import annotations

import copy
import json
import re
from collections.abc import Mapping
from typing import Any

from mop_lantern.case.document import Case, parse_case
from mop_lantern.case.migrations import present_path
from mop_lantern.case.sections import SECTIONS
from mop_lantern.errors import CaseError, EditError, Fault

_ADDABLE = frozenset(section.path for section in SECTIONS if section.many)
_CHAIN = re.compile(r"network\.lines\.[^.]+\.parts")


def apply(case: Case, edits: Mapping[str, Any]) -> Case:
    """Give a new case with edits applied in order; a value of None removes an item, an object adds or
    replaces one.

    Raises
    ------
    EditError : a path does not exist or a value has the wrong form; nothing is applied.
    """
    data = case.as_data()
    faults = []
    for path, value in edits.items():
        fault = _put(data, path, copy.deepcopy(value))
        if fault:
            faults.append(fault)
    if faults:
        raise EditError(faults)
    try:
        return parse_case(data)
    except CaseError as problem:
        raise EditError(problem.faults) from None


def _put(data: dict[str, Any], path: str, value: Any) -> Fault | None:
    if present_path(path) != path:
        return Fault(path, "this place has another name now.", f"Write {present_path(path)}.")
    steps = path.split(".")
    here: Any = data
    for depth, step in enumerate(steps[:-1]):
        if isinstance(here, list) and step.isdigit() and int(step) < len(here):
            here = here[int(step)]
        elif isinstance(here, dict) and step in here:
            here = here[step]
        elif isinstance(here, dict) and depth and steps[0] == "views" and value is not None:
            here[step] = {}  # how things are drawn is kept where somebody changed it
            here = here[step]
        else:
            known = ", ".join(here) if isinstance(here, dict) and len(here) <= 30 else ""
            return Fault(
                path,
                f"“{'.'.join(steps[: depth + 1])}” does not exist.",
                f"Here are: {known}." if known else "",
            )
    last = steps[-1]
    if isinstance(here, list) and last.isdigit() and int(last) < len(here):
        here[int(last)] = value
        return None
    if not isinstance(here, dict):
        return Fault(path, "there is nothing to change here.", "Check the path.")
    parent = ".".join(steps[:-1])
    free = (
        parent in _ADDABLE
        or bool(_CHAIN.fullmatch(parent))
        or parent.startswith(("views", "variants."))
        or parent.endswith(".carries")
    )
    if last not in here and not free:
        return Fault(path, f"there is no “{last}” here.", f"Here are: {', '.join(here)}.")
    if value is None and free:
        here.pop(last, None)
    else:
        here[last] = value
    return None


def merged(edits: Mapping[str, Any], more: Mapping[str, Any]) -> dict[str, Any]:
    """Give edits and what is to be done after them as one step: what changes an item that is added goes into
    it.
    """
    found = copy.deepcopy(dict(edits))
    for path, value in more.items():
        item, _, name = path.rpartition(".")
        if isinstance(found.get(item), dict):
            found[item][name] = value
        else:
            found[path] = value
    return found


def value_at(case: Case, path: str) -> Any:
    """Give what stands at a path, or None."""
    here: Any = case.as_data()
    for step in path.split("."):
        if isinstance(here, dict) and step in here:
            here = here[step]
        elif isinstance(here, list) and step.isdigit() and int(step) < len(here):
            here = here[int(step)]
        else:
            return None
    return here


def with_variant(case: Case, variant: str | None) -> Case:
    """Give the case with a variant's edits applied; None or "" is the case as drawn.

    Raises
    ------
    EditError : the variant does not exist, or one of its edits no longer fits.
    """
    if not variant:
        return case
    if variant not in case.variants:
        names = ", ".join(case.variants) or "none"
        raise EditError([Fault(f"variants.{variant}", "there is no such variant.", f"Variants: {names}.")])
    return apply(case, case.variants[variant].edits)


def parse_value(text: str) -> Any:
    """Read the value of ``path=value`` from a command line: an object, a list, null or true as JSON, anything
    else as text.
    """
    stripped = text.strip()
    if stripped[:1] in "{[" or stripped in ("null", "true", "false"):
        try:
            return json.loads(stripped)
        except ValueError:
            return text
    if len(stripped) > 1 and stripped[0] == stripped[-1] == '"':
        return stripped[1:-1]
    return stripped
