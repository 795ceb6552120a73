"""The network of a case: nodes, and runs of components between them."""

from __future__ import annotations

from typing import TYPE_CHECKING, Annotated, Any, ClassVar, TypeAlias

from pydantic import Field, StringConstraints

from mop_lantern.declare import Record, flag, quantity, reference, union
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


class NetworkSection(Record):
    """Pipes, ducts and what is built into them."""

    sentence: ClassVar[str] = "The network is worked out {thermal}, in air of {outside}."

    thermal: bool = flag("heat", "Whether temperatures are followed.", ("without temperatures", "with temperatures"), default=False)
    outside: Text = quantity("temperature", "air", "Temperature of the air outside, whose weight counts against that of warm gas.", default="15 °C")
    nodes: dict[Key, NodeKind] = Field(default_factory=dict)
    runs: dict[Key, NetworkRun] = Field(default_factory=dict)
