"""Layers of stretched cells along walls."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

import numpy as np

from mop_lantern.declare import choice, count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.grid.refinement import Refinement


class WallLayers(Refinement):
    """Thin cells lie along the walls like the sheets of a book, each somewhat thicker than the one before;
    the lattice begins behind them. So a wall is resolved with a hundredth of the cells that halving takes.
    They work in planes and around axes.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Layers along walls"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.9,0.9 L0.9,0.9 M-0.9,0.78 L0.9,0.78 M-0.9,0.6 L0.9,0.6 M-0.9,0.35 L0.9,0.35 M-0.9,0 L0.9,0 "
        "M-0.3,0.9 L-0.3,-0.6 M0.3,0.9 L0.3,-0.6"
    )
    sentence: ClassVar[str] = (
        "{id}: layers of cells lie along all walls, {begins}, each {growth} times as high as the one before, "
        "until they are as high as the cells beyond or {most} lie on each other."
    )

    kind: Literal["layers"] = "layers"
    begins: Literal["y_plus", "height"] = choice(
        "begins",
        "How high the first layer is.",
        {"y_plus": "the first by its y+", "height": "the first by its height"},
        default="y_plus",
    )
    y_plus: Text = quantity(
        "number",
        "y+",
        "Of the middle of the first layer, foretold from the friction of a long pipe of the size and flow of "
        "the case; 1 resolves the wall.",
        default="1",
        above=0,
    )
    height: Text = quantity("length", "height", "Of the first layer.", default="0.1 mm", above=0)
    growth: Text = quantity(
        "number",
        "growth",
        "Height of a layer over that of the one before.",
        default="1.2",
        at_least=1,
        at_most=2,
    )
    most: Text = count(
        "layers",
        "How many layers lie on each other at most.",
        default="25",
        at_least=1,
        at_most=100,
    )

    def template(self, space: bool = False) -> str:
        """Ask for what the first layer goes by."""
        return type(self).sentence.replace("{begins}", f"{{begins}} of {{{self.begins}}}")

    @staticmethod
    def wanted(
        numbers: Any,
        centres: Any,
        sizes: Any,
        plane: Any,
        base: float,
    ) -> Any:
        """Want nothing of the lattice."""
        return np.full(len(centres), np.inf)
