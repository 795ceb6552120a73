"""Finer cells along all walls."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import count
from mop_lantern.declare.kind import Text
from mop_lantern.grid.near import along_walls
from mop_lantern.grid.refinement import Halved


class Walls(Halved):
    """Cells along every wall are halved a number of times.

    Source: common practice, no source.
    """

    caption: ClassVar[str] = "Finer along walls"
    group: ClassVar[str] = "Along walls"
    symbol: ClassVar[str] = (
        "M-0.9,-0.9 L0.9,-0.9 M-0.9,-0.6 L0.9,-0.6 M-0.9,0.6 L0.9,0.6 M-0.9,0.9 L0.9,0.9 M-0.4,-0.9 "
        "L-0.4,-0.6 M0.2,-0.9 L0.2,-0.6 M-0.4,0.6 L-0.4,0.9 M0.2,0.6 L0.2,0.9"
    )
    sentence: ClassVar[str] = "{id}: refinement level {levels} along all walls, {layers} cells deep."

    kind: Literal["walls"] = "walls"
    layers: Text = count(
        "layers",
        "How many of the small cells lie on each other.",
        default="3",
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
        """Want small cells within the given number of layers."""
        return along_walls(numbers, base / 2**numbers.levels, centres, sizes, plane)
