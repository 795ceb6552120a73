"""The case document: what the person wrote, typed and frozen. Quantities stay text; items are keyed by short
ids.
"""

from __future__ import annotations

import json
from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, TypeAlias

from pydantic import Field, StringConstraints, ValidationError

from mop_lantern.case.conditions import (
    Adapt,
    Age,
    Comfort,
    Heat,
    Physics,
    Radiation,
    Species,
    Start,
    Table,
    Time,
)
from mop_lantern.case.measured import MeasuredData
from mop_lantern.case.migrations import migrated
from mop_lantern.case.network_section import NetworkSection
from mop_lantern.declare import Record, choice, count, points, quantity, union
from mop_lantern.declare.kind import Point, Text
from mop_lantern.errors import CaseError, Fault
from mop_lantern.units import DIMENSIONS

SCHEMA = 3
DEEPEST = 40  # levels of nesting a case can have
Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9_-]{0,40}$")]

if TYPE_CHECKING:  # the kinds are discovered when the program starts; to a type checker they are anything
    Part: TypeAlias = Any
    SolidPart: TypeAlias = Any
    Medium: TypeAlias = Any
    OpeningKind: TypeAlias = Any
    WallKind: TypeAlias = Any
    HeatWall: TypeAlias = Any
    Material: TypeAlias = Any
    SourceKind: TypeAlias = Any
    DeviceKind: TypeAlias = Any
    FinishKind: TypeAlias = Any
    Refinement: TypeAlias = Any
    ReadingKind: TypeAlias = Any
else:
    Part = union("mop_lantern.shape.parts")
    SolidPart = union("mop_lantern.shape.solids")
    Medium = union("mop_lantern.media")
    OpeningKind = union("mop_lantern.field.openings")
    WallKind = union("mop_lantern.field.walls")
    HeatWall = union("mop_lantern.field.heat_walls")
    Material = union("mop_lantern.materials")
    SourceKind = union("mop_lantern.field.sources")
    DeviceKind = union("mop_lantern.field.devices")
    FinishKind = union("mop_lantern.field.finishes")
    Refinement = union("mop_lantern.grid.refinements")
    ReadingKind = union("mop_lantern.judge.readings")


class Parameter(Record):
    """A named value other values may use."""

    sentence: ClassVar[str] = "{id} = {value}"
    value: Text = Field(
        title="value", description="A number with a unit, or = an expression of other parameters."
    )
    title: str = Field(
        default="",
        title="title",
        description="What it is.",
    )


class Shape(Record):
    """The flow domain: its dimensions, and its parts."""

    sentence: ClassVar[str] = "The flow domain is {space}, {depth} deep, turned by {turn}."
    space: Literal["plane", "axis", "space"] = choice(
        "space",
        "A plane of a given depth, axisymmetric about the x axis, or three-dimensional.",
        {
            "plane": "a plane",
            "axis": "axisymmetric about the x axis",
            "space": "three-dimensional",
        },
        default="plane",
    )
    depth: Text = quantity(
        "length",
        "depth",
        "Depth of a plane; flows and forces are for this depth.",
        default="1 m",
        above=0,
    )
    turn: Text = quantity(
        "angle", "turn", "The whole shape is turned about the origin, anticlockwise.", default="0 deg"
    )
    wet: list[Point] = points(
        "wet point",
        (
            "Points inside the fluid, as (x, y, z), where parts make several separate regions: one in each "
            "that is to be solved; “any place” where there is only one."
        ),
        default=[],
    )
    parts: dict[Key, Part] = Field(default_factory=dict)
    solids: dict[Key, SolidPart] = Field(default_factory=dict)

    def template(self, space: bool = False) -> str:
        """Depth and turn are told of planes only."""
        return (
            "The flow domain is {space}; the fluid fills the volume around {wet}."
            if self.space == "space"
            else type(self).sentence
        )


