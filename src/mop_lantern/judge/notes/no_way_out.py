"""Inflow with no way out."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind, OpeningFacts
from mop_lantern.units import show


class NoWayOut(NoteKind):
    """Block a case whose given flows cannot balance.

    Source: conservation of mass.
    """

    caption: ClassVar[str] = "No way out"
    blocks: ClassVar[bool] = True
    kind: Literal["no_way_out"] = "no_way_out"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note a space where every opening fixes its flow and the flows do not cancel."""
        spaces = facts.by_space()
        return [
            note
            for openings in spaces
            for note in cls._of_space(
                openings, f" of the space of {openings[0].edge}" if len(spaces) > 1 and openings else ""
            )
        ]

    @classmethod
    def _of_space(cls, openings: tuple[OpeningFacts, ...], which: str) -> list[Note]:
        given = [opening for opening in openings if opening.flow is not None]
        if not given or len(given) < len(openings):
            return []
        net = sum(opening.flow or 0.0 for opening in given)
        through = max(abs(opening.flow or 0.0) for opening in given)
        if through == 0 or abs(net) <= 1e-6 * through:
            return []
        text = (
            f"Every opening{which} fixes its flow, but {show(abs(net), 'volume_flow', 'm3/s', 3)} more "
            f"{'comes in than goes out' if net > 0 else 'goes out than comes in'}."
        )
        return [
            Note(f"field.openings.{given[0].key}", "blocked", text + " Make one opening a static pressure.")
        ]
