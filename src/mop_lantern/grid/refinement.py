"""The contract of a place where a grid is made finer."""

from __future__ import annotations

from typing import Any

from mop_lantern.declare import Kind, count
from mop_lantern.declare.kind import Text


class Refinement(Kind):
    """A place with smaller cells.

    The contract of a kind file beside that of every kind:
    1. it gives the largest cell size wanted at every cell;
    2. it works in planes and in spaces, or wants nothing there.
    """

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Give the largest cell size wanted at each cell, (n,) m, inf where it does not care.

        Parameters
        ----------
        numbers : the resolved declaration; ``open_labels`` holds the edges that are no walls.
        centres : (n, 2 or 3) m. sizes : (n,) m. plane : the shape, `Plane` or `Surface`.
        base : size of a cell that is not halved, m.
        """
        raise NotImplementedError


class Halved(Refinement):
    """A place whose cells are halved so many times."""

    levels: Text = count(
        "refinement level",
        "How often cells are halved: 1 gives half the cell size, 2 a quarter.",
        default="1",
        at_least=0,
        at_most=6,
    )
