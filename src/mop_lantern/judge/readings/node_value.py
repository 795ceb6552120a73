"""Value at a node."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.network_result import NODE_FIGURES
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class NodeValue(Reading):
    """A pressure, head, temperature or age at a node of the network.

    Source: the solved network.
    """

    caption: ClassVar[str] = "Value at a node"
    group: ClassVar[str] = "Of a network"
    symbol: ClassVar[str] = (
        "M-0.3,0 A0.3,0.3 0 1 1 0.3,0 A0.3,0.3 0 1 1 -0.3,0 Z M-1,0 L-0.3,0 M0.3,0 L1,0 M0,-0.3 L0,-0.9"
    )
    sentence: ClassVar[str] = "{id}: {figure} of {node}."
    on: ClassVar[str] = "network"

    kind: Literal["node_value"] = "node_value"
    title: str = title()
    node: str = reference("node", "node", "Which one.")
    figure: str = choice(
        "figure",
        "What is read.",
        {key: words for key, (words, _) in NODE_FIGURES.items()},
        default="pressure",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """That of the figure."""
        return NODE_FIGURES[numbers.figure][1] if numbers.figure in NODE_FIGURES else "number"

    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Look it up."""
        return float(answer.nodes.get(numbers.node, {}).get(numbers.figure, float("nan")))
