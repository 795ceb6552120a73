"""Value of a line."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.network_result import LINE_FIGURES
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class LineValue(Reading):
    """A flow, velocity or loss of a line of the network.

    Source: the solved network.
    """

    caption: ClassVar[str] = "Value of a line"
    group: ClassVar[str] = "Of a network"
    symbol: ClassVar[str] = "M-1,0 L1,0 M0,0 L0,-0.5 M-0.3,-0.9 L0.3,-0.9 L0.3,-0.5 L-0.3,-0.5 Z"
    sentence: ClassVar[str] = "{id}: {figure} of {line}."
    on: ClassVar[str] = "network"

    kind: Literal["line_value"] = "line_value"
    title: str = title()
    line: str = reference("line", "line", "Which one.")
    figure: str = choice(
        "figure",
        "What is read.",
        {key: words for key, (words, _) in LINE_FIGURES.items()},
        default="volume_flow",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """That of the figure."""
        return LINE_FIGURES[numbers.figure][1] if numbers.figure in LINE_FIGURES else "number"

    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Look it up."""
        return float(answer.lines.get(numbers.line, {}).get(numbers.figure, float("nan")))
