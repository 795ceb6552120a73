"""Networks from lines of words: ``From tank Sump through pump P1, 12 m of DN50 steel, valve V1 at 40 % to
Header``.

One line of the network a line. What stands between *from*, *through* and *to*, parted by commas, is one
component each: a
length of pipe or duct, a number of bends, or a kind of component with a name, and then any of its values by
their names.
"""

from __future__ import annotations

import re
from typing import Any

from mop_lantern.case.document import Case
from mop_lantern.declare import declared, discover
from mop_lantern.errors import EditError, Fault
from mop_lantern.laws.sections import ROUGHNESS
from mop_lantern.network.component import Component

LONGEST = 2000  # letters of a line
_LINE = re.compile(
    r"^(?:(?P<name>[A-Za-z][\w-]*)\s*:\s*)?from\s+(?P<start>.+?)\s+through\s+(?P<parts>.+)\s+to\s+(?P<end>[A-Za-z][\w-]*(?:\s+[A-Za-z][\w-]*)?)\s*\.?$",
    re.I,
)
_PIPE = re.compile(
    r"^(?P<length>[\d.,]+\s*[a-z]+)\s+of\s+(?:(?P<size>DN\s*\d+)|(?P<bore>[\d.]+\s*[a-z]+)(?:\s*x\s*(?P<height>[\d.]+\s*[a-z]+))?)\s*(?P<words>.*)$",
    re.I,
)
_COUNTED = re.compile(r"^(?:(?P<count>\d+)\s+)?(?P<kind>bends?|mitres?|elbows?)\b(?P<rest>.*)$", re.I)
_LOSS = re.compile(r"^K\s*=?\s*(?P<k>[\d.]+)$", re.I)
_ID = re.compile(r"^[A-Za-z][\w-]*$")
_KINDS = {
    "pump": "pump",
    "displacement pump": "gear_pump",
    "gear pump": "gear_pump",
    "motor": "motor",
    "fan": "fan",
    "blower": "fan",
    "valve": "valve",
    "gate valve": "valve",
    "globe valve": "valve",
    "ball valve": "valve",
    "butterfly valve": "valve",
    "needle valve": "valve",
    "check valve": "check",
    "relief valve": "relief",
    "pressure-reducing valve": "reducing",
    "flow-limiting valve": "flow_limit",
    "flow-control valve": "flow_limit",
    "three-way valve": "diverter",
    "damper": "damper",
    "grille": "grille",
    "diffuser": "grille",
    "filter": "filter",
    "strainer": "filter",
    "screen": "filter",
    "orifice": "orifice",
    "heater": "heater",
    "cooler": "cooler",
    "exchanger": "exchanger",
    "given flow": "given_flow",
    "entry": "entry",
    "exit": "exit",
    "reducer": "reducer",
    "loss": "loss",
    "thermostatic valve": "thermostat",
    "casing": "casing",
}
_AT = {
    "valve": "opening",
    "damper": "opening",
    "pump": "speed",
    "fan": "speed",
    "gear_pump": "speed",
    "diverter": "position",
    "relief": "set",
    "reducing": "set",
    "flow_limit": "limit",
    "filter": "dirt",
    "orifice": "hole",
    "casing": "surface",
}
_WITH_CURVES = ("pump", "fan")
_AIRY = ("duct", "flexible", "fan", "grille", "damper")
_ALSO = {"pvc": "smooth", "pe": "smooth", "hdpe": "smooth", "copper": "smooth", "stainless steel": "steel"}
_NODES = {
    "reservoir": "reservoir",
    "sea": "reservoir",
    "tank": "tank",
    "junction": "junction",
    "room": "room",
}