class Grid(Record):
    """How the space is divided into cells."""

    sentence: ClassVar[str] = (
        "The grid is a {level} one with cells of {cell}, at least {across} across a gap; cells are "
        "{grading_x} along x and {grading_y} along y (largest over smallest {ratio}), {aspect} times as "
        "long as high."
    )
    in_space: ClassVar[str] = (
        "The grid is a {level} one with cells of {cell} at walls; doublings of their size away from "
        "walls: {doublings}."
    )
    level: Literal["sketch", "working", "fine"] = choice(
        "resolution",
        "Sketch doubles all cell sizes, fine halves them.",
        {
            "sketch": "sketch",
            "working": "working",
            "fine": "fine",
        },
        default="working",
    )
    cell: Text = quantity(
        "length",
        "cell size",
        "Size of unrefined cells at the working resolution; “auto” for a sixteenth of the usual width.",
        default="auto",
        above=0,
    )
    across: Text = count(
        "cells across",
        "Cells wanted across every gap between facing walls, at the working resolution.",
        default="12",
        at_least=1,
        at_most=100,
    )
    grading_x: Literal["even", "start", "end", "both"] = choice(
        "spacing along x",
        "Where along x the cells are smallest.",
        {
            "even": "even",
            "start": "finest at the left",
            "end": "finest at the right",
            "both": "finest at both ends",
        },
        default="even",
    )
    grading_y: Literal["even", "start", "end", "both"] = choice(
        "spacing along y",
        "Where along y the cells are smallest.",
        {
            "even": "even",
            "start": "finest at the bottom",
            "end": "finest at the top",
            "both": "finest at both ends",
        },
        default="even",
    )
    ratio: Text = quantity(
        "number",
        "ratio",
        "Largest over smallest cell of a graded spacing.",
        default="1",
        at_least=1,
        at_most=100,
    )
    aspect: Text = quantity(
        "number",
        "aspect",
        "How many times a cell is longer along x than along y; for long straight passages along x.",
        default="1",
        at_least=0.05,
        at_most=50,
    )
    doublings: Text = count(
        "doublings",
        "How often cells double away from the walls of a space.",
        default="1",
        at_least=0,
        at_most=4,
    )
    refine: dict[Key, Refinement] = Field(default_factory=dict)


class Solver(Record):
    """How the case is solved and when it is finished."""

    sentence: ClassVar[str] = (
        "The solve ends when the momentum residual is below {residual} and all readings are steady, "
        "after {most} iterations at most; it begins on {coarse} coarser grids; the grid error is "
        "estimated from {grids} grids (1: not); the newest {keep} results are kept."
    )
    residual: Text = quantity(
        "number",
        "residual",
        "Scaled momentum residual to reach.",
        default="1e-6",
        above=0,
        below=0.1,
    )
    most: Text = count(
        "iterations",
        "Iterations at most.",
        default="2000",
        at_least=1,
        at_most=100000,
    )
    coarse: Text = count(
        "coarser grids",
        "How many coarser grids give the start.",
        default="2",
        at_least=0,
        at_most=3,
    )
    grids: Text = count(
        "grids",
        "From how many grids the grid error is estimated: 2 or 3, or 1 for not at all.",
        default="1",
        at_least=1,
        at_most=3,
    )
    keep: Text = count(
        "results kept",
        "How many results of a variant are kept.",
        default="5",
        at_least=1,
        at_most=1000,
    )


class FieldSection(Record):
    """The meshed space."""

    physics: Physics = Physics()
    time: Time = Time()
    start: Start = Start()
    heat: Heat = Heat()
    species: dict[Key, Species] = Field(default_factory=dict)
    age: Age = Age()
    radiation: Radiation = Radiation()
    comfort: Comfort = Comfort()
    sources: dict[Key, SourceKind] = Field(default_factory=dict)
    openings: dict[Key, OpeningKind] = Field(default_factory=dict)
    devices: dict[Key, DeviceKind] = Field(default_factory=dict)
    walls: dict[Key, WallKind] = Field(default_factory=dict)
    warm: dict[Key, HeatWall] = Field(default_factory=dict)
    finishes: dict[Key, FinishKind] = Field(default_factory=dict)
    solids: dict[Key, Material] = Field(default_factory=dict)
    grid: Grid = Grid()
    adapt: Adapt = Adapt()
    solver: Solver = Solver()


