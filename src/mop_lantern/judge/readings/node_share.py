"""Fraction of a species at a node."""

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
    group: ClassVar[str] = "Of a network"
    symbol: ClassVar[str] = (
        "M-0.4,0 A0.4,0.4 0 1 1 0.4,0 A0.4,0.4 0 1 1 -0.4,0 Z M0,0 L0,-0.4 M0,0 L0.3,0.25 M-1,0 "
        "L-0.4,0 M0.4,0 L1,0"
    )
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