def lines_of(text: str, case: Case) -> dict[str, Any]:
    """Turn lines of words into edits that add nodes and lines to a case.

    Raises
    ------
    EditError : lines that are not understood, each told with its number.
    """
    edits: dict[str, Any] = {}
    faults: list[Fault] = []
    nodes = set(case.network.nodes)
    lines = set(case.network.lines)
    for number, row in enumerate(text.splitlines(), 1):
        words = " ".join(row.split())
        if not words or words.startswith("#"):
            continue
        if len(words) > LONGEST:
            faults.append(
                Fault(
                    f"line {number}",
                    f"the line has {len(words)} letters; {LONGEST} are the most.",
                    "Write one line of the network at a time.",
                )
            )
            continue
        found = _LINE.match(words)
        if not found:
            faults.append(
                Fault(
                    f"line {number}",
                    _why(words),
                    "Write it like: From tank Sump through pump P1, 12 m of DN50 steel to Header.",
                )
            )
            continue
        try:
            ends = [_node(found[which], edits, nodes) for which in ("start", "end")]
            parts = _parts(found["parts"])
        except ValueError as problem:
            faults.append(Fault(f"line {number}", *problem.args))
            continue
        key = found["name"] or _free("line", lines)
        if key in lines:
            faults.append(
                Fault(
                    f"line {number}",
                    f"there is a line “{key}” already.",
                    "Give this one another name, or none.",
                )
            )
            continue
        lines.add(key)
        edits[f"network.lines.{key}"] = {
            "start": ends[0],
            "end": ends[1],
            "parts": parts,
        }
        if any(part["kind"] in _AIRY for part in parts.values()):
            edits[f"network.lines.{key}"]["fluid"] = _air(case, edits)
    if faults:
        raise EditError(faults)
    return edits


def _why(words: str) -> str:
    """Say which of the words a line needs is missing."""
    lower = f" {words.lower().replace(':', ' ')} "
    for word in ("from", "through", "to"):
        if f" {word} " not in lower:
            return f"“{words}” is not a line: the word “{word}” is missing."
    return (
        f"“{words}” is not a line: something is missing before, between or after “from”, “through” and “to”."
    )


def _air(case: Case, edits: dict[str, Any]) -> str:
    """Give the medium of lines of ducts: the case's air, or one that is added."""
    found = [key for key, medium in case.media.items() if medium.kind in ("air", "moist_air")]
    if found:
        return found[0]
    key = "air" if "air" not in case.media else _free("air", set(case.media))
    edits[f"media.{key}"] = {"kind": "air"}
    return key


def _free(stem: str, taken: set[str]) -> str:
    number = 1
    while f"{stem}{number}" in taken:
        number += 1
    return f"{stem}{number}"


def _node(words: str, edits: dict[str, Any], nodes: set[str]) -> str:
    """Give a node's name, adding the node when there is none: ``tank Sump`` says its kind, else it is a
    junction.
    """
    kind, _, name = words.strip().rpartition(" ")
    if not _ID.match(name) or (kind and kind.lower() not in _NODES):
        raise ValueError(
            f"“{words}” is not a node.", "Give one word, or its kind and its name, as tank Sump."
        )
    if name not in nodes:
        nodes.add(name)
        edits[f"network.nodes.{name}"] = {"kind": _NODES.get(kind.lower(), "junction")}
    return name


def _parts(text: str) -> dict[str, Any]:
    made: dict[str, Any] = {}
    for words in (part.strip() for part in text.split(",")):
        name, item = _component(words)
        key = name or _free(item["kind"], set(made))
        if key in made:
            raise ValueError(f"“{key}” occurs twice in one line.", "Give one of them another name.")
        made[key] = item
    return made


def _component(words: str) -> tuple[str, dict[str, Any]]:
    """Read one component: its name, or an empty one, and its data."""
    pipe = _PIPE.match(words)
    if pipe:
        return "", _passage(pipe)
    loss = _LOSS.match(words)
    if loss:
        return "", {"kind": "loss", "k": loss["k"]}
    counted = _COUNTED.match(words)
    if counted:
        kind = "mitre" if counted["kind"].lower().startswith("mitre") else "bend"
        item: dict[str, Any] = {"kind": kind} | (
            {"count": counted["count"]} if counted["count"] and kind == "bend" else {}
        )
        return "", item | _values(kind, counted["rest"].strip(), "angle")
    lower = words.lower()
    for known in sorted(_KINDS, key=len, reverse=True):
        if lower == known or lower.startswith(f"{known} "):
            return _named(_KINDS[known], known, words[len(known) :].strip())
    raise ValueError(
        f"“{words}” is not a known component.",
        f"Known: a length of pipe or duct, bends, {', '.join(list(_KINDS)[:16])} …",
    )


