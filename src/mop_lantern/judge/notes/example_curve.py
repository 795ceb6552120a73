"""Pumps and fans that still have the curve a new one begins with."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.judge.facts import NetFacts, Note, NoteKind
from mop_lantern.laws.example_curves import EXAMPLES
from mop_lantern.units import evaluate


class ExampleCurve(NoteKind):
    """Warn that the curve of a pump or fan is the example it was added with, not that of a machine.

    Source: what the program does.
    """

    caption: ClassVar[str] = "Curve of an example"
    on: ClassVar[str] = "network"
    kind: Literal["example_curve"] = "example_curve"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """One note a machine."""
        assert isinstance(facts, NetFacts)
        examples = [
            np.array([(evaluate(flow, "volume_flow", {}), evaluate(gain, of, {})) for flow, gain in points])
            for of, points in EXAMPLES.items()
        ]
        notes = []
        for line, numbers in facts.numbers.network.lines.items():
            for name, part in numbers.parts.items():
                curve = np.asarray(getattr(part, "curve", ()), float)
                if any(curve.shape == one.shape and np.allclose(curve, one) for one in examples):
                    text = "This curve is an example, not a machine's: type the points of its data sheet."
                    notes.append(Note(f"network.lines.{line}.parts.{name}", "caution", text))
        return notes
