"""Value of a run."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import choice, reference
from mop_lantern.judge.network_result import RUN_FIGURES
from mop_lantern.judge.reading import Reading
from mop_lantern.judge.readings._words import title


class RunValue(Reading):
    """A flow, velocity or loss of a run of the network.

    Source: the solved network.
    """

    caption: ClassVar[str] = "Value of a run"
    sentence: ClassVar[str] = "{id}: {figure} of {run}."
    on: ClassVar[str] = "network"

    kind: Literal["run_value"] = "run_value"
    title: str = title()
    run: str = reference("run", "run", "Which one.")
    figure: str = choice(
        "figure",
        "What is read.",
        {key: words for key, (words, _) in RUN_FIGURES.items()},
        default="volume_flow",
    )

    @classmethod
    def dimension_of(cls, numbers: Any) -> str:
        """That of the figure."""
        return RUN_FIGURES[numbers.figure][1] if numbers.figure in RUN_FIGURES else "number"

    @classmethod
    def take(cls, numbers: Any, answer: Any) -> float:
        """Look it up."""
        return float(answer.runs.get(numbers.run, {}).get(numbers.figure, float("nan")))