def _passage(found: re.Match[str]) -> dict[str, Any]:
    words = found["words"].lower()
    if "flexible" in words and "duct" in words:
        return {
            "kind": "flexible",
            "length": found["length"],
            "width": found["bore"] or found["size"],
        }
    if "duct" in words:
        shape = {"section": "rectangular", "height": found["height"]} if found["height"] else {}
        return {
            "kind": "duct",
            "length": found["length"],
            "width": found["bore"] or found["size"],
            **shape,
        }
    item = {"kind": "pipe", "length": found["length"]} | (
        {"size": found["size"].replace(" ", "").upper()} if found["size"] else {"bore": found["bore"]}
    )
    known = _ALSO.get(words.replace("pipe", "").strip())
    if known:
        return item | {"material": known}
    for key, (long, _) in ROUGHNESS.items():
        if key in ("sheet", "flexible"):
            continue
        if key.replace("_", " ") in words or any(
            word in words for word in long.split() if len(word) > 4 and word not in ("drawn",)
        ):
            return item | {"material": key}
    rest = words.replace("pipe", "").strip()
    if rest:
        raise ValueError(
            f"“{rest}” is not a material.",
            f"Known: {', '.join(key for key in ROUGHNESS if key not in ('sheet', 'flexible'))}.",
        )
    return item


def _named(kind: str, known: str, rest: str) -> tuple[str, dict[str, Any]]:
    rest, _, points = rest.partition("curve ")
    rest = re.sub(r"\s*\bwith\s*$", "", rest.strip())
    item: dict[str, Any] = {"kind": kind} | ({"curve": _points(points)} if kind in _WITH_CURVES else {})
    if len(item.get("curve", ())) == 2:
        item["fit"] = "through"
    if kind == "valve" and known != "valve":
        item["type"] = known.split()[0]
    first, _, after = rest.partition(" ")
    fields = declared(discover("mop_lantern.network.components", Component)[kind])
    name = first if _ID.match(first) and first.lower() != "at" and first not in fields else ""
    return name, item | _values(kind, after if name else rest, _AT.get(kind, ""))


def _points(text: str) -> list[list[str]]:
    """Read the points of a curve: ``0 L/s 20 m / 5 L/s 17 m``; none where there is no text, so that the sheet
    asks for them.
    """
    found = []
    for point in text.split(" / ") if text.strip() else []:
        words = point.split()
        if len(words) != 4:
            raise ValueError(
                f"“{point.strip()}” is not a point of a curve.",
                "Write a flow and what it gives, as 5 L/s 17 m, and “ / ” between points.",
            )
        found.append([" ".join(words[:2]), " ".join(words[2:])])
    return found


def _values(kind: str, rest: str, usual: str) -> dict[str, Any]:
    """Read ``at VALUE`` and ``NAME VALUE`` pairs; what stands alone is the usual value of the kind."""
    fields = declared(discover("mop_lantern.network.components", Component)[kind])
    words = rest.split()
    values = {}
    name = ""
    gathered: list[str] = []

    def close() -> None:
        if gathered:
            key = name or usual
            if key not in fields:
                raise ValueError(
                    f"“{' '.join(gathered)}” is not a value of this {kind}.",
                    f"Its values: {', '.join(fields)}.",
                )
            value = " ".join(gathered)
            if fields[key].form in ("quantity", "count") and not re.match(r"[-=.\d]|auto$", value):
                raise ValueError(
                    f"“{value}” is not a value of this {kind}.", f"Its values: {', '.join(fields)}."
                )
            values[key] = value
            gathered.clear()

    for word in words:
        if word.lower() in ("at", "of", "with", "and"):
            close()
            name = ""
        elif word in fields:
            close()
            name = word
        else:
            gathered.append(word)
    close()
    return values
