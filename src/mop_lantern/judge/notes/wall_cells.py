"""Where the cells on walls of a turbulent flow begin."""

from __future__ import annotations

from typing import ClassVar, Literal

from mop_lantern.judge.at_walls import height_at_walls
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of
from mop_lantern.shape import Plane

RESOLVED, LOGARITHMIC, OUTER = 5.0, 30.0, 300.0  # y+: ends of the layers of the law of the wall
AIM = 100.0


class WallCells(NoteKind):
    """Guess y+ of the cells on walls from the friction of a pipe of the size in the Reynolds number, and warn
    where it lies beyond the law of the wall, or where heat wants it out of the buffer layer.

    Source: Prandtl and Colebrook; layers of the law of the wall, any text on turbulence.
    """

    caption: ClassVar[str] = "Cells on walls of turbulent flow"
    measured: ClassVar[bool] = True
    kind: Literal["wall_cells"] = "wall_cells"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on the grid line."""
        regime = regime_of(facts)
        if not (regime.wall_unit and facts.gap_cell):
            return []
        y_plus = 0.5 * height_at_walls(facts, regime.wall_unit) / regime.wall_unit
        warm = facts.numbers.heat.solve and RESOLVED < y_plus < LOGARITHMIC
        if y_plus <= OUTER and not warm:
            return []
        shown = f"{y_plus:,.0f}" if y_plus >= 10 else f"{y_plus:.2g}"
        text = f"Cells on walls begin at a y+ of about {shown}"
        if warm:
            text += ", in the buffer layer: heat wants under 5 or over 30."
        else:
            text += f", beyond the law of the wall ({OUTER:g}): friction and separation are guesses."
        words, asked = _remedy(facts, warm)
        return [Note("field.grid", "caution", text, words, {"field.grid.refine.at_walls": asked})]


def _remedy(facts: Facts, warm: bool) -> tuple[str, dict[str, str]]:
    """Give words and refinement that mend it: heat wants the wall resolved, by layers where there can be
    some.
    """
    if warm and isinstance(facts.shape, Plane) and not facts.shape.solids:
        return "layers along walls from a y+ of 1", {"kind": "layers", "y_plus": "1"}
    aim = RESOLVED if warm else AIM
    return f"cells at walls by a y+ of {aim:g}", {"kind": "wall_height", "y_plus": f"{aim:g}", "layers": "4"}
