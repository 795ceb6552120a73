"""Every string a user can see: no internal keys, no library text, no banned words, help everywhere, and no
sentence with values that have no effect.
"""

from __future__ import annotations

import ast
import re
from functools import cache
from pathlib import Path
from typing import Any

import pytest

from mop_lantern.case import lines, parse_case
from mop_lantern.case.conditions import Adapt, Age, Heat, Physics, Start, Time
from mop_lantern.case.network_section import NetworkSection, NetworkTime
from mop_lantern.case.sections import COMPONENTS, SECTIONS
from mop_lantern.case.sentences import sentence
from mop_lantern.declare import declared, discover
from mop_lantern.errors import CaseError, LanternError, because
from mop_lantern.judge.facts import NoteKind
from mop_lantern.units import UnitFault, evaluate

SOURCE = Path(__file__).parents[1] / "src" / "mop_lantern"
PACKAGES = sorted({section.package for section in SECTIONS if section.package} | {COMPONENTS})
BANNED = {
    r"\blids?\b": "cap",
    r"\bhollows?\b": "internal volume",
    r"\bas drawn\b": "base, or custom profile",
    r"\bveil(ed|s)?\b": "translucent",
    r"\bdear(est)?\b": "with the largest error indicator",
    r"\bturning rate\b": "angular velocity",
    r"\bheat a kelvin\b": "thermal conductance",
    r"\bbores of length\b": "equivalent length",
    r"\bover (the|that of the) air\b": "gauge pressure",
    r"\bover the hydrostatic\b": "hydrostatic part removed",
    r"\bsuction head\b": "NPSH",
    r"\bgain of pressure\b": "pressure rise",
    r"\b(energy|pressure) line\b": "energy or hydraulic grade line",
    r"\btransmittance\b": "U-value",
    r"\bmend(s|ed|ing)?\b": "fix",
    r"\bhangs? on\b": "depends on",
    r"\btell us\b": "say what to do",
    r"\bfrom memory\b": "not at hand to check",
    r"\blines from lines\b": "lines from words",
    r"\bshare of$": "fraction of",
    r"(?<!there )\bis no\b(?! longer| more)": "is not a",
    r"\bleft out\b": "excluded, or not solved",
    r"\b(a|the|this|of|no|one|next|every|in) runs?\b(?! (dry|over))": "passage, line or solution",
    r"\bruns? of\b": "lines of",
    r"\bCannot convert\b|\binput should\b|\bNoneType\b|\bTraceback\b|\bpydantic\b|\bpint\b": "our own words",
}
KEYS = re.compile(r"\b(field|network|shape|media|grid|readings)\.[a-z]+(\.[a-z]+)*\b")
MAY_NAME_KEYS = (
    "cli/main.py",
    "cli/commands.py",
    "case/network_section.py",
)  # what is typed as a path: --set, and operations
INNER = ("bench", "Attributes", "Parameters\n", "Raises\n")


@cache
def seen(path: Path) -> list[tuple[int, str]]:
    """Give strings that can reach a screen: texts with blanks in code, and what kinds say of themselves."""
    tree = ast.parse(path.read_text("utf-8"))
    bare = {id(node.value) for node in ast.walk(tree) if isinstance(node, ast.Expr)}
    shown = {
        id(node.body[0].value)
        for node in ast.walk(tree)
        if isinstance(node, ast.ClassDef)
        and isinstance(node.body[0], ast.Expr)
        and any("caption" in ast.unparse(each) for each in node.body)
    }
    found = []
    for node in ast.walk(tree):
        if isinstance(node, ast.Constant) and isinstance(node.value, str) and id(node) not in bare - shown:
            words = " ".join(node.value.split())
            if " " in words and not any(mark in node.value for mark in INNER):
                found.append((node.lineno, words))
    return found


FILES = sorted(path for path in SOURCE.rglob("*.py"))


