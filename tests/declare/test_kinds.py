"""The contract of kinds, checked on every kind there is; and what a declaration promises."""

from __future__ import annotations

import string
import threading
from typing import Any

import pytest
from pydantic import ValidationError

from mop_lantern.case import Case, Resolver
from mop_lantern.declare import Declared, Kind, Numbers, Record, count, declared, discover, quantity
from mop_lantern.declare.kind import Text, kind_name
from mop_lantern.units import DIMENSIONS, PLACES, convert, preferred
from mop_lantern.units.varying import Varying

PACKAGES = [
    "mop_lantern.media",
    "mop_lantern.shape.parts",
    "mop_lantern.shape.solids",
    "mop_lantern.field.openings",
    "mop_lantern.field.walls",
    "mop_lantern.field.closures",
    "mop_lantern.field.heat_walls",
    "mop_lantern.materials",
    "mop_lantern.field.sources",
    "mop_lantern.field.devices",
    "mop_lantern.field.finishes",
    "mop_lantern.grid.refinements",
    "mop_lantern.judge.readings",
    "mop_lantern.judge.notes",
    "mop_lantern.solve.checks",
    "mop_lantern.solve.equations",
    "mop_lantern.network.components",
    "mop_lantern.network.nodes",
    "mop_lantern.case.ready",
]
KINDS = [(package, name, kind) for package in PACKAGES for name, kind in discover(package).items()]

LAYERS = [
    (package, name, kind)
    for package in ("mop_lantern.scene.layers",)
    for name, kind in discover(package).items()
]


# some of their values have lines of their own
ELSEWHERE = ("media", "parts", "solids", "openings", "refinements", "components")


@pytest.mark.parametrize(
    "kind", [each for p, _, each in KINDS if each.sentence and not p.endswith(ELSEWHERE)], ids=kind_name
)
def test_every_value_can_be_typed_in_the_sentence(kind: type[Kind]) -> None:
    told = kind.sentence + kind.in_space
    assert not [name for name in set(kind.model_fields) - {"kind", "title"} if f"{{{name}}}" not in told]


@pytest.mark.parametrize(
    ("package", "name", "kind"), KINDS, ids=[f"{p.split('.', 1)[1]}.{n}" for p, n, _ in KINDS]
)
def test_every_kind_keeps_the_contract(package: str, name: str, kind: type[Kind]) -> None:
    assert kind.__module__ == f"{package}.{name}" and kind_name(kind) == name
    assert kind.__doc__ and "Source:" in kind.__doc__, "where does its formula or rule come from?"
    if package.endswith(("notes", "checks", "equations", "closures", "ready")):
        assert kind.caption
        return
    assert kind.caption and kind.sentence
    known = declared(kind)
    undeclared = set(kind.model_fields) - set(known) - {"kind"}
    assert not undeclared, f"not declared: {undeclared}"
    used = {part for _, part, _, _ in string.Formatter().parse(kind.sentence) if part}
    assert used <= set(known) | {"id"}, "the sentence names what is not there"
    for key, item in known.items():
        assert item.label and item.help.rstrip().endswith((".", ")", "?")), (
            f"{key} has no help in a whole sentence"
        )
        assert item.dimension in DIMENSIONS or item.form not in ("quantity", "point", "points")
        assert set(item.varies) <= set(PLACES)


FIELDS = [
    pytest.param(kind, key, rule, id=f"{package.split('.', 1)[1]}.{name}.{key}")
    for package, name, kind in [*KINDS, *LAYERS]
    for key, rule in declared(kind).items()
    if rule.form == "quantity"
]


NEEDED: dict[str, Any] = {  # some value of each form that has none by itself
    "point": ["1 mm", "1 mm"],
    "points": [["0 mm", "0 mm"], ["1 mm", "0 mm"], ["0 mm", "1 mm"]],
    "curve": [["0 L/s", "2 m"], ["1 L/s", "1 m"]],
}


def faults_of(kind: type[Kind], key: str, text: str) -> list[Any]:
    """Work a kind out with one of its values as typed; give what is wrong with that value."""
    name = kind_name(kind)
    resolver = Resolver(Case())
    rules = declared(kind)
    needed = {
        field: NEEDED.get(rules[field].form, "1")
        for field, info in kind.model_fields.items()
        if info.is_required() and field != "kind"
    }
    resolver.record(kind.model_validate({**needed, "kind": name, key: text}), "here")
    return [fault for fault in resolver.faults if fault.path == f"here.{key}"]