class Variant(Record):
    """A named list of edits on the base."""

    title: str = Field(
        default="",
        title="title",
        description="What this variant tries.",
    )
    edits: dict[str, Any] = Field(default_factory=dict, description="path to value; null removes an item.")


class Case(Record):
    """A flow case."""

    lantern: Literal["case"] = "case"
    version: int = Field(
        default=SCHEMA,
        ge=1,
        le=SCHEMA,
        alias="schema",
    )
    title: str = ""
    notes: str = ""
    units: dict[str, str] = Field(default_factory=dict, description="Preferred unit of each dimension.")
    parameters: dict[Key, Parameter] = Field(default_factory=dict)
    tables: dict[Key, Table] = Field(default_factory=dict)
    media: dict[Key, Medium] = Field(default_factory=dict)
    shape: Shape = Shape()
    field: FieldSection = FieldSection()
    network: NetworkSection = NetworkSection()
    readings: dict[Key, ReadingKind] = Field(default_factory=dict)
    measured: dict[Key, MeasuredData] = Field(default_factory=dict)
    variants: dict[Key, Variant] = Field(default_factory=dict)
    views: dict[str, Any] = Field(default_factory=dict)

    @property
    def network_alone(self) -> bool:
        """Whether the case is a network without a flow domain."""
        begun = self.network.lines or self.network.nodes
        return bool(begun) and not self.shape.parts and not self.shape.solids

    def as_data(self) -> dict[str, Any]:
        """Give the document as plain JSON data."""
        return self.model_dump(mode="json", by_alias=True)


def json_schema() -> dict[str, Any]:
    """Give the JSON Schema of the case document."""
    return Case.model_json_schema(by_alias=True)


def parse_case(data: Any) -> Case:
    """Make a case from plain data.

    Raises
    ------
    CaseError : every place whose form is wrong, together.
    """
    if not isinstance(data, dict):
        raise CaseError(
            [Fault("", "this is not a case: it should be a JSON object.", "Open a file that was saved here.")]
        )
    version = data.get("schema", SCHEMA)
    if isinstance(version, int) and version > SCHEMA:
        told = version if abs(version) < 10**9 else "a number beyond reason"
        raise CaseError(
            [
                Fault(
                    "schema",
                    f"the case was written by a newer version ({told}).",
                    "Open it with that version.",
                )
            ]
        )
    broken = _broken_text(data)
    if broken is not None:
        raise CaseError(
            [Fault(broken, "a text here holds half a character, which no file can keep.", "Type it anew.")]
        )
    try:
        data = migrated(data)
        case = Case.model_validate(data)
    except ValidationError as problem:
        raise CaseError(faults_of(problem, data)) from None
    except RecursionError:
        raise CaseError([Fault("", "the case is nested too deeply.", "Take inner levels out.")]) from None
    bad = [
        Fault(f"units.{name}", f"“{name}” is not a kind of quantity.", f"Known: {', '.join(DIMENSIONS)}.")
        for name in case.units
        if name not in DIMENSIONS
    ]
    if bad:
        raise CaseError(bad)
    return case


