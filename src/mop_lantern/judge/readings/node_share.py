"""Share of a species at a node."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import reference
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class NodeShare(Reading):
    """The fraction of a species at a node of the network.

    Source: the solved network.
    """

    caption: ClassVar[str] = "Fraction of a species at a node"
    sentence: ClassVar[str] = "{id}: fraction of {species} at {node}."
    on: ClassVar[str] = "network"

    kind: Literal["node_share"] = "node_share"
    title: str = title()
    species: str = reference("network_species", "species", "Which one.")
    node: str = reference("node", "node", "Where.")

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """A share."""
        return "fraction"

    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Look it up."""
        return float(answer.nodes.get(numbers.node, {}).get(f"share.{numbers.species}", float("nan")))
