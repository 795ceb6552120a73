"""Sections that say what is solved: physics, time, start, heat, species, age; and tables that values may
use.
"""

from __future__ import annotations

from typing import Any, ClassVar, Literal, cast

from pydantic import Field, field_validator

from mop_lantern.declare import Record, choice, count, discover, flag, quantity, text
from mop_lantern.declare.kind import Text

PLACE = "x y z r"
_NO_YES = ("not solved", "solved")
REGIMES = {"reynolds": "laminar or turbulent by its Reynolds number", "laminar": "laminar"} | {
    name: cast(Any, closure).phrase for name, closure in discover("mop_lantern.field.closures").items()
}


class Physics(Record):
    """What moves the fluid and how it is treated."""

    sentence: ClassVar[str] = "The flow is {flow}; density differences {buoyancy} the fluid."
    flow: str = choice(
        "regime",
        "How turbulence is treated: by the Reynolds number of openings, not at all, or by a closure.",
        REGIMES,
        default="reynolds",
    )
    buoyancy: Literal["none", "boussinesq", "gas"] = choice(
        "buoyancy",
        (
            "Whether warm or fresh fluid rises: not at all, by a density that is linear in temperature and "
            "species (Boussinesq), or by the gas law with a density that changes everywhere."
        ),
        {
            "none": "do not move",
            "boussinesq": "move (Boussinesq)",
            "gas": "move (gas law)",
        },
        default="none",
    )
    gravity: Text = quantity(
        "acceleration",
        "gravity",
        "Strength of gravity.",
        default="9.80665 m/s2",
        at_least=0,
    )
    down: Text = quantity(
        "angle",
        "down",
        "Direction in which things fall in a plane, anticlockwise from the x axis.",
        default="-90 deg",
    )
    falls: Literal["-x", "+x", "-y", "+y", "-z", "+z"] = choice(
        "falls",
        "Direction in which things fall in a space.",
        {way: way.replace("-", "−") for way in ("-x", "+x", "-y", "+y", "-z", "+z")},
        default="-z",
    )

    @field_validator("flow")
    @classmethod
    def _known(cls, value: str) -> str:
        if value not in REGIMES:
            raise ValueError(", ".join(REGIMES))
        return value

    def template(self, space: bool = False) -> str:
        """Gravity is told where it acts; in a space things fall along an axis."""
        tail = (
            "; gravity is not applied, so pressures have the hydrostatic part removed."
            if self.buoyancy == "none"
            else (
                ", with gravity of {gravity} towards "
                + ("{falls}" if space else "{down}")
                + "; pressures have the hydrostatic part of the reference density removed."
            )
        )
        return "The flow is {flow}; density differences {buoyancy} the fluid" + tail


class Time(Record):
    """Steady, or followed in time."""

    sentence: ClassVar[str] = (
        "The flow is {mode} until {until}, in steps of {step} or shorter, so that fluid crosses at "
        "most {courant} cells in a step; a state is kept every {every}, the newest {keep} of them. The flow "
        "itself {flow}. The answer shows {shows}."
    )
    mode: Literal["steady", "transient"] = choice(
        "time",
        "Steady, or followed in time.",
        {"steady": "steady", "transient": "followed in time"},
        default="steady",
    )
    until: Text = quantity(
        "time",
        "until",
        "The time at which the solution ends.",
        default="10 s",
        above=0,
    )
    step: Text = quantity(
        "time",
        "longest step",
        "Steps are never longer than this.",
        default="0.1 s",
        above=0,
    )
    courant: Text = quantity(
        "number",
        "Courant number",
        "How many cells the fluid may cross in a step; 0 keeps the step as given.",
        default="1",
        at_least=0,
    )
    every: Text = quantity(
        "time",
        "kept every",
        "How often a state is kept.",
        default="1 s",
        above=0,
    )
    flow: Literal["solved", "kept"] = choice(
        "flow in time",
        "Whether the flow moves on too, or stays while it carries heat, species and age on: as the solution "
        "it begins from has it, or its own steady flow, solved first. A leak on a steady air flow takes "
        "seconds then.",
        {"solved": "moves on", "kept": "stays as it began"},
        default="solved",
    )
    keep: Text = count(
        "states kept",
        "How many of the newest states are kept.",
        default="50",
        at_least=1,
        at_most=10000,
    )
    shows: Literal["end", "mean"] = choice(
        "answer shows",
        "What pictures, readings and files show: the flow at its end, or the mean over time of all its "
        "fields, as of a room whose jets never rest. Kept states show moments either way.",
        {"end": "the flow at its end", "mean": "the mean over time"},
        default="end",
    )
    mean_from: Text = quantity(
        "time",
        "mean from",
        "What comes before, such as the way from the start, does not count in the mean.",
        default="0 s",
        at_least=0,
    )

    def template(self, space: bool = False) -> str:
        """A steady case needs no more words, a mean some."""
        if self.mode == "steady":
            return "The flow is {mode}."
        whole = type(self).sentence
        return whole if self.shows == "end" else whole.replace("{shows}.", "{shows}, from {mean_from} on.")