def _broken_text(data: Any) -> str | None:
    """Give the path of a text or name that cannot be written in UTF-8, None if there is none.

    Raises
    ------
    CaseError : the nesting is too deep.
    """
    free: Any = data
    try:
        json.dumps(data, ensure_ascii=False, default=str).encode()
        free = {name: data.get(name) for name in ("views", "variants")}  # what may be nested as anybody likes
    except (UnicodeEncodeError, RecursionError, ValueError):
        pass
    waiting: list[tuple[str, Any, int]] = [("", free, 0)]
    while waiting:
        path, here, depth = waiting.pop()
        if isinstance(here, str):
            if not here.isascii() and any(0xD800 <= ord(letter) <= 0xDFFF for letter in here):
                return path
        elif depth > DEEPEST:
            raise CaseError(
                [Fault("", f"the case is nested more than {DEEPEST} deep.", "Take inner levels out.")]
            )
        elif isinstance(here, dict):
            for name, value in here.items():
                if isinstance(name, str) and any(0xD800 <= ord(letter) <= 0xDFFF for letter in name):
                    return path
                if isinstance(value, str | dict | list | tuple):
                    waiting.append((f"{path}.{name}" if path else str(name), value, depth + 1))
        elif isinstance(here, list | tuple):
            waiting += [
                (f"{path}.{k}", value, depth + 1)
                for k, value in enumerate(here)
                if isinstance(value, str | dict | list | tuple)
            ]
    return None


def faults_of(problem: ValidationError, data: Any) -> list[Fault]:
    """Put a validation error on some data into words, one fault a place."""
    faults = []
    for error in problem.errors(include_url=False):
        path = _path_of(error["loc"], data)
        says, remedy = _WORDS.get(error["type"], _WRONG_FORM)
        if error["type"] == "union_tag_invalid":
            context = error.get("ctx", {})
            says = f"there is no kind “{context.get('tag')}”."
            remedy = f"Known: {context.get('expected_tags')}."
        elif error["type"] in ("literal_error", "value_error"):
            context = error.get("ctx", {})
            choices = context.get("expected") or str(context.get("error"))
            says = f"“{str(error['input'])[:40]}” is not one of the choices."
            remedy = f"Choose one of: {choices.replace(chr(39), '')}."
        faults.append(Fault(path, says, remedy))
    return faults


def _path_of(steps: tuple[int | str, ...], data: Any) -> str:
    """Give the path of an error without the kinds that pydantic puts behind the items they tell apart."""
    kept = []
    here = data
    for step in steps:
        if isinstance(here, dict) and here.get("kind") == step:
            continue
        kept.append(str(step))
        here = (
            here.get(step)
            if isinstance(here, dict)
            else here[step]
            if isinstance(here, list) and isinstance(step, int) and step < len(here)
            else None
        )
    return ".".join(kept)


_WRONG_FORM = ("this entry does not have the right form.", "Compare it with a case that the program saved.")
_WORDS = {
    "list_type": ("this should be a list.", "Put it in square brackets."),
    "tuple_type": ("this should be a list.", "Put it in square brackets."),
    "int_parsing": ("this should be a whole number.", "Write it without quotes."),
    "int_type": ("this should be a whole number.", "Write it without quotes."),
    "float_parsing": ("this should be a number.", "Write it without quotes or units."),
    "float_type": ("this should be a number.", "Write it without quotes or units."),
    "bool_parsing": ("this should be true or false.", "Write it without quotes."),
    "bool_type": ("this should be true or false.", "Write it without quotes."),
    "model_type": ("this should be an object.", "Put it in braces."),
    "model_attributes_type": ("this should be an object.", "Put it in braces."),
    "invalid_key": ("the names of entries should be text.", "Put them in quotes."),
    "missing_argument": ("a place needs two or three lengths.", "Write it as [“0 mm”, “5 mm”]."),
    "too_short": ("there are too few entries here.", "Add what is missing."),
    "too_long": ("there are too many entries here.", "Remove some."),
    "extra_forbidden": ("there is no such entry here.", "Remove it or correct its name."),
    "missing": ("this entry is missing.", "Add it."),
    "string_type": ("this should be text, such as “5 mm”.", "Put it in quotes."),
    "dict_type": ("this should be an object.", "Put it in braces."),
    "union_tag_not_found": ("the kind is missing.", "Add “kind”."),
    "string_pattern_mismatch": ("ids are letters, digits, - and _, and begin with a letter.", "Rename it."),
}
