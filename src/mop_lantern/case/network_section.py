"""The network of a case: nodes, and lines of components between them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, Literal, TypeAlias

from pydantic import Field, StringConstraints

from mop_lantern.declare import Record, choice, flag, quantity, reference, text, union
from mop_lantern.declare.kind import Text

Key = Annotated[str, StringConstraints(pattern=r"^[A-Za-z][A-Za-z0-9_-]{0,40}$")]
if TYPE_CHECKING:
    ComponentKind: TypeAlias = Any
    NodeKind: TypeAlias = Any
else:
    ComponentKind = union("mop_lantern.network.components")
    NodeKind = union("mop_lantern.network.nodes")


class NetworkLine(Record):
    """A chain of components between two nodes."""

    sentence: ClassVar[str] = "{id}: a line from {start} to {end}, of the fluid {fluid}."

    start: str = reference("node", "from", "Node where the line begins; flow this way counts positive.")
    end: str = reference("node", "to", "Node where it ends.")
    fluid: str = reference("medium", "fluid", "Its fluid; empty for the first one of the case.", default="")
    parts: dict[Key, ComponentKind] = Field(default_factory=dict)


class NetworkTime(Record):
    """Whether a network is solved in steady state or in time."""

    sentence: ClassVar[str] = "It is {mode}."

    mode: Literal["steady", "transient", "waves"] = choice(
        "time",
        (
            "Steady; followed with tanks filling and heat moving; or followed with pressure waves in "
            "pipes, over seconds."
        ),
        {
            "steady": "in its steady state",
            "transient": "followed in time",
            "waves": "followed with pressure waves",
        },
        default="steady",
    )
    until: Text = quantity(
        "time",
        "until",
        "How long it is followed.",
        default="10 min",
        above=0,
    )
    step: Text = quantity(
        "time",
        "step",
        "Length of a step.",
        default="1 s",
        above=0,
    )

    def template(self, space: bool = False) -> str:
        """The figures are told where they count."""
        return (
            "It is {mode} until {until}, in steps of {step}."
            if self.mode != "steady"
            else type(self).sentence
        )


class Operation(Record):
    """A timed operation: an edit while the network is followed in time."""

    sentence: ClassVar[str] = "{id}: at {at} set {path} to {value}."

    at: Text = quantity(
        "time",
        "time",
        "When it is done.",
        default="0 s",
        at_least=0,
    )
    path: str = text("value", "What is changed, as network.lines.LINE.parts.PART.opening.")
    value: str = text("new value", "What it becomes.")


class NetworkSpecies(Record):
    """A species the fluid of a network transports."""

    sentence: ClassVar[str] = (
        "{id}: {title}, counted {counted}; {start} at the start, {inlet} in what enters from outside, "
        "decaying by {decay}."
    )

    title: str = text("name", "What it is.", default="carbon dioxide")
    counted: Literal["mass", "volume"] = choice(
        "measure",
        "A fraction of the mass of the fluid, or of its volume as usual for gases.",
        {"mass": "by mass", "volume": "by volume"},
        default="volume",
    )
    start: Text = quantity(
        "fraction",
        "start",
        "Fraction in tanks, rooms and pipes at the start.",
        default="0 ppm",
        at_least=0,
    )
    inlet: Text = quantity(
        "fraction",
        "from outside",
        "Fraction in what reservoirs and supplies bring, unless a release says otherwise.",
        default="0 ppm",
        at_least=0,
    )
    decay: Text = quantity(
        "rate",
        "decay",
        "First-order rate of decay; 0 for what stays.",
        default="0 1/h",
        at_least=0,
    )


class NetworkRelease(Record):
    """Where a species is released."""

    sentence: ClassVar[str] = (
        "{id}: at {node} {species} is released, {volume} by volume or {rate} by mass {per}; what "
        "enters there from outside holds {inlet}."
    )

    species: str = reference("network_species", "species", "What is released.")
    node: str = reference("node", "place", "Node where it is released.")
    rate: Text = quantity(
        "mass_flow",
        "release by mass",
        "Of a species counted by mass.",
        default="0 kg/s",
        at_least=0,
        varies="t",
    )
    volume: Text = quantity(
        "volume_flow",
        "release by volume",
        "Of a species counted by volume, as warm as the fluid there.",
        default="0 L/s",
        at_least=0,
        varies="t",
    )
    per: Literal["all", "person"] = choice(
        "share",
        "In all, or by everyone in a room.",
        {"all": "in all", "person": "by each person"},
        default="all",
    )
    inlet: Text = quantity(
        "fraction",
        "from outside",
        "Fraction in what enters from outside at this node; auto takes that of the species.",
        default="auto",
        at_least=0,
        varies="t",
    )


class NetworkSection(Record):
    """Pipes, ducts and what is built into them."""

    sentence: ClassVar[str] = "The network is solved {thermal}; outdoor air {outside}, {air_pressure}."

    thermal: bool = flag(
        "heat",
        "Whether temperatures are followed.",
        ("without temperatures", "with temperatures"),
        default=False,
    )
    outside: Text = quantity(
        "temperature",
        "air",
        "Temperature of the air outside, whose weight counts against that of warm gas.",
        default="15 °C",
    )
    air_pressure: Text = quantity(
        "pressure",
        "air pressure",
        "Absolute pressure of the air outside: 1013 hPa by the sea, 899 hPa at 1000 m.",
        default="101325 Pa",
        above=0,
    )
    time: NetworkTime = NetworkTime()
    operations: dict[Key, Operation] = Field(default_factory=dict)
    nodes: dict[Key, NodeKind] = Field(default_factory=dict)
    species: dict[Key, NetworkSpecies] = Field(default_factory=dict)
    releases: dict[Key, NetworkRelease] = Field(default_factory=dict)
    lines: dict[Key, NetworkLine] = Field(default_factory=dict)
