"""Finer cells along all walls, as fine as the law of the wall wants them."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.grid.near import along_walls
from mop_lantern.grid.refinement import Refinement

MOST_HALVINGS = 6


class WallHeight(Refinement):
    """Cells along every wall are halved until their middles begin at a wanted y+, as far as the friction of a
    long pipe of the size and flow of the case foretells it. Laminar flow is left as it is.

    Source: friction by Colebrook; layers of the law of the wall, any text on turbulence.
    """

    caption: ClassVar[str] = "Finer along walls, by y+"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.9,0.9 L0.9,0.9 M-0.9,0.65 L0.9,0.65 M-0.9,0.2 L0.9,0.2 M-0.5,0.9 L-0.5,0.2 M0,0.9 L0,0.2 "
        "M0.5,0.9 L0.5,0.2 M0,-0.2 L0,-0.9 M-0.25,-0.6 L0,-0.9 L0.25,-0.6"
    )
    sentence: ClassVar[str] = (
        "{id}: cells along all walls are halved until they begin at a y+ of {y_plus} or less, {layers} cells "
        "deep."
    )

    kind: Literal["wall_height"] = "wall_height"
    y_plus: Text = quantity(
        "number",
        "y+",
        "Distance of the first cells' middles from the wall over that of one y+; 30 to 300 suits the law of "
        "the wall, under 5 resolves the layer beside it.",
        default="60",
        above=0,
    )
    layers: Text = count(
        "layers",
        "How many of the small cells lie on each other.",
        default="4",
        at_least=1,
        at_most=50,
    )

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want cells of twice the height of the wanted y+."""
        unit = numbers.wall_unit
        if not unit:
            return np.full(len(centres), np.inf)
        halvings = np.ceil(np.log2(0.5 * base / (numbers.y_plus * unit)) - 1e-9)
        small = base / 2.0 ** np.clip(halvings, 0, MOST_HALVINGS)
        return along_walls(numbers, small, centres, sizes, plane)