class Adapt(Record):
    """Steps in which the grid follows the solution."""

    sentence: ClassVar[str] = (
        "Adaptive refinement: {cycles} steps by {by}; in each the {share} of cells with the largest "
        "error indicator are split, up to {most} cells."
    )
    cycles: Text = count(
        "steps",
        "How often the grid is adapted and the case solved again; 0 for not at all.",
        default="0",
        at_least=0,
        at_most=12,
    )
    by: Literal["curvature", "gradient", "gradients", "recirculation"] = choice(
        "by",
        "What the error indicator of a cell is made from.",
        {
            "curvature": "curvature of the velocity",
            "gradient": "gradient of the velocity",
            "gradients": "gradients of velocity and pressure",
            "recirculation": "curvature, weighted to recirculation",
        },
        default="curvature",
    )
    share: Text = quantity(
        "fraction",
        "fraction of cells",
        "Fraction of the cells split in a step.",
        default="15 %",
        above=0,
        at_most=1,
    )
    most: Text = count(
        "cells",
        "No step begins beyond so many cells.",
        default="200000",
        at_least=100,
        at_most=10000000,
    )

    def template(self, space: bool = False) -> str:
        """Say no more when there are no steps."""
        return (
            type(self).sentence
            if self.cycles.strip() != "0"
            else "Adaptive refinement: {cycles} steps (off)."
        )


class Start(Record):
    """What a solution begins from."""

    sentence: ClassVar[str] = (
        "It begins with a velocity of {u} along x and {v} along y, or from the solution {solution} "
        "when one is named."
    )
    u: Text = quantity(
        "velocity",
        "x velocity",
        "Velocity along x at the start; may use x, y, r.",
        default="0 m/s",
        varies=PLACE,
    )
    v: Text = quantity(
        "velocity",
        "y velocity",
        "Velocity along y at the start; may use x, y, r.",
        default="0 m/s",
        varies=PLACE,
    )
    solution: str = text(
        "solution",
        "Folder of a solution to go on from, or empty; add @ and a time in seconds for one of its kept "
        "states.",
        default="",
    )


class Heat(Record):
    """Whether temperature is solved for."""

    sentence: ClassVar[str] = (
        "Temperature is {solve}, beginning at {start}; friction warms the fluid: {friction}."
    )
    solve: bool = flag("heat", "Whether temperature is solved for.", _NO_YES, default=False)
    start: Text = quantity(
        "temperature",
        "start",
        "Temperature at the start; may use x, y, r.",
        default="20 °C",
        varies=PLACE,
    )
    friction: bool = flag(
        "friction heat", "Whether the work of friction warms the fluid.", ("no", "yes"), default=False
    )

    def template(self, space: bool = False) -> str:
        """Say no more when heat is not solved."""
        return type(self).sentence if self.solve else "Temperature is {solve}."


class Species(Record):
    """A species the fluid transports."""

    sentence: ClassVar[str] = (
        "{id}: {title}, {nature}, measured as {measure}, of diffusivity {diffusivity}, {start} at the start, "
        "decaying by {decay}; one unit of it changes the density by {expansion}."
    )
    title: str = text("name", "What it is.", default="tracer")
    nature: Literal["any", "vapour"] = choice(
        "nature",
        "Water vapour in air gives relative humidity and dew point, and makes the air lighter by itself.",
        {"any": "which is carried along", "vapour": "which is water vapour in air"},
        default="any",
    )
    measure: Literal["fraction", "density"] = choice(
        "measure",
        "A fraction of the fluid, or a concentration: mass in its volume.",
        {"fraction": "a fraction", "density": "a concentration (mass per volume)"},
        default="fraction",
    )
    diffusivity: Text = quantity(
        "diffusivity",
        "diffusivity",
        "Molecular diffusivity; zero is allowed.",
        default="1e-9 m2/s",
        at_least=0,
    )
    start: Text = text("start", "How much there is at the start; may use x, y, r.", default="0")
    decay: Text = quantity(
        "rate",
        "decay",
        "First-order rate of decay or reaction; 0 for what stays.",
        default="0 1/s",
        at_least=0,
    )
    expansion: Text = quantity(
        "number",
        "density change",
        "Relative change of density for one unit (fraction, or kg/m3), where buoyancy is on; that of water "
        "vapour is known, and 0 stands for it.",
        default="0",
    )


