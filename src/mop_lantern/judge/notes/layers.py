"""Layers along walls where there can be none."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.grid.layers import first_height
from mop_lantern.judge.facts import Facts, Note, NoteKind
from mop_lantern.judge.regime import regime_of

USUAL = 1.2  # growth from layer to layer
JUMP = 4.0  # from the last layer to the cells behind it
MOST = 100


class LayersHere(NoteKind):
    """Tell where layers along walls are asked for that cannot be laid: in a space, beside solids that conduct
    heat, by a y+ that nothing foretells, or twice; or too few of them.

    Source: what this program can do.
    """

    caption: ClassVar[str] = "Layers along walls"
    kind: Literal["layers"] = "layers"

    @classmethod
    def check(cls, facts: Facts) -> list[Note]:
        """One note on each line of layers that lies idle."""
        asked = {key: item for key, item in facts.numbers.grid.refine.items() if item.kind == "layers"}
        notes = []
        for number, (key, item) in enumerate(asked.items()):
            path = f"field.grid.refine.{key}"
            why = ""
            aim = f"{item.y_plus:g}" if item.begins == "y_plus" else "60"
            edits: dict[str, Any] = {path: {"kind": "wall_height", "y_plus": aim, "layers": "4"}}
            remedy = "halve cells along walls instead"
            if not facts.shape_is_plane:
                why = "Layers lie along walls of planes and around axes only: in a space cells are halved."
            elif facts.shape.solids:
                why = "Beside solids that conduct heat no layers are laid."
            elif item.begins == "y_plus" and not regime_of(facts).wall_unit:
                why = "Nothing foretells the y+ of this flow: give the first layer by its height."
                remedy, edits = "the first by its height", {f"{path}.begins": "height"}
            elif number:
                why = "Layers are laid by the first line that asks for them: remove this one."
                remedy, edits = "remove it", {path: None}
            elif needed := _needed(facts, item):
                why = "The layers end far lower than the cells behind them, and flows may diverge there."
                remedy = "as many layers as it takes"
                edits = {
                    f"{path}.growth": f"{max(item.growth, USUAL):g}",
                    f"{path}.most": f"{max(needed, item.most)}",
                }
            if why:
                notes.append(Note(path, "caution", why, remedy, edits))
        return notes


def _needed(facts: Facts, item: Any) -> int:
    """Give how many layers of at least the usual growth it takes until the last is within a jump of the cells
    behind them; 0 where what was asked for does.
    """
    cell = facts.numbers.grid.cell if isinstance(facts.numbers.grid.cell, float) else facts.gap_cell
    first = first_height(item, regime_of(facts).wall_unit)
    if not cell or first * item.growth ** (item.most - 1) * JUMP >= cell:
        return 0
    return min(int(np.ceil(np.log(cell / first) / np.log(max(item.growth, USUAL)))) + 1, MOST)
