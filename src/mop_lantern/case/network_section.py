"""The network of a case: nodes, and runs of components between them."""

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


class NetworkRun(Record):
    """A chain of components between two nodes."""

    sentence: ClassVar[str] = "{id}: a run from {start} to {end}, of the fluid {fluid}."

    start: str = reference("node", "from", "Node where the run begins; flow this way counts positive.")
    end: str = reference("node", "to", "Node where it ends.")
    fluid: str = reference("medium", "fluid", "Its fluid; empty for the first one of the case.", default="")
    parts: dict[Key, ComponentKind] = Field(default_factory=dict)


class NetworkTime(Record):
    """Whether a network is worked out at rest or followed in time."""

    sentence: ClassVar[str] = "It is {mode}."

    mode: Literal["steady", "transient", "waves"] = choice(
        "time",
        "Steady; followed with tanks filling and heat moving; or followed with pressure waves in pipes, over seconds.",
        {"steady": "in its steady state", "transient": "followed in time", "waves": "followed with pressure waves"},
        default="steady",
    )
    until: Text = quantity("time", "until", "How long it is followed.", default="10 min", above=0)
    step: Text = quantity("time", "step", "Length of a step.", default="1 s", above=0)

    def template(self) -> str:
        """The figures are told where they count."""
        return "It is {mode} until {until}, in steps of {step}." if self.mode != "steady" else type(self).sentence


class Operation(Record):
    """Something worked while the network runs: an edit at its time."""

    sentence: ClassVar[str] = "{id}: at {at} the value {path} becomes {value}."

    at: Text = quantity("time", "time", "When it is worked.", default="0 s", at_least=0)
    path: str = text("value", "What is changed, as network.runs.RUN.parts.PART.opening.")
    value: str = text("new value", "What it becomes.")


class NetworkSection(Record):
    """Pipes, ducts and what is built into them."""

    sentence: ClassVar[str] = "The network is worked out {thermal}, in air of {outside}."

    thermal: bool = flag("heat", "Whether temperatures are followed.", ("without temperatures", "with temperatures"), default=False)
    outside: Text = quantity("temperature", "air", "Temperature of the air outside, whose weight counts against that of warm gas.", default="15 °C")
    time: NetworkTime = NetworkTime()
    operations: dict[Key, Operation] = Field(default_factory=dict)
    nodes: dict[Key, NodeKind] = Field(default_factory=dict)
    runs: dict[Key, NetworkRun] = Field(default_factory=dict)