def test_no_banned_word_and_no_library_text_is_on_screen() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{line}: “{match[0]}” (better: {better}) in {words[:90]}"
        for path in FILES
        for line, words in seen(path)
        for pattern, better in BANNED.items()
        if (match := re.search(pattern, words, re.I))
    ]
    assert not found, "\n".join(found)


def test_no_internal_key_is_in_a_message() -> None:
    found = [
        f"{path.relative_to(SOURCE)}:{line}: {words[:90]}"
        for path in FILES
        if not str(path.relative_to(SOURCE)).startswith(MAY_NAME_KEYS)
        for line, words in seen(path)
        if KEYS.search(words) and not words.startswith("Source")
    ]
    assert not found, "\n".join(found)


def test_the_manual_has_no_banned_word() -> None:
    found = [
        f"{path.name}: “{match[0]}” (better: {better})"
        for path in sorted((SOURCE / "manual" / "text").glob("*.md"))
        for pattern, better in BANNED.items()
        if (match := re.search(pattern, path.read_text("utf-8"), re.I))
    ]
    assert not found, "\n".join(found)


@pytest.mark.parametrize("package", [*PACKAGES, "mop_lantern.scene.layers", "mop_lantern.judge.notes"])
def test_every_kind_and_value_has_help_in_words(package: str) -> None:
    for name, kind in discover(package).items():
        assert kind.caption and kind.caption[0].isupper(), name  # type: ignore[attr-defined]
        assert "Source" in (kind.__doc__ or ""), name
        for key, rule in declared(kind).items():
            assert rule.label and "_" not in rule.label, f"{name}.{key}"
            assert rule.help.strip().endswith((".", "%", "auto")) or len(rule.help) > 8, f"{name}.{key}"
            for value, words in rule.options:
                assert words and "_" not in words, f"{name}.{key}={value}"


@pytest.mark.parametrize("package", PACKAGES)
def test_every_place_in_a_sentence_is_a_value_of_the_kind(package: str) -> None:
    for name, kind in discover(package).items():
        wanted = set(re.findall(r"\{(\w+)\}", f"{kind.sentence} {kind.in_space}")) - {"id"}
        assert wanted <= set(kind.model_fields), name


@pytest.mark.parametrize("kind", [Physics, Time, Start, Heat, Age, Adapt, NetworkTime, NetworkSection])
def test_sections_that_are_off_show_no_values_without_effect(kind: Any) -> None:
    shown = {slot.field for slot in sentence(kind(), "x", "Physics").slots}
    without = {
        Physics: {"gravity", "down", "falls"},
        Time: {"until", "step", "courant", "every", "keep"},
        Heat: {"start", "friction"},
        Age: {"diffusivity"},
        Adapt: {"by", "share", "most"},
        NetworkTime: {"until", "step"},
    }.get(kind, set())
    assert not shown & without


def test_the_grid_shows_a_ratio_only_where_the_spacing_has_one(channel: dict[str, Any]) -> None:
    def shown(grid: Any) -> set[str]:
        case = parse_case({**channel, "field": {**channel["field"], "grid": grid}})
        return {slot.field for line in lines(case) if line.path == "field.grid" for slot in line.slots}

    even = shown({})
    assert "ratio" not in even and {"cell", "across", "grading_x", "aspect"} <= even
    assert "ratio" in shown({"grading_x": "both"})


def test_a_species_shows_its_density_change_only_with_buoyancy(channel: dict[str, Any]) -> None:
    channel["field"]["species"] = {"s": {"title": "salt"}}

    def shown(data: dict[str, Any]) -> set[str]:
        return {
            slot.field
            for line in lines(parse_case(data))
            if line.path == "field.species.s"
            for slot in line.slots
        }

    assert "expansion" not in shown(channel)
    channel["field"]["physics"] = {"buoyancy": "boussinesq"}
    assert "expansion" in shown(channel)


