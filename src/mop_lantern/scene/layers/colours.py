"""Colours over the section."""

from __future__ import annotations

from typing import Any, ClassVar, Literal

from mop_lantern.declare import count, quantity
from mop_lantern.declare.kind import Text
from mop_lantern.scene.datasets import attach
from mop_lantern.scene.layer import Layer
from mop_lantern.scene.looks import banded, seen_through
from mop_lantern.scene.plane_stage import PlaneContext, actor
from mop_lantern.scene.space_cells import section
from mop_lantern.scene.space_stage import SpaceContext


class Colours(Layer):
    """In a plane: the chosen quantity as colours, smooth between cell values.

    In a space: the chosen quantity as colours on a plane across one direction.

    Source: in a plane, mean of the surrounding cells at every corner; on the boundary its own value; in a
    space, mean of the nearest cells and walls and their slopes, by their distance.
    """

    caption: ClassVar[str] = "Colours"
    help: ClassVar[str] = "Colour the section by the chosen quantity"
    order: ClassVar[int] = 0
    scaled: ClassVar[bool] = True
    follows: ClassVar[frozenset[str]] = frozenset({"quantity", "section"})
    order_in_space: ClassVar[int] = 1
    of_solids: ClassVar[bool] = True

    kind: Literal["colours"] = "colours"
    bands: Text = count(
        "bands",
        "So many even bands of colour; 0 for smooth colours.",
        default="0",
        at_least=0,
        at_most=64,
    )
    opacity: Text = quantity(
        "fraction",
        "opacity",
        "How far the colours hide what lies behind them.",
        default="100 %",
        at_least=0,
        at_most=1,
    )

    @classmethod
    def plane_props(cls, context: PlaneContext, options: Any) -> list[Any]:
        """Colour the cells of every region."""
        table = banded(context.table, int(options.bands))
        made = []
        for drawn, answer in context.coloured.values():
            attach(drawn.data, context.at_points(drawn, answer, context.quantity), context.quantity)
            made.append(seen_through(actor(drawn.data, table=table), options.opacity))
        return made

    @classmethod
    def space_props(cls, context: SpaceContext, options: Any) -> list[Any]:
        """Colour an even lattice in the fluid and in every solid; what is told of cells, cell by cell."""
        table = banded(context.table, int(options.bands))
        props = [prop for each in context.coloured.values() for prop in section(each, table)]
        return [seen_through(prop, options.opacity) for prop in props]