@pytest.mark.parametrize(("kind", "key", "rule"), FIELDS)
def test_every_value_of_every_kind_can_be_typed_wrong(kind: type[Kind], key: str, rule: Declared) -> None:
    """What is no number, has a foreign unit, is beyond reason or beyond its limits is told at its place, with
    how to mend it; the value it has by itself is none of these.
    """
    wrong = ["seven apples", "7 apples", "1e400", "= no_such_parameter", "= 1 kg s3"]
    unit = preferred(rule.dimension, {})
    if rule.above is not None:
        limit = convert(rule.above, rule.dimension, unit)
        wrong.append(f"{limit - 1e-6 * abs(limit):.12g} {unit}".strip())
    if rule.at_least is not None and rule.dimension != "temperature":
        wrong.append(f"{convert(rule.at_least, rule.dimension, unit) - 1.0:.17g} {unit}")
    if rule.at_most is not None:
        wrong.append(f"{2 * convert(rule.at_most, rule.dimension, unit) + 1.0:.17g} {unit}")
    for text in wrong:
        faults = faults_of(kind, key, text)
        assert faults, f"{text!r} passes"
        assert all(len(f"{fault.says} {fault.remedy}") > 25 for fault in faults), text
    default = kind.model_fields[key].default
    if isinstance(default, str) and default:
        assert not faults_of(kind, key, default), "its own default is refused"


@pytest.mark.parametrize(
    ("package", "name", "kind"), KINDS, ids=[f"{p.split('.', 1)[1]}.{n}" for p, n, _ in KINDS]
)
def test_no_kind_takes_what_it_has_not_declared(package: str, name: str, kind: type[Kind]) -> None:
    with pytest.raises(ValidationError) as told:
        kind.model_validate({"kind": name, "no_such_thing": 1})
    assert any(error["type"] == "extra_forbidden" for error in told.value.errors())


@pytest.mark.parametrize(
    ("package", "name", "kind"), LAYERS, ids=[f"{p.split('.', 1)[1]}.{n}" for p, n, _ in LAYERS]
)
def test_every_layer_keeps_its_contract(package: str, name: str, kind: Any) -> None:
    assert kind.__module__ == f"{package}.{name}" and kind_name(kind) == name
    assert kind.caption and kind.help and kind.__doc__
    assert isinstance(kind.order, int)
    assert kind.has(False) or kind.has(True), "a layer that draws nothing"
    for option, rule in declared(kind).items():
        assert rule.label and rule.help, option


def test_every_package_of_kinds_is_under_the_contract() -> None:
    """A new folder of kinds must be added here, or nobody holds its files to anything."""
    from pathlib import Path

    import mop_lantern

    root = Path(mop_lantern.__file__).parent
    found = set()
    for path in root.rglob("*.py"):
        if 'kind: Literal["' in path.read_text("utf-8") and path.parent.name != "declare":
            found.add("mop_lantern." + ".".join(path.parent.relative_to(root).parts))
    assert found - {*PACKAGES, *(package for package, _, _ in LAYERS)} <= {"mop_lantern.case"}


@pytest.mark.parametrize(
    ("limits", "value", "words"),
    [
        ({"above": 0.0}, 0.0, "must be above"),
        ({"above": 0.0}, 1e-12, ""),
        ({"at_least": 0.0}, 0.0, ""),
        ({"at_least": 0.0}, -1e-9, "must be at least"),
        ({"below": 1.0}, 1.0, "must be below"),
        ({"at_most": 1.0}, 1.0, ""),
        ({"at_most": 1.0}, 1.0001, "must be at most"),
        ({"above": 0.0}, float("nan"), "must be above"),
        ({"at_most": 5.0}, float("nan"), "must be at most"),
    ],
)
def test_limits_are_told_in_words_and_nan_never_passes(
    limits: dict[str, float], value: float, words: str
) -> None:
    broken = Declared("quantity", "x", "X.", **limits).broken_limit(value)  # type: ignore[arg-type]
    assert (broken[0] if broken else "") == words


class Valve(Record):
    """A record for these tests."""

    opening: Text = quantity(
        "fraction", "opening", "How far it is open.", default="40 %", at_least=0.0, at_most=1.0, varies="t"
    )
    turns: Text = count("turns", "Turns of the wheel.", default="3", at_least=1.0)


def test_typed_values_stay_text_and_bare_numbers_become_text() -> None:
    assert Valve(opening="0.40").opening == "0.40"
    assert Valve.model_validate({"opening": 0.4, "turns": 7}).model_dump() == {"opening": "0.4", "turns": "7"}
    with pytest.raises(ValidationError):
        Valve.model_validate({"opening": True})
    found = declared(Valve)
    assert (
        list(found) == ["opening", "turns"]
        and found["opening"].varies == ("t",)
        and found["turns"].form == "count"
    )


def test_numbers_are_frozen_at_a_time() -> None:
    ramp = Varying(
        "= 2 m/s * t / (1 s)",
        "velocity",
        frozenset({"t"}),
        lambda values: {name: lambda v=value: v for name, value in values.items()},
    )
    numbers = Numbers(flow=ramp, edge="run.start")
    now = numbers.at({"t": 1.5})
    assert now.edge == "run.start" and float(now.flow) == pytest.approx(3.0)
    assert numbers.flow is ramp and float(numbers.at({}).flow) == 0.0


def test_threads_discover_the_same_kinds() -> None:
    seen: list[dict[str, Any]] = []
    threads = [
        threading.Thread(target=lambda: seen.append(discover("mop_lantern.judge.readings"))) for _ in range(8)
    ]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert len(seen) == 8 and all(kinds == seen[0] for kinds in seen)
