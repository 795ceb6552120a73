"""Where the cells on walls of a turbulent flow begin."""

from __future__ import annotations

from typing import ClassVar, Literal

import numpy as np

from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of
from mop_lantern.laws.friction import colebrook

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
        if not (regime.closure and regime.size and facts.gap_cell and regime.reynolds > 0):
            return []
        pull = float(np.sqrt(colebrook(regime.reynolds, 0.0) / 8))
        y_plus = 0.5 * _height(facts) * pull * regime.reynolds / regime.size
        warm = facts.numbers.heat.solve and RESOLVED < y_plus < LOGARITHMIC
        if y_plus <= OUTER and not warm:
            return []
        shown = f"{y_plus:,.0f}" if y_plus >= 10 else f"{y_plus:.2g}"
        text = f"Cells on walls begin at a y+ of about {shown}"
        if warm:
            text += ", in the buffer layer: heat wants under 5 or over 30."
            halvings = int(np.ceil(np.log2(y_plus / RESOLVED)))
        else:
            text += f", beyond the law of the wall ({OUTER:g}): friction and separation are guesses."
            halvings = int(np.ceil(np.log2(y_plus / AIM)))
        return [
            Note(
                "field.grid",
                "caution",
                text,
                f"{halvings} halvings at walls",
                {
                    "field.grid.refine.at_walls": {
                        "kind": "walls",
                        "levels": str(halvings),
                        "layers": "4",
                    }
                },
            )
        ]


def _height(facts: Facts) -> float:
    """Give how high cells on walls are, m: as across the narrowest gap, halved where walls are refined."""
    grid = facts.numbers.grid
    halvings = [int(item.levels) for item in grid.refine.values() if item.kind == "walls"]
    cell = grid.cell if isinstance(grid.cell, float) else facts.gap_cell
    return min(facts.gap_cell, cell / 2 ** max(halvings, default=0))