class Age(Record):
    """Whether the mean age of the fluid is solved for."""

    sentence: ClassVar[str] = (
        "The mean age of the fluid since it entered is {solve}, its diffusivity {diffusivity}."
    )
    solve: bool = flag("age", "Whether the mean age is solved for.", _NO_YES, default=False)
    diffusivity: Text = quantity(
        "diffusivity",
        "diffusivity",
        "Of the molecules of the fluid itself; zero is allowed.",
        default="2e-9 m2/s",
        at_least=0,
    )

    def template(self, space: bool = False) -> str:
        """Say no more when age is not solved."""
        return type(self).sentence if self.solve else "The mean age of the fluid is {solve}."


class Comfort(Record):
    """Whether the comfort of people in the air is worked out, for one activity and clothing."""

    sentence: ClassVar[str] = (
        "The comfort of people in the air is {solve}: activity {activity} met, clothing {clothing} clo, "
        "relative humidity {humidity}, radiant temperature {radiant}; judged {margin} from walls and more."
    )
    solve: bool = flag(
        "comfort",
        "Whether operative temperature, mean vote, dissatisfied and draught are worked out; wants heat.",
        ("not worked out", "worked out"),
        default=False,
    )
    activity: Text = quantity(
        "number",
        "activity",
        "In met of 58.15 W/m2: 1.0 seated at rest, 1.2 at a desk, 1.6 standing at light work (ISO 7730, "
        "annex B).",
        default="1.2",
        at_least=0.8,
        at_most=4,
    )
    clothing: Text = quantity(
        "number",
        "clothing",
        "In clo of 0.155 m2 K/W: 0.5 in summer, 1.0 in winter indoors (ISO 7730, annex C).",
        default="0.7",
        at_least=0,
        at_most=2,
    )
    humidity: Text = quantity(
        "fraction",
        "relative humidity",
        "Of the air, the same everywhere; “auto”: that of the air at every place where water vapour is "
        "carried, else 50 %.",
        default="50 %",
        at_least=0,
        at_most=1,
    )
    radiant: Text = quantity(
        "temperature",
        "radiant temperature",
        "What the surroundings shine with; “auto”: the mean of all wall surfaces by area.",
        default="auto",
    )
    margin: Text = quantity(
        "length",
        "distance from walls",
        "Places closer to a wall are not judged.",
        default="0.5 m",
        at_least=0,
    )

    def template(self, space: bool = False) -> str:
        """Say no more when it is not worked out."""
        return type(self).sentence if self.solve else "The comfort of people in the air is {solve}."


class Radiation(Record):
    """Whether surfaces radiate heat to each other."""

    sentence: ClassVar[str] = (
        "Heat that surfaces radiate to each other is {solve}: walls without a finish have an emissivity of "
        "{emissivity}; views between about {patches} patches by {rays} rays of each."
    )
    solve: bool = flag(
        "radiation",
        "Whether surfaces radiate to each other, as grey and diffuse ones do through a gas; wants heat. "
        "Openings are black, at the temperature of what passes them.",
        _NO_YES,
        default=False,
    )
    emissivity: Text = quantity(
        "number",
        "emissivity",
        "Of walls without a finish of their own; 0.9 for most surfaces but bare metal.",
        default="0.9",
        at_least=0,
        at_most=1,
    )
    patches: Text = count(
        "patches",
        "Into how many patches all surfaces are parted, about; at least two by two on every named edge.",
        default="300",
        at_least=4,
        at_most=2000,
    )
    rays: Text = count(
        "rays",
        "Of every patch: 2048 know what a patch sees to about 0.5 %, 8192 to 0.2 %.",
        default="2048",
        at_least=64,
        at_most=65536,
    )

    def template(self, space: bool = False) -> str:
        """Say no more when it is not solved."""
        if self.solve:
            return type(self).sentence
        return "Heat that surfaces radiate to each other is {solve}."


class Table(Record):
    """Numbers that values may use as a function: ``= profile1(y)``. Straight lines join the rows; the ends
    hold beyond.
    """

    sentence: ClassVar[str] = "{id}: {title}, from {along} to {gives}."
    title: str = text("title", "What the table holds.", default="a table")
    along: str = Field(
        default="m",
        title="unit of the first column",
        description="Unit of the first column.",
    )
    gives: str = Field(
        default="m/s",
        title="unit of the second column",
        description="Unit of the second column.",
    )
    rows: tuple[tuple[float, float], ...] = Field(
        default=((0.0, 0.0), (1.0, 1.0)),
        title="rows",
        description="Pairs of numbers.",
    )
