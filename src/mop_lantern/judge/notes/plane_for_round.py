"""A plane used where the part may be round."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.units import show


class PlaneForRound(NoteKind):
    """Warn that a plane leaves out its front and back walls.

    Source: pressure gradients of developed laminar flow, 12 mu U / H2 between plates and 32 mu U / D2 in a
    bore (White, *Viscous Fluid Flow*, section 3-3).
    """

    caption: ClassVar[str] = "Plane for a round part"
    kind: Literal["plane_for_round"] = "plane_for_round"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note when the depth is less than twice the widest opening."""
        widest = max((opening.width for opening in facts.openings), default=0.0)
        if facts.shape.axisymmetric or not widest or facts.shape.depth >= 2 * widest:
            return []
        text = (
            "A plane has no front and back walls. With a depth of "
            f"{show(facts.shape.depth, 'length', 'mm', 3)} on a width of "
            f"{show(widest, 'length', 'mm', 3)}, real friction is higher: in a round bore of that width "
            "2.7 times as high at the same mean velocity."
        )
        return [Note("shape", "caution", text)]
