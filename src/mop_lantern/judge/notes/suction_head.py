"""NPSH of pumps."""

from __future__ import annotations

import math
from typing import Any, ClassVar, Literal

from mop_lantern.judge.facts import NetFacts, Note, NoteKind

SPARE = 0.5  # m


class SuctionHead(NoteKind):
    """NPSH of pumps.

    Source: NPSH available must exceed what the pump needs (any text on pumps); 0.5 m to spare (common
    practice, no source).
    """

    caption: ClassVar[str] = "NPSH of pumps"
    on: ClassVar[str] = "network"
    kind: Literal["suction_head"] = "suction_head"

    @classmethod
    def check(cls, facts: Any) -> list[Note]:
        """Give the notes."""
        assert isinstance(facts, NetFacts)
        notes = []
        for name, part in facts.working.parts.items():
            available = part.get("npsh", float("nan"))
            if not math.isfinite(available):
                continue
            line, _, own = name.partition(".")
            needed = float(facts.numbers.network.lines[line].parts[own].npsh)
            if available < needed + SPARE:
                words = f"NPSH: {available:.3g} m are there and {needed:.3g} m are needed" + (
                    ": it will cavitate." if available < needed else ", little to spare."
                )
                notes.append(Note(f"network.lines.{line}.parts.{own}", "caution", words))
            else:
                notes.append(
                    Note(
                        f"network.lines.{line}.parts.{own}",
                        "ready",
                        f"NPSH: {available:.3g} m are there, {needed:.3g} m needed.",
                    )
                )
        return notes
