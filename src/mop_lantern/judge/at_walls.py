"""How high the cells on walls are going to be."""

from __future__ import annotations

from mop_lantern.grid.layers import first_height
from mop_lantern.judge.facts import Facts

MOST_HALVINGS = 6  # cells by their y+ are halved no more often


def height_at_walls(facts: Facts, unit: float) -> float:
    """Give how high cells on walls are, m: as across the narrowest gap, or as walls are refined; ``unit`` :
    m, the distance of one y+.
    """
    grid = facts.numbers.grid
    cell = grid.cell if isinstance(grid.cell, float) else facts.gap_cell
    found = [facts.gap_cell]
    for item in grid.refine.values():
        if item.kind == "walls":
            found.append(cell / 2**item.levels)
        elif item.kind == "wall_height":
            found.append(max(2 * item.y_plus * unit, cell / 2**MOST_HALVINGS))
        elif item.kind == "layers":
            found.append(first_height(item, unit))
    return float(min(found))
