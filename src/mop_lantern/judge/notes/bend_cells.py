"""Cells on the walls of bends, turbulent flow."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.judge.at_walls import height_at_walls
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of

FINE = 60.0  # y+
OUTER = 300.0  # beyond the law of the wall another note speaks
AIM = 50.0


class BendCells(NoteKind):
    """Warn where bends of pipes in a space lose too little: what turns in them is driven by the slow layer at
    the wall, which cells that are high cannot show.

    Source: own bends of radius 1 bore at a Reynolds number of 2e5 on uniform cells, beside the 0.30 to 0.32
    of handbooks for steel (Rennels; Miller; Crane).
    """

    caption: ClassVar[str] = "Cells in bends of turbulent flow"
    measured: ClassVar[bool] = True
    kind: Literal["bend_cells"] = "bend_cells"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note for all bends."""
        regime = regime_of(facts)
        bends = [key for key, part in facts.numbers.shape.solids.items() if _bends(part)]
        if not (bends and regime.wall_unit and facts.gap_cell):
            return []
        y_plus = 0.5 * height_at_walls(facts, regime.wall_unit) / regime.wall_unit
        if not FINE < y_plus <= OUTER:
            return []
        text = (
            f"Cells on walls begin at a y+ of about {y_plus:,.0f}: the pressure loss of the bend "
            f"{', '.join(bends[:3])} comes out low. Of what handbooks give, 40 % was found here at a "
            "y+ of 360, 57 % at 180 and 63 % at 135."
        )
        asked = {"kind": "wall_height", "y_plus": f"{AIM:g}", "layers": "4"}
        words = f"cells at walls by a y+ of {AIM:g}"
        return [Note("field.grid", "caution", text, words, {"field.grid.refine.at_walls": asked})]


def _bends(part: Any) -> bool:
    """Whether a part is a pipe that bends round a radius."""
    if part.kind == "passage":
        return len(part.corners) > 1 and part.radius > 0
    return part.kind == "bent_pipe" and abs(part.angle) > 0
