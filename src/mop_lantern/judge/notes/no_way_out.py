"""Inflow with no way out."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind


class NoWayOut(NoteKind):
    """Block a case whose given flows cannot balance.

    Source: conservation of mass.
    """

    caption: ClassVar[str] = "No way out"
    blocks: ClassVar[bool] = True
    kind: Literal["no_way_out"] = "no_way_out"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note when every opening fixes its flow and the flows do not cancel, or when nothing moves the fluid."""
        given = [opening for opening in facts.openings if opening.flow is not None]
        if not given or len(given) < len(facts.openings):
            return []
        net = sum(opening.flow or 0.0 for opening in given)
        through = max(abs(opening.flow or 0.0) for opening in given)
        if through == 0 or abs(net) <= 1e-6 * through:
            return []
        text = f"Every opening fixes its flow, but {abs(net):.3g} m³/s more {'comes in than goes out' if net > 0 else 'goes out than comes in'}."
        return [Note(f"field.openings.{given[0].key}", "blocked", text + " Make one opening a static pressure.")]
