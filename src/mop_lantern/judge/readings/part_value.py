"""Value of a component."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.network_result import PART_FIGURES
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class PartValue(Reading):
    """A loss, velocity, temperature, power or NPSH of a component.

    Source: the solved network.
    """

    caption: ClassVar[str] = "Value of a component"
    group: ClassVar[str] = "Of a network"
    symbol: ClassVar[str] = "M-1,0 L-0.5,0 M0.5,0 L1,0 M-0.5,-0.3 L0.5,0.3 L0.5,-0.3 L-0.5,0.3 Z M0,0 L0,-0.8"
    sentence: ClassVar[str] = "{id}: {figure} of {part}."
    on: ClassVar[str] = "network"

    kind: Literal["part_value"] = "part_value"
    title: str = title()
    part: str = reference("component", "component", "Which one.")
    figure: str = choice(
        "figure", "What is read.", {key: words for key, (words, _) in PART_FIGURES.items()}, default="loss"
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """That of the figure."""
        return PART_FIGURES[numbers.figure][1] if numbers.figure in PART_FIGURES else "number"

    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Look it up."""
        return float(answer.parts.get(numbers.part, {}).get(numbers.figure, float("nan")))