def test_a_network_shows_no_values_without_effect() -> None:
    def shown(**more: Any) -> set[str]:
        data = {
            "media": {"w": {"kind": "water"}, **more.pop("media", {})},
            "network": {
                "nodes": {"a": {"kind": "tank"}, "b": {"kind": "reservoir"}},
                "lines": {"l": {"start": "a", "end": "b", "parts": {"p": {"kind": "pipe", "size": "DN50"}}}},
                **more,
            },
        }
        return {slot.field for line in lines(parse_case(data)) for slot in line.slots}

    assert not {"wave", "film", "fluid"} & shown() and {"bore", "rough", "length"} <= shown()
    assert "film" in shown(thermal=True) and "wave" in shown(time={"mode": "waves"})
    assert "fluid" in shown(media={"o": {"kind": "oil"}})


WRONG = [
    {"shape": []},
    {"shape": {"parts": 3}},
    {"field": {"openings": {"in": {"kind": "velocity", "edge": 5, "velocity": []}}}},
    {"field": {"heat": {"solve": "perhaps"}}},
    {"tables": {"t": {"rows": [["a", 1]]}}},
    {"schema": "x"},
    {"units": 7},
    {"parameters": {"9x": {"value": "1"}}},
    {"readings": {"r": {"kind": "flow"}}},
    {"readings": {"r": {"kind": "floww"}}},
    {"variants": {"B": {"edits": 3}}},
    {"network": {"lines": {"l": {"start": {}}}}},
    {"shape": {"space": "cube"}},
    {"measured": {"m": {"rows": 5}}},
]


@pytest.mark.parametrize("wrong", WRONG, ids=str)
def test_wrong_forms_are_told_in_our_own_words(wrong: dict[str, Any]) -> None:
    with pytest.raises(CaseError) as told:
        parse_case(wrong)
    for fault in told.value.faults:
        assert fault.remedy, fault
        assert not re.search(
            r"[Ii]nput|valid (string|dict|list|integer)|pydantic|instance|tag", str(fault)
        ), fault


@pytest.mark.parametrize(
    "text", ["= 1 m + 2 s", "= 1 m < 2 kg", "= sqrt(1 m) + 1 m", "5 zorkmid", "= 1 m **", ""]
)
def test_units_that_clash_are_told_in_our_own_words(text: str) -> None:
    with pytest.raises(UnitFault) as told:
        evaluate(text, "length", {})
    assert not re.search(r"Cannot|dimensionless|\[length\]|<|Quantity", str(told.value).replace(text, ""))


def test_causes_are_told_where_a_person_understands_them() -> None:
    assert because(OSError(28, "No space left on device")) == " (no space left on device)"
    assert because(MemoryError()) == " (there is not enough memory)"
    assert because(LanternError("the case is empty.")) == " (the case is empty)"
    assert because(ValueError("invalid literal for int()")) == ""


def test_notes_have_captions_in_words() -> None:
    for name, kind in discover("mop_lantern.judge.notes", NoteKind).items():
        assert " " in kind.caption or kind.caption.isalpha(), name


FAULTS = ("Fault", "PartFault", "ComponentFault", "NetworkFault", "RunError")
CARRIED_ON = ("note.text", "str(problem)", "str(fault)", "**fault")  # they hold a remedy themselves


def test_every_fault_says_how_to_fix_it() -> None:
    found = []
    for path in FILES:
        for node in ast.walk(ast.parse(path.read_text("utf-8"))):
            if not (
                isinstance(node, ast.Call) and isinstance(node.func, ast.Name) and node.func.id in FAULTS
            ):
                continue
            words = ast.unparse(node)
            named = any(keyword.arg == "remedy" for keyword in node.keywords)
            starred = any(isinstance(each, ast.Starred) for each in node.args)
            if len(node.args) < 3 and not named and not starred and not any(w in words for w in CARRIED_ON):
                found.append(f"{path.relative_to(SOURCE)}:{node.lineno}: {words[:90]}")
    assert not found, "\n".join(found)
